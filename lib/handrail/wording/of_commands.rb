# frozen_string_literal: true

module Handrail
  module Wording
    # The words of a command, for the class that reads its inputs and for the command itself.
    #
    #   t(:no_such_product)          # => "There is no such product."
    #   t(:works_well, name: "Quay") # => "works at Quay as well"
    #
    # A key without words raises I18n::MissingTranslationData, where the class is read or the command runs.
    module OfCommands
      private

      def t(key, **figures) = I18n.t!(:"commands.#{key}", **figures).freeze
    end
  end
end
