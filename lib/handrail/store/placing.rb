# frozen_string_literal: true

module Handrail
  module Store
    # Moves a clinic from the cluster where it lives to another one while it works: copied, caught up, held for seconds,
    # proved row by row, switched in the Directory. What lies where it was is read-only from then on.
    #
    #   Placing.new(clinic_id, "inland").run              # => a Hash of what was proved
    #   Placing.new(clinic_id, "inland").take_back        # as long as it has not been switched
    #   Placing.new(clinic_id, "inland").drop_old         # what lies where it was is deleted
    #
    # Killed at any moment it goes on where it was when it is run again: each step can be done twice, and the Directory
    # keeps which was the last. For the owner of both databases. Raises Refused; nothing is lost then.
    #
    # It brings no clinic in from elsewhere (WholeClinic does), and knows nothing of who signs in.
    class Placing
      # It can not be moved so; the message says what to do.
      class Refused < Handrail::Error
      end

      # rows that a pass may find changed before the clinic is held: so many are copied within the seconds that it is
      FEW = 300
      PASSES = 8
      # how often it is looked again where something was written after all while it was held
      PROOFS = 5

      # told - called with each line that says what is done
      def initialize(clinic_id, target, told: ->(line) {})
        @clinic_id = Integer(clinic_id)
        @target = target
        @told = told
      end

      # Returns { tables:, rows:, audit:, files:, held: seconds }.
      def run = Directory.alone(@clinic_id) { move }

      # Ends a move that has not been switched: the clinic goes on where it was, the copy is deleted.
      def take_back = Directory.alone(@clinic_id) { end_before_switching }

      # Deletes what lies at a cluster where the clinic lived before.
      def drop_old
        Directory.alone(@clinic_id) do
          raise Refused, "It is on its way." if Directory.open_move(@clinic_id)

          unless Directory.old_copies(@clinic_id).include?(@target)
            raise Refused, "No old copy of it lies at #{@target}."
          end

          clear(@target, "gone")
          Directory.dropped(@clinic_id, @target)
          tell("the old copy at #{@target} is deleted")
        end
      end

      private

      def move
        @move = Directory.open_move(@clinic_id) || begin_move
        @source = @move[:source]
        unless @move[:target] == @target
          raise Refused, "It is on its way to #{@move[:target]}. Take that back first, or end it."
        end

        unless at?("switched")
          copy unless at?("held", "proved")
          hold
          prove
          switch
        end
        finish
      end

      def end_before_switching
        @move = Directory.open_move(@clinic_id) or raise Refused, "No move of it is under way."
        if at?("switched")
          raise Refused, "It lives at #{@move[:target]} by now. Run it again, then move it back."
        end

        # it works again before anything is cleared away
        Clusters.within(@move[:source]) { release("moving") }
        clear(@move[:target], "arriving")
        Directory.dropped(@clinic_id, @move[:target])
        Directory.end_move(@move, "taken back")
        tell("taken back: it lives at #{@move[:source]} as before")
      end

      def tell(line) = @told.call(line)
      def at?(*steps) = steps.include?(@move[:step])
      def twin = @twin ||= Twin.new(@clinic_id, @source, @target)

      def begin_move
        source = Directory.cluster_of(@clinic_id)
        raise Refused, "There is no cluster called #{@target}." unless Clusters.all.key?(@target)
        raise Refused, "It lives at #{@target} already." if source == @target

        same_schema!(source)
        found = Clusters.within(source) { Clinic[@clinic_id] }
        raise Refused, "There is no clinic #{@clinic_id} at #{source}." unless found

        emails!(source)
        Directory.begin_move(@clinic_id, source, @target)
      end

      def same_schema!(source)
        here, there =
          [source, @target].map { |name| Clusters.within(name) { Store.schema_version } }
        return if here == there

        raise Refused, "#{source} is at schema #{here}, #{@target} at #{there}. Update both first."
      end

      # nobody signs in twice under one e-mail
      def emails!(source)
        emails = Clusters.within(source) { Account.where(clinic_id: @clinic_id).select_map(:email) }
        taken =
          Clusters.within(@target) do
            Account.where(email: emails).exclude(clinic_id: @clinic_id).select_map(:email)
          end
        return if taken.empty?

        raise Refused,
              "#{taken.sort.join(", ")} signs in at #{@target} already. Change the e-mail first."
      end

      # copied while it works: until a pass finds little left
      def copy
        Clusters.within(@target) { arrive }
        PASSES.times do |turn|
          copied = twin.even_out
          tell("pass #{turn + 1}: #{copied} rows copied")
          break if copied <= FEW && turn.positive?
        end
        @move = Directory.step(@move, "copied")
      end

      # what comes is held until it lives there; what lives there already is not held by it
      def arrive
        Store.db.transaction do
          held = Store.db[:clinic_holds].where(clinic_id: @clinic_id).for_update.get(:why)
          if held.nil? && Clinic[@clinic_id]
            raise Refused, "It lives at #{@target} by now: nothing is copied over it."
          end

          note("arriving", @source)
        end
      end

      # Nothing is written from here on. It waits for what is being written: each such transaction holds its clinic's
      # row (see Store.as), and this takes it whole.
      def hold
        @held = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        Clusters.within(@source) do
          Store.db.transaction do
            Store.db[:clinics].where(id: @clinic_id).for_update.select_map(:id)
            if Store.db[:clinic_holds].where(clinic_id: @clinic_id, why: "gone").any?
              raise Refused, "It does not live at #{@source} any more."
            end

            note("moving", @target)
          end
        end
        @move = Directory.step(@move, "held") unless at?("held", "proved")
        tell("held: nothing is written in it now")
      end

      def prove
        PROOFS.times do
          tell("last pass: #{twin.even_out} rows copied")
          next if twin.differing.any?

          @proof = twin.counts
          @move = Directory.step(@move, "proved", **@proof)
          tell("proved: #{said(@proof)}, equal on both sides")
          return
        end
        different = twin.differing.join(", ")
        Clusters.within(@source) { release("moving") }
        raise Refused,
              "It was written in while it was held: #{different}. It goes on at #{@source}; run it again."
      end

      def switch
        name = Clusters.within(@source) { Store.db[:clinics].where(id: @clinic_id).get(:name) }
        Directory.switch(@move, name)
        @move = Directory.open_move(@clinic_id)
        tell("switched: it lives at #{@target}")
      end

      def finish
        Clusters.within(@target) { release("arriving") }
        seconds = @held && (Process.clock_gettime(Process::CLOCK_MONOTONIC) - @held).round(2)
        tell("written in again#{", after #{seconds} s" if seconds}")
        Clusters.within(@source) { note("gone", @target) }
        Directory.end_move(@move, "moved")
        tell("done: what lies at #{@source} is read-only until it is dropped")
        { **@move[:told].to_h.transform_keys(&:to_sym), held: seconds }.compact
      end

      def said(proof)
        "#{proof[:tables]} tables, #{proof[:rows]} rows, #{proof[:audit]} lines of the audit, #{proof[:files]} files"
      end

      def note(why, cluster)
        row = { clinic_id: @clinic_id, why: why, cluster: cluster }
        Store.db[:clinic_holds].insert_conflict(
          target: :clinic_id,
          update: row.except(:clinic_id)
        ).insert(row)
      end

      def release(why) = Store.db[:clinic_holds].where(clinic_id: @clinic_id, why: why).delete

      # why - as the clinic has to be held there: what lives is never deleted
      def clear(name, why)
        Clusters.within(name) do
          Store.db.transaction do
            found = Store.db[:clinic_holds].where(clinic_id: @clinic_id).for_update.get(:why)
            unless [why, nil].include?(found) && (found || Clinic[@clinic_id].nil?)
              raise Refused, "It lives at #{name}: nothing is deleted there."
            end

            Twin.apart(Store.db)
            Twin.tables.reverse_each do |table, whose|
              Store.db[table].where(whose.call(@clinic_id)).delete
            end
            Store.db[:clinic_holds].where(clinic_id: @clinic_id).delete
          end
        end
      end
    end
  end
end
