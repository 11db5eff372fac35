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
              missing: t(:say_why_brought),
              short: t(:say_shortly_why_brought)

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
          refuse!("file" => (t(:has_faults_have_mended) unless @looked.sound?))
          family = @looked.family
          own = Clinic.where(id: clinic.id).for_update.first
          rows = Store.db[:clinic_families].where(clinic_id: clinic.id)
          refuse!("file" => fault(own, family, rows))
          rows.where(key: family.key, ended_at: nil).update(
            ended_at: Store.now,
            ended_by: account.id,
            ended_why: t(:another_text_brought, why: why)[0, 300]
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
          [
            t(:device_brought, family: family.name, key: family.key, why: why),
            { "family" => family.key }
          ]
        end

        private

        def fault(clinic, family, rows)
          if clinic.device_families[family.key]&.digest == family.digest &&
               !OwnFamilies.ended?(clinic, family.key)
            return t(:holds_stands_already)
          end

          if seen && seen != (clinic.device_families[family.key]&.digest || NOTHING)
            return(t(:another_text_brought_ended))
          end

          keys = rows.distinct.select_map(:key) | [family.key]
          t(:too_many_own_families, most: OwnFamilies::MOST) if keys.size > OwnFamilies::MOST
        end
      end
    end
  end
end
