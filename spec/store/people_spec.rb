# frozen_string_literal: true

require "store_helper"

RSpec.describe Handrail::Store::People do
  store = Handrail::Store
  commands = store::Commands

  let(:clinic) { make_clinic }
  let!(:senior) { make_account(clinic, "senior") }
  let(:password) { "three gulls on a wall" }

  def invite(role: "fitter", email: "new-#{SecureRandom.hex(4)}@spec.example", by: senior)
    command = Handrail::Store::Commands::InvitePerson.new("email" => email, "role" => role)
    desk(clinic, by).run(command)
    command.token
  end

  def reset(whom)
    command = Handrail::Store::Commands::SendResetLink.new("person" => whom.id)
    desk(clinic, senior).run(command)
    command.token
  end

  def join(token, name: "Ada Quill", password: self.password, again: password)
    described_class.use(token, name: name, password: password, again: again)
  end

  def events(what) = Handrail::Store.db[:account_events].where(clinic_id: clinic.id, what: what)

  describe "a link to join" do
    it "makes an account with the role it was made for, once" do
      token = invite(role: "front_desk", email: "Ada@Spec-#{clinic.id}.example")
      account = join(token)
      expect(account).to have_attributes(
        role: "front_desk",
        name: "Ada Quill",
        clinic_id: clinic.id,
        email: "ada@spec-#{clinic.id}.example",
        status_id: 2
      )
      expect(events("joined").select_map(:account_id)).to eq [account.id]
      expect(join(token)).to eq account
      expect { join(token, password: "another word") }.to raise_error(
        store::Unacceptable,
        /used already/
      )
    end

    it "is kept as a digest alone" do
      token = invite
      row = store.db[:account_links].where(clinic_id: clinic.id).first
      expect(row.values.map(&:to_s)).not_to include(token)
      expect(row[:token_digest]).to eq Digest::SHA256.hexdigest(token)
      expect(
        store.db[:entries].where(clinic_id: clinic.id).select_map(:result).to_s
      ).not_to include(token)
    end

    it "is used once by two at the same moment" do
      token = invite
      found =
        Array
          .new(4) do |n|
            Thread.new do
              join(token, name: "Ada #{n}", password: "#{password} #{n}").id
            rescue StandardError
              $ERROR_INFO.class
            end
          end
          .map(&:value)
      expect(found.grep(Integer).size).to eq 1
    end

    it "is shown once, and as the one that is kept, where the same entry comes twice at the same moment" do
      key = SecureRandom.uuid
      made =
        Array.new(4) do
          commands::InvitePerson.new(
            "email" => "twice-#{clinic.id}@spec.example",
            "role" => "fitter"
          )
        end
      made
        .map { |command| Thread.new { desk(clinic, senior, entry_key: key).run(command) } }
        .each(&:join)
      tokens = made.filter_map(&:token)
      expect(tokens.size).to eq 1
      expect(described_class.open_link(tokens.first)).to include(
        email: "twice-#{clinic.id}@spec.example"
      )
      expect(store.db[:account_links].where(clinic_id: clinic.id).count).to eq 1
    end

    it "ends after a week, when a newer one is made, and is nothing where it was guessed" do
      email = "late-#{clinic.id}@spec.example"
      first = invite(email: email)
      second = invite(email: email)
      expect { join(first) }.to raise_error(store::Unacceptable)
      store.db[:account_links].where(token_digest: described_class.digest(second)).update(
        expires_at: Time.now - 1
      )
      expect { join(second) }.to raise_error(store::Unacceptable)
      ["", nil, "x" * 43, described_class.digest(second)].each do |guess|
        expect(described_class.open_link(guess)).to be_nil
      end
    end

    it "says everything that is wrong, and works on" do
      token = invite
      expect { join(token, name: " ", password: "short", again: "other") }.to raise_error(
        store::Faults
      ) { |e| expect(e.fields.keys).to match_array %w[name password again] }
      expect(join(token)).to be_open
    end

    it "is made for nobody who signs in already, here or elsewhere" do
      elsewhere = make_account(make_clinic)
      expect { invite(email: elsewhere.email.upcase) }.to raise_error(store::Faults) { |e|
        expect(e.fields["email"]).to include("signs in here already")
      }
      expect { invite(role: "owner") }.to raise_error(store::Faults)
      expect { invite(email: "no e-mail") }.to raise_error(store::Faults)
    end
  end

  describe "a link to a new password" do
    let!(:fitter) { make_account(clinic) }

    it "sets it once and ends every session" do
      store.db[:account_active_session_keys].insert(account_id: fitter.id, session_id: "s")
      token = reset(fitter)
      expect(described_class).to be_password(fitter.refresh, Fixtures::PASSWORD)
      join(token)
      expect(described_class).to be_password(fitter.refresh, password)
      expect(store.db[:account_active_session_keys].where(account_id: fitter.id)).to be_empty
      expect { join(token, password: "another word") }.to raise_error(store::Unacceptable)
    end

    it "does nothing for an account that was closed meanwhile" do
      token = reset(fitter)
      desk(clinic, senior).run(commands::CloseAccount.new("person" => fitter.id))
      expect { join(token) }.to raise_error(store::Unacceptable)
      expect(fitter.refresh.status_id).to eq 3
    end
  end

  describe "closing, and other roles" do
    let!(:fitter) { make_account(clinic) }

    def close(whom, by: senior) =
      desk(clinic, by).run(Handrail::Store::Commands::CloseAccount.new("person" => whom.id))

    def role(whom, name, by: senior)
      desk(clinic, by).run(
        Handrail::Store::Commands::ChangeRole.new("person" => whom.id, "role" => name)
      )
    end

    it "ends the sessions and keeps the name" do
      visit = make_visit(clinic, fitter).tap { |made| ask(made, fitter) }
      store.db[:account_active_session_keys].insert(account_id: fitter.id, session_id: "s")
      close(fitter)
      expect(store.db[:account_active_session_keys].where(account_id: fitter.id)).to be_empty
      expect(record(visit).name_of(fitter.id)).to eq fitter.name
      expect { take(visit, fitter.refresh, "36") }.to raise_error(store::NotAllowed)
      expect(events("closed").select_map(%i[account_id by])).to eq [[fitter.id, senior.id]]
    end

    it "never leaves a clinic without a senior, also when two step down at once" do
      expect { close(senior) }.to raise_error(store::Faults, /only senior/)
      expect { role(senior, "fitter") }.to raise_error(store::Faults, /only senior/)
      other = make_account(clinic, "senior")
      [[senior, other], [other, senior]].map do |whom, by|
          Thread.new do
            role(whom, "fitter", by: by)
          rescue store::Faults, store::NotAllowed
            nil
          end
        end
        .each(&:join)
      expect(store::Account.where(clinic_id: clinic.id, role: "senior", status_id: 2).count).to eq 1
    end

    it "notes from which role to which" do
      role(fitter, "front_desk")
      expect(fitter.refresh.role).to eq "front_desk"
      expect(events("role").get(:detail)).to eq "fitter to front_desk"
    end

    it "reaches nobody of another clinic" do
      stranger = make_account(make_clinic)
      expect { close(stranger) }.to raise_error(store::Unacceptable)
      expect { role(stranger, "senior") }.to raise_error(store::Unacceptable)
      expect(stranger.refresh).to have_attributes(status_id: 2, role: "fitter")
    end
  end

  describe "one's own password" do
    let!(:fitter) { make_account(clinic) }

    it "is changed by who knows it, and ends the other sessions" do
      %w[here there].each do |key|
        store.db[:account_active_session_keys].insert(account_id: fitter.id, session_id: key)
      end
      expect {
        described_class.change_password(
          fitter,
          current: "wrong",
          password: password,
          again: password
        )
      }.to raise_error(store::Faults) { |e| expect(e.fields.keys).to eq %w[current] }
      described_class.change_password(
        fitter,
        current: Fixtures::PASSWORD,
        password: password,
        again: password,
        keep: "here"
      )
      expect(
        store.db[:account_active_session_keys].where(account_id: fitter.id).select_map(:session_id)
      ).to eq %w[here]
      expect(described_class).to be_password(fitter.refresh, password)
    end
  end

  it "keeps what was done to accounts for good" do
    invite.then { |token| join(token) }
    # neither the role that serves nor the owner
    refused = raise_error(Sequel::DatabaseError, /takes new rows only|denied/)
    apart = ->(&act) { store.db.transaction(savepoint: true) { act.call } }
    change = -> { apart.call { events("joined").update(what: "closed") } }
    remove = -> { apart.call { events("joined").delete } }
    [change, remove].each do |act|
      expect(&act).to refused
      as_owner { expect(&act).to refused }
    end
  end
end
