# frozen_string_literal: true

require "json"

module Handrail
  module Web
    # Styles, scripts and fonts, as they were built from assets/ and committed. A file is named by
    # its content, so that a browser may keep it for ever; it is sent as it was compressed when it
    # was built.
    #
    #   Assets.path("handrail.css") # => "/built/handrail-f7dcd4a73b74.css"
    class Assets
      FOLDER = File.join(PUBLIC, "built")
      TYPES = {
        ".css" => "text/css;charset=utf-8",
        ".js" => "text/javascript;charset=utf-8",
        ".svg" => "image/svg+xml",
        ".woff2" => "font/woff2"
      }.freeze
      KEPT = "public, max-age=31536000, immutable"
      # what a browser may ask for, the best first: name in Accept-Encoding => ending of the file
      ENCODINGS = { "br" => ".br", "gzip" => ".gz" }.freeze

      class << self
        # The manifest: "files" by name, and the digest of the "sources" that they were made of.
        def manifest =
          @manifest ||= Memory.freeze(JSON.parse(File.read(File.join(FOLDER, "manifest.json"))))

        # Tells one build of styles and scripts from another.
        def build = manifest.fetch("sources")[0, 12]

        # The path of a built file. Raises KeyError for one that there is not.
        def path(name) = "/built/#{manifest.fetch("files").fetch(name)}"
      end

      def initialize(app)
        @app = app
        built =
          Assets
            .manifest
            .fetch("files")
            .values
            .to_h { |file| ["/built/#{file}", File.join(FOLDER, file)] }
        fonts =
          Dir[File.join(PUBLIC, "fonts", "*.woff2")].to_h do |file|
            ["/fonts/#{File.basename(file)}", file]
          end
        @files = built.merge(fonts).freeze
      end

      def call(env)
        file = @files[env["PATH_INFO"]]
        return @app.call(env) unless file && %w[GET HEAD].include?(env["REQUEST_METHOD"])

        encoding, ending = chosen(env["HTTP_ACCEPT_ENCODING"].to_s, file)
        headers = {
          "content-type" => TYPES.fetch(File.extname(file)),
          "cache-control" => KEPT,
          "vary" => "accept-encoding"
        }
        headers["content-encoding"] = encoding if encoding
        body = env["REQUEST_METHOD"] == "HEAD" ? [] : [File.binread("#{file}#{ending}")]
        [200, headers, body]
      end

      private

      # the best encoding that the browser takes and that lies beside the file
      def chosen(accepted, file)
        ENCODINGS.find do |name, ending|
          accepted.match?(/\b#{name}\b/) && File.exist?("#{file}#{ending}")
        end
      end
    end
  end
end
