# frozen_string_literal: true

require "cgi"
require "net/http"
require "securerandom"

module Handrail
  module Group
    # People who work while something breaks: some write notes, each under a key of its own, and send one again until it
    # is acknowledged by that key, as the browser does; some look at the board. What was acknowledged is counted in the
    # database afterwards: each once.
    class AtWork
      WRITERS = 4
      READERS = 2
      PASSWORD = "lamp-on-the-quay"
      # seconds: between two things that one person does, until an answer counts as lost, and until a group that has
      # just come up is to answer
      THINK = 0.15
      PATIENCE = 8
      BEGUN = 90

      # What a stretch of time saw. quiet - the longest time (seconds) without a write acknowledged; unread - the same
      # of reads; failed, unanswered - tries that were not taken, by writers and by readers; acknowledged
      Seen = Value.new(:quiet, :unread, :failed, :unanswered, :acknowledged)

      # Nobody answers, for now.
      class Away < Handrail::Error
      end

      def initialize(address, url)
        @address = URI(address)
        @db = Sequel.connect(url, max_connections: 2, connect_timeout: 5, test: false)
        # each time: what it was connected to may be gone
        @db.extension(:connection_validator)
        @db.pool.connection_validation_timeout = -1
        @lock = Mutex.new
        @written = []
        @read = []
        @failed = []
        @unread = []
        @keys = {}
        @hours = {}
        @over = false
      end

      # Signs everybody in, and lets them begin.
      def begin
        cookie, visits = first_steps(now + BEGUN)
        @threads =
          visits.map { |visit| Thread.new { write(visit, cookie.dup) } } +
            Array.new(READERS) { Thread.new { look(cookie.dup) } }
        ends = now + 30
        until @written.any? && @read.any?
          raise Handrail::Error, "Nobody could write or read within 30 s." if now > ends

          sleep 0.1
        end
        self
      end

      def end
        @over = true
        @threads.each { |thread| thread.join(PATIENCE * 4) }
      end

      def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)

      # Whether everybody could write since a moment.
      def wrote_since?(moment) =
        @lock.synchronize { @written.last(WRITERS).count { |at| at > moment } } == WRITERS

      # What was seen between two moments.
      def seen(from, to)
        within = ->(all) { @lock.synchronize { all.grep(from..to) } }
        written = within[@written]
        Seen[
          quiet: longest([from, *written, to]),
          unread: longest([from, *within[@read], to]),
          failed: within[@failed].size,
          unanswered: within[@unread].size,
          acknowledged: written.size
        ]
      end

      # [acknowledged, lost, doubled] of all that was ever acknowledged.
      def counted
        keys = @lock.synchronize { @keys.dup }
        rows = Hash.new(0)
        notes = Hash.new(0)
        keys
          .keys
          .each_slice(500) do |some|
            @db[:entries]
              .where(entry_key: some)
              .select_map(:entry_key)
              .each { |key| rows[key] += 1 }
            texts = some.to_h { |key| [keys[key], key] }
            @db[:visit_notes]
              .where(text: texts.keys)
              .select_map(:text)
              .each { |text| notes[texts[text]] += 1 }
          end
        [
          keys.size,
          keys.keys.count { |key| rows[key].zero? || notes[key].zero? },
          keys.keys.count { |key| rows[key] > 1 || notes[key] > 1 }
        ]
      end

      # The newest moment (of the database) at which something acknowledged was written, with how many there are.
      def newest
        keys = @lock.synchronize { @keys.keys }
        [@db[:entries].where(entry_key: keys).max(:at), keys.size]
      end

      def count_until(time) =
        @db[:visit_notes].where(Sequel.like(:text, "#{MARK}%")).where { at <= time }.count

      # What was acknowledged after a moment is not asked for any more: the database was brought back to it.
      def forget_after(time)
        gone = @db[:visit_notes].where(text: @keys.values).select_map(:text)
        @lock.synchronize do
          @keys.select! { |_, text| gone.include?(text) || @hours.fetch(text) <= time }
        end
      end

      MARK = "Drill note "
      private_constant :MARK

      private

      def longest(moments) = moments.sort.each_cons(2).map { |one, other| other - one }.max.to_f

      # A starved machine may change its writer once more just after it came up: nothing is drilled before it answers.
      def first_steps(ends)
        [sign_in, of_the_demo(WRITERS)]
      rescue Sequel::DatabaseError, Away
        raise if now > ends

        sleep 1
        retry
      end

      # ids of open visits of the demo, of different fittings
      def of_the_demo(count)
        clinic = @db[:clinics].where(demo: true).get(:id)
        @db[:visits]
          .where(clinic_id: clinic, closed_at: nil, called_off_at: nil, practice: false)
          .exclude(opened_at: nil)
          .distinct(:fitting_id)
          .order(:fitting_id)
          .limit(count)
          .select_map(:id)
      end

      def write(visit, cookie)
        until @over
          key = SecureRandom.uuid
          text = "#{MARK}#{key}"
          from = now
          until acknowledged?(visit, cookie, key, text)
            @lock.synchronize { @failed << now }
            break if @over

            sleep THINK
          end
          # the hour at which it was said to be kept
          @lock.synchronize do
            next if @over && now - from > PATIENCE

            @written << now
            @keys[key] = text
            @hours[text] = Time.now
          end
          sleep THINK
        end
      end

      def acknowledged?(visit, cookie, key, text)
        page = get("/visits/#{visit}/record", cookie) or return false
        return false unless page.code == "200"

        form = page.body[%r{id="note-form".*?</form>}m].to_s
        fields =
          form
            .scan(/name="(authenticity_token|seen|page|at|stage|rests_on)" value="([^"]*)"/)
            .to_h
            .transform_values { |one| CGI.unescapeHTML(one) }
        request = Net::HTTP::Post.new("/visits/#{visit}/notes")
        request.form_data = fields.merge("entry_key" => key, "text" => text)
        request["hx-request"] = "true"
        answer = ask(request, cookie) or return false
        answer["handrail-kept"] == key || kept?(cookie, key)
      end

      # by the page that asks which of its entries have arrived, as the queue of a browser does
      def kept?(cookie, key)
        line = get("/line", cookie) or return false
        return false unless line.code == "200"

        request = Net::HTTP::Post.new("/line/kept")
        request.form_data = {
          "keys[]" => key,
          "authenticity_token" => JSON.parse(line.body)["token"]
        }
        answer = ask(request, cookie)
        answer&.code == "200" && JSON.parse(answer.body)["kept"].include?(key)
      end

      def look(cookie)
        until @over
          answer = get("/", cookie)
          @lock.synchronize { (answer&.code == "200" ? @read : @unread) << now }
          sleep THINK
        end
      end

      def sign_in
        cookie = [""]
        page = answered(get("/login", cookie))
        request = Net::HTTP::Post.new("/login")
        request.form_data = {
          "login" => "maren@heronquay.example",
          "password" => PASSWORD,
          "authenticity_token" =>
            CGI.unescapeHTML(page.body[/name="authenticity_token" value="([^"]+)"/, 1])
        }
        answer = answered(ask(request, cookie))
        raise Handrail::Error, "Nobody can sign in: #{answer.code}" unless answer.code == "302"

        get("/", cookie)
        cookie
      end

      # a list that holds the newest cookie of one person at one browser
      def keep(answer, cookie)
        cookie.replace([answer["set-cookie"][/\A[^;]+/]]) if cookie && answer["set-cookie"]
      end

      def answered(answer)
        return answer if answer && answer.code < "500"

        raise Away, "Nobody answers: #{answer&.code}"
      end

      def get(path, cookie) = ask(Net::HTTP::Get.new(path), cookie)

      # nil where nothing came back
      def ask(request, cookie)
        request["cookie"] = cookie.last if cookie
        Net::HTTP.start(
          @address.host,
          @address.port,
          open_timeout: 2,
          read_timeout: PATIENCE
        ) { |http| http.request(request).tap { |answer| keep(answer, cookie) } }
      rescue SystemCallError, IOError, Timeout::Error
        nil
      end
    end
  end
end
