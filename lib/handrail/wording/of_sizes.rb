# frozen_string_literal: true

module Handrail
  module Wording
    # What is said of sizes: why this one, what a computed sheet comes to, what a chart's rows are
    # wrong about. Part of Wording.
    module OfSizes
      # A Sizing::Remark, or what is kept of one: { "code" => ..., "figures" => { ... } }.
      def remark(remark)
        code, figures = remark.to_h.transform_keys(&:to_sym).values_at(:code, :figures)
        figures = figures.to_h.transform_keys(&:to_sym)
        said = t("sizing.#{code}", **said_figures(figures))
        figures[:part] ? "#{figures[:part]}: #{said}" : capital(said)
      end

      # Several of them, as one text.
      def remarks(remarks) = remarks.map { |one| remark(one) }.join(" ")

      # On what grounds a size is advised, as it is kept with the choice. advice - a Sizing::Advice
      def grounds(advice)
        advice
          .grounds
          .map do |one|
            next remark(one) unless one.respond_to?(:about)

            "#{sheet_label(one)} #{sheet_value(one)}."
          end
          .join(" ")
      end

      # [what it is called, what it comes to, where that comes from]. line - a Sizing::SheetLine
      def sheet_line(line) = [sheet_label(line), sheet_value(line), sheet_how(line)]

      def sheet_label(line) = t("sizing.#{line.about.code}.label", **sheet_figures(line))
      def sheet_how(line) = t("sizing.#{line.about.code}.how", **sheet_figures(line))

      def sheet_value(line)
        return line.value unless line.value.is_a?(Symbol)

        t("sizing.values.#{line.value}", **sheet_figures(line))
      end

      # How a chart chooses between sizes. rule - a Sizing::TieRule
      def tie_rule(rule) = t("sizing.rules.#{rule.name}", site: site_name(rule.primary))

      # What is wrong with a row of a chart. found - a Sizing::ChartCheck::Finding; lines - the
      # file's line of each row, where the reader looks at a file
      def chart_fault(found, lines = nil)
        figures = found.figures
        part = figures[:part].empty? ? "" : "#{figures[:part]}, "
        t(
          "charts.#{found.kind}.fault",
          **figures,
          row: "#{part}#{t("charts.row", size: figures[:size], site: site_name(figures[:site]))}",
          first: found.first && first_row(found.first, lines),
          slip: figures[:slip] && t("charts.slips.#{figures[:slip]}"),
          **ways(figures[:ways])
        )
      end

      # The fault with its mend.
      def chart_finding(found, lines = nil)
        "#{chart_fault(found, lines)} #{t("charts.#{found.kind}.mend", **found.figures)}"
      end

      # The pressure index of a leg. found - a Compression::AnkleBrachial::Finding
      def ankle_index(found)
        known = found.index ? "known" : "unknown"
        index = found.index && Kernel.format("%.2f", found.index)
        lead = t("ankle_index.leads.#{known}", side: found.side.capitalize, index: index)
        "#{lead}: #{t("ankle_index.#{found.code}")}"
      end

      # What repeats of a site want, or nil. repeats - Measuring::Repeats
      def wish(repeats)
        t("repeats.#{repeats.wish}", by: plain(repeats.spread.round(1))) if repeats.wish
      end

      # "a, b or c"
      def listed(names, last = t("sizing.or"))
        names.size < 2 ? names.first.to_s : "#{names[0..-2].join(", ")} #{last} #{names.last}"
      end

      private

      def sheet_figures(line) = said_figures(line.about.figures)
      def site_name(key) = key && Sizing.site_name(key)
      def capital(text) = "#{text[0].upcase}#{text[1..]}"

      def first_row(index, lines)
        lines ? t("charts.line", number: lines[index]) : t("charts.place", number: index + 1)
      end

      def ways(pairs)
        return {} unless pairs

        said = pairs.map { |pair| way_read(*pair, "charts") }
        { here: said.first, there: said.last }
      end

      def way_read(posture, tension, scope)
        [posture || t("#{scope}.any_posture"), tension || t("#{scope}.any_tension")].join(", ")
      end

      # figures of a remark as they stand in its words
      def said_figures(figures)
        said = figures.to_h { |name, value| [name, said_figure(name, value)] }
        said[:lie] = t("sizing.lie.#{lie(figures)}") if figures[:readings]
        said[:edge] = edge_said(figures) if figures.key?(:inside)
        said
      end

      def lie(figures)
        return figures[:readings].size == 1 ? "one" : "many" unless figures[:bands]

        figures[:readings].size == 1 ? "one" : "all"
      end

      def edge_said(figures)
        inside = figures[:inside] ? "inside" : "outside"
        t("sizing.edges.#{inside}_#{figures[:upper] ? "upper" : "lower"}")
      end

      # how figures of a name are said; others are printed as they are
      SAID = {
        readings: :reading_list,
        homeless: :homeless_list,
        says: :votes,
        sizes: :listed,
        among: :all_of,
        stock: :all_of,
        bands: :joined,
        site: :site_name,
        sites: :site_names,
        there: :ways_there,
        probability: :chance
      }.freeze
      private_constant :SAID

      def said_figure(name, value)
        return send(SAID[name], value) if SAID.key?(name)

        value.is_a?(Float) ? Kernel.format("%g", value) : value
      end

      def all_of(names) = listed(names, t("sizing.and"))
      def joined(texts) = texts.join("; ")
      def site_names(keys) = all_of(keys.map { |key| site_name(key) })
      def ways_there(pairs) = all_of(pairs.map { |pair| way_read(*pair, "sizing") })

      def homeless_list(pairs)
        all_of(pairs.map { |pair| t("sizing.homeless", reading: reading_list([pair])) })
      end

      def reading_list(pairs) = pairs.map { |site, text| "#{site_name(site)} #{text}" }.join(", ")

      def votes(says)
        says
          .map do |site, text, names|
            t("sizing.says", reading: reading_list([[site, text]]), sizes: listed(names))
          end
          .join(", ")
      end

      def chance(probability)
        return t("sizing.chance.most") if probability > 0.995

        hundredths = (probability * 100).round
        hundredths < 1 ? t("sizing.chance.least") : t("sizing.chance.of", count: hundredths)
      end
    end
  end
end
