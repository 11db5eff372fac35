# frozen_string_literal: true

module Handrail
  module Exchange
    # `--decimal` and `--thousands`, alike in every command that reads tables: how figures are written in the files of
    # another program. With one of them given the files are read as spreadsheets save them (CSVTable, foreign); without,
    # as the commands always have: UTF-8, commas, our own names of columns.
    module MarksOptions
      USAGE = "[--decimal SIGN] [--thousands SIGN]"
      SIGNS = [".", ",", "'", " "].freeze
      NONE = "none"

      class << self
        # parser - an OptionParser; given - where what is found goes
        def define(parser, given)
          parser.on(
            "--decimal SIGN",
            %w[. ,],
            "what stands before decimals in the files: . or ,"
          ) { |sign| given[:decimal] = sign }
          parser.on(
            "--thousands SIGN",
            [*SIGNS, NONE],
            "what stands between thousands: . , ' a blank, or none"
          ) { |sign| given[:thousands] = sign }
        end

        # What a CSVTable is to be made with. Raises Handrail::Error for signs that are the same.
        def of(given)
          return {} unless given[:decimal] || given[:thousands]

          thousands = given[:thousands] == NONE ? nil : given[:thousands]
          { foreign: true, marks: Quantity::Marks.named(given[:decimal], thousands) }
        rescue ArgumentError
          raise Handrail::Error, "--decimal and --thousands can not be the same sign."
        end
      end
    end
  end
end
