# frozen_string_literal: true

require "argon2"
require "bcrypt"
require "digest"

module Handrail
  module Store
    # Accounts and the links that open them. What a senior does to an account is a command
    # (InvitePerson, ChangeRole, CloseAccount, SendResetLink); what someone does with a link they
    # were given is here, since they have no account to do it with.
    #
    # A link is 32 random bytes. Only its digest is kept, so that nobody who reads the database can
    # use one; it works once and for a while.
    module People
      # how long a link to join, to a new password, or to set up a clinic works
      DAYS = { "join" => 7, "reset" => 2, "set_up" => 2 }.freeze
      NAMELESS = "Write your name as it stands in the records."
      # how long a form may be sent once more, in seconds
      AGAIN = 600
      ROLES = %w[fitter senior front_desk].freeze
      GONE = "This link was used already, or is too old. Ask a senior for a new one."
      EMAIL = /\A[^@\s]{1,100}@[^@\s]{1,150}\z/
      # Argon2id takes a password whole; bcrypt would read its first 72 bytes only. Twice over 32 MiB: no
      # less than OWASP's Password Storage Cheat Sheet asks of Argon2id.
      COST =
        (
          if ENV["RACK_ENV"] == "test"
            { t_cost: 1, m_cost: 3, p_cost: 1 }
          else
            { t_cost: 2, m_cost: 15, p_cost: 1 }
          end
        ).freeze

      class << self
        # [token, digest, end] of a new link.
        def link(purpose)
          token = SecureRandom.urlsafe_base64(32)
          [token, digest(token), Store.now + (DAYS.fetch(purpose) * 86_400)]
        end

        def digest(token) = Digest::SHA256.hexdigest(token.to_s)
        def hash(password) = Argon2::Password.new(**COST).create(password.to_s)

        # Whether a password is the one kept as a hash. Those made before are bcrypt's, until it is set
        # anew or its owner signs in.
        def match?(hash, password)
          if hash.start_with?("$argon2")
            return Argon2::Password.verify_password(password.to_s, hash)
          end

          BCrypt::Password.new(hash) == password.to_s
        end

        # Keeps the right password, just typed, as it is kept today.
        def renew_hash(account, password)
          kept = account.password_hash
          return if kept.start_with?("$argon2") || !match?(kept, password)

          account.update(password_hash: hash(password))
        end

        def email(text) = text.to_s.strip.downcase

        # Whether somebody signs in with an e-mail, on whatever cluster their clinic lives.
        def known?(address)
          Clusters
            .each do
              Account.where(Sequel.function(:lower, :email) => address).select_map(:clinic_id)
            end
            .any? do |name, clinics|
              clinics.any? { |id| name.nil? || Directory.cluster_of(id) == name }
            end
        end

        # A link to join or to a new password that still works, as its row, or nil.
        def open_link(token)
          Store.db[:account_links]
            .where(token_digest: digest(token), used_at: nil)
            .where { expires_at > Store.now }
            .first
        end

        # Lets someone in: makes the account of a link to join, or sets the password of a link to
        # reset. Returns the Account; raises Faults, Unacceptable where the link no longer works.
        def use(token, name:, password:, again:)
          Store.db.transaction do
            link = Store.db[:account_links].where(token_digest: digest(token)).for_update.first
            before = link && sent_again(link, password)
            next before if before
            raise Unacceptable.new("link", GONE) unless link && open_link(token)

            faults = password_faults(password, again, email: link[:email], name: name)
            if link[:purpose] == "join" &&
                 (name.to_s.strip.empty? || name.to_s.match?(Inputs::TURNS))
              faults["name"] = NAMELESS
            end
            raise Faults, faults if faults.any?

            account = link[:purpose] == "join" ? join(link, name, password) : reset(link, password)
            Store.db[:account_links].where(id: link[:id]).update(used_at: Store.now)
            account
          end
        rescue Sequel::UniqueConstraintViolation
          raise Faults,
                {
                  "name" =>
                    "This e-mail has an account already. Sign in, or ask a senior for a new password."
                }
        end

        # The account of a link that was used a moment ago with this very password: its answer was lost,
        # and the form was sent once more. Else nil.
        def sent_again(link, password)
          return unless link[:used_at] && link[:used_at] > Store.now - AGAIN

          account = Account.first(clinic_id: link[:clinic_id], email: link[:email])
          account if account && password?(account, password)
        end

        # What is wrong with a new password: field => words.
        def password_faults(password, again, email: nil, name: nil)
          {
            "password" => Passwords.fault(password, email: email, name: name),
            "again" => (password == again ? nil : "The two are not the same. Type it again.")
          }.compact
        end

        # Notes what was done to an account. by - an account id.
        def note(account, what, by:, detail: nil)
          Store.db[:account_events].insert(
            clinic_id: account.clinic_id,
            account_id: account.id,
            by: by,
            what: what,
            detail: detail
          )
        end

        # Ends the sessions of an account, but for one that is kept. Returns how many there were.
        def end_sessions(account, keep: nil)
          rows = Store.db[:account_active_session_keys].where(account_id: account.id)
          (keep ? rows.exclude(session_id: keep) : rows).delete
        end

        # Changes someone's own password. Raises Faults.
        def change_password(account, current:, password:, again:, keep: nil)
          # sent twice it is done once
          if password == again && password?(account, password) && !password?(account, current)
            return
          end

          faults = password_faults(password, again, email: account.email, name: account.name)
          faults["current"] = "This is not your password of now." unless password?(account, current)
          raise Faults, faults if faults.any?

          Store.db.transaction do
            account.update(password_hash: hash(password))
            end_sessions(account, keep: keep)
            note(account, "password", by: account.id)
          end
        end

        # Takes one-time codes off an account, with the ways back in. Returns whether there were
        # any.
        def take_off_codes(account)
          Store.db[:account_recovery_codes].where(id: account.id).delete
          Store.db[:account_otp_keys].where(id: account.id).delete.positive?
        end

        def codes?(account) = Store.db[:account_otp_keys].where(id: account.id).any?

        # Whether a password is this account's.
        def password?(account, password) = match?(account.password_hash, password)

        # Changes someone's own name. Raises Faults.
        def change_name(account, name)
          name = name.to_s.strip[0, 100]
          raise Faults, { "name" => NAMELESS } if name.empty? || name.match?(Inputs::TURNS)
          return if name == account.name

          Store.db.transaction do
            note(account, "name", by: account.id, detail: "#{account.name}, now #{name}")
            account.update(name: name)
          end
        end

        # Changes someone's own keys: action => key. Raises Faults where two would be the same.
        def change_keys(account, form)
          keys = Keys.read(form)
          faults = Keys.faults(keys)
          raise Faults, faults if faults.any?

          Store.db.transaction do
            account.update(own_keys: Store.json(keys))
            note(account, "keys", by: account.id)
          end
        end

        # Holds a clinic until the transaction ends, so that what is done to its accounts is done
        # one after another: two seniors can not step down at once. Nothing else that is written
        # waits for it.
        def hold(clinic_id) =
          Store.db[:clinics].where(id: clinic_id).lock_style("FOR NO KEY UPDATE").first

        # Whether an account is the only senior who can sign in.
        def last_senior?(account)
          Account
            .where(clinic_id: account.clinic_id, role: "senior", status_id: 2)
            .exclude(id: account.id)
            .empty? && account.senior?
        end

        private

        def join(link, name, password)
          account =
            Account.create(
              clinic_id: link[:clinic_id],
              email: link[:email],
              name: name.to_s.strip[0, 100],
              role: link[:role],
              password_hash: hash(password)
            )
          note(account, "joined", by: account.id, detail: link[:role])
          account
        end

        def reset(link, password)
          account = Account.where(id: link[:account_id], status_id: 2).first or
            raise Unacceptable.new("link", "This account is closed.")
          account.update(password_hash: hash(password))
          end_sessions(account)
          note(account, "password", by: account.id, detail: "by a link")
          account
        end
      end
    end
  end
end
