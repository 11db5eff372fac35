# frozen_string_literal: true

module Handrail
  class Visit
    # What is seen on the skin, what the wearer says, and the line of the limb, over the visits.
    class BodyWork
      # A place of the skin over the visits. first, last - its oldest and newest row.
      Place =
        Value.new(:rows) do
          def first = rows.first
          def last = rows.last
          def gone? = last[:course] == "gone" || mistake?

          # Whether it was never there: tapped by mistake, and taken back at the same visit.
          def mistake? = last[:course] == "mistake"
          def kind = last[:kind]
          def id = first[:id]

          # Broken or lasting: nothing is worn on it until somebody has said what is done.
          def alarming? = !gone? && ALARMS.key?(kind)

          # the largest and the newest size in mm, nil where it was not measured
          def sizes = rows.map { |row| row[:size_mm] }
        end

      # kinds of which each is a stop, and how urgent
      ALARMS = { "open" => "today", "blister" => "today", "mark_stays" => "today" }.freeze

      def initialize(visit)
        @visit = visit
      end

      # The places of the skin of a side, oldest first, as Places; nil for all sides.
      def skin(side = nil)
        chains = {}
        @visit
          .rows_so_far(:skin_findings)
          .each do |row|
            root = row[:follows_id] ? chains.keys.find { |key| chain?(chains[key], row) } : row[:id]
            (chains[root] ||= []) << row
          end
        places = chains.values.map { |rows| Place[rows: rows.freeze] }
        side ? places.select { |place| [side, nil].include?(place.last[:side]) } : places
      end

      # Places that were not looked at again at this visit, though they were there before.
      def skin_waiting
        skin.reject { |place| place.gone? || place.last[:visit_id] == @visit.id }
      end

      # What the wearer said, newest row per visit, oldest first.
      def words =
        @visit
          .rows_so_far(:wearer_words)
          .group_by { |row| row[:visit_id] }
          .map { |_, rows| rows.last }
      def word_here = @visit.rows(:wearer_words).last

      # Photos of all visits so far, oldest first.
      def photos = @visit.rows_so_far(:photos)

      # Alignments of a line and side, oldest first: [row, Fitting::Alignment].
      def alignments(line, side = nil)
        rows = @visit.rows_so_far(:alignments).select { |row| row[:line] == line }
        rows
          .select { |row| side.nil? || row[:side].nil? || row[:side] == side }
          .map do |row|
            [
              row,
              Fitting::Alignment.of(line, row[:points], side: row[:side], known: row[:known_mm])
            ]
          end
      end

      private

      def chain?(rows, row) = rows.any? { |one| one[:id] == row[:follows_id] }
    end
  end
end
