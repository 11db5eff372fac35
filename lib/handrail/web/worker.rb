# frozen_string_literal: true

require "json"

module Handrail
  module Web
    # The service worker, under the one address from which it may answer for every page, and the page that
    # it shows where there is no line and nothing kept. The worker is told the build that it belongs to, so
    # that another build is another worker.
    class Worker
      SCRIPT = "/worker.js"
      PAGE = "/without-line"
      private_constant :SCRIPT, :PAGE

      def initialize(app) = @app = app

      def call(env)
        return @app.call(env) unless env["REQUEST_METHOD"] == "GET"

        case env["PATH_INFO"]
        when SCRIPT
          [200, headers("text/javascript;charset=utf-8"), [script]]
        when PAGE
          [200, headers("text/html;charset=utf-8"), [page]]
        else
          @app.call(env)
        end
      end

      private

      # asked for again each time: a worker of another build is not to stay
      def headers(type) = { "content-type" => type, "cache-control" => "no-cache" }

      def script
        @script ||=
          "self.HANDRAIL = #{JSON.generate(told)};\n#{File.read(File.join(PUBLIC, Assets.path("worker.js")))}"
      end

      def told
        files = Assets.manifest.fetch("files").values.map { |file| "/built/#{file}" }
        fonts =
          Dir[File.join(PUBLIC, "fonts", "*.woff2")].map { |file| "/fonts/#{File.basename(file)}" }
        { build: Assets.build, page: PAGE, shell: files + fonts.sort, policy: Headers::POLICY }
      end

      def page
        @page ||=
          ErrorPages.template_of("without_line").render(
            Object.new,
            asset: Assets.method(:path),
            logo: ErrorPages.logo
          )
      end
    end
  end
end
