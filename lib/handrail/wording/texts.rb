# frozen_string_literal: true

require "concurrent/map"

module Handrail
  module Wording
    # Texts by their keys, in the program's own language. Each is looked up once; what is put in is put in each time.
    module Texts
      # key => text, as it is before figures are put in
      UNFILLED = Concurrent::Map.new
      private_constant :UNFILLED

      # The text under a key, frozen where it has no figures. figures - what is put in; with `count` or `locale` it is
      # looked up by them. Raises I18n::MissingTranslationData, or I18n::MissingInterpolationArgument.
      def t(key, **figures)
        return I18n.t!(key, **figures) if figures.key?(:count) || figures.key?(:locale)

        text = UNFILLED.fetch_or_store(key) { I18n.t!(key).freeze }
        figures.empty? ? text : I18n.interpolate(text, figures)
      end

      # The names that stand beside codes, in the order in which they are shown: code (String) => text, frozen. key
      # - of those below `names`.
      #
      #   Wording.names("trial_outcomes") # => { "good" => "it fits", "small" => "too small", ... }
      def names(key) = t("names.#{key}").to_h { |code, text| [code.name, text.dup.freeze] }.freeze
    end
  end
end
