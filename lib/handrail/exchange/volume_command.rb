# frozen_string_literal: true

module Handrail
  module Exchange
    # `handrail volume`: limb volumes from girths at levels. The columns and rules are a public
    # contract.
    class VolumeCommand < Command
      INPUT = %w[person date side level girth unit].freeze
      COLUMNS = %w[
        person
        date
        side
        levels
        volume_ml
        other_ml
        excess_ml
        excess_percent
        severity
        change_ml
        change_percent
      ].freeze
      NUMBERS = %w[
        levels
        volume_ml
        other_ml
        excess_ml
        excess_percent
        change_ml
        change_percent
      ].freeze
      NEEDED = %i[girths].freeze
      USAGE = "handrail volume --girths FILE.csv #{MarksOptions::USAGE} [--format csv|json]".freeze
      SIDES = %w[left right].freeze
      STEP = Quantity::Length.mm(1)
      private_constant :STEP

      def self.define(parser, given)
        parser.on("--girths FILE", "girths: #{INPUT.join(",")}") { |v| given[:girths] = v }
      end

      def initialize(options)
        super
        @table = table(options[:girths], INPUT, %w[level girth])
        @fields = Fields.new(@table, days: "date")
      end

      def notes = @notes ||= []

      # Puts one row a person, date and side into `out`: persons by first appearance, then date,
      # then side.
      def rows(out)
        volumes.each do |person, own|
          first =
            own
              .keys
              .sort
              .each_with_object({}) { |(date, side), all| all[side] ||= own[[date, side]] }
          own.keys.sort.each do |date, side|
            out << row(
              person,
              date,
              side,
              own[[date, side]],
              own[[date, (SIDES - [side]).first]],
              first[side]
            )
          end
        end
      end

      private

      def row(person, date, side, volume, there, first)
        other = volume.like?(there) ? there : nil
        if there && other.nil?
          notes << "#{person}, #{date.iso8601}: #{side} and the other side were read at other levels; no excess."
        end
        percent = volume.percent_more_than(other)
        [
          person,
          date.iso8601,
          side,
          volume.levels.size.to_s,
          figure(volume.ml),
          figure(other&.ml),
          figure(volume.more_than(other)),
          figure(percent),
          Followup::LimbVolume.severity(percent),
          figure(volume.more_than(first)),
          figure(volume.percent_more_than(first))
        ]
      end

      # person => [date, side] => Followup::LimbVolume
      def volumes
        read.to_h do |person, (line, own)|
          [
            person,
            own.to_h do |(date, side), levels|
              if levels.size < 2
                @table.fault(
                  line,
                  "“#{person}” has girths at one level only on #{date}, #{side}. Read two or more."
                )
              end

              note_repeats(person, date, side, levels)
              [
                [date, side],
                Followup::LimbVolume.new(levels.transform_values { |girths| fold(girths) })
              ]
            end
          ]
        end
      end

      # several girths at one level are one reading that was repeated, and may have been two levels
      def note_repeats(person, date, side, levels)
        twice = levels.select { |_, girths| girths.size > 1 }.keys
        return if twice.empty?

        at = twice.map { |mm| "#{Quantity::Length.mm(mm).exact("mm")} mm" }.join(", ")
        notes << "#{person}, #{date.iso8601}, #{side}: more than one girth at #{at}; taken as one reading, repeated."
      end

      def fold(girths)
        Measuring::Repeats.new(girths.map { |mm| Quantity::Length.mm(mm) }, resolution: STEP).mm
      end

      # person => [line of their first row, [date, side] => level => girths]
      def read
        found = {}
        @table.each do |(person, date, side, level, girth, unit), line|
          @fields.named(person, line, "has no person. Give every girth the person it belongs to.")
          key = [@fields.date(date, line), side_of(side, line)]
          _, own = (found[person] ||= [line, {}])
          levels = (own[key] ||= {})
          (levels[@fields.length(level, unit, line, "level")] ||= []) << positive(girth, unit, line)
        end
        found
      end

      def positive(girth, unit, line)
        mm = @fields.length(girth, unit, line, "girth")
        unless mm.positive?
          @table.fault(line, "girth: a girth is more than nothing. Look at the reading.")
        end
        mm
      end

      def side_of(text, line)
        side = text.downcase
        return side if SIDES.include?(side)

        @table.fault(line, "has “#{text[0, 20]}” where the side stands. Write left or right.")
      end
    end
  end
end
