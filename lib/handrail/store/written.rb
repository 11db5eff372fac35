# frozen_string_literal: true

module Handrail
  module Store
    # Hears from the database what is written, by whichever process, and tells whoever listens here.
    #
    #   Written.hear { |entry| entry.clinic # => 3 }
    #
    # It ends only with its thread: where the database goes away it waits, connects again, and says
    # so, since something may have been missed meanwhile.
    module Written
      CHANNEL = "handrail_written"
      # Something was written. clinic, visit - ids, visit nil where it belongs to none; page - the key
      # of the page that wrote, or nil; unsure - true where it is only known that something may have been
      Entry =
        Value.new(:clinic, :visit, :page, :unsure) do
          # payload - "3:17:0f..." as the trigger gives it
          def self.read(payload)
            clinic, visit, page = payload.to_s.split(":", 3)
            visit = visit.to_i
            self[clinic: clinic.to_i, visit: (visit if visit.positive?), page: page]
          end
        end

      # how long (seconds) nothing may be heard before the block is told so with nil, and how long is
      # waited for a database that is away
      QUIET = 15
      AWAY = 3

      class << self
        # Yields every Entry; nil when all was quiet for a while. Never returns. ready - called each
        # time the database listens: what is written from then on is heard.
        # Where clinics live on several clusters, each is heard by a thread of its own.
        def hear(ready: -> {}, &told)
          others = Clusters.all.keys.drop(1)
          others.each do |name|
            Thread.new { Clusters.within(name) { loop { listen(-> {}, &told) } } }
          end
          loop { listen(ready, &told) }
        end

        # The number of a clinic's newest entry: whoever can not be told asks whether it is another.
        def newest(clinic_id) =
          Store.db[:entries].where(clinic_id: clinic_id).reverse(:id).get(:id) || 0

        private

        def listen(ready)
          quiet = ->(_connection) { yield nil }
          Store
            .db
            .listen(
              CHANNEL,
              after_listen: ->(_connection) { ready.call },
              loop: quiet,
              timeout: QUIET
            ) { |_channel, _pid, payload| yield Entry.read(payload) }
        rescue Sequel::DatabaseError
          sleep AWAY
          yield Entry[unsure: true]
        end
      end
    end
  end
end
