# frozen_string_literal: true

require "open3"
require "tmpdir"
require_relative "../../bin/support/rehearsals"

# The contract of `bin/handrail rehearse`, as somebody else's script would call it, and the golden walks that are
# kept beside the families.
RSpec.describe Handrail::Exchange::RehearseCommand do
  def called(events, *arguments)
    Dir.mktmpdir do |folder|
      path = File.join(folder, "events.csv")
      File.binwrite(path, events.is_a?(String) ? events : events.map(&:to_csv).join)
      out = StringIO.new
      err = StringIO.new
      status = described_class.run([*arguments, "--events", path], out: out, err: err)
      [status, out.string, err.string]
    end
  end

  # what came of events, a row each; more - rows after an order and its cautions
  def played(family, more, begun: knee)
    status, out, err = called([%w[do key value], *begun, *more], "--family", family)
    expect([status, err]).to eq [0, ""]
    CSV.parse(out, headers: true).map(&:to_h).drop(begun.size)
  end

  def knee
    [
      %w[order side left],
      %w[order compartment medial],
      %w[order indication arthrosis],
      %w[caution identity yes]
    ]
  end

  def sized =
    [
      ["read", "left:calf_15_below_mid_patella", "15 1/2 in"],
      ["choose", "", "L"],
      %w[issue] + ["", "W-7"]
    ]

  describe "the golden walks" do
    folder = Handrail::GoldenWalk::FOLDER
    walks = Dir[File.join(folder, "*", "*.csv")].reject { |path| path.end_with?(".out.csv") }.sort

    def rows_of(path) = CSV.read(path.sub(/\.csv\z/, ".out.csv"), headers: true).map(&:to_h)

    it "are there for every family: plain, with two faults, with distress where it can be seen, with a stop" do
      there = walks.map { |path| path.split("/").last(2).join("/") }
      wanted =
        Handrail::Families::Registry.all.flat_map do |key, family|
          kinds = Handrail::GoldenWalk::KINDS
          kinds -= ["distress"] if family.all_checks.none?(&:distress)
          kinds.map { |kind| "#{key}/#{kind}.csv" }
        end
      expect(there).to match_array wanted
    end

    walks.each do |path|
      family, kind = path.split("/").last(2)
      it "#{family}, #{kind.delete_suffix(".csv")}: comes out as it was kept" do
        answers = Handrail::GoldenWalk.answers(family, path)
        expect(answers).to eq CSV.read(path.sub(/\.csv\z/, ".out.csv"))
      end
    end

    it "end as their kind asks" do
      walks.each do |path|
        rows = rows_of(path)
        case File.basename(path, ".csv")
        when "plain"
          expect(rows.map { |row| row["taken"] }.uniq).to eq(["yes"]), path
          expect(rows.count { |row| row["do"] == "hand_over" }).to eq 1
          expect(rows.last.values_at("do", "stage")).to eq %w[close closed]
        when "faults"
          changes = rows.select { |row| row["do"] == "change" }
          expect(changes.map { |row| row["taken"] }).to eq(%w[yes yes]), path
          expect(changes.map { |row| row["opened"].empty? }).to eq([false, false]), path
          expect(rows.last.values_at("do", "stage")).to eq %w[hand_over closed]
        when "distress"
          word, = rows.select { |row| row["do"] == "word" }
          expect(word["taken"]).to match(/\Aheld back: .*check_distress/), path
          held = rows.find { |row| row["stop"].to_s.include?("distress:") && row["do"] == "check" }
          expect(held["taken"]).to match(/\Aheld back: stop/), path
        else
          expect(rows.map { |row| row["taken"] }.grep(/\Aheld back: stop/).size).to be >= 1, path
          expect(rows.last.values_at("do", "stage")).to eq %w[hand_over closed]
        end
      end
    end
  end

  it "prints a row an event, with its columns, as CSV and as JSON" do
    status, out, = called([%w[do key value], *knee], "--family", "knee_unloader")
    expect([status, out.lines.first]).to eq [
         0,
         "n,do,key,stage,taken,next,blocked,stop,offered,opened\n"
       ]
    _, json, = called([%w[do key value], *knee], "--family", "knee_unloader", "--format", "json")
    expect(JSON.parse(json).last).to include(
      "n" => 4,
      "do" => "caution",
      "stage" => "measure",
      "taken" => "yes",
      "next" => "left:calf_15_below_mid_patella",
      "stop" => ""
    )
  end

  it "says what of an order is missing, and takes nothing before it is whole" do
    _, out, =
      called(
        [%w[do key value], %w[order side left], %w[caution chest no]],
        "--family",
        "knee_unloader"
      )
    rows = CSV.parse(out, headers: true)
    expect(rows[0]["blocked"]).to eq "order:compartment; order:indication"
    expect(rows[1]["taken"]).to include("needed before measuring")
  end

  it "reads inches, and asks about what no body gives until it is answered" do
    doubt = ["read", "left:calf_15_below_mid_patella", "3.6 in"]
    rows =
      played(
        "knee_unloader",
        [doubt, ["choose", "", "L"], %w[answer left:calf_15_below_mid_patella again], sized.first]
      )
    expect(rows.map { |row| row["next"] }).to eq %w[
         left:calf_15_below_mid_patella
         left:calf_15_below_mid_patella
         left:calf_15_below_mid_patella
         choose
       ]
    expect(rows[1]["taken"]).to match(/\Aheld back: .*doubt/)
  end

  it "follows the direction of a failure, and opens only what the remedy touches" do
    steps = rows_to_fit
    high = played("knee_unloader", [*sized, *steps, %w[check hinge_height no:too_low]]).last
    expect(high["taken"]).to include("write what you measured")
    low = played("knee_unloader", [*sized, *steps, ["check", "hinge_height", "12 mm:too_low"]]).last
    expect(low["offered"]).to start_with("seat_higher")
    changed =
      played(
        "knee_unloader",
        [
          *sized,
          *steps,
          ["check", "hinge_height", "12 mm:too_low"],
          %w[change seat_higher] + ["8 mm"]
        ]
      ).last
    expect(changed.values_at("taken", "opened")).to eq %w[yes hinge_height]
  end

  it "takes an index that nobody speaks of as not known and agreed to, and holds it back where nobody agreed" do
    begun = [
      %w[order side left],
      %w[order indication oedema],
      %w[order class ral2],
      %w[order length knee]
    ]
    site = ["read", "left:calf_widest", "36 cm"]
    on = played("graduated_stocking", [%w[caution diabetes no], site], begun: begun)
    expect(on.map { |row| row["taken"] }).to eq %w[yes yes]
    nobody =
      played(
        "graduated_stocking",
        [["caution", "agreed_by", ""], %w[caution diabetes no], site],
        begun: begun
      )
    expect(nobody.last["taken"]).to include("who agreed")
    low = [%w[caution arm_left 140], %w[caution ankle_left_front 60]]
    expect(played("graduated_stocking", low, begun: begun).last["stop"]).to start_with("index:")
  end

  it "begins before the first recheck that is named, whatever the year, and takes none before the last entry" do
    plain = CSV.read(File.join(Handrail::GoldenWalk::FOLDER, "ankle_sleeve", "plain.csv")).drop(1)
    early = plain.map { |row| row.first == "recheck" ? ["recheck", "", "3 Mar 2019"] : row }
    rows = played("ankle_sleeve", early, begun: [])
    expect(rows.map { |row| row["taken"] }.uniq).to eq ["yes"]
    again = played("ankle_sleeve", [*early, ["recheck", "", "1 Mar 2019"]], begun: [])
    expect(again.last["taken"]).not_to eq "yes"
  end

  it "goes on after what was refused: a level, a pressure that can not be read" do
    begun = [
      %w[order side left],
      %w[order indication oedema],
      %w[order class ral2],
      %w[order length knee]
    ]
    asked = [
      %w[caution arm_left high],
      %w[caution diabetes no],
      ["read", "left:calf_widest", "36 cm"]
    ]
    bad, *good = played("graduated_stocking", asked, begun: begun).map { |row| row["taken"] }
    expect([bad == "yes", good]).to eq [false, %w[yes yes]]
    fresh =
      played(
        "knee_unloader",
        [%w[caution identity no], %w[caution diabetes no], sized.first],
        begun: knee.first(3)
      )
    expect(fresh.map { |row| row["taken"] }).not_to include("yes")
    plain = CSV.read(File.join(Handrail::GoldenWalk::FOLDER, "ankle_sleeve", "plain.csv")).drop(1)
    at = plain.index { |name, *| name == "teach" }
    rows = played("ankle_sleeve", plain.dup.insert(at, [*plain[at].first(2), "perhaps"]), begun: [])
    expect(rows.map { |row| row["taken"] }.tally["yes"]).to eq plain.size
  end

  it "offers no remedy that is at its limit" do
    begun = knee.insert(3, %w[order type dial])
    ask = [
      *sized,
      %w[set dial middle],
      %w[problem no_relief] + [""],
      %w[set dial high],
      %w[problem no_relief] + [""]
    ]
    middle, high =
      played("knee_unloader", ask, begun: begun).select { |row| row["do"] == "problem" }
    expect(middle["offered"].split("; ")).to include("dial_up")
    expect(high["offered"].split("; ")).not_to include("dial_up")
  end

  # the steps of a plain walk
  def rows_to_fit =
    CSV
      .read(File.join(Handrail::GoldenWalk::FOLDER, "knee_unloader", "plain.csv"))
      .select { |row| row.first == "step" }

  it "does nothing that can not be undone without its being asked once more" do
    cut = rows_to_fit.map { |row| row[1] == "trim_ends" ? ["step", "trim_ends", ""] : row }
    row = played("knee_unloader", [*sized, *cut]).find { |one| one["key"] == "trim_ends" }
    expect(row["taken"]).to include("can not be undone")
  end

  it "lets a senior's word pass the one block that it names" do
    steps = rows_to_fit
    bad = %w[check hinge_depth no:too_far_forward]
    bad = ["check", "hinge_depth", "no:#{ways("hinge_depth").first}"] if ways("hinge_depth").any?
    rows =
      played(
        "knee_unloader",
        [*sized, *steps, bad, ["word", "check_failed:hinge_depth", "seen by the prescriber"]]
      )
    expect(rows.last["taken"]).to eq "yes"
    expect(rows.last["blocked"]).not_to include("check_failed:hinge_depth")
    expect(rows.last["blocked"]).to include("check_open:hinge_height")
  end

  def ways(check) =
    Handrail::Families::Registry.all["knee_unloader"].check(check).ways.to_a.map(&:key)

  it "takes a family from a file, and a clinic's own chart" do
    path = File.join(Handrail::Families::Registry::FOLDER, "knee_unloader.yml")
    status, out, = called([%w[do key value], *knee], "--file", path)
    expect([status, CSV.parse(out).size]).to eq [0, 5]
    chart = File.join(Handrail::ROOT, "demo", "charts", "wrenfell-hinged-unloader.csv")
    status, =
      called([%w[do key value], *knee, *sized], "--family", "knee_unloader", "--chart", chart)
    expect(status).to eq 0
  end

  {
    "does “dance”" => [%w[do key value], %w[dance a b]],
    "rehearse --family" => [%w[do key value]],
    "unknown column" => [%w[do key value more], %w[order side left x]],
    "has 2 fields" => [%w[do key value], %w[order side]]
  }.each do |words, rows|
    it "refuses a file that #{words[0, 20]}: file, line and mend, status 2" do
      arguments = words.start_with?("rehearse") ? [] : %w[--family knee_unloader]
      status, out, err = called(rows, *arguments)
      expect([status, out]).to eq [2, ""]
      expect(err).to include(words.split.first)
    end
  end

  it "names an unknown family's neighbours, and a file that is no family" do
    expect(called([%w[do key value], *knee], "--family", "elbow")[2]).to include("knee_unloader")
    Dir.mktmpdir do |folder|
      path = File.join(folder, "f.yml")
      File.write(path, "- 1\n")
      status, _, err = called([%w[do key value], *knee], "--file", path)
      expect([status, err]).to match [2, /f\.yml, line 1/]
    end
  end

  it "needs no database: none is named, none is reached, nothing of the web is loaded" do
    script = <<~RUBY
      require "handrail"
      status = Handrail::Exchange::RehearseCommand.run(ARGV)
      abort("connected") if Handrail::Store.instance_variable_get(:@db)
      abort("web") if Handrail.const_defined?(:Web) && !Handrail.autoload?(:Web)
      exit status
    RUBY
    events = File.join(Handrail::GoldenWalk::FOLDER, "kafo", "plain.csv")
    out, err, status =
      Open3.capture3(
        { "DATABASE_URL" => nil },
        "bundle",
        "exec",
        "ruby",
        "-I#{File.join(Handrail::ROOT, "lib")}",
        "-e",
        script,
        "--",
        "--family",
        "kafo",
        "--events",
        events
      )
    expect([status.success?, err]).to eq [true, ""]
    expect(out.lines.last).to include("close,\"\",closed,yes")
  end
end
