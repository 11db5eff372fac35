# frozen_string_literal: true

# Times the two heavy jobs of sizing: bin/handrail benchmark [people]
#   one wearer against 20,000 sizes in 2,000 products, in the core;
#   what one reading says beside five others, in the core;
#   so many people (100,000 unless said) against one chart through `handrail match`, with the memory it took.

require "tempfile"
require_relative "../../lib/handrail"

module Handrail
  # Made-up charts and people from a fixed seed, so that two runs time the same work.
  module Benchmark
    SITES = %w[
      thigh_15_above_mid_patella
      knee_mid_patella
      calf_15_below_mid_patella
      calf_widest
      ankle_narrowest
    ].freeze
    MIDDLES = {
      "thigh_15_above_mid_patella" => 490,
      "knee_mid_patella" => 380,
      "calf_15_below_mid_patella" => 370,
      "calf_widest" => 380,
      "ankle_narrowest" => 230
    }.freeze

    class << self
      def run(people)
        @random = Random.new(20_261_124)
        puts "job                                                              median      slowest"
        finder
        together
        batch(people)
      end

      private

      # one more reading beside five: expected values and the question, none of it remembered from before
      def together
        sites = Measuring::GirthFit::SIX
        model = Measuring::GirthModel.default
        times =
          Array
            .new(2000) do
              figures =
                sites.to_h do |site|
                  cm =
                    (
                      Math.exp(model.mean[model.sites.index(site)]) * (0.9 + (@random.rand * 0.2)) /
                        10
                    ).round(1)
                  [
                    site,
                    [
                      Measuring::Consistency::Figure[
                        mm: Rational((cm * 10).to_s),
                        text: cm.to_s,
                        unit: "cm"
                      ]
                    ]
                  ]
                end
              clock do
                Measuring::Consistency
                  .new(figures)
                  .then { |judged| [judged.question, judged.expected(sites.last)] }
              end
            end
            .drop(100)
            .sort
        puts format(
               "%-58s %9.2f ms %9.2f ms",
               "one reading beside five others",
               times[times.size / 2],
               times.last
             )
      end

      # 2,000 charts of 10 sizes, one to three girths each
      def finder
        entries =
          Array.new(2000) do |i|
            [i, Sizing::Chart.build(rows), Sizing::TieRule.new(Sizing::TieRule::NAMES[i % 3])]
          end
        sizes = entries.sum { |_, chart, _| chart.names.size }
        made = clock { @made = Sizing::Finder.new(entries) }
        times = Array.new(15) { clock { @made.find(readings) } }.drop(2).sort
        puts format(
               "%-58s %9.1f ms %9.1f ms",
               "one wearer, #{sizes} sizes in #{entries.size} products",
               times[times.size / 2],
               times.last
             )
        puts format("%-58s %9.1f ms", "  laying the charts out, once for a catalogue", made)
      end

      def rows
        SITES
          .sample(1 + @random.rand(3), random: @random)
          .flat_map do |site|
            step = 8 + @random.rand(12)
            low = MIDDLES[site] - (5 * step) + @random.rand(30)
            Array.new(10) do |i|
              Sizing::Chart::Row[
                part: "",
                size: "S#{i}",
                site: site,
                min: Rational(low + (i * step)),
                max: Rational(low + (i * step) + step - 1),
                unit: "cm"
              ]
            end
          end
      end

      def readings
        MIDDLES.flat_map do |site, mm|
          Array.new(2) do
            Measuring::Reading[
              site: site,
              length: Quantity::Length.mm(mm + @random.rand(-30..30)),
              typed: "",
              struck: false
            ]
          end
        end
      end

      def batch(people)
        Tempfile.create(%w[chart .csv]) do |chart|
          Tempfile.create(%w[readings .csv]) do |file|
            chart.write(
              "part,size,site,min,max,unit,posture,tension\n",
              %w[S M L XL]
                .each_with_index
                .map do |s, i|
                  ",#{s},calf_15_below_mid_patella,#{30 + (i * 4)},#{33.9 + (i * 4)},cm,,\n"
                end
                .join
            )
            file.write("person,site,posture,tension,value,unit\n")
            people.times do |i|
              file.write(
                "p#{i},calf_15_below_mid_patella,sitting,snug,#{@random.rand(280..470) / 10.0},cm\n"
              )
            end
            [chart, file].each(&:flush)
            half = resident(["--chart", chart.path, "--readings", head(file, people / 2)])
            seconds, whole =
              resident(["--chart", chart.path, "--readings", file.path]).values_at(
                :seconds,
                :memory
              )
            puts format("%-58s %10.1f s", "#{people} people, one chart, as a command", seconds)
            puts format(
                   "%-58s %9d MB %9d MB",
                   "  memory at half and at all of them",
                   half[:memory],
                   whole
                 )
          end
        end
      end

      def head(file, lines)
        File
          .join(Dir.tmpdir, "handrail-half.csv")
          .tap { |path| File.write(path, File.foreach(file.path).first(lines + 1).join) }
      end

      # runs the command in a process of its own; seconds and peak memory in MB
      def resident(arguments)
        script =
          "require #{
            File.join(ROOT, "lib", "handrail").inspect
          }; status = Handrail::Exchange::MatchCommand.run(ARGV, out: File.open(File::NULL, 'w')); " \
            "warn File.read('/proc/self/status')[/VmHWM:\\s+(\\d+)/, 1]; exit status"
        memory = nil
        seconds =
          clock do
            memory =
              IO.popen(
                [Gem.ruby, "-e", script, "--", *arguments, { err: %i[child out] }],
                &:read
              ).to_i / 1024
          end / 1000
        { seconds: seconds, memory: memory }
      end

      def clock
        started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        yield
        (Process.clock_gettime(Process::CLOCK_MONOTONIC) - started) * 1000
      end
    end
  end
end

Handrail::Benchmark.run(Integer(ARGV.first || 100_000))
