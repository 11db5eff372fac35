# frozen_string_literal: true

# Makes a clinic of one's own: bin/handrail clinic new
#   bin/handrail clinic new                       prints a link that opens the set-up page, once
#   bin/handrail clinic new --name N --place P --person W --email E [--zone Z] [--tape T] [--phone T] [--address A]
#                           [--language L]
#                                                 makes it here; the password is read from the first line of input
#   bin/handrail clinic new --office --name N ...   the office of a group of clinics, which has no patients
# bin/handrail clinic out [--clinic N] FILE        writes a whole clinic to a file
# bin/handrail clinic in FILE                      reads one in, beside those that are here
# bin/handrail clinic remove-demo                 removes the demo clinic and everything in it, and nothing else

require "optparse"
require_relative "../../lib/handrail"

module Handrail
  # The command line of clinics.
  class ClinicCommand
    OPTIONS = {
      "name" => "name",
      "place" => "place",
      "person" => "person",
      "email" => "email",
      "zone" => "time_zone",
      "tape" => "tape",
      "phone" => "phone",
      "address" => "address",
      "language" => "sheet_language"
    }.freeze
    USAGE =
      "Call it so: bin/handrail clinic new [--office] [--name N --place P --person W --email E], bin/handrail clinic " \
        "out [--clinic N] FILE, bin/handrail clinic in FILE, or bin/handrail clinic remove-demo"

    def self.run(arguments)
      case arguments.shift
      when "new"
        arguments.empty? ? link : make(arguments)
      when "out"
        out(arguments)
      when "in"
        arguments.one? ? bring(arguments.first) : usage
      when "remove-demo"
        arguments.empty? ? remove_demo : usage
      else
        usage
      end
    end

    def self.usage
      warn USAGE
      2
    end

    def self.link
      address = ENV["HANDRAIL_ADDRESS"] || address_of_server
      puts "Open this once, within two days, to set up the clinic:"
      puts "#{address}/set-up/#{Store::SetUp.link}"
      0
    end

    def self.address_of_server
      path = File.join(ROOT, "var", "server", "address")
      File.size?(path) ? File.read(path).strip : "http://127.0.0.1:8470"
    end

    def self.make(arguments)
      form = { "time_zone" => "UTC", "tape" => "cm 1 mm" }
      office = false
      OptionParser
        .new do |parser|
          OPTIONS.each do |option, field|
            parser.on("--#{option} TEXT") { |text| form[field] = text }
          end
          parser.on("--office") { office = true }
        end
        .parse!(arguments)
      warn "The password of the first senior:" if $stdin.tty?
      form["password"] = form["again"] = $stdin.gets.to_s.chomp
      account = Store::SetUp.make(form, office: office)
      puts "#{account.clinic.name} is set up. #{account.name} signs in with #{account.email}."
      0
    rescue Store::Faults => e
      e.fields.each { |field, fault| warn "#{OPTIONS.key(field) || field}: #{fault}" }
      1
    rescue OptionParser::ParseError => e
      warn "#{e.message}. #{USAGE}"
      2
    end

    # the clinic that is meant, or the only one there is
    def self.out(arguments)
      number = nil
      OptionParser
        .new { |parser| parser.on("--clinic N", Integer) { |n| number = n } }
        .parse!(arguments)
      return usage unless arguments.one?

      all = Store::Clinic.order(:id).all
      clinic = number ? all.find { |one| one.id == number } : (all.first if all.one?)
      unless clinic
        warn("Say which clinic with --clinic N:", all.map { |one| "  #{one.id}  #{one.name}" })
        return 2
      end
      rows = Store::WholeClinic.out(clinic, arguments.first).values.sum
      puts "#{clinic.name}: #{rows} rows written to #{arguments.first}. Whoever has the file has the " \
             "clinic: keep it so."
      0
    rescue OptionParser::ParseError => e
      warn "#{e.message}. #{USAGE}"
      2
    rescue SystemCallError => e
      warn "The file can not be written: #{e.message}."
      1
    end

    def self.bring(path)
      clinic = Store::WholeClinic.in(path)
      puts "#{clinic.name} is here, as clinic #{clinic.id}. Its people sign in as before; one-time codes and " \
             "calendar addresses are made anew."
      0
    rescue Store::WholeClinic::Refused => e
      warn "Nothing was changed. #{e.message}"
      1
    end

    def self.remove_demo
      clinic = Store::Clinic.first(demo: true)
      unless clinic
        puts "There is no demo clinic here."
        return 0
      end
      Store.db.transaction { Store::SetUp.remove(clinic) }
      FileUtils.rm_f(File.join(ROOT, "var", "sign-ins"))
      puts "The demo clinic is removed."
      0
    end
  end
end

exit Handrail::ClinicCommand.run(ARGV)
