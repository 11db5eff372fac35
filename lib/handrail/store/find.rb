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
      private_constant :BY_NAME, :LAST, :LETTERS

      class << self
        # Patients of a clinic by parts of name, owner, record number or date of birth; every word
        # must be found. Those whose family name (an animal's own) begins with a word come first,
        # then the others, each by name. Without a word, the first by name. from - how many to pass
        # over.
        def patients(clinic, text, limit: 40, from: 0)
          words = words(text)
          if words.empty?
            return Patient.where(clinic_id: clinic.id).order(*BY_NAME).limit(limit, from).all
          end

          short = words.all? { |word| word.size < LETTERS }
          values = asked(clinic, words).merge(limit: limit, over: from, most: limit + from)
          Store.prepared(:"found_#{words.size}#{short}", **values) { found(words, short) }
        end

        private

        # up to five words of at most 40 characters
        def words(text)
          text
            .to_s
            .dup
            .force_encoding(Encoding::UTF_8)
            .scrub("")
            .delete("\0")
            .downcase
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
            .reduce(Patient.where(clinic_id: :$clinic)) do |set, i|
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
          named = words.one? ? Patient.where(clinic_id: :$clinic) : all
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
