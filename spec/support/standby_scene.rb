# frozen_string_literal: true

# What the scripts of spec/store/standby_spec.rb begin with, each in a process of its own: it speaks to the specs by
# lines of JSON, the last of which is what it saw.

$stdout.sync = true
require "json"
require_relative "../../lib/handrail"
require "rack/test"

Store = Handrail::Store
Store.migrate

# has the pair do something, see StandbyPair
def tell(what)
  puts JSON.generate("do" => what)
  $stdin.gets
end

def see(found) = puts(JSON.generate(found))

def wait(seconds = 10)
  ends = Time.now + seconds
  until (found = yield) || Time.now > ends
    sleep(0.02)
  end
  found
end

# until the standby has what was written
def in_step = wait { Store::Standby.read(after: Store::Standby.mark) { true } }

def make_clinic(name) =
  Store::Clinic.create(
    name: name,
    place: "Quay",
    time_zone: "Europe/London",
    tape: "cm 1 mm",
    phone: "1"
  )

# A browser of somebody who is signed in.
class Browser
  include Rack::Test::Methods

  def self.of_somebody
    @somebody ||=
      Store::Account.create(
        clinic_id: make_clinic("Pair").id,
        email: "ada@quay.example",
        name: "Ada Quill",
        role: "senior",
        status_id: 2,
        password_hash: Store::People.hash("lamp-on-the-quay")
      )
    in_step
    new.tap(&:sign_in)
  end

  def app = @app ||= Handrail::Web.app
  def token =
    CGI.unescapeHTML(last_response.body[/name="authenticity_token" value="([^"]+)"/, 1].to_s)

  def sign_in
    get "/login"
    post "/login",
         "login" => "ada@quay.example",
         "password" => "lamp-on-the-quay",
         "authenticity_token" => token
    in_step
  end

  # opens the form of a new patient
  def begin_patient
    get "/patients/new"
    @form = {
      "authenticity_token" => token,
      "entry_key" => SecureRandom.uuid,
      "page" => "p",
      "record_number" => "P 1",
      "given_name" => "Wilma",
      "family_name" => "Quarrel",
      "born_on" => "14 Mar 1961",
      "species" => "human"
    }
  end

  # sends it: [status, the entry that was kept]
  def send_patient
    post "/patients", @form
    [last_response.status, last_response.headers["handrail-kept"]]
  end

  # [status, whether it says that nothing can be saved]
  def look(path, **env)
    get path, {}, env.transform_keys(&:to_s)
    [last_response.status, last_response.body.include?("no-writer")]
  end
end
