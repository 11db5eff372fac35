# frozen_string_literal: true

module Handrail
  module Web
    # Reads before anybody is served what the first pages of the day would have to read: the program, the families and
    # their texts, the templates. Processes that are forked afterwards share it.
    module Warm
      # stages of a visit, as in its addresses
      STAGES = %w[order measure size fit teach hand_over recheck record].freeze

      class << self
        # Returns the number of pages that were made. What can not be read here is left to who asks for it.
        def up
          LOADER.eager_load
          Families::Registry.all
          Handrail::Handbook.default
          account = Store::Account.where(status_id: 2, role: "senior").order(:id).first
          account ? pages(account).count { |path| made?(path, account) } : 0
        rescue Sequel::Error
          0
        end

        private

        def pages(account)
          visit = Store::Visit.where(clinic_id: account.clinic_id).reverse(:id)
          patient = Store::Patient.where(clinic_id: account.clinic_id).max(:id)
          last = [visit.where(purpose: "first").get(:id), visit.where(purpose: "recheck").get(:id)]
          [
            "/",
            "/week",
            "/catalogue",
            "/handbook",
            "/patients/new",
            ("/patients/#{patient}" if patient),
            *last.compact.flat_map { |id| STAGES.map { |stage| "/visits/#{id}/#{stage}" } }
          ].compact
        end

        def made?(path, account)
          env = Rack::MockRequest.env_for(path)
          env.update("handrail.account" => account, "rack.session" => {})
          status, = Web.rooms.call(env)
          status == 200
        rescue StandardError
          false
        end
      end
    end
  end
end
