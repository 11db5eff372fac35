# frozen_string_literal: true

require "bcrypt"
require "yaml"

module Handrail
  # The demo clinic: Heron Quay, a harbour town. Everyone and everything in it is made up.
  class HeronQuay
    PASSWORD = "lamp-on-the-quay"
    STAFF = [
      ["Maren Okonjo", "maren@heronquay.example", "fitter"],
      ["Dylan Prask", "dylan@heronquay.example", "fitter"],
      ["Ruth Vasanth", "ruth@heronquay.example", "senior"],
      ["Effie Larkin", "effie@heronquay.example", "front_desk"]
    ].freeze
    PEOPLE = {
      ines: ["HQ 0412", "Ines", "Trevanion", "1961-03-14"],
      tobias: ["HQ 0518", "Tobias", "Marrek", "1957-08-02"],
      aurelie: ["HQ 0533", "Aurelie", "Voss", "1969-11-21"],
      samir: ["HQ 0540", "Samir", "Adeyo", "1974-05-30"],
      greta: ["HQ 0547", "Greta", "Holm", "1952-01-17"],
      jonas: ["HQ 0498", "Jonas", "Thring", "1965-06-09"],
      nora: ["HQ 0455", "Nora", "Quill", "1948-12-03"],
      heda: ["HQ 0551", "Heda", "Lang", "1959-04-26"],
      pavel: ["HQ 0476", "Pavel", "Brandt", "1943-09-15"],
      lucia: ["HQ 0307", "Lucia", "Fenwick", "1971-02-08"],
      owen: ["HQ 0560", "Owen", "Sarkis", "1980-10-19"],
      mina: ["HQ 0536", "Mina", "Castellane", "1966-07-23"],
      berta: ["HQ 0561", "Berta", "Lindhoff", "1955-02-19"],
      casimir: ["HQ 0570", "Casimir", "Doyle", "1949-08-27"],
      sunniva: ["HQ 0571", "Sunniva", "Hale", "1961-12-05"],
      gilbert: ["HQ 0572", "Gilbert", "Noor", "1972-03-16"],
      yolanda: ["HQ 0573", "Yolanda", "Finch", "1994-06-11"],
      pia: ["HQ 0574", "Pia", "Remer", "1983-01-24"],
      walter: ["HQ 0575", "Walter", "Oduya", "1950-10-09"],
      odile: ["HQ 0521", "Odile", "Brask", "1947-05-13"],
      stellan: ["HQ 0576", "Stellan", "Ruiz", "1968-09-02"],
      marguerite: ["HQ 0577", "Marguerite", "Tal", "1954-04-21"],
      anders: ["HQ 0578", "Anders", "Pym", "1976-11-30"],
      joan: ["HQ 0579", "Joan", "Ferrier", "1963-07-07"],
      kit: ["HQ 0580", "Kit", "Marlow", "2001-02-02"],
      edda: ["HQ 0581", "Edda", "Kirchhof", "1957-03-28"],
      ruben: ["HQ 0582", "Ruben", "Aske", "1949-11-12"],
      ottoline: ["HQ 0288", "Ottoline", "Wray", "1946-08-08"],
      bram: ["HQ 0590", "Bram", "Tolland", "1958-01-31"],
      ivo: ["HQ 0563", "Ivo", "Strand", "1969-05-19"],
      wenna: ["HQ 0617", "Wenna", "Pascoe", "1963-07-08"],
      cosima: ["HQ 0618", "Cosima", "Reddick", "1956-10-02"],
      theo: ["HQ 0619", "Theo", "Amsel", "1979-04-13"],
      lorne: ["HQ 0402", "Lorne", "Beckwith", "1951-06-30"],
      maud: ["HQ 0620", "Maud", "Iversen", "1988-12-11"],
      basil: ["HQ 0621", "Basil", "Ferreday", "1946-02-24"]
    }.freeze
    # whose sheet is in another language
    SPEAKS = { edda: "de" }.freeze
    PHONES = { ines: "0555 0131", nora: "0555 0114", odile: "0555 0162", edda: "0555 0147" }.freeze
    ROOMS = ["Quay room", "Long room"].freeze
    DOGS = {
      pilot: ["HQ A 021", "Pilot", "Agnes Corrin", "2021-05-02"],
      biscuit: ["HQ A 024", "Biscuit", "Leo Tarrant", "2019-09-18"],
      tansy: ["HQ A 026", "Tansy", "Cora Whitlow", "2020-07-21"]
    }.freeze

    # Loads the clinic into an empty database; today - the day its story is told from.
    def self.load(now: Time.now) = new(now).load

    # What to print: who can sign in.
    def self.sign_ins
      [
        "Demo sign-ins, all with the password #{PASSWORD}",
        *STAFF.map { |name, email, role| "  #{email.ljust(26)} #{name}, #{role.tr("_", " ")}" }
      ].join("\n")
    end

    def initialize(now)
      @now = now
    end

    def load
      Store.db.transaction do
        @clinic =
          Store::Clinic.create(
            name: "Heron Quay Orthotics",
            place: "Heron Quay",
            phone: "extension 214",
            time_zone: "Europe/London",
            demo: true,
            choices: Store.json("rooms" => ROOMS.join("\n"))
          )
        @today = @clinic.today(@now)
        people
        catalogue
        Stories.new(self).tell
        OtherStories.new(self).tell
        LongStories.new(self).tell
        MiddleStories.new(self).tell
        share_today
        one_is_here
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

    # who is booked for today with nobody yet: in turn with the fitters, where they are free
    def share_today
      planning = Store::Planning.new(clinic)
      fitters = staff.values_at(:maren, :dylan)
      planning
        .booked(today..today)
        .select { |one| one.who.nil? && !one.closed }
        .each_with_index do |one, i|
          who, room =
            fitters
              .zip(ROOMS)
              .rotate(i)
              .find do |who, room|
                planning.clash(one.from, one.to, who: who.id, room: room, except: one.id).nil?
              end
          next unless who

          Store::Visit.where(id: one.id).update(
            planned_to: one.to,
            planned_with: who.id,
            planned_room: room
          )
        end
    end

    # the first of today sits in the waiting room
    def one_is_here
      first =
        Store::Visit
          .where(
            clinic_id: clinic.id,
            opened_at: nil,
            planned_for: time(0, "00:00")...time(1, "00:00")
          )
          .order(:planned_for)
          .first or return
      Store.at(first.planned_for - (8 * 60)) do
        Store::Ledger.new(first, staff[:effie]).run(
          Store::Commands::NoteArrival.new("came" => "yes")
        )
      end
    end

    def people
      hash =
        BCrypt::Password.create(
          PASSWORD,
          cost: ENV["RACK_ENV"] == "test" ? BCrypt::Engine::MIN_COST : 12
        ).to_s
      @staff =
        STAFF.to_h do |name, email, role|
          [
            email[/\w+/].to_sym,
            Store::Account.create(
              clinic_id: clinic.id,
              name: name,
              email: email,
              role: role,
              password_hash: hash
            )
          ]
        end
      Store.as(staff[:effie].id) do
        @patients =
          PEOPLE.to_h do |key, (number, given, family, born)|
            [
              key,
              Store::Patient.create(
                clinic_id: clinic.id,
                record_number: number,
                given_name: given,
                family_name: family,
                born_on: born,
                phone: PHONES[key],
                language: SPEAKS.fetch(key, "en")
              )
            ]
          end
        DOGS.each do |key, (number, name, owner, born)|
          @patients[key] = Store::Patient.create(
            clinic_id: clinic.id,
            record_number: number,
            species: "dog",
            given_name: name,
            owner_name: owner,
            born_on: born
          )
        end
      end
    end

    def catalogue
      @products =
        YAML
          .safe_load_file(File.join(ROOT, "demo", "products.yml"))
          .to_h { |key, raw| [key.to_sym, product(raw)] }
    end

    def product(raw)
      maker = Store::Maker.find_or_create(clinic_id: clinic.id, name: raw["maker"])
      Store::Product
        .create(
          clinic_id: clinic.id,
          maker_id: maker.id,
          family: raw["family"],
          name: raw["name"],
          options: Store.json(raw.fetch("options", {}))
        )
        .tap do |product|
          next unless raw["chart"]

          rows = Exchange::ChartFile.rows(File.join(ROOT, "demo", "charts", "#{raw["chart"]}.csv"))
          Store::ChartRevision.add(
            product,
            rows,
            dated: today - raw.fetch("dated", 290),
            tie_rule: raw["tie"],
            primary_site: raw["primary"]
          )
          raw.fetch("shelf", {}).each { |size, (count, least)| shelf(product, size, count, least) }
        end
    end

    def shelf(product, size, count, least)
      desk(
        Store::Commands::SetStockLevel.new(
          "product" => product.id,
          "size" => size,
          "least" => least.to_s
        )
      )
      return unless count.positive?

      lot = "#{product.maker.name[0, 2].upcase}-#{product.id}#{size[0]}"
      desk(
        Store::Commands::ReceiveStock.new(
          "product" => product.id,
          "size" => size,
          "count" => count.to_s,
          "lot" => lot
        )
      )
    end

    def desk(command) = Store::Desk.new(clinic, staff[:effie]).run(command)
  end
end
