# frozen_string_literal: true

require "digest"
require "json"
require "json_schemer"

module Handrail
  module Exchange
    # The zip file of one wearer on its way in, as another clinic's Handrail wrote it (PatientBundle): the record as it
    # was written there, with its papers and photos. Girths and patient are read from the bundle in it, see FhirIn.
    #
    #   record = WearerIn.read(bytes)
    #   record.told["fittings"].size # => 2
    #   record.files.map(&:name)     # => ["papers/2026-03-01-17-4-record.pdf", ...]
    #
    # It is shown as it was written, and decides nothing here: another clinic's chart, catalogue and people are not
    # ours. Raises FhirIn::Unreadable for what is damaged; what is none of its files is left out and named.
    class WearerIn
      # name - in the zip; kind - "papers" or "photos"; type - its content type; bytes
      Kept = Value.new(:name, :kind, :type, :bytes) { def sha256 = Digest::SHA256.hexdigest(bytes) }

      INSIDE = "patient.json"
      MOST_JSON = 5_000_000
      # papers and photos, together, and each
      MOST_FILES = 200
      MOST_BYTES = 60_000_000
      MOST_A_FILE = 8_000_000
      KINDS = {
        "papers" => ["application/pdf", "%PDF-".b],
        "photos" => ["image/jpeg", "\xFF\xD8\xFF".b]
      }.freeze
      NAME = %r{\A(?<kind>papers|photos)/[^/\\]{1,160}\z}

      attr_reader :told, :files, :left, :sha256

      # bytes - of a file. Returns nil for what is no zip file, or holds no record.
      def self.read(bytes)
        return unless Unzipped.like?(bytes)

        zip = Unzipped.new(bytes)
        zip.names.include?(INSIDE) ? new(zip, Digest::SHA256.hexdigest(bytes)) : nil
      rescue Unzipped::Damaged
        raise FhirIn::Unreadable, Wording.t("files.zip_file_damaged_cut")
      end

      def self.schemer =
        @schemer ||= JSONSchemer.schema(JSON.parse(File.read(PatientBundle::SCHEMA)))

      def initialize(zip, sha256)
        @sha256 = sha256
        @told = parsed(zip.read(INSIDE, MOST_JSON))
        @left = []
        @files = kept(zip)
      end

      def clinic = told["clinic"]["name"]
      def fittings = told["fittings"]
      def count(kind) = files.count { |file| file.kind == kind }

      private

      def parsed(bytes)
        text = bytes.force_encoding(Encoding::UTF_8)
        if text.bytesize > MOST_JSON
          raise FhirIn::Unreadable, Wording.t("files.larger_than_5_mb", inside: INSIDE)
        end

        made = JSON.parse(text)
        fault = self.class.schemer.validate(made).first
        return made unless fault

        raise FhirIn::Unreadable,
              Wording.t("files.inside_not_valid", inside: INSIDE, fault: fault["error"])
      rescue JSON::ParserError, EncodingError
        raise FhirIn::Unreadable, Wording.t("files.inside_no_json", inside: INSIDE)
      end

      def kept(zip)
        room = MOST_BYTES
        zip
          .names
          .grep(NAME)
          .first(MOST_FILES)
          .filter_map do |name|
            file = kept_one(name, zip.read(name, MOST_A_FILE)) or next
            room -= file.bytes.bytesize
            raise FhirIn::Unreadable, Wording.t("files.too_much_inside") if room.negative?

            file
          end
      end

      def kept_one(name, bytes)
        kind = NAME.match(name)[:kind]
        type, beginning = KINDS.fetch(kind)
        if bytes.bytesize <= MOST_A_FILE && bytes.start_with?(beginning)
          return Kept[name: name, kind: kind, type: type, bytes: bytes]
        end

        @left << name
        nil
      end
    end
  end
end
