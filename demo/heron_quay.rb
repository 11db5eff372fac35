# frozen_string_literal: true

require "bcrypt"

module Handrail
  # The demo clinic: Heron Quay, a harbour town. Everyone and everything in it is made up.
  class HeronQuay
    PASSWORD = "lamp-on-the-quay"
    STAFF = [["Maren Okonjo", "maren@heronquay.example", "fitter"], ["Dylan Prask", "dylan@heronquay.example", "fitter"],
             ["Ruth Vasanth", "ruth@heronquay.example", "senior"], ["Effie Larkin", "effie@heronquay.example", "front_desk"]].freeze
    PEOPLE = {
      ines: ["HQ 0412", "Ines", "Trevanion", "1961-03-14"], tobias: ["HQ 0518", "Tobias", "Marrek", "1957-08-02"],
      aurelie: ["HQ 0533", "Aurelie", "Voss", "1969-11-21"], samir: ["HQ 0540", "Samir", "Adeyo", "1974-05-30"],
      greta: ["HQ 0547", "Greta", "Holm", "1952-01-17"], jonas: ["HQ 0498", "Jonas", "Thring", "1965-06-09"],
      nora: ["HQ 0455", "Nora", "Quill", "1948-12-03"], heda: ["HQ 0551", "Heda", "Lang", "1959-04-26"],
      pavel: ["HQ 0476", "Pavel", "Brandt", "1943-09-15"], lucia: ["HQ 0307", "Lucia", "Fenwick", "1971-02-08"],
      owen: ["HQ 0560", "Owen", "Sarkis", "1980-10-19"], mina: ["HQ 0536", "Mina", "Castellane", "1966-07-23"]
    }.freeze
    PRODUCTS = {
      hinged: ["Wrenfell", "hinged unloader", { "type" => "single_upright", "height_landmark" => "joint_line" }, "wrenfell-hinged-unloader",
               "larger", nil],
      double: ["Wrenfell", "double unloader", { "type" => "double_upright", "height_landmark" => "mid_kneecap" }, "wrenfell-double-unloader",
               "nearest", nil],
      dial: ["Oskerry", "dial unloader", { "type" => "dial", "height_landmark" => "top_of_kneecap" }, "oskerry-dial-unloader", "smaller", nil]
    }.freeze

    # Loads the clinic into an empty database; today - the day its story is told from.
    def self.load(now: Time.now) = new(now).load

    # What to print: who can sign in.
    def self.sign_ins
      ["Demo sign-ins, all with the password #{PASSWORD}", *STAFF.map do |name, email, role|
        "  #{email.ljust(26)} #{name}, #{role.tr('_', ' ')}"
      end].join("\n")
    end

    def initialize(now)
      @now = now
    end

    def load
      Store.db.transaction do
        @clinic = Store::Clinic.create(name: "Heron Quay Orthotics", place: "Heron Quay", phone: "extension 214", time_zone: "Europe/London",
                                       demo: true)
        @today = @clinic.today(@now)
        people
        catalogue
        Stories.new(self).tell
        @clinic.update(demo_loaded_at: Sequel.function(:clock_timestamp))
      end
      @clinic
    end

    attr_reader :clinic, :today, :staff, :products, :patients

    # A time at the clinic: days from today, and the clock there.
    def time(days, clock)
      hour, minute = clock.split(":").map(&:to_i)
      day = today + days
      clinic.zone.local_to_utc(Time.utc(day.year, day.month, day.day, hour, minute))
    end

    private

    def people
      hash = BCrypt::Password.create(PASSWORD, cost: ENV["RACK_ENV"] == "test" ? BCrypt::Engine::MIN_COST : 12).to_s
      @staff = STAFF.to_h do |name, email, role|
        [email[/\w+/].to_sym, Store::Account.create(clinic_id: clinic.id, name: name, email: email, role: role, password_hash: hash)]
      end
      Store.as(staff[:effie].id) do
        @patients = PEOPLE.transform_values do |number, given, family, born|
          Store::Patient.create(clinic_id: clinic.id, record_number: number, given_name: given, family_name: family, born_on: born)
        end
        Store::Patient.create(clinic_id: clinic.id, record_number: "HQ A 021", species: "dog", given_name: "Pilot", owner_name: "Agnes Corrin",
                              born_on: "2021-05-02", note: "Whippet. Waits for a hock brace.")
      end
    end

    def catalogue
      @products = PRODUCTS.transform_values do |maker, name, options, file, rule, primary|
        maker = Store::Maker.find_or_create(clinic_id: clinic.id, name: maker)
        Store::Product.create(clinic_id: clinic.id, maker_id: maker.id, family: "knee_unloader", name: name,
                              options: Store.json(options)).tap do |product|
          rows = Exchange::ChartFile.rows(File.join(ROOT, "demo", "charts", "#{file}.csv"))
          Store::ChartRevision.add(product, rows, dated: today - 290, tie_rule: rule, primary_site: primary)
        end
      end
    end
  end
end
