# frozen_string_literal: true

require "psych"
require "tempfile"

module Handrail
  module Store
    # Families of devices that a clinic brought in: beside those that ship, or in place of one of the same key.
    #
    #   clinic.device_families                          # all that hold here, by key
    #   OwnFamilies.look(bytes, "night_splint.yml")     # what is wrong with a file, before anything is kept
    #
    # What a fitting was made on does not move with them: it is pinned to its own text (see Pin). A family of a key of
    # its own that was ended is still read, for its products and records, but nothing is ordered of it.
    module OwnFamilies
      MOST_FILE = 200_000
      MOST = 40
      NOT_UTF8 = "it is not UTF-8. Save it as UTF-8."
      ALIASES = "aliases (*name) are not read here. Write out what they stand for."
      KEPT = Memory.new(20)
      private_constant :KEPT

      # A file that was looked at. name - of the file; family - a Families::Family, nil where it can not be read;
      # source - its text; faults - [[law, place, words], ...], none where it may be brought in
      Looked = Handrail::Value.new(:name, :family, :source, :faults) { def sound? = faults.empty? }

      class << self
        # key => Family, of all that hold at a clinic.
        def of(clinic)
          own = clinic.own_families.to_h
          return Families::Registry.all if own.empty?

          KEPT.remember([clinic.id, own.to_a]) { Families::Registry.all.merge(read(clinic, own)) }
        end

        # Whether nothing is ordered of a key any more.
        def ended?(clinic, key) = clinic.own_families.to_h.dig(key, "ended") == true

        # Holds a file against schema, references, laws and hazards. Returns a Looked.
        def look(bytes, name)
          source = bytes.dup.force_encoding(Encoding::UTF_8).delete_prefix("\uFEFF")
          if bytes.bytesize > MOST_FILE
            return refused(name, "it is larger than #{MOST_FILE / 1000} kB.")
          end
          return refused(name, NOT_UTF8) unless source.valid_encoding?
          return refused(name, ALIASES) if aliases?(source)

          review = reviewed(source, name)
          Looked[name: name, family: review.family, source: source, faults: faults(review)]
        rescue Handrail::Error, Psych::Exception => e
          # a fault names its file first
          refused(name, e.message.sub(/\A[^:,]+\.yml(, |: )/, ""))
        end

        # Rows of a clinic, the newest first.
        def rows(clinic)
          Store.db[:clinic_families].where(clinic_id: clinic.id).reverse(:id).all
        end

        # What stands with the clinic once its rows have changed.
        def in_force(clinic)
          rows(clinic)
            .reverse
            .group_by { |row| row[:key] }
            .each_with_object({}) do |(key, own), found|
              newest = own.find { |row| row[:ended_at].nil? } || own.last
              next if newest[:ended_at] && Families::Registry.all.key?(key)

              found[key] = { "digest" => newest[:digest], "ended" => !newest[:ended_at].nil? }
            end
        end

        private

        def read(clinic, own)
          texts =
            Store.db[:clinic_families].where(
              clinic_id: clinic.id,
              digest: own.values.map { |one| one["digest"] }
            ).to_hash(:digest, :text)
          own.to_h do |key, one|
            [key, Families::Registry.pinned(one["digest"], texts.fetch(one["digest"]))]
          end
        end

        def reviewed(source, name)
          base = File.basename(name.to_s, ".*").gsub(/[^\w-]+/, "_")[0, 60]
          Tempfile.create([base, ".yml"]) do |file|
            file.write(source)
            file.close
            Families::Review.of(file.path)
          end
        end

        def faults(review)
          found =
            review.breaches.map { |one| [one.law, one.path, review.line(one.path), one.finding] }
          lacks = Families::Hazards.lacking_in(review.family)
          found.sort_by! { |law, path, line, _| [line, law, path] }
          found.map { |law, path, line, said| [law, "#{path}, line #{line}", said] } +
            lacks.map { |one| ["hazards", one.hazard.key, "#{one.hazard.what}: #{one.finding}"] }
        end

        def refused(name, words) =
          Looked[name: name, family: nil, source: nil, faults: [["file", name, words]]]

        def aliases?(source)
          Psych.parse_stream(source).any?(Psych::Nodes::Alias)
        rescue Psych::SyntaxError
          # said with its line by who reads it
          false
        end
      end
    end
  end
end
