# frozen_string_literal: true

module Handrail
  module Web
    # Tells open pages that something was written, as server-sent events: which visit and by which
    # page, never what. One thread hears the database for all of them; a page that waits holds no
    # thread of the server.
    #
    #   GET /live        the events, while the page is open
    #   GET /live/state  {"newest": 812}, for a browser that can not be told
    class Live
      # the most pages of one account that wait at once: more are told to ask instead
      MOST = 12
      HEADERS = {
        "content-type" => "text/event-stream",
        # nothing between is to hold it back or to compress it
        "cache-control" => "no-store, no-transform",
        "x-accel-buffering" => "no"
      }.freeze

      # The pages that wait: sockets with the clinic and account that they belong to.
      class Crowd
        Waiting = Struct.new(:io, :clinic, :account, :session)

        def initialize
          @waiting = []
          @lock = Mutex.new
          @heard = ConditionVariable.new
          @hearing = false
        end

        # how long (seconds) the first page waits for the database to listen
        FIRST = 3
        # how soon (milliseconds) a page comes back that lost the line: each after a time of its own, so that not
        # all of a clinic ask at once when the server is there again
        BACK = (2000..8000)
        private_constant :FIRST, :BACK

        # Keeps a socket, and says hello on it once the database listens: what is written after the
        # hello is told.
        #
        # session - digest of the sign-in that it belongs to: with it, it ends
        def add(io, clinic:, account:, session: nil)
          waiting = Waiting.new(io, clinic, account, session)
          start
          @lock.synchronize do
            @heard.wait(@lock, FIRST) unless @hearing
            @waiting << waiting
          end
          say(waiting, "retry: #{rand(BACK)}\n: here\n\n")
        end

        def room_for?(account) =
          @lock.synchronize { @waiting.count { |one| one.account == account } < MOST }

        def size = @lock.synchronize { @waiting.size }

        # Tells an entry to the pages of its clinic; every page where it is not known whose it was. nil
        # - nothing was written: those that are gone, or whose account was closed, are let go.
        def tell(entry)
          return rest unless entry

          text =
            "event: written\ndata: #{JSON.generate({ visit: entry.visit, page: entry.page }.compact)}\n\n"
          whom = @lock.synchronize { @waiting.dup }
          whom.each { |one| say(one, text) if entry.unsure || one.clinic == entry.clinic }
        end

        private

        def rest
          whom = @lock.synchronize { @waiting.dup }
          return if whom.empty?

          signed_in = signed_in(whom)
          whom.each { |one| signed_in[one] ? say(one, ": still here\n\n") : drop(one) }
        rescue Sequel::DatabaseError
          nil
        end

        # whether the account is open and the sign-in goes on, of each
        def signed_in(whom)
          found = Store::Clusters.each { open_now(whom) }
          # of who lives on a cluster that does not answer nothing is known
          return whom.to_h { |one| [one, true] } if found.size < [Store::Clusters.all.size, 1].max

          open, sessions = found.values.transpose.map(&:flatten)
          whom.to_h do |one|
            [
              one,
              open.include?(one.account) && (one.session.nil? || sessions.include?(one.session))
            ]
          end
        end

        # [accounts that are open, sessions that go on] of those that wait, at the cluster that is asked
        def open_now(whom)
          open = Store::Account.where(id: whom.map(&:account).uniq, status_id: 2).select_map(:id)
          [
            open,
            Store.db[:account_active_session_keys].where(account_id: open).select_map(:session_id)
          ]
        end

        # a page that takes nothing more is gone
        def say(waiting, text)
          waiting.io.write_nonblock(text)
        rescue IO::WaitWritable, SystemCallError, IOError
          drop(waiting)
        end

        def drop(waiting)
          @lock.synchronize { @waiting.delete(waiting) }
          waiting.io.close
        rescue SystemCallError, IOError
          nil
        end

        # the thread begins with the first page that waits: a forked server hears for itself
        def start
          @lock.synchronize do
            next if @thread&.alive?

            @hearing = false
            @thread =
              Thread.new { Store::Written.hear(ready: method(:hears)) { |entry| tell(entry) } }
            @thread.name = "what is written"
          end
        end

        def hears
          @lock.synchronize do
            @hearing = true
            @heard.broadcast
          end
        end
      end

      CROWD = Crowd.new

      def self.call(env)
        account = env.fetch("handrail.account")
        unless env["REQUEST_METHOD"] == "GET"
          return 405, { "content-type" => "text/plain", "allow" => "GET" }, []
        end
        return state(account) if env["PATH_INFO"] == "/state"
        unless ["", "/"].include?(env["PATH_INFO"])
          return 404, { "content-type" => "text/plain" }, []
        end
        unless env["rack.hijack?"] && CROWD.room_for?(account.id)
          return 503, { "content-type" => "text/plain", "retry-after" => "60" }, []
        end

        session = env["rodauth"]&.session_digest
        take = ->(io) do
          CROWD.add(io, clinic: account.clinic_id, account: account.id, session: session)
        end
        [200, HEADERS.merge("rack.hijack" => take), []]
      end

      def self.state(account)
        body = JSON.generate(newest: Store::Written.newest(account.clinic_id))
        [200, { "content-type" => "application/json" }, [body]]
      end
      private_class_method :state
    end
  end
end
