# frozen_string_literal: true

require "stringio"
require "zip"
require "zlib"

module Handrail
  module Exchange
    # A zip file from elsewhere, all of its files by their names. It never unpacks more of a file than is asked for,
    # whatever the file says of its size.
    #
    #   zip = Unzipped.new(bytes)
    #   zip.names                      # => ["datapackage.json", "chart.csv"]
    #   zip.read("chart.csv", 2_000_000) # => its first bytes, one more than asked where there are more; nil for none
    #
    # Raises Damaged for what can not be opened or read.
    class Unzipped
      # It is cut, turned over, or no zip file.
      class Damaged < Handrail::Error
      end

      BEGINNING = "PK\x03\x04".b.freeze

      def self.like?(bytes) = bytes.b.start_with?(BEGINNING)

      # bytes - of the file
      def initialize(bytes)
        # The library is not made for what is cut or turned over: beside its own errors it raises whatever it stumbles
        # on. Nothing of ours runs in here.
        @entries = Zip::File.open_buffer(StringIO.new(bytes.b)).entries.select(&:file?)
      rescue StandardError
        raise Damaged, Wording.t("files.bundle_is_no_zip")
      end

      def names =
        @names ||= @entries.map { |entry| entry.name.dup.force_encoding(Encoding::UTF_8).scrub }

      def read(name, most)
        place = names.index(name) or return
        unpacked(@entries[place], most)
      end

      private

      def unpacked(entry, most)
        bytes = bytes_of(entry, most + 1)
        # what was turned over on its way can still be unpacked: another figure, say
        whole = bytes.bytesize <= most
        if whole && Zlib.crc32(bytes) != entry.crc
          raise Damaged, Wording.t("files.damaged_inside", name_of: name_of(entry))
        end

        bytes
      end

      # the same holds for what is in it
      def bytes_of(entry, most)
        entry.get_input_stream.read(most).to_s.b
      rescue StandardError
        raise Damaged, Wording.t("files.damaged_inside", name_of: name_of(entry))
      end

      def name_of(entry) = names[@entries.index(entry)]
    end
  end
end
