# frozen_string_literal: true

module Handrail
  module Web
    # A visit, stage by stage. Each stage is one fragment (#bench), so that htmx can put a new one
    # in its place after every entry; a fragment says whose visit it is, and is put in no other
    # one's place.
    class Visits < Base
      # what instruments sent lately, whichever process was asked
      PRESSES = Memory.freeze(Instruments::Presses.new(Store::DevicePresses))

      # how each kind of what is not kept is answered
      STATUS = {
        Store::Stale => 409,
        Store::Closed => 409,
        Store::Conflict => 409,
        Store::Refused => 422,
        Store::Faults => 422
      }.freeze

      helpers do
        # The visit asked for, or 404. From here on the request reads by what it is pinned to.
        def visit! = found(Store::Visits.find(clinic, id)).tap { |visit| by_pin(visit) }

        # Everything that is shown from here on is of this visit: its edition, and its clinic as it was
        # when it was closed.
        def by_pin(visit)
          @told_by = visit.clinic
          Edition.turn_to(visit.pin.edition)
        end

        # Carries out an entry at the visit in the path. given - what the command reads; more - what it
        # is given beside that. The block
        # gets the Ledger::Taken and says where to go on: a path, or what to show of the same page,
        # or nil. What could not be kept is shown with everything that was typed.
        def enter(page, command, given = params, **more)
          command.role == :senior ? senior! : clinical!
          confirm! if command == Store::Commands::LetPass
          taken = ledger.run(command.new(given, **more))
          answers(KEPT)
          headers VERSION => taken.visit.version.to_s
          answer = yield taken if block_given?
          return go(answer) if answer.is_a?(String)

          shown = answer || {}
          return show(page, taken.visit, shown: shown) if fragment?

          go("#{stage_path(id, page::STAGE)}#{"?#{query(shown)}" if shown.any?}")
        rescue Store::NotKept => e
          raise if e.is_a?(Store::NotAllowed)

          answers(REFUSED)
          status STATUS.find { |kind, _| e.is_a?(kind) }.last
          show(page, e.visit || visit!, trouble: e)
        end

        # Nothing is sent to a page that the device has nothing for.
        def there!(page)
          clinical!
          halt 404 unless page.of?(visit!.family)
        end

        # Shows a stage's page; there is none where the device has nothing for it.
        def show(page, visit, **how)
          by_pin(visit)
          halt 404 unless page.of?(visit.family)
          made = page.new(visit, account, params: params, **how)
          locals = { page: made, visit: visit }
          return part(:"visits/bench", **locals) if fragment?

          erb :"visits/stage", locals: locals
        end

        # Shows a page with what a device sent last in its field, or with why nothing came.
        def from_device(kind, page, visit)
          made = page.new(visit, account, params: params)
          made.asked_device = kind
          begin
            device = Instruments.at(kind, presses: PRESSES) or
              raise Instruments::Silent, Wording.t("web.no_set_up_here", kind: kind)
            device.zero if params["zero"]
            made.sent = params["zero"] ? nil : device.newest(within: opened_for)
          rescue Instruments::Silent => e
            made.silent = e.message
          end
          locals = { page: made, visit: visit }
          fragment? ? part(:"visits/bench", **locals) : erb(:"visits/stage", locals: locals)
        end

        # seconds since the page that asks was made; a page that does not say so takes nothing
        def opened_for
          now = Store.now.to_i
          now - (Store::Inputs.whole(params["opened"], 0..now) || now)
        end

        # what was kept needs not be sent again
        def acknowledge(kind, message)
          return unless Instruments::KINDS.key?(kind) && message.is_a?(String)

          Instruments.at(kind)&.acknowledge(message)
        end

        def ledger
          Store::Ledger.new(
            id,
            account,
            seen: params["seen"],
            page: page_key,
            entry_key: params["entry_key"],
            rests_on: params["rests_on"],
            made: env["HTTP_HANDRAIL_MADE"]
          )
        end
      end

      def call!(env) = Edition.with(Edition.current) { super }

      # The page of a stage by its name, the order's where it is none.
      def self.page_of(stage)
        {
          "measure" => MeasureStage,
          "size" => SizeStage,
          "fit" => FitStage,
          "teach" => TeachStage,
          "hand_over" => HandOverStage,
          "recheck" => RecheckStage
        }.fetch(stage, OrderStage)::Page
      end

      register Arrivals,
               OrderStage,
               MeasureStage,
               SizeStage,
               FitStage,
               TeachStage,
               HandOverStage,
               RecheckStage,
               BodyStage,
               Papers,
               RecordPages,
               AmendPages

      # the forms that come next on a page, each in its template: to go on with where there is no line
      get "/:id/ahead/:stage" do
        clinical!
        page = Visits.page_of(text("stage"))
        halt 404 unless page::AHEAD
        visit = visit!
        by_pin(visit)
        made = page.new(visit, account, params: params)
        part(:"visits/ahead", page: made, visit: visit, type: page)
      end

      get "/:id" do
        visit = visit!
        next go("/visits/#{id}/book") unless account.clinical?

        go(visit.closed? ? "/visits/#{id}/record" : stage_path(id, visit.gates.present))
      end
    end
  end
end
