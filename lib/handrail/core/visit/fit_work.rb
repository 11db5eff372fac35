# frozen_string_literal: true

module Handrail
  class Visit
    # Steps, checks, changes, settings and teach-backs of a fitting, side by side: each of two
    # devices is looked at on its own.
    class FitWork
      def initialize(visit)
        @visit = visit
        @checks = {}
        @checklists = {}
        @applying = {}
        @fitted_at = {}
        @settings = {}
      end

      # The checks that apply here, as [Families::Check, place] pairs. At a recheck the family's
      # short list, with what was put right since into not good, until something is changed or sized: then all of them.
      def checks(side = first_side) = @checks[side] ||= found_checks(side)

      def found_checks(side)
        family = @visit.family
        short = @visit.recheck? && own(changes, side).empty? && !@visit.gates.gives_out?(side)
        list = family.checks(@visit.config)
        if short
          again = @visit.concerns.failed_before(side)
          list =
            family.recheck_checks(@visit.config) | list.select { |one| again.include?(one.key) }
        end
        list.flat_map { |check| places(check, side).map { |place| [check, place] } }
      end
      private :found_checks

      def checklist(side = first_side)
        @checklists[side] ||= Fitting::Checklist.new(
          checks(side),
          results: own(results, side) + answered(side),
          changes: own(changes, side),
          steps: openings(side)
        )
      end

      # Where this wearer's limb holds a strap and where it lets it slide: [Families::Strap,
      # Fitting::StrapSeat] pairs, of straps that hang on it.
      def seats(side = first_side)
        figure = @visit.sizing.figure
        return [] unless figure.reference && @visit.usable_readings.any?

        straps =
          @visit
            .sizing
            .straps(side)
            .select { |strap| strap.level && @visit.family.seats.include?(strap.key) }
        profile = @visit.sizing.profile(figure, side)
        straps.map do |strap|
          [
            strap,
            @visit.method_of("strap_seat").new(profile, Quantity::Length.parse(strap.level).mm.to_f)
          ]
        end
      end

      # Steps of preparing and applying.
      def applying(side = first_side)
        @applying[side] ||= begin
          done =
            own_rows(:steps_done, side)
              .select { |row| @visit.stands?(row) }
              .map { |row| row[:step] }
          Fitting::Applying.new(@visit.family.steps(@visit.config), done: done)
        end
      end

      # Work of this fitting that went to the workshop or the maker, as rows, oldest first.
      def slips = @visit.rows_so_far(:job_slips)

      # What of it is not back yet.
      def slips_out
        closed = @visit.rows_so_far(:slip_returns).map { |row| row[:slip_id] }
        slips.reject { |row| closed.include?(row[:id]) }
      end

      # The slip with which the device of a side was sent for in the size that is chosen, nil where none is on its way.
      def awaited(side = first_side) = slips_out.find { |row| piece_of?(row, side) }

      # Whether what was sent for has come, and its number is not written down yet.
      def arrived?(side = first_side)
        return false if @visit.sizing.device_fits?(side)

        back =
          @visit
            .rows_so_far(:slip_returns)
            .select { |row| row[:outcome] == "back" }
            .map { |row| row[:slip_id] }
        slips.any? { |row| piece_of?(row, side) && back.include?(row[:id]) }
      end

      # What is to be known of this wearer before something is done that can not be undone, as it is
      # called; nil where it is known. one - a Families::Step or Remedy
      def bound_lacking(one, side = first_side)
        key = one.within or return
        field, row = settings(side).find { |field, _| field.key == key }
        return(field.label unless row) if field

        sheet = @visit.sizing.sheets(side)[key]
        return(sheet.title unless %i[good look_again].include?(sheet.state)) if sheet

        site = Anatomy::Vocabulary.default[key] or return
        site.name unless @visit.repeats(key, site.paired ? side : nil)
      end

      # What each change of this visit came to, as Fitting::Outcomes::Tries.
      def tries
        problems = @visit.family.problems.to_h { |problem| [problem.key, problem] }
        seen = results + @visit.sides.flat_map { |side| answered(side) }
        Fitting::Outcomes.of(changes, seen, problems)
      end

      # Changes at this visit, and of all visits so far, as Fitting::Changes.
      def changes = @changes ||= @visit.rows(:changes).map { |row| change(row) }
      def all_changes = @visit.rows_so_far(:changes).map { |row| change(row) }

      # The family's settings that apply, each with its latest row up to this visit, or nil.
      def settings(side = first_side)
        @settings[side] ||= found_settings(side)
      end

      def found_settings(side)
        latest =
          @visit
            .rows_so_far(:strap_settings)
            .select { |row| row[:side].nil? || row[:side] == side }
            .to_h { |row| [row[:setting], row] }
        @visit.family.settings_for(@visit.config).map { |field| [field, latest[field.key]] }
      end
      private :found_settings

      # How far straps are pulled past their marks, as Fitting::MarkDrifts; empty where the family
      # keeps no reach, or it was not read.
      def mark_drifts(side = first_side)
        drift = @visit.family.marks["drift"] or return []
        found = settings(side).to_h { |field, row| [field.key, [field, row]] }
        _, reach = found[drift["reach"]]
        return [] unless reach

        drift["past"].filter_map do |key|
          field, row = found[key]
          next unless row

          @visit.method_of("mark_drift")[
            field: field,
            past: row[:value_mm].to_r,
            reach: reach[:value_mm].to_r,
            at: row[:at]
          ]
        end
      end

      def teach_backs = @visit.rows(:teach_backs).map { |row| teach_back_of(row) }

      # The last teach-back of a side at this visit, or nil.
      def teach_back(side = first_side) = own(teach_backs, side).max_by(&:seq)

      # The seq with which work of a side last came back, over all visits; 0 where none did.
      def back_at(side = nil)
        ours =
          slips
            .select { |row| side.nil? || row[:side].nil? || row[:side] == side }
            .map { |row| row[:id] }
        back = @visit.rows_so_far(:slip_returns)
        back
          .select { |row| row[:outcome] == "back" && ours.include?(row[:slip_id]) }
          .map { |row| row[:version] }
          .max || 0
      end

      # The seq of the last thing that was done to the device of a side: size, piece, step or change;
      # 0 before any. A serial number that was put right is none.
      def fitted_at(side = first_side)
        @fitted_at[side] ||= begin
          rows =
            %i[size_choices issued_devices steps_done changes].flat_map do |table|
              own_rows(table, side).reject { |row| row[:piece] }
            end
          (rows + returned(side).map(&:first)).map { |row| row[:version] }.max || 0
        end
      end

      # The checks that a side's wearer is sent back to the prescriber with, as keys: they may stay as
      # they are.
      def sent_away_with(side = first_side)
        own(changes, side)
          .select { |change| change.goes_to == "prescriber" }
          .flat_map { |change| @visit.family.problem(change.problem)&.shows_in.to_a }
      end

      private

      def piece_of?(row, side) =
        row[:piece] && row[:side] == side &&
          row[:size] == @visit.sizing.choice(side)&.fetch(:chosen)

      def first_side = @visit.sides.first

      # what belongs to a side; what names none belongs to all
      def own(items, side) =
        items.select { |item| item.side.nil? || side.nil? || item.side == side }

      def own_rows(table, side)
        @visit.rows(table).select { |row| row[:side].nil? || side.nil? || row[:side] == side }
      end

      def places(check, side) = check.each_strap ? @visit.sizing.straps(side).map(&:key) : [""]

      def results
        @results ||=
          begin
            rows = @visit.rows(:check_results)
            rights = ConcernWork.rights(rows)
            rows
              .reject { |row| row[:corrects_id] }
              .map { |row| result(ConcernWork.last_word(row, rights), seq: row[:version]) }
          end
      end

      # seq - when it was looked at, see ConcernWork.last_word
      def result(row, seq:)
        Fitting::Result[
          check: row[:check_key],
          side: row[:side],
          place: row[:place],
          outcome: row[:outcome],
          value: row[:value]&.to_r,
          note: row[:note],
          seq: seq,
          at: row[:at],
          by: row[:by],
          gone: @visit.gone(row).first,
          way: row[:way]
        ]
      end

      # What other checks answer, as Results: whether what every strap was read at falls from the lowest
      # up.
      def answered(side)
        list = checks(side).map(&:first).select(&:answered_by).uniq
        list.filter_map do |check|
          read = read_at(check.answered_by, side) or next
          values = read.map(&:value)
          last = read.max_by(&:seq)
          falls = values.each_cons(2).all? { |below, above| above <= below }
          last.with(
            check: check.key,
            place: "",
            outcome: falls ? "good" : "bad",
            value: nil,
            way: nil
          )
        end
      end

      # the newest Result of a check at every strap, lowest first; nil while one is not read
      def read_at(key, side)
        found =
          @visit
            .sizing
            .straps(side)
            .sort_by(&:number)
            .map do |strap|
              own(results, side)
                .select { |one| one.check == key && one.place == strap.key }
                .max_by(&:seq)
            end
        found if found.any? && found.all? { |one| one&.value && !one.gone }
      end

      def change(row)
        Fitting::Change[
          problem: row[:problem],
          remedy: row[:remedy],
          side: row[:side],
          place: row[:place],
          opens: row[:opens].to_a,
          goes_to: row[:goes_to],
          note: row[:note],
          seq: row[:version],
          at: row[:at],
          by: row[:by],
          title: row[:title],
          before: row[:before],
          after: row[:after],
          spot: row[:spot]
        ]
      end

      def teach_back_of(row)
        Fitting::TeachBack[
          who: row[:who],
          side: row[:side],
          unaided: row[:unaided],
          shown: row[:shown].to_a,
          mistakes: row[:mistakes].to_a,
          seq: row[:version],
          levels: row[:levels]&.to_h,
          tries: row[:tries],
          gone: @visit.gone(row).first
        ]
      end

      # A strap that was closed opens its checks again; another size or piece is another basis, see
      # Fitting::Basis.
      def openings(side)
        steps =
          own_rows(:steps_done, side).filter_map do |row|
            step = @visit.family.step(row[:step]) and
              opening(step.opens || [], row, title: step.title)
          end
        steps + returns(side)
      end

      # what came back from the workshop opens the checks that it touches, and the last look
      def returns(side)
        final = @visit.family.all_checks.select(&:final).map(&:key)
        returned(side).map do |row, slip|
          opening(slip[:opens].to_a | final, row, cause: { code: :back, doer: slip[:doer] })
        end
      end

      # [row of the return, row of its slip] of what came back at this visit
      def returned(side)
        @visit
          .rows(:slip_returns)
          .select { |row| row[:outcome] == "back" }
          .filter_map do |row|
            slip = slips.find { |one| one[:id] == row[:slip_id] }
            [row, slip] if side.nil? || slip[:side].nil? || slip[:side] == side
          end
      end

      def opening(checks, row, **what) = Fitting::Change[opens: checks, seq: row[:version], **what]
    end
  end
end
