# frozen_string_literal: true

module Handrail
  module Web
    # Lets nothing further that can not be read as a request: text that is none, too many or too
    # deep parameters, a body larger than the largest upload. What is wrong with the form of a
    # request is answered here, in the house's look; what is wrong with its meaning is the commands'
    # own.
    class Scrub
      # bytes of a form, and of a form with a file: the largest photo with its fields
      MOST_FORM = 600_000
      MOST_UPLOAD = Exchange::Photo::MOST_BYTES + 500_000
      MOST_TEXTS = 12_000

      # Rack's own refusals of what it can not read
      UNREADABLE = [
        Rack::QueryParser::ParameterTypeError,
        Rack::QueryParser::InvalidParameterError,
        Rack::QueryParser::QueryLimitError,
        Rack::Multipart::EmptyContentError,
        Rack::Multipart::BoundaryTooLongError,
        Rack::Multipart::MultipartPartLimitError,
        Rack::Multipart::MultipartTotalPartLimitError,
        Rack::Multipart::Error,
        EOFError,
        Errno::ENAMETOOLONG,
        ArgumentError,
        Encoding::CompatibilityError
      ].freeze

      def initialize(app) = @app = app

      def call(env)
        refusal = refusal(env)
        refusal ? ErrorPages.page(refusal) : @app.call(env)
      end

      private

      def refusal(env)
        return 413 if too_large?(env)
        unless text?(env["PATH_INFO"].to_s) &&
                 text?(Rack::Utils.unescape_path(env["PATH_INFO"].to_s))
          return 400
        end

        request = Rack::Request.new(env)
        400 unless sound?([request.GET, request.post? ? request.POST : {}])
      rescue *UNREADABLE
        400
      end

      def too_large?(env)
        most = env["CONTENT_TYPE"].to_s.start_with?("multipart/") ? MOST_UPLOAD : MOST_FORM
        env["CONTENT_LENGTH"].to_i > most
      end

      # every text in it, and not too many
      def sound?(params)
        waiting = [params]
        texts = 0
        until waiting.empty?
          case (item = waiting.pop)
          when String
            return false unless (texts += 1) <= MOST_TEXTS && text?(item)
          when Hash
            item.key?(:tempfile) ? file_name(item) : waiting.concat(item.keys, item.values)
          when Array
            waiting.concat(item)
          end
        end
        true
      end

      # a file's name comes as bytes
      def file_name(upload)
        upload[:filename] = upload[:filename]
          .to_s
          .dup
          .force_encoding(Encoding::UTF_8)
          .scrub("?")
          .delete("\0")[
          0,
          200
        ]
      end

      def text?(text)
        text = text.dup.force_encoding(Encoding::UTF_8) unless text.encoding == Encoding::UTF_8
        text.valid_encoding? && !text.include?("\0")
      end
    end
  end
end
