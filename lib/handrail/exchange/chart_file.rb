# frozen_string_literal: true

require "csv"

module Handrail
  module Exchange
    # A size chart as CSV.
    module ChartFile
      COLUMNS = %w[part size site min max unit posture tension].freeze
      FIGURES = %w[min max].freeze
      # what the columns hold, see Interpretation
      MEANT = { figures: FIGURES, unit: "unit" }.freeze
      POSTURES = ["", "standing", "sitting", "lying", "raised"].freeze
      # rows of the largest chart that is looked over at once
      MOST = 2000
      TENSIONS = ["", "resting", "snug", "firm", "hard"].freeze

      # the apostrophe that keeps a cell a text
      GUARDED = /\A'(?=[=+\-@])/

      # What a file holds. rows - Sizing::Chart::Rows; lines - the line of each; faults - sentences
      # with file, line and mend, in file order; findings - ChartCheck findings that only want a
      # look.
      Scan = Value.new(:rows, :lines, :faults, :findings) { def usable? = faults.empty? }

      class << self
        # Returns a Sizing::Chart. Raises CSVTable::Faulty with file, line and mend; nothing is
        # returned of a faulty file.
        def read(path, **written) = Sizing::Chart.build(rows(path, **written))

        # The rows as Sizing::Chart::Rows, checked against each other. written - how the file is written, see CSVTable
        def rows(path, **written)
          table = CSVTable.new(path, COLUMNS, figures: FIGURES, **written)
          rows = []
          lines = []
          table.each do |fields, line|
            rows << row(table, fields, line)
            lines << line
          end
          Sizing::Chart.build(rows)
          rows
        rescue Sizing::Chart::Faulty => e
          table.fault(e.at ? lines[e.at] : 1, e.said(lines))
        end

        # Every fault of a file at once, for somebody who is to mend it. rule - the TieRule it would
        # be used with; name - what the file is called where its path is a passing one; foreign - see CSVTable.
        def scan(path, rule: Sizing::TieRule.new, name: nil, foreign: false)
          scan_rows(
            listed(path, name: name, foreign: foreign),
            rule: rule,
            name: name || File.basename(path)
          )
        rescue CSVTable::Faulty => e
          Scan[rows: [], lines: [], faults: [e.message], findings: []]
        end

        # The rows of a file of another program as they stand: [[line, { column => text }], ...]. Raises
        # CSVTable::Faulty.
        def listed(path, name: nil, foreign: true)
          table = CSVTable.new(path, COLUMNS, name: name, foreign: foreign)
          table.listed(MOST, Wording.t("files.too_many_for_a_chart", most: MOST))
        end

        # The same as `scan`, of rows that were listed.
        def scan_rows(listed, name:, rule: Sizing::TieRule.new)
          table = CSVTable.new(nil, COLUMNS, name: name)
          rows = []
          lines = []
          faults = []
          listed.each do |line, form|
            rows << row(table, form.values_at(*COLUMNS).map(&:to_s), line)
            lines << line
          rescue CSVTable::Faulty => e
            faults << [e.line, e.message]
          end
          checked(table, rows, lines, faults, rule)
        end

        # The chart as CSV text, as it is read.
        def write(rows)
          CSV.generate(row_sep: "\r\n") do |csv|
            (csv << COLUMNS) &&
              rows.each do |row|
                csv << fields(row).map { |text| text.empty? ? nil : guarded(text) }
              end
          end
        end

        # Rows that are texts by column, as CSV.
        def write_texts(rows)
          CSV.generate(row_sep: "\r\n") do |csv|
            [COLUMNS, *rows.map { |row| row.values_at(*COLUMNS) }].each { |row| csv << row }
          end
        end

        # A row's fields as text, in the order of COLUMNS.
        def fields(row)
          min, max = [row.min, row.max].map { |mm| Quantity::Length.mm(mm).exact(row.unit) }
          [row.part, row.size, row.site, min, max, row.unit, row.posture, row.tension].map(&:to_s)
        end

        # A Row from texts in the order of COLUMNS. Raises CSVTable::Faulty.
        def row(table, fields, line)
          part, size, site, min, max, unit, posture, tension =
            fields.map { |text| text.sub(GUARDED, "") }
          table.fault(line, Wording.t("files.has_no_size_give")) if size.empty?
          table.fault(line, Wording.t("files.chart_row_has_no_site")) if site.empty?
          Sizing::Chart::Row[
            part: part,
            size: size,
            site: site,
            min: length(table, line, "min", min, unit),
            max: length(table, line, "max", max, unit),
            unit: Quantity::Length.unit(unit) || typed_unit(min),
            posture: word(posture),
            tension: word(tension)
          ]
        end

        private

        # a spreadsheet would compute a cell that begins so: an apostrophe keeps it a text, and is
        # taken off again
        def guarded(text) = text.match?(/\A[=+\-@]/) ? "'#{text}" : text

        def checked(table, rows, lines, faults, rule)
          findings = Sizing::ChartCheck.new(rows, rule: rule).findings
          stops =
            findings
              .select { |f| f.state == :stop }
              .map do |f|
                [lines[f.row], table.sentence(lines[f.row], Wording.chart_finding(f, lines))]
              end
          words =
            rows.each_with_index.flat_map do |row, i|
              strange_words(row).map { |text| [lines[i], table.sentence(lines[i], text)] }
            end
          all = (faults + stops + words).sort_by.with_index { |(line, _), i| [line, i] }
          Scan[
            rows: rows,
            lines: lines,
            faults: all.map(&:last),
            findings: findings.reject { |f| f.state == :stop }
          ]
        end

        def strange_words(row)
          faults = []
          unless POSTURES.include?(row.posture.to_s)
            faults << unknown("posture", row.posture, POSTURES)
          end
          unless TENSIONS.include?(row.tension.to_s)
            faults << unknown("tension", row.tension, TENSIONS)
          end
          faults
        end

        def unknown(what, word, known)
          Wording.t(
            "files.not_known_use_leave",
            what: what,
            word: word,
            words: known.drop(1).join(", ")
          )
        end

        def length(table, line, column, text, unit)
          Quantity::Length.of_cell(text, unit: unit).mm
        rescue Quantity::Length::Unreadable => e
          table.fault(line, "#{column}: #{e.message}")
        end

        # "" means any, as nil
        def word(text) = text.empty? ? nil : text.downcase

        def typed_unit(text) = Quantity::Length.unit(text[/[a-z"'.]+\z/i].to_s) || "cm"
      end
    end
  end
end
