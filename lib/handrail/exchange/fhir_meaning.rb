# frozen_string_literal: true

module Handrail
  module Exchange
    # What in a FHIR R4 resource changes what the rest of it means, and so keeps it from being read
    # as it stands (HL7 FHIR 4.0.1: modifier elements, modifierExtension, Bundle.entry.request).
    #
    #   FhirMeaning.of_entry(entry)            # => "It is to be deleted (DELETE), not added." or nil
    #   FhirMeaning.record_number(patient)     # => "C 77", or raises Unclear
    #
    # It knows no clinic and keeps nothing; which resources are read at all is FhirIn's.
    module FhirMeaning
      # More than one reading of it is possible; the message says which.
      class Unclear < Handrail::Error
      end

      # orders that stand; one without a status is taken as it is
      ORDERED = [nil, "active"].freeze
      # names that are no longer somebody's, and those that are the one to take
      PAST = %w[old maiden].freeze
      PREFERRED = %w[official usual].freeze
      # HL7 v2 table 0203: medical record number
      MEDICAL_RECORD = "MR"
      private_constant :ORDERED, :PAST, :PREFERRED, :MEDICAL_RECORD

      class << self
        # Why an entry of a bundle may not be read, in words, or nil.
        def of_entry(entry)
          method = entry["request"].is_a?(Hash) ? entry["request"]["method"] : nil
          unless [nil, "POST", "PUT", "GET", "HEAD"].include?(method)
            return Wording.t("files.not_added", method: method.to_s[0, 20])
          end

          Wording.t("files.carries_modifier_not_known") if modified?(entry["resource"])
        end

        # Why a Patient is not to be added, or nil.
        def of_patient(whole)
          links = whole["link"].is_a?(Array) ? whole["link"].grep(Hash) : []
          if links.any? { |link| link["type"] == "replaced-by" }
            return Wording.t("files.record_replaced")
          end
          return Wording.t("files.record_out_of_use") if whole["active"] == false

          dead = whole["deceasedBoolean"] == true || whole["deceasedDateTime"]
          Wording.t("files.patient_has_died") if dead
        end

        # Why an Observation is no plain value, or nil.
        def of_observation(whole)
          comparator = whole["valueQuantity"]["comparator"] if whole["valueQuantity"].is_a?(Hash)
          Wording.t("files.bound_not_value", comparator: comparator.to_s[0, 5]) if comparator
        end

        # Whether an order still stands: asked for, and not forbidden.
        def standing?(order) =
          order["intent"] == "order" && ORDERED.include?(order["status"]) &&
            order["doNotPerform"] != true

        # The identifier that is the record's number: the one of the system that the clinic has chosen, else of type
        # MR, else the official or usual one, else the only one. nil where there is none. Raises Unclear.
        #
        # identifiers - Hashes; system - its address, or nil
        def record_number(identifiers, today, system = nil)
          standing = identifiers.select { |one| one["value"].is_a?(String) && now?(one, today) }
          chosen = standing.select { |one| system && one["system"] == system }
          standing = chosen if chosen.any?
          records, others = standing.partition { |one| medical_record?(one) }
          named = others.select { |one| PREFERRED.include?(one["use"]) }
          first = [records, named, others].find(&:any?) or return
          values = first.map { |one| one["value"].strip }.uniq
          return values.first if values.one?

          raise Unclear, Wording.t("files.several_numbers", values: values.first(4).join(", "))
        end

        # The name, or the telephone, that is somebody's now: of those the official or usual first.
        def current(list, today)
          standing = list.select { |one| now?(one, today) }
          standing.min_by.with_index { |one, i| [PREFERRED.index(one["use"]) || PREFERRED.size, i] }
        end

        private

        # anywhere in it, since R4 lets every element carry one
        def modified?(part)
          case part
          when Hash
            part.key?("modifierExtension") || part.each_value.any? { |one| modified?(one) }
          when Array
            part.any? { |one| modified?(one) }
          end
        end

        def now?(one, today)
          ended = one["period"]["end"] if one["period"].is_a?(Hash)
          !PAST.include?(one["use"]) && (ended.nil? || ended.to_s[0, 10] >= today.iso8601)
        end

        def medical_record?(one)
          codings = one["type"]["coding"] if one["type"].is_a?(Hash)
          codings.is_a?(Array) &&
            codings.grep(Hash).any? { |coding| coding["code"] == MEDICAL_RECORD }
        end
      end
    end
  end
end
