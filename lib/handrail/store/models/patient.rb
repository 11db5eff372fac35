# frozen_string_literal: true

module Handrail
  module Store
    # A wearer: a person, or an animal with its owner.
    class Patient < Sequel.Model(Store.db[:patients])
      one_to_many :fittings, class: "Handrail::Store::Fitting"

      # the open stops of a wearer, whichever of their fittings they were raised at
      STOPS =
        Store.db[:open_stops].where(
          Sequel[:open_stops][:clinic_id] => Sequel[:patients][:clinic_id],
          Sequel[:open_stops][:patient_id] => Sequel[:patients][:id]
        ).select(Sequel.lit("jsonb_agg(open_stops ORDER BY fitting_id, key)"))
      # what is to be taken care of of a wearer, and of records that are joined into theirs, the oldest first
      STANDING = Sequel.lit(<<~SQL)
        (SELECT jsonb_agg(to_jsonb(c) ORDER BY c.id) FROM standing_cautions c
         WHERE c.clinic_id = patients.clinic_id AND c.patient_id IN (
           SELECT patients.id UNION ALL
           SELECT j.id FROM patients j WHERE j.clinic_id = patients.clinic_id AND j.joined_into_id = patients.id))
      SQL
      private_constant :STOPS, :STANDING

      # Wearers with their open stops and what stands of them, as a dataset of rows.
      def self.loaded =
        Store.db[:patients].select_all(:patients).select_append(
          STOPS.as(:stops),
          Sequel.as(STANDING, :standing)
        )

      # Wearers of a clinic by their ids: id => Patient.
      def self.of(clinic, ids)
        Store
          .prepared(:wearers, clinic: clinic.id, ids: ids.join(",")) do
            loaded.where(clinic_id: :$clinic, id: Store.among(:$ids))
          end
          .to_h { |row| [row[:id], call(row)] }
      end

      # The wearer of a record number, whatever its case, or nil: as it is spaced, else however it is.
      def self.numbered(clinic, text)
        there = where(clinic_id: clinic.id, practice: false)
        tight = text.upcase.gsub(/[^[:alnum:]]/, "")
        there.first(record_key: text.strip.squeeze(" ").upcase) ||
          (there.first(record_tight: tight) if tight.match?(/\d/))
      end

      # Rows of Projectors::OpenStops, as Hashes of Strings; of a wearer who was loaded for a visit.
      def stops_open = values[:stops].to_a.map(&:to_h)

      # Rows of standing cautions, also of those that were ended, as Hashes of Strings; of a wearer who was loaded
      # for a visit, or asked for here.
      def standing
        found =
          values.fetch(:standing) do
            Patient.of(Clinic[clinic_id], [id]).fetch(id).values[:standing]
          end
        found.to_a.map(&:to_h)
      end

      def animal? = species != "human"
      def name = [given_name, family_name].compact.reject(&:empty?).join(" ")
    end
  end
end
