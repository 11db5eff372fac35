# frozen_string_literal: true

# bin/handrail girths --from FILE.csv: makes knowledge/girths.yml and docs/consistency.md from people's girths.
# The file has a header and girths in cm. Where the published set comes from: docs/consistency.md.

require "csv"
require "optparse"
require "yaml"

module Handrail
  # What girths say about one another, made from a file.
  module Girths
    COLUMNS = {
      "waist_natural" => "waist",
      "hip_fullest" => "hip",
      "thigh_gluteal_fold" => "thigh_below_gluteal_fold",
      "knee_mid_patella" => "knee",
      "calf_widest" => "calf_largest",
      "ankle_narrowest" => "ankle_smallest",
      "chest_fullest" => "chest",
      "abdomen_at_stoma" => "abdomen_at_navel"
    }.freeze
    # sites near those of the data: the logarithm of their ratio and its standard deviation. Our estimate, no source.
    NEAR = {
      "calf_15_below_mid_patella" => ["calf_widest", 0.985, 0.03],
      "calf_20_below_mid_patella" => ["calf_widest", 0.90, 0.06],
      "calf_below_knee" => ["calf_widest", 0.93, 0.04],
      "thigh_mid" => ["thigh_gluteal_fold", 0.90, 0.05],
      "thigh_20_above_mid_patella" => ["thigh_gluteal_fold", 0.88, 0.06],
      "thigh_15_above_mid_patella" => ["thigh_gluteal_fold", 0.82, 0.06],
      "thigh_widest" => ["thigh_gluteal_fold", 1.01, 0.03],
      "thigh_top" => ["thigh_gluteal_fold", 1.02, 0.04],
      "hip_mid_crest_trochanter" => ["hip_fullest", 0.96, 0.04]
    }.freeze
    SOURCE =
      "Heinz G, Peterson LJ, Johnson RW, Kerk CJ, Exploring relationships in body dimensions, Journal of " \
        "Statistics Education 11(2), 2003: physically active adults, the data set `body` of the R package gclus " \
        "(every second row). Made by bin/handrail girths; where sites are near: our estimate, no source."

    def self.run(arguments)
      from = nil
      OptionParser
        .new("handrail girths --from FILE.csv") { |o| o.on("--from FILE") { |v| from = v } }
        .parse!(arguments)
      abort "Name the file: bin/handrail girths --from FILE.csv" unless from
      people =
        CSV
          .read(from, headers: true)
          .map { |row| COLUMNS.values.map { |name| Float(row.fetch(name)) } }
      near =
        NEAR.transform_values do |of, ratio, sd|
          { "of" => of, "log_ratio" => Math.log(ratio).round(4), "sd" => sd }
        end
      fit = Measuring::GirthFit.new(people, sites: COLUMNS.keys, near: near)
      numbers = fit.numbers
      File.write(Measuring::GirthModel::PATH, written(numbers))
      File.write(
        File.join(ROOT, "docs", "consistency.md"),
        page(fit.rates(numbers["thresholds"]), numbers)
      )
    rescue Errno::ENOENT, CSV::MalformedCSVError, KeyError, ArgumentError => e
      abort "#{from} can not be used: #{e.message}"
    end

    def self.written(numbers)
      kept = {
        "source" => SOURCE,
        **numbers,
        "thresholds" => numbers["thresholds"].transform_keys(&:to_s)
      }
      text = YAML.dump(kept, line_width: 100).delete_prefix("---\n")
      "# Made by bin/handrail girths --from FILE.csv; docs/consistency.md says how. Not edited by hand.\n#{text}"
    end

    def self.percent(share) = format("%.1f", share * 100)

    def self.page(rates, numbers)
      rows =
        rates.map do |rate|
          named = percent(rate.named.fdiv(rate.count)) unless rate.what == "honest"
          "| #{rate.what} | #{rate.count} | #{percent(rate.asked.fdiv(rate.count))} | " \
            "#{percent(rate.low)} to #{percent(rate.high)} | #{named} |"
        end
      turned = rates.select { |rate| rate.what.end_with?("turned") }
      all = turned.sum(&:count)
      format(
        File.read(File.join(__dir__, "consistency.md.txt")),
        people: numbers["people"],
        folds: Measuring::GirthFit::FOLDS,
        rows: rows.join("\n"),
        turned: percent(turned.sum(&:asked).fdiv(all)),
        named: percent(turned.sum(&:named).fdiv(all)),
        count: all,
        thresholds:
          numbers["thresholds"].map { |count, score| "#{count} sites #{score}" }.join(", ")
      )
    end
  end
end

Handrail::Girths.run(ARGV)
