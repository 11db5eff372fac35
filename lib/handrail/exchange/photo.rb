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
    class Photo
      class Unreadable < Handrail::Error
      end

      MOST_BYTES = 8_000_000
      # what a picture may have before it is made smaller: a small file can hold a huge one
      MOST_PIXELS = 60_000_000
      LONGEST = 1600
      QUALITY = 82
      # how a JPEG and a PNG begin
      BEGINNINGS = ["\xFF\xD8\xFF".b, "\x89PNG\r\n\x1A\n".b].freeze

      attr_reader :bytes, :width, :height

      # path - of the file. Raises Unreadable.
      def self.read(path)
        if File.size(path) > MOST_BYTES
          raise Unreadable, "The photo is larger than 8 MB. Send a smaller one."
        end

        new(File.binread(path))
      end

      # raw - the bytes of a JPEG or PNG. Raises Unreadable.
      def initialize(raw)
        unless BEGINNINGS.any? { |beginning| raw.start_with?(beginning) }
          raise Unreadable, "That is no JPEG or PNG. Photos of other kinds are not kept."
        end

        image = made_small(raw)
        @bytes = image.jpegsave_buffer(Q: QUALITY, strip: true)
        @width = image.width
        @height = image.height
        freeze
      rescue Vips::Error
        raise Unreadable, "The photo is damaged, or cut off. Take it again."
      end

      def sha256 = Digest::SHA256.hexdigest(bytes)

      private

      def made_small(raw)
        whole = Vips::Image.new_from_buffer(raw, "")
        if whole.width * whole.height > MOST_PIXELS
          raise Unreadable, "The picture has more than 60 million points. Send a smaller one."
        end

        small = Vips::Image.thumbnail_buffer(raw, LONGEST, height: LONGEST, size: :down)
        small = small.flatten(background: 255) if small.has_alpha?
        small.colourspace(:srgb)
      end
    end
  end
end
