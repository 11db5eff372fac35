# frozen_string_literal: true

module Handrail
  module Store
    # Looking people up.
    module Find
      BY_NAME = %i[name_key given_name id].freeze
      # above every letter in the order of bytes: the end of what begins with a word
      LAST = "\u{10FFFF}"
      # a word of fewer letters is looked for in the order of names: it is in many of them
      LETTERS = 3
      # letters that are no letter with a mark, as PostgreSQL's own list writes them plainly
      LETTERS_OF = {
        "ß" => "ss",
        "æ" => "ae",
        "œ" => "oe",
        "ø" => "o",
        "đ" => "d",
        "ł" => "l",
        "ð" => "d"
      }.freeze
      private_constant :BY_NAME, :LAST, :LETTERS, :LETTERS_OF

      class << self
        # Patients of a clinic by parts of name, owner, record number, telephone or date of birth, however
        # they are written, or by the serial number of a device; every word must be found. Those whose family name
        # (an animal's own) begins with a word come first, then the others, each by name. Where there is
        # nobody, those whose names are nearly so. Without a word, the first by name. from - how many to pass
        # over.
        def patients(clinic, text, limit: 40, from: 0)
          exact = exactly(clinic, text, limit: limit, from: from)
          exact.any? || from.positive? ? exact : nearly(clinic, text)
        end

        # Who has that record number, however it is spaced and the whole of it; nil where nobody has.
        def numbered(clinic, text)
          tight = text.to_s.scrub("").upcase.gsub(/[^[:alnum:]]/, "")
          return unless tight.match?(/\d/)

          Patient.first(clinic_id: clinic.id, record_tight: tight, joined_into_id: nil)
        end

        # The same without those whose names are only nearly so. A whole record number is one person's.
        def exactly(clinic, text, limit: 40, from: 0)
          one = numbered(clinic, text) if from.zero?
          return [one] if one

          found = all_of(clinic, text, limit: limit, from: from)
          found.any? || from.positive? ? found : by_serial(clinic, text)
        end

        # how alike a word and a name are at least (similarity of pg_trgm); so many names are tried for each word; so
        # many people are shown
        ALIKE = 0.3
        TRIED = 3
        SHOWN = 10
        private_constant :ALIKE, :TRIED, :SHOWN

        # Whose names are nearly those, one letter more, less or another: the likeliest first. Names that
        # there are take the place of words that nobody is called; a word of a few letters, or with a
        # figure, stays as it is. It is somebody else's name: who shows them says so.
        def nearly(clinic, text)
          meant =
            words(text).map do |word|
              word.size < 4 || word.match?(/\d/) ? [word] : alike(clinic, word)
            end
          return [] if meant.empty? || meant == words(text).zip

          first, *rest = meant
          found =
            first
              .product(*rest)
              .first(TRIED * TRIED)
              .flat_map { |names| all_of(clinic, names.join(" "), limit: SHOWN, from: 0) }
          found.uniq(&:id).first(SHOWN)
        end

        # The record number that comes after the newest ones, where the clinic counts them; else nil.
        def next_number(clinic)
          newest =
            Patient
              .where(clinic_id: clinic.id, practice: false)
              .reverse(:id)
              .limit(3)
              .select_map(:record_number)
          told = newest.map { |number| number.match(/\A(.*?)(\d{2,12})\z/) }
          return unless told.size == 3 && told.all? && told.map { |one| one[1] }.uniq.one?

          highest = told.map { |one| one[2] }.max_by(&:to_i)
          (1..50)
            .lazy
            .map { |step| told.first[1] + (highest.to_i + step).to_s.rjust(highest.size, "0") }
            .find { |number| Patient.where(clinic_id: clinic.id, record_key: number.upcase).empty? }
        end

        # Patients who may be the one that is being written down: of the same record number, however it is
        # spaced, or of the same birthday and nearly the same name. born_on - a Date, or nil; except - an id. Returns
        # [[Patient, :number or :person], ...].
        def same(clinic, record_number:, name:, born_on:, except: nil)
          own = Patient.where(clinic_id: clinic.id, joined_into_id: nil).exclude(id: except)
          tight = record_number.to_s.upcase.gsub(/[^[:alnum:]]/, "")
          # a record that was joined keeps its number
          all = Patient.where(clinic_id: clinic.id).exclude(id: except)
          numbered = tight.empty? ? [] : all.where(record_tight: tight).all
          plain = words(name).join(" ")
          named =
            (
              if born_on && !plain.empty?
                own.where(born_on: born_on).where(named_like(plain)).limit(5).all
              else
                []
              end
            )
          numbered.map { |one| [one, :number] } + (named - numbered).map { |one| [one, :person] }
        end

        private

        # of one birthday half of the letters are enough
        def named_like(plain) = Sequel.function(:similarity, :names, plain) >= 0.5

        def all_of(clinic, text, limit:, from:)
          words = words(text)
          if words.empty?
            return(
              Patient
                .where(clinic_id: clinic.id, joined_into_id: nil)
                .order(*BY_NAME)
                .limit(limit, from)
                .all
            )
          end

          short = words.all? { |word| word.size < LETTERS }
          values = asked(clinic, words).merge(limit: limit, over: from, most: limit + from)
          Store.prepared(:"found_#{words.size}#{short}", **values) { found(words, short) }
        end

        # who wears, or wore, a device of that number
        def by_serial(clinic, text)
          serial = text.to_s.strip.upcase[0, 80]
          return [] unless serial.match?(/\d/)

          fittings =
            Store.db[:issued_devices]
              .where(Sequel[:issued_devices][:clinic_id] => clinic.id)
              .where(Sequel.function(:upper, :serial) => serial)
              .join(:fittings, id: :fitting_id)
          Patient
            .where(clinic_id: clinic.id, id: fittings.select(:patient_id))
            .order(*BY_NAME)
            .limit(10)
            .all
        end

        def alike(clinic, word)
          Store.db.transaction do
            Store.db.run("SET LOCAL pg_trgm.similarity_threshold = #{ALIKE}")
            Store.db[:name_words]
              .where(clinic_id: clinic.id)
              .where(Sequel.lit("word % ?", word))
              .order(Sequel.desc(Sequel.function(:similarity, :word, word)), :word)
              .limit(TRIED)
              .select_map(:word)
          end
        end

        # up to five words of at most 40 characters
        def words(text)
          text
            .to_s
            .dup
            .force_encoding(Encoding::UTF_8)
            .scrub("")
            .delete("\0")
            .unicode_normalize(:nfkd)
            .gsub(/\p{Mn}|['’‘`´]/, "")
            .downcase
            .gsub(/[ßæœøđłð]/, LETTERS_OF)
            .split
            .first(5)
            .map { |word| word[0, 40] }
        end

        # How a statement is asked for words, with a placeholder for each and for the names that
        # begin with it: w0, w1 ... and from0, to0 ...
        def asked(clinic, words)
          words
            .each_with_index
            .with_object({ clinic: clinic.id }) do |(word, i), asked|
              asked[:"w#{i}"] = "%#{Sequel::Model.db.dataset.escape_like(word)}%"
              asked[:"from#{i}"] = word
              asked[:"to#{i}"] = word + LAST
            end
        end

        def all_with(words)
          words
            .each_index
            .reduce(Patient.where(clinic_id: :$clinic, joined_into_id: nil)) do |set, i|
              set.where(Sequel.like(:search_text, :"$w#{i}"))
            end
        end

        # whose name begins with one of the words
        def begun(words)
          words
            .each_index
            .map { |i| (Sequel[:name_key] >= :"$from#{i}") & (Sequel[:name_key] < :"$to#{i}") }
            .reduce(:|)
        end

        # First one, then the other: the second is not looked for where the first has enough. The
        # database takes rare parts of a name for frequent ones, and would then go through all people
        # in the order of their names; an order that no index has lets it find those who have the
        # words first.
        def found(words, short)
          all = all_with(words)
          named = words.one? ? Patient.where(clinic_id: :$clinic, joined_into_id: nil) : all
          unsorted = short ? :name_key : Sequel.join([:name_key, ""])
          named
            .where(begun(words))
            .order(*BY_NAME)
            .limit(:$most)
            .union(
              all.exclude(begun(words)).order(unsorted, *BY_NAME.drop(1)).limit(:$most),
              all: true
            )
            .limit(:$limit, :$over)
        end
      end
    end
  end
end
