# frozen_string_literal: true

module Handrail
  module Wording
    # The words of a page or a paper that says many things by itself, beside its template.
    #
    #   t(:sent_by, referrer: "Dr Ansel") # => "sent by Dr Ansel"
    #
    # A key without words raises I18n::MissingTranslationData.
    module OfPages
      private

      def t(key, **figures) = I18n.t!(:"web.#{key}", **figures)
    end
  end
end
