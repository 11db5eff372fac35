# frozen_string_literal: true

module Handrail
  module Exchange
    # The rows of a table as they are meant: figures with decimals and thousands as the whole column writes them, and
    # days in the one order that the whole column allows. Where a column can be read two ways it says so, with what
    # each would mean, and waits for somebody to choose.
    #
    #   meant = Interpretation.new(rows, figures: %w[value], unit: "unit", days: %w[date])
    #   meant.questions  # => [] or [Question[...]]
    #   meant.rows       # => the rows, figures and days written so that they can be read in one way only
    #
    # rows - [[line, { column => text }], ...], see CSVTable#listed. What is no figure and no day stays as it is, and is
    # refused where it is read.
    class Interpretation
      # What has to be chosen. name - "figures" or "days"; columns, line and text - where it shows first; choices -
      # [[code, what the text would be], ...]
      Question = Value.new(:name, :columns, :line, :text, :choices)

      # the longest length of ours, in mm: what would be more is no reading of it
      LONGEST = 3000
      private_constant :LONGEST

      # figures, days - columns; unit - the column of their unit, or nil; chosen - name of a question => code
      def initialize(rows, figures: [], unit: nil, days: [], chosen: {})
        @listed = rows
        @figures = figures
        @unit = unit
        @days = days
        @chosen = chosen
      end

      def questions = [figures_asked, days_asked].compact

      # What is not written as somebody chose, as [[line, words], ...].
      def faults
        return [] unless marks_chosen

        cells(@figures).filter_map do |line, _, text, _|
          unless marks_chosen.plain(text)
            [line, Wording.t("tables.unfit", text: text[0, 30], marks: Wording.marks(marks_chosen))]
          end
        end
      end

      # The rows as they are meant.
      def rows
        @listed.map do |line, form|
          [line, form.to_h { |column, text| [column, meant(column, text)] }]
        end
      end

      private

      def cells(columns)
        @listed.flat_map do |line, form|
          form.slice(*columns).map { |column, text| [line, column, text, most(form)] }
        end
      end

      def most(form)
        unit = @unit && Quantity::Length.unit(form[@unit].to_s)
        unit && (LONGEST / Quantity::Length::MM_PER[unit])
      end

      def figures_found
        @figures_found ||=
          begin
            all = cells(@figures)
            [Quantity::Marks.of(all.map { |cell| cell[2] }, most: all.map(&:last)), all]
          end
      end

      def figures_asked
        found, all = figures_found
        return if found.clear? || marks_chosen

        line, _, text, = all[found.at]
        choices = found.choices.map { |marks, said| [marks.code, said] }
        Question[name: "figures", columns: @figures, line: line, text: text, choices: choices]
      end

      def marks_chosen = @marks_chosen ||= Quantity::Marks.coded(@chosen["figures"])
      def marks = marks_chosen || figures_found.first.marks

      def orders = @orders ||= Quantity::Day.orders(cells(@days).map { |cell| cell[2] })
      def order_chosen = %w[day month].find { |one| one == @chosen["days"] }&.to_sym
      def order = order_chosen || (orders.first if orders.one?)

      def days_asked
        return if orders.size < 2 || order_chosen

        line, _, text, = cells(@days).find { |_, _, one| readings(one).size > 1 }
        choices = readings(text).map { |first, day| [first.to_s, Quantity::Day.write(day)] }
        Question[name: "days", columns: @days, line: line, text: text, choices: choices]
      end

      # what a text is with the day first, and with the month first
      def readings(text)
        %i[day month]
          .filter_map { |first| [first, Quantity::Day.read(text, first: first)] }
          .uniq(&:last)
      rescue Quantity::Day::Unreadable
        []
      end

      def meant(column, text)
        return marks&.plain(text) || Quantity::Marks.sole(text) if @figures.include?(column)
        return text unless @days.include?(column) && order

        # what can be read without the order stays as it was written
        Quantity::Day.read(text) && text
      rescue Quantity::Day::Unreadable
        readings_in_order(text)
      end

      def readings_in_order(text)
        Quantity::Day.read(text, first: order).iso8601
      rescue Quantity::Day::Unreadable
        text
      end
    end
  end
end
