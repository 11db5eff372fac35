# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Takes one-time codes off an account whose telephone is lost. Its sessions end, so that
      # whoever has the telephone is out.
      class TakeOffCodes < ClinicCommand
        include PersonOf

        role :senior
        input :person, :id

        def perform(clinic, account)
          whom = person_of(clinic)
          refuse!("person" => t(:uses_no_codes, whom: whom.name)) unless People.take_off_codes(whom)
          People.end_sessions(whom)
          People.note(whom, "codes_taken_off", by: account.id)
          [t(:codes_taken_off, whom: whom.name), {}]
        end
      end
    end
  end
end
