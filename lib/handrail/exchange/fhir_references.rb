# frozen_string_literal: true

module Handrail
  module Exchange
    # What entries of a bundle are referred to by, as FHIR R4 says (2.3.0.1, 3.1.3): by their address; what is relative
    # belongs to the base of the entry that refers. Where that has no such base, type and id must be one entry's alone.
    #
    #   patients = FhirReferences.new("Patient")
    #   patients.keep(entry, "C 77")
    #   patients.meant(other, "Patient/1") # => "C 77", nil where there is none, or raises FhirMeaning::Unclear
    class FhirReferences
      # an address that a reference can be relative to: its base, then type and id
      RESTFUL = %r{\A(?<base>https?://.+)/[A-Z][A-Za-z]+/[A-Za-z0-9.-]{1,64}(?:/_history/.+)?\z}
      private_constant :RESTFUL

      def initialize(type)
        @type = type
        @by_address = {}
        @by_name = Hash.new { |all, name| all[name] = [] }
      end

      # entry - of a bundle; what - what a reference to it stands for
      def keep(entry, what)
        url = entry["fullUrl"].to_s
        @by_address[url] = what unless url.empty?
        id = entry["resource"]["id"]
        @by_name["#{@type}/#{id.strip}"] << what if id.is_a?(String) && !id.strip.empty?
      end

      # What a reference in an entry stands for, or nil. Raises FhirMeaning::Unclear.
      def meant(entry, reference)
        return @by_address[reference] if @by_address.key?(reference)

        base = RESTFUL.match(entry["fullUrl"].to_s)&.[](:base)
        return @by_address["#{base}/#{reference}"] if base

        found = @by_name.fetch(reference, [])
        return found.first if found.size < 2

        raise FhirMeaning::Unclear,
              Wording.t("files.ambiguous_reference", reference: reference, many: found.size)
      end
    end
  end
end
