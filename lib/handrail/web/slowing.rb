# frozen_string_literal: true

require "active_support"
require "active_support/notifications"
require "ipaddr"
require "rack/attack"

module Handrail
  module Web
    # Who guesses passwords waits, and waits longer the more often they tried. It is counted by the
    # account together with the address that tries, and by the address alone, never by the account
    # alone: a stranger at another address can not shut anybody out. A right password lets the count
    # of that account from that address begin anew.
    module Slowing
      # [tries, seconds]: so many in so long a time
      BY_ACCOUNT = [[5, 60], [10, 900], [20, 14_400], [40, 86_400]].freeze
      BY_ADDRESS = [[30, 60], [100, 900], [300, 14_400], [600, 86_400]].freeze
      # what is tried: a password, a one-time code, a way back in, a link
      TRIED = %r{\A/(?:login|otp-auth|recovery-auth|join/|set-up/|me/places\z)}

      class << self
        # The middleware that holds back.
        def guard = Rack::Attack

        # Whether a request tries something: on a page for everybody, or a password for the account
        # that is signed in. A form that nobody is signed in for is turned away before its password is
        # looked at, so that it tries nothing.
        def tries?(request)
          request.post? &&
            (request.path.match?(TRIED) || (confirms?(request) && signed_in(request)))
        end

        # The account that is tried, from this address; where nobody is named by it, the page.
        def pair(request)
          whose =
            if request.path == "/login"
              Store::People.email(request.params["login"].to_s[0, 200])
            else
              signed_in(request)&.to_s || request.path[TRIED]
            end
          "#{Digest::SHA256.hexdigest(whose.to_s)[0, 24]} #{address(request)}"
        end

        # The address, for what is tried at a door: a colleague who is signed in and mistypes a password
        # shuts out nobody behind the same address.
        def stranger(request) = request.path.match?(TRIED) ? address(request) : nil

        # Where a request comes from: of IPv6 the network (/64) that one household or host has.
        def address(request)
          ip = IPAddr.new(request.ip.to_s)
          ip.ipv6? ? ip.mask(64).to_s : ip.to_s
        rescue IPAddr::Error
          request.ip.to_s
        end

        # Begins the count of an account from its address anew.
        def forget(request)
          BY_ACCOUNT.each do |limit, period|
            Rack::Attack.cache.reset_count("account #{limit}:#{pair(request)}", period)
          end
        end

        # Seconds until the next try is taken.
        def wait(env)
          match = env["rack.attack.match_data"]
          match[:period] - (match[:epoch_time] % match[:period])
        end

        # "40 seconds", "12 minutes", "3 hours"
        def said(seconds)
          return Wording.t("web.seconds", seconds: seconds) if seconds < 120
          return Wording.t("web.minutes", many: (seconds / 60.0).ceil) if seconds < 7200

          Wording.t("web.hours", many: (seconds / 3600.0).ceil)
        end

        def answer(request)
          wait = wait(request.env)
          status, headers, body = ErrorPages.page(429, said(wait))
          [status, headers.merge("retry-after" => wait.to_s), body]
        end

        # Notes the first try of a row that is held back, not every one: a flood does not fill the
        # log.
        def note(request)
          match = request.env["rack.attack.match_data"]
          return unless match && match[:count] == match[:limit] + 1

          known =
            request.path == "/login" &&
              Store::Account.where(email: Store::People.email(request.params["login"])).first
          Store::SignInLog.note("held_back", address: request.ip, account: known || nil)
        end

        def prepare
          Rack::Attack.cache.store = Store::Tries.new
          throttle("account", BY_ACCOUNT) { |request| pair(request) }
          throttle("address", BY_ADDRESS) { |request| stranger(request) }
          Rack::Attack.throttled_responder = method(:answer)
          ActiveSupport::Notifications.subscribe("throttle.rack_attack") do |*, payload|
            note(payload[:request])
          end
        end

        private

        def confirms?(request) =
          %w[own_password current].any? { |name| !request.params[name].to_s.empty? }

        # the id of the account whose session the request carries, or nil
        def signed_in(request) = request.env["rack.session"]&.[]("account_id")

        def throttle(name, levels)
          # the longest first: what holds back longest is what is said
          levels.reverse_each do |limit, period|
            Rack::Attack.throttle("#{name} #{limit}", limit: limit, period: period) do |request|
              yield(request) if tries?(request)
            end
          end
        end
      end

      prepare
    end
  end
end
