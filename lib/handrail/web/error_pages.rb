# frozen_string_literal: true

require "pg"
require "tilt"
require "tilt/erubi"

module Handrail
  module Web
    # What goes wrong outside a page: the same look, what happened, what was kept, what to do next.
    class ErrorPages
      PAGES = {
        400 => [
          "That could not be read",
          "Nothing was changed. What was sent is not in a form that this " \
            "program knows.",
          "Go back, load the page again, and send it once more. What you typed is kept in this browser."
        ],
        413 => [
          "That is too large",
          "Nothing was changed. A form holds 600 KB, a file 8 MB.",
          "Shorten the text, or split the file, and send it again."
        ],
        403 => [
          "This page has grown old",
          "Nothing was saved. The page was open longer than the sign-in it " \
            "belongs to.",
          "Go back, load the page again, and send it once more. What you typed is kept in this browser."
        ],
        404 => [
          "There is nothing here",
          "The address may be old, or it belongs to another clinic.",
          "Go to the board, or find the patient by name."
        ],
        429 => [
          "Too many tries",
          "So many wrong tries came from here that the next one is taken in %s. " \
            "Nobody is shut out: from another machine it works at once.",
          "Wait that long, look at the e-mail and the password, and try again. Or ask a senior for a new " \
            "password."
        ],
        500 => [
          "Something broke on our side",
          "What was saved before is safe. The last thing you sent may not " \
            "have been saved.",
          "Go back and send it once more. If it breaks again, tell whoever looks after Handrail the time."
        ],
        507 => [
          "The disk is full",
          "What was saved before is safe. The last thing you sent was not saved, and nothing can be until " \
            "there is room.",
          "Tell whoever looks after Handrail: the disk of the database is full. What you typed is kept in " \
            "this browser; send it again then."
        ],
        :held => [
          "Your clinic is being moved",
          "For some seconds nothing is written in it. What was saved before is safe. The last thing you sent was not " \
            "saved.",
          "Wait a moment, go back, and send it once more. What you typed is kept in this browser."
        ],
        503 => [
          "The database does not answer",
          "What was saved before is safe. The last thing you sent was " \
            "not saved.",
          "Wait a moment, go back, and send it once more. What you typed is kept in this browser."
        ]
      }.freeze

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
        title, happened, next_step = PAGES.fetch(status)
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
