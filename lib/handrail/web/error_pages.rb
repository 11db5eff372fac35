# frozen_string_literal: true

require "pg"
require "tilt"
require "tilt/erubi"

module Handrail
  module Web
    # What goes wrong outside a page: the same look, what happened, what was kept, what to do next.
    class ErrorPages
      PARTS = %w[title happened next_step].freeze
      private_constant :PARTS

      def initialize(app) = @app = app

      def call(env)
        @app.call(env)
      rescue StandardError, SystemStackError => e
        report(env, e)
        ErrorPages.page(ErrorPages.status_of(e), id: RequestId.of(env))
      end

      # what is said, where a status alone does not say it => that status
      STATUS = { held: 503 }.freeze

      def self.status_of(error)
        return :held if Store::Clusters.held?(error)
        return 503 if Store::Standby.no_writer?(error)

        full?(error) ? 507 : 500
      end

      FULL = [Errno::ENOSPC, Errno::EDQUOT, PG::DiskFull].freeze
      private_constant :FULL

      # Whether an error says, itself or by its cause, that the disk is full.
      def self.full?(error)
        error = error.cause while error && FULL.none? { |kind| error.is_a?(kind) }
        !error.nil?
      end

      # A whole response for a status. figures - what stands in its words; id - the request's name, see RequestId, by
      # which whoever looks after it finds its line in the log.
      def self.page(status, *figures, id: nil)
        title, happened, next_step = PARTS.map { |part| Wording.t("error_pages.#{status}.#{part}") }
        status = STATUS.fetch(status, status)
        happened = format(happened, *figures) if figures.any?
        body =
          template.render(
            Object.new,
            status: status,
            id: id,
            title: title,
            happened: happened,
            next_step: next_step,
            asset: Assets.method(:path),
            logo: logo
          )
        [status, { "content-type" => "text/html;charset=utf-8" }, [body]]
      end

      def self.logo = @logo ||= File.read(File.join(VIEWS, "shared", "mark.erb")).freeze

      def self.template = @template ||= template_of("error")

      # A page below views/shared that needs nobody signed in, by its name.
      def self.template_of(name) =
        Tilt::ErubiTemplate.new(File.join(VIEWS, "shared", "#{name}.erb"), escape_html: true)

      private

      def report(env, error)
        env["rack.errors"]&.puts(
          "#{Time.now.utc.iso8601} #{RequestId.of(env)} #{env["REQUEST_METHOD"]} #{env["PATH_INFO"]}: " \
            "#{error.class}: #{error.message.lines.first}",
          error.backtrace&.first(8)
        )
      end
    end
  end
end
