# frozen_string_literal: true

module Handrail
  module Store
    # One summary: rows that follow from what was written at the visits of a fitting, kept beside it
    # for pages that look at the whole clinic. All of a fitting's are made at every entry, in its
    # transaction, and those rows that came out otherwise are written; nothing decides beforehand
    # which entry makes what due.
    #
    #   class FittingDues < Projector
    #     keeps :fitting_dues, keys: %i[kind key], values: %i[label due_on visit_id], of: :fitting
    #     reads :hand_overs, :part_renewals
    #
    #     def rows = ...          # as they should stand: one Hash a row, with keys and values
    #   end
    #
    # `reads` names the tables of a visit from which it follows; a spec holds it to that.
    class Projector
      class << self
        attr_reader :table, :keys, :columns, :tables_read

        # table - of the summary; keys - columns that tell its rows of one fitting apart; values - the
        # other columns that are made; practice - whether the practice patient counts
        def keeps(table, keys:, values:, practice: false)
          @table = table
          @keys = keys
          @columns = keys + values
          @practice = practice
        end

        # Whether its rows belong to the fitting, else to one of its visits.
        def by_fitting? = Store.db[table].columns.include?(:fitting_id)

        def reads(*tables) = @tables_read = tables.freeze
        def practice? = @practice

        # Forgets a clinic's rows, to be made anew.
        def clear(clinic) = Store.db[table].where(clinic_id: clinic.id).delete

        # What is made beside the rows once all of a clinic were: sums, say. Usually nothing.
        def finish(_clinic) = nil

        # Where what is made beside the rows is not what they come to: [[what, kept, made], ...].
        def differences(_clinic) = []
      end

      # visits - Handrail::Visits of one fitting, oldest first
      def initialize(visits)
        @visits = visits
      end

      # Rows as they should stand, as Hashes of keys and values.
      def made
        @made ||= wearer.practice && !self.class.practice? ? [] : rows.map { |row| plain(row) }
      end

      # Rows as they stand, and those that should: [[kept or nil, made or nil], ...] where they differ.
      #
      # kept - rows of the table that belong to the fitting
      def changes(kept)
        before = kept.to_h { |row| [key(row), plain(row)] }
        now = made.to_h { |row| [key(row), row] }
        (before.keys | now.keys)
          .map { |key| [before[key], now[key]] }
          .reject { |was, is| was == is }
          .sort_by { |was, is| key(is || was).map(&:to_s) }
      end

      # Writes what differs. Returns it, see changes.
      def keep(kept)
        changes(kept).each do |was, is|
          if is.nil?
            remove(was)
          elsif was
            change(is)
          else
            add(is)
          end
          changed(was, is)
        end
      end

      private

      attr_reader :visits

      def newest = visits.last
      def clinic = newest.clinic
      def wearer = newest.patient
      def fitting = newest.fitting

      # what else changes with a row; usually nothing
      def changed(_was, _is) = nil

      # columns of the row's owner, beside the clinic
      def owner(_row) = { clinic_id: clinic.id }

      def remove(row) = Store.db[self.class.table].where(owner(row)).where(key_of(row)).delete

      # by a statement that is prepared once: a reading that is taken again changes its pair
      def change(row)
        whose = owner(row).merge(key_of(row))
        Store.update(
          :"project_#{self.class.table}",
          where: whose.transform_keys { |name| :"own_#{name}" },
          **typed(row.except(*self.class.keys))
        ) { Store.db[self.class.table].where(whose.to_h { |name, _| [name, :"$own_#{name}"] }) }
      end

      def add(row) = Store.insert(self.class.table, **owner(row), **typed(row))

      def key(row) = row.values_at(*self.class.keys)
      def key_of(row) = row.slice(*self.class.keys)

      # a row as it is compared: the columns that are made, JSON as it is read back
      def plain(row)
        self.class.columns.to_h do |name|
          value = row[name]
          json = value.is_a?(Hash) || value.is_a?(Array)
          [name, json ? JSON.parse(JSON.generate(floats(value))) : value]
        end
      end

      def floats(value)
        case value
        when Hash
          value.transform_values { |one| floats(one) }
        when Array
          value.map { |one| floats(one) }
        when BigDecimal
          value.to_f
        else
          value
        end
      end

      def typed(row) =
        row.transform_values do |value|
          value.is_a?(Hash) || value.is_a?(Array) ? Store.json(value) : value
        end
    end
  end
end
