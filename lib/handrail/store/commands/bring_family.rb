# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Brings a family of devices in, beside those that ship or in place of one of the same key; one that was brought
      # in before under that key is ended. What was ordered stays on its own text.
      #
      #   BringFamily.new({ "why" => "our own night splint" }, looked: OwnFamilies.look(bytes, "night_splint.yml"))
      class BringFamily < ClinicCommand
        role :senior
        input :why,
              :text,
              least: 5,
              most: 300,
              missing: "Say why it is brought in.",
              short: "Say in a few words why it is brought in."

        # what is seen where nothing holds under a key
        NOTHING = "none"
        # digest of what held under its key when the file was looked at
        input :seen, :line, most: 64

        # looked - an OwnFamilies::Looked
        def initialize(params = {}, looked:)
          super(params)
          @looked = looked
          # another file under the same words is another entry
          @digest = Digest::SHA256.hexdigest([@digest, looked.source].inspect)
        end

        def perform(clinic, account)
          refuse!("file" => ("It has faults that have to be mended first." unless @looked.sound?))
          family = @looked.family
          own = Clinic.where(id: clinic.id).for_update.first
          rows = Store.db[:clinic_families].where(clinic_id: clinic.id)
          refuse!("file" => fault(own, family, rows))
          rows.where(key: family.key, ended_at: nil).update(
            ended_at: Store.now,
            ended_by: account.id,
            ended_why: "another text was brought in: #{why}"[0, 300]
          )
          rows.insert(
            clinic_id: clinic.id,
            by: account.id,
            at: Store.now,
            key: family.key,
            digest: family.digest,
            text: family.text,
            source: @looked.source,
            why: why
          )
          own.update(own_families: Store.json(OwnFamilies.in_force(own)))
          ["device brought in: #{family.name} (#{family.key}): #{why}", { "family" => family.key }]
        end

        private

        def fault(clinic, family, rows)
          if clinic.device_families[family.key]&.digest == family.digest &&
               !OwnFamilies.ended?(clinic, family.key)
            return "It holds as it stands already."
          end

          if seen && seen != (clinic.device_families[family.key]&.digest || NOTHING)
            return(
              "Another text of it was brought in or ended meanwhile. Look at what changes, and bring it in again."
            )
          end

          keys = rows.distinct.select_map(:key) | [family.key]
          if keys.size > OwnFamilies::MOST
            "More than #{OwnFamilies::MOST} of one's own are not kept."
          end
        end
      end
    end
  end
end
