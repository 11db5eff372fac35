# frozen_string_literal: true

module Handrail
  module Wording
    # What is said of other people's tables: how their figures are written, and what a column may mean. Part of
    # Wording.
    module OfTables
      # How figures are written: "a comma before decimals and a point between thousands". marks - Quantity::Marks
      def marks(marks)
        between =
          (
            if marks.thousands
              t("tables.between", sign: name_of_sign(marks.thousands))
            else
              t("tables.nothing_between")
            end
          )
        t("tables.marks", before: name_of_sign(marks.decimal), between: between)
      end

      # What is asked of a column. question - an Exchange::Interpretation::Question
      def table_question(question)
        t(
          "tables.#{question.name}",
          columns: question.columns.join(", "),
          line: question.line,
          text: question.text
        )
      end

      # One of its answers: what the text would be, and why. code - as the question has it; said - the text plainly
      def table_choice(question, code, said)
        return t("tables.#{code}_first", said: said) if question.name == "days"

        t("tables.figure", said: said, marks: marks(Quantity::Marks.coded(code)))
      end

      private

      def name_of_sign(sign) = t("tables.signs.#{Quantity::Marks::SIGNS.fetch(sign)}")
    end
  end
end
