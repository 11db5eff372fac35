# frozen_string_literal: true

module Handrail
  module Families
    # All families, by key. A new family is a new file in knowledge/families, and nothing else.
    module Shelf
      FOLDER = File.join(ROOT, "knowledge", "families")

      # key => Family, loaded once.
      def self.all = @all ||= Dir[File.join(FOLDER, "*.yml")].map { |path| Family.load(path) }.to_h { |family| [family.key, family] }.freeze

      # Raises Handrail::Error when there is none of that key.
      def self.fetch(key) = all.fetch(key) { raise Handrail::Error, "No device family is called “#{key}”." }
    end
  end
end
