# frozen_string_literal: true

require "digest"
require "vips"

module Handrail
  module Exchange
    # A photo as it is kept: a JPEG of at most LONGEST pixels a side, upright, without what the
    # camera wrote into it (where it was taken, when, by what).
    #
    #   photo = Photo.read("heels.jpg")
    #   photo.bytes, photo.width, photo.height, photo.sha256
    #
    # A small file can hold a huge picture. So its sides are bounded before it is unpacked, and what a
    # stranger sent is unpacked one at a time, in a process of its own that may use only so much memory
    # and time.
    class Photo
      class Unreadable < Handrail::Error
      end

      MOST_BYTES = 8_000_000
      # what a picture may have before it is made smaller; one that comes in passes (a progressive
      # JPEG, an interlaced PNG) is unpacked as a whole, and may have less
      MOST_PIXELS = 60_000_000
      MOST_IN_PASSES = 25_000_000
      MOST_A_SIDE = 16_000
      # what the process that unpacks it may use: bytes, seconds of work, seconds in all
      MEMORY = 1_500_000_000
      WORK = 10
      PATIENCE = 15
      ONE_AT_A_TIME = Mutex.new
      private_constant :ONE_AT_A_TIME
      LONGEST = 1600
      QUALITY = 82
      # how a JPEG and a PNG begin
      BEGINNINGS = ["\xFF\xD8\xFF".b, "\x89PNG\r\n\x1A\n".b].freeze

      attr_reader :bytes, :width, :height

      # path - of the file. Raises Unreadable.
      def self.read(path)
        raise Unreadable, Wording.t("files.photo_larger_than_8") if File.size(path) > MOST_BYTES

        ONE_AT_A_TIME.synchronize { new(unpacked(path)) }
      end

      # the same picture, small: what the process of its own made of it
      def self.unpacked(path)
        out, written = IO.pipe(binmode: true)
        child =
          Process.spawn(
            { "VIPS_CONCURRENCY" => "1" },
            RbConfig.ruby,
            UNPACK,
            path,
            out: written,
            err: File::NULL,
            rlimit_as: MEMORY,
            rlimit_cpu: WORK
          )
        written.close
        reading = Thread.new { out.read }
        unless reading.join(PATIENCE)
          Process.kill(:KILL, child)
          raise Unreadable, Wording.t("files.photo_takes_too_long")
        end
        answer(reading.value, Process.wait2(child).last)
      ensure
        out&.close
      end
      private_class_method :unpacked

      # what the process says: the picture, or why there is none
      def self.answer(said, status)
        return said if status.success?
        raise Unreadable, said.force_encoding(Encoding::UTF_8) if status.exitstatus == REFUSED

        raise Unreadable, Wording.t("files.photo_can_not_read")
      end
      private_class_method :answer

      UNPACK = File.join(ROOT, "bin", "support", "unpack_photo.rb")
      REFUSED = 3

      # raw - the bytes of a JPEG or PNG. Raises Unreadable.
      def initialize(raw)
        unless BEGINNINGS.any? { |beginning| raw.start_with?(beginning) }
          raise Unreadable, Wording.t("files.no_jpeg_png_photos")
        end

        image = made_small(raw)
        @bytes = image.jpegsave_buffer(Q: QUALITY, strip: true)
        @width = image.width
        @height = image.height
        freeze
      rescue Vips::Error
        raise Unreadable, Wording.t("files.photo_damaged_cut_off")
      end

      def sha256 = Digest::SHA256.hexdigest(bytes)

      private

      # by its head alone, before anything is unpacked
      def bound(whole)
        if [whole.width, whole.height].max > MOST_A_SIDE
          raise Unreadable, Wording.t("files.picture_too_long")
        end

        points = whole.width * whole.height
        raise Unreadable, Wording.t("files.picture_of_too_many_points") if points > MOST_PIXELS
        return unless points > MOST_IN_PASSES && whole.get_fields.include?("interlaced")

        raise Unreadable, Wording.t("files.picture_in_passes")
      end

      def made_small(raw)
        bound(Vips::Image.new_from_buffer(raw, ""))

        small = Vips::Image.thumbnail_buffer(raw, LONGEST, height: LONGEST, size: :down)
        small = small.flatten(background: 255) if small.has_alpha?
        small.colourspace(:srgb)
      end
    end
  end
end
