# frozen_string_literal: true

require "date"

module Handrail
  module Exchange
    # Reading the fields of a row in the commands: each raises CSVTable::Faulty with the file, the
    # line and the mend. In a table of another program days are read in the one order that its whole column allows, and
    # a unit in the cell against its column's is asked about.
    class Fields
      NUMBER = /\A\d{1,9}(?:[.,]\d{1,9})?\z/

      # days - the name of the table's column of days, nil for none
      def initialize(table, days: nil)
        @table = table
        @days = days
        @lengths = {}
      end

      def named(text, line, sentence)
        @table.fault(line, sentence) if text.empty?
        text
      end

      # an ISO date, 2026-11-25
      def date(text, line)
        return day(text, line) if @table.foreign?

        raise Date::Error unless text.match?(/\A\d{4}-\d{2}-\d{2}\z/)

        Date.iso8601(text)
      rescue Date::Error
        @table.fault(line, Wording.t("files.has_where_date_stands", text: text[0, 20]))
      end

      # a length in the row's unit, exact, in mm
      def length(text, unit, line, name)
        @lengths[[text, unit]] ||= Quantity::Length.public_send(
          @table.foreign? ? :of_cell : :parse,
          text,
          unit: unit
        ).mm
      rescue Quantity::Length::Unreadable => e
        @table.fault(line, "#{name}: #{e.message}")
      end

      # a number that is not below zero
      def number(text, line, name)
        return Rational(text.tr(",", ".")) if text.match?(NUMBER)

        @table.fault(line, Wording.t("files.can_not_read_number", name: name, text: text[0, 20]))
      end

      # a whole number from one on
      def whole(text, line, name)
        return text.to_i if text.match?(/\A[1-9]\d{0,5}\z/)

        @table.fault(line, Wording.t("files.no_whole_number_write", name: name, text: text[0, 20]))
      end

      private

      def day(text, line)
        Quantity::Day.read(text, first: order)
      rescue Quantity::Day::Unreadable => e
        @table.fault(line, e.message)
      end

      # of day and month between slashes, where the whole column tells
      def order
        @order ||= Quantity::Day.orders(@table.listed(nil).filter_map { |_, row| row[@days] })
        @order.first if @order.one?
      end
    end
  end
end
