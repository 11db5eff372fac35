# frozen_string_literal: true

module Handrail
  module Families
    # All families, by key. A new family is a new file in knowledge/families, and nothing else.
    #
    # What a fitting was made on is not read here but from its own kept text: see `pinned`.
    module Registry
      FOLDER = File.join(ROOT, "knowledge", "families")
      # as many older texts as a clinic's running fittings are likely to have between them
      PINNED = Memory.new(300)
      private_constant :PINNED

      class << self
        # key => Family, as the files read today; loaded once.
        def all
          @all ||=
            Memory.freeze(
              Dir[File.join(FOLDER, "*.yml")]
                .map { |path| Family.load(path) }
                .to_h { |f| [f.key, f] }
            )
        end

        # Raises Handrail::Error when there is none of that key.
        def fetch(key) =
          all.fetch(key) do
            raise Handrail::Error, "No device family is called “#{key.to_s[0, 40]}”."
          end

        # The Family of a kept text (Family#text); read once for each digest.
        def pinned(digest, text)
          PINNED.remember(digest) do
            all.each_value.find { |family| family.digest == digest } || Family.from_text(text)
          end
        end
      end
    end
  end
end
