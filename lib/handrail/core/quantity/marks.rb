# frozen_string_literal: true

require "bigdecimal"

module Handrail
  module Quantity
    # How somebody's table writes decimals and thousands. One figure like 1.250 does not tell; a whole column often
    # does. Nothing is guessed: where a column can be read two ways, both readings are said.
    #
    #   Marks.readings("1.250")                       # => [1250, 1.25], as BigDecimals
    #   Marks.of(%w[36,5 1.250]).marks                # => Marks[decimal: ",", thousands: "."]
    #   Marks.of(%w[1.250 1.300]).choices.map(&:first) # => two Marks; somebody has to say which
    #   Marks[decimal: ",", thousands: "."].plain("1.250,5 mm") # => "1250.5 mm"
    #
    # It reads no units and no fractions: what stands around the figure stays as it was written.
    Marks =
      Value.new(:decimal, :thousands) do
        # The text with this writing's figure put plainly, a point before its decimals, of which there are never three
        # that could be thousands; a text without decimals, thousands or with a fraction stays as it is. nil where the
        # figure is not written so.
        def plain(text)
          figure = self.class.figure(text) or return text.to_s
          value = read(figure)
          value &&
            text.to_s.sub(figure) { self.class.print(value).sub(/\A[1-9]\d{0,2}\.\d{3}\z/, '\00') }
        end

        # This writing by a name that a form sends: "comma-point".
        def code = [decimal, thousands].compact.map { |sign| Marks::SIGNS.fetch(sign) }.join("-")

        # The number that a figure is in this writing, as a BigDecimal, or nil.
        def read(figure)
          return unless written?(figure)

          BigDecimal(figure.delete(thousands.to_s).sub(decimal, "."))
        end

        # Whether a figure is written so: groups of three, the first of them one to three and no nought.
        def written?(figure)
          rest = "(?:#{Regexp.escape(decimal)}\\d+)?"
          grouped = thousands && "[1-9]\\d{0,2}(?:#{Regexp.escape(thousands)}\\d{3})+"
          figure.match?(/\A(?:#{["\\d+", grouped].compact.join("|")})#{rest}\z/)
        end
      end

    # The writings that there are, and what a text or a column can be read as.
    class Marks
      # What a column says. marks - the one writing that serves, or nil where each figure tells for itself; choices -
      # [[Marks, what `text` would be], ...] where more than one serves, else empty; at - the index of that text
      Found = Value.new(:marks, :choices, :at) { def clear? = choices.empty? }

      SIGNS = { "." => "point", "," => "comma", "'" => "apostrophe", " " => "blank" }.freeze
      BLANKS = "\u00A0\u2007\u2009\u202F"
      # thousands by the other sign, an apostrophe, a blank, or not at all
      ALL =
        %w[. ,]
          .product([nil, ".", ",", "'", " "])
          .reject { |decimal, thousands| decimal == thousands }
          .map { |decimal, thousands| new(decimal: decimal, thousands: thousands) }
          .freeze
      # what a column alone can say: an apostrophe stands for feet as often as between thousands
      TOLD = ALL.reject { |marks| marks.thousands == "'" }.freeze
      # no more digits make a figure of ours
      FIGURE = /\d[\d.,'’#{BLANKS} ]{0,30}\d/
      # a fraction, and feet with inches: no writing of decimals changes what they are
      OTHERWISE = %r{/|[¼-¾⅓-⅞]|\d\s*(?:['′’]|ft\.?|feet|foot)\s*\d+(?:[.,]\d+)?\s*(?:["″”]|''|in)}i
      private_constant :BLANKS, :ALL, :TOLD, :FIGURE, :OTHERWISE

      class << self
        # The part of a text that has decimals or thousands, as it is compared; nil where there is none.
        def figure(text)
          plain = text.to_s.tr("’#{BLANKS}", "'    ")
          return if plain.match?(OTHERWISE)

          found = plain[FIGURE] or return
          found if found.match?(/[.,' ]/)
        end

        # The writing of such a name, or nil.
        def coded(code)
          decimal, thousands = code.to_s.split("-").map { |name| SIGNS.key(name) }
          decimal && named(decimal, thousands)
        rescue ArgumentError
          nil
        end

        # Every number that a text may be, each once; empty where it has no such figure.
        def readings(text, &) = by_value(figure(text), &).keys

        # A text with its figure put plainly, where it has thousands and can be read in one way only; else as it is.
        def sole(text)
          figure = figure(text)
          values = by_value(figure)
          grouped = values.values.flatten
          unless values.one? && grouped.all?(&:thousands) &&
                   grouped.none? { |one| one.with(thousands: nil).written?(figure) }
            return text
          end

          grouped.first.plain(text)
        end

        # What a column of texts says of its writing. most - the largest figure that can be meant, one for each text,
        # or nil. Returns Found.
        def of(texts, most: []) = Column.new(texts, most).found

        # A number without needless noughts.
        def print(value) = value.to_s("F").delete_suffix(".0")

        # [a writing's signs in words of a command]. Raises ArgumentError for two that are the same.
        def named(decimal, thousands)
          decimal = decimal.to_s.empty? ? (thousands == "." ? "," : ".") : decimal
          found =
            ALL.find do |marks|
              marks == new(decimal: decimal, thousands: thousands.to_s.empty? ? nil : thousands)
            end
          found or
            raise ArgumentError, "decimals by #{decimal.inspect}, thousands by #{thousands.inspect}"
        end

        # number => the writings by which a figure is it; none above `most`
        def by_value(figure, most: nil)
          return {} unless figure

          found = TOLD.group_by { |marks| marks.read(figure) }
          found.reject { |value, _| value.nil? || (most && value > most) }
        end
      end

      # A column of texts, held against every writing.
      class Column
        def initialize(texts, most)
          @figures = texts.map { |text| Marks.figure(text) }
          @each = @figures.each_with_index.map { |figure, i| Marks.by_value(figure, most: most[i]) }
          # those that can be read in more than one way
          @open = @each.each_index.select { |i| @each[i].size > 1 }
        end

        def found
          return Found[marks: nil, choices: []] if @open.empty?

          told = serving.uniq { |marks| @open.map { |i| marks.read(@figures[i]) } }
          if told.one?
            Found[marks: told.first, choices: []]
          else
            Found[choices: said(told), at: @open.first]
          end
        end

        private

        # the writings that serve the whole column; where its figures contradict one another, those that serve all
        # that are open
        def serving
          all = by(@each.each_index.reject { |i| @each[i].empty? })
          all.empty? ? by(@open) : all
        end

        def by(places) =
          TOLD.select { |marks| places.all? { |i| @each[i].values.flatten.include?(marks) } }

        def said(told)
          first = @open.first
          told = @each[first].values.map(&:first) if told.empty?
          told.map { |marks| [marks, Marks.print(marks.read(@figures[first]))] }
        end
      end
      private_constant :Column
    end
  end
end
