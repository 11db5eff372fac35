# frozen_string_literal: true

module Handrail
  module Wording
    # What of a running fitting is due or should not wait, in words.
    module OfDues
      # What stands of a fitting and should not wait. row - of Store::Dues
      def concern(row)
        since = Quantity::Day.write(row[:due_on])
        return misread(row, since) if row[:kind] == "misread"
        return turned(row, since) if row[:kind] == "turned"
        return t("concerns.#{row[:kind]}", what: due(row), since: since) if row[:kind] != "skin"

        course = t("courses_of_skin.#{row[:course]}")
        t("concerns.skin", what: due(row), course: course, since: since)
      end

      # A size that would be another by readings that were put right.
      def misread(row, since)
        now = row[:course] ? t("concerns.size", size: row[:course]) : t("concerns.no_size")
        t("concerns.misread", what: due(row), now: now, since: since)
      end

      # A girth that goes another way by readings that were put right.
      def turned(row, since) =
        t("concerns.turned", what: due(row), now: t("concerns.#{row[:course]}"), since: since)

      # What is due, by its side: "left liner", "size M". row - of Store::Dues
      def due(row)
        what =
          case row[:kind]
          when "skin"
            t("skin.#{row[:label]}").downcase
          when "size", "misread"
            t("concerns.size", size: row[:label])
          else
            row[:label]
          end
        [row[:side], what].compact.join(" ")
      end
    end
  end
end
