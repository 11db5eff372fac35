# frozen_string_literal: true

# Every line of the gates, each with a case that goes red when the line is taken out.
RSpec.describe Handrail::Fitting::Gates do
  fitting = Handrail::Fitting

  # A visit as the gates ask for it: whole and faultless, but for what a case says.
  visit_class =
    Struct.new(
      :sides,
      :recheck,
      :closed,
      :identity,
      :cautions,
      :stops,
      :unread,
      :doubts,
      :choices,
      :outdated,
      :devices,
      :misfits,
      :applyings,
      :lists,
      :taught,
      :fitted,
      :tasks,
      :handed,
      :asks_open,
      :sent_away,
      :passed,
      :chosen_here,
      :held_firm,
      :slips_out,
      :overset_rows,
      :awaiting,
      :skin_waiting,
      :ended,
      :identity_gone,
      :issued_here,
      :hand_over_here_row,
      keyword_init: true
    ) do
      # every part of it is itself
      %i[safety sizing fit body wear].each { |part| define_method(part) { self } }

      def recheck? = recheck
      def ended? = ended
      def identity_gone? = identity_gone
      def issued_here?(side) = issued_here.to_a.include?(side)
      def hand_over_here = hand_over_here_row
      def closed? = closed
      def identity? = identity
      def cautions_asked? = cautions
      def choice(side) = choices[side]
      def size_outdated?(side) = outdated.include?(side)
      def device(side) = devices[side]
      def awaited(_side) = awaiting
      def overset(side) = overset_rows.to_h.fetch(side, [])
      def device_fits?(side) = !misfits.include?(side)
      def applying(side) = applyings[side]
      def checklist(side) = lists[side]
      def teach_back(side) = taught[side]
      def fitted_at(side) = fitted[side]
      def handed_over? = handed
      def sent_away_with(_side) = sent_away
      def chosen_here?(side) = chosen_here.include?(side)
    end

  let(:check) { family.check("slip") }
  let(:steps) { [family.step("strap_calf"), family.step("strap_thigh")] }
  # a site of the plan that is still to be read, and a reading in question
  let(:item) { Struct.new(:side, :site).new("left", Struct.new(:key).new("calf_widest")) }
  let(:doubt) { { side: "left", site: "calf_widest", version: 4 } }
  let(:question) { Struct.new(:key, :label).new("skin", "Skin") }

  def list(outcome = "good", seq: 20, changes: [])
    results = outcome ? [Handrail::Fitting::Result[check: "slip", outcome: outcome, seq: seq]] : []
    Handrail::Fitting::Checklist.new([[check, ""]], results: results, changes: changes)
  end

  def change(seq) = Handrail::Fitting::Change[opens: ["slip"], seq: seq, title: "something"]
  def applying(done = %w[strap_calf strap_thigh]) =
    Handrail::Fitting::Applying.new(steps, done: done)

  def shown(seq: 30, unaided: true, mistakes: [], tasks: ["on"])
    Handrail::Fitting::TeachBack[
      who: "wearer",
      unaided: unaided,
      shown: tasks,
      mistakes: mistakes,
      seq: seq
    ]
  end

  def stop(key = "chest", standing: false)
    Handrail::Fitting::Stop[
      key: key,
      text: "Chest pain",
      urgency: :emergency,
      seq: [1, 3],
      standing: standing
    ]
  end

  define_method(:visit) do |**facts|
    visit_class.new(
      sides: ["left"],
      recheck: false,
      closed: false,
      identity: true,
      cautions: true,
      stops: [],
      unread: [],
      doubts: [],
      choices: {
        "left" => {
        }
      },
      outdated: [],
      devices: {
        "left" => {
        }
      },
      misfits: [],
      applyings: {
        "left" => applying
      },
      lists: {
        "left" => list
      },
      taught: {
        "left" => shown
      },
      fitted: {
        "left" => 25
      },
      tasks: [Handrail::Families::Prompt[key: "on", text: "on"]],
      handed: false,
      asks_open: [],
      sent_away: [],
      passed: [],
      chosen_here: ["left"],
      held_firm: [],
      slips_out: [],
      skin_waiting: [],
      **facts
    )
  end

  def codes(stage, **facts) = described_class.new(visit(**facts)).blocks(stage).map(&:code)

  it "lets a whole and faultless fitting be handed over" do
    expect(codes(:hand_over)).to be_empty
    expect(described_class.new(visit).present).to eq :hand_over
  end

  it "asks nothing before the order" do
    expect(codes(:order, stops: [stop], identity: false)).to be_empty
  end

  it "holds what is written of skin, words and photos back for the name alone" do
    expect(codes(:body, stops: [stop], cautions: false)).to be_empty
    expect(codes(:body, identity: false)).to eq [:identity_open]
  end

  # stage => the stages that it must hold back
  later = %i[measure size fit teach hand_over]
  {
    "an open stop" => [{ stops: [:stop] }, :stop, later],
    "a limit that is passed" => [{ stops: [:limit] }, :limit_passed, later],
    "identity that was not confirmed" => [{ identity: false }, :identity_open, later],
    "cautions that were not asked" => [{ cautions: false }, :cautions_open, later],
    "a site that was not read" => [{ unread: [:item] }, :unread, later.drop(1)],
    "a question about a reading" => [{ doubts: [:doubt] }, :doubt, later.drop(1)],
    "no size" => [{ choices: {} }, :no_size, later.drop(2)],
    "readings that say another size by now" => [
      { outdated: ["left"] },
      :size_outdated,
      later.drop(2)
    ],
    "no device" => [{ devices: {} }, :no_device, later.drop(2)],
    "a device on its way" => [
      { devices: {}, awaiting: { version: 9, doer: "maker", due_on: "12 Dec" } },
      :piece_awaited,
      later.drop(2)
    ],
    "the device of another size" => [{ misfits: ["left"] }, :other_device, later.drop(2)],
    "a failed check" => [{ lists: { "left" => :failed } }, :check_failed, later.drop(3)],
    "a check that something changed" => [
      { lists: { "left" => :changed } },
      :check_changed,
      later.drop(4)
    ],
    "a check that was never made" => [{ lists: { "left" => :unmade } }, :check_open, later.drop(4)],
    "a check that is not possible today" => [
      { lists: { "left" => :not_today } },
      :check_not_possible,
      later.drop(4)
    ],
    "work that is away" => [{ slips_out: [:slip] }, :slip_out, later.drop(3)],
    "a setting past what was ordered" => [
      { overset_rows: { "left" => :past } },
      :set_too_far,
      later.drop(3)
    ],
    "a step that was not done" => [{ applyings: { "left" => :begun } }, :step_open, later.drop(4)],
    "no teach-back" => [{ taught: {} }, :teach_back_open, later.drop(4)],
    "a teach-back with help" => [
      { taught: { "left" => :helped } },
      :teach_back_poor,
      later.drop(4)
    ],
    "a teach-back before the last change" => [
      { fitted: { "left" => 31 } },
      :teach_back_old,
      later.drop(4)
    ]
  }.each do |what, (facts, code, held)|
    it "holds back #{held.join(", ")} for #{what}, and nothing before" do
      made = {
        stop: stop,
        limit: stop("limit:weight", standing: true),
        item: item,
        doubt: doubt,
        failed: list("bad"),
        changed: list(changes: [change(21)]),
        unmade: list(nil),
        not_today: list("not_possible"),
        slip: {
          id: 7,
          what: "rivet hole",
          doer: "workshop",
          due_on: Date.new(2026, 12, 3)
        },
        past: [
          Handrail::Fitting::SettingBounds::Passed[
            field: Handrail::Families::Field[key: "range", label: "Range", type: "number"],
            text: "20",
            label: "Range allowed now",
            bound: 10,
            by: "range"
          ]
        ],
        begun: applying(%w[strap_calf]),
        helped: shown(unaided: false)
      }
      named =
        facts.transform_values do |value|
          case value
          when Array
            value.map { |one| made.fetch(one, one) }
          when Hash
            value.transform_values { |one| made.fetch(one, one) }
          else
            value
          end
        end
      later.each do |stage|
        expect(codes(stage, **named).include?(code)).to eq(held.include?(stage)),
        "#{stage} and #{code}"
      end
    end
  end

  it "counts a teach-back with a mistake or a task not seen as poor" do
    expect(codes(:hand_over, taught: { "left" => shown(mistakes: ["too_low"]) })).to eq [
         :teach_back_poor
       ]
    expect(codes(:hand_over, taught: { "left" => shown(tasks: []) })).to eq [:teach_back_poor]
  end

  it "looks at each of two devices on its own" do
    both = {
      sides: %w[left right],
      choices: {
        "left" => {
        },
        "right" => {
        }
      },
      devices: {
        "left" => {
        },
        "right" => {
        }
      },
      applyings: {
        "left" => applying,
        "right" => applying
      },
      lists: {
        "left" => list,
        "right" => list("bad")
      },
      taught: {
        "left" => shown,
        "right" => shown
      },
      fitted: {
        "left" => 25,
        "right" => 25
      }
    }
    blocks = described_class.new(visit(**both)).blocks(:hand_over)
    expect(blocks.map { |block| [block.code, block.side] }).to eq [[:check_failed, "right"]]
  end

  it "hands over once" do
    expect(codes(:hand_over, handed: true)).to eq [:handed_over_already]
    expect(codes(:recheck, handed: false)).to eq [:not_handed_over]
    expect(codes(:recheck, handed: true)).to be_empty
  end

  describe "closing a recheck" do
    def close(**facts) = codes(:close, recheck: true, handed: true, chosen_here: [], **facts)

    it "is free when everything was asked, read and looked at" do
      expect(close).to be_empty
      expect(close(closed: true)).to eq [:closed]
    end

    it "is held by a stop, cautions, readings, questions, checks, and the size chosen anew" do
      expect(close(stops: [stop])).to eq [:stop]
      expect(close(cautions: false)).to eq [:cautions_open]
      expect(close(unread: [item])).to eq [:unread]
      expect(close(doubts: [doubt])).to eq [:doubt]
      expect(close(asks_open: [[question, nil]])).to eq [:ask_open]
      expect(close(lists: { "left" => list("bad") })).to eq [:check_failed]
      expect(close(lists: { "left" => list(nil) })).to eq [:check_open]
      expect(
        codes(:close, recheck: true, handed: true, chosen_here: ["left"], devices: {})
      ).to eq %i[no_device signature_open]
    end

    it "asks for no device of a size that was chosen before" do
      expect(close(devices: {})).to be_empty
    end

    it "lets those go without checks who are sent back to the prescriber, never those with a stop" do
      expect(close(lists: { "left" => list("bad") }, sent_away: %w[slip])).to be_empty
      expect(close(stops: [stop], sent_away: %w[slip])).to eq [:stop]
      expect(close(asks_open: [[question, nil]], sent_away: %w[slip])).to eq [:ask_open]
    end
  end

  it "holds the closing of a recheck while a place on the skin was not looked at again, unless a word names it" do
    row = { id: 5, kind: "mark_fades", side: "left", visit_id: 1, version: 9, course: nil }
    place = Handrail::Visit::BodyWork::Place[rows: [row]]
    at_recheck = { recheck: true, handed: true, chosen_here: [] }
    expect(codes(:close, **at_recheck)).to eq []
    expect(codes(:close, **at_recheck, skin_waiting: [place])).to eq [:skin_unseen]
    block = described_class.new(visit(**at_recheck, skin_waiting: [place])).blocks(:close).first
    expect(block.passable?).to be true
    expect(codes(:close, **at_recheck, skin_waiting: [place], passed: [block.name])).to eq []
  end

  describe "a senior's word" do
    def names(**facts) = described_class.new(visit(**facts)).passable.map(&:name)

    it "lets pass exactly what it names, as it stood" do
      failed = { lists: { "left" => list("bad", seq: 20) } }
      word = names(**failed)
      expect(codes(:hand_over, **failed, passed: word)).to be_empty
      expect(codes(:hand_over, lists: { "left" => list("bad", seq: 40) }, passed: word)).to eq [
           :check_failed
         ]
      expect(codes(:hand_over, **failed, taught: {}, passed: word)).to eq [:teach_back_open]
    end

    it "covers no later change: what rested on less blocks again" do
      open = {
        lists: {
          "left" => list(nil)
        },
        applyings: {
          "left" => applying(%w[strap_calf])
        },
        taught: {
        }
      }
      word = names(**open)
      expect(codes(:hand_over, **open, passed: word)).to be_empty
      expect(codes(:hand_over, **open, passed: word, fitted: { "left" => 50 })).to eq %i[
           step_open
           check_open
           teach_back_open
         ]
      changed = { lists: { "left" => list(changes: [change(21)]) } }
      later = { lists: { "left" => list(changes: [change(21), change(60)]) } }
      expect(codes(:hand_over, **later, passed: names(**changed))).to eq [:check_changed]
      poor = { taught: { "left" => shown(unaided: false, seq: 30) } }
      worse = { taught: { "left" => shown(unaided: false, seq: 33) } }
      expect(codes(:hand_over, **worse, passed: names(**poor))).to eq [:teach_back_poor]
      old = { fitted: { "left" => 31 } }
      expect(codes(:hand_over, fitted: { "left" => 35 }, passed: names(**old))).to eq [
           :teach_back_old
         ]
    end

    it "passes nothing of a stage that the clinic holds firm" do
      failed = { lists: { "left" => list("bad") } }
      gates = described_class.new(visit(**failed, held_firm: [:fit]))
      expect([gates.passable, gates.firm.map(&:code)]).to eq [[], [:check_failed]]
      expect(described_class.new(visit(**failed, held_firm: [:teach])).passable.map(&:code)).to eq [
           :check_failed
         ]
    end

    it "is for one side and one place" do
      expect(names(lists: { "left" => list("bad") }).first).to eq(
        "code" => "check_failed",
        "side" => "left",
        "place" => "",
        "subject" => "slip",
        "rests_on" => [20]
      )
    end

    it "never passes a stop, cautions, readings, a size or a device" do
      firm = {
        stop: {
          stops: [stop]
        },
        cautions_open: {
          cautions: false
        },
        unread: {
          unread: [item]
        },
        doubt: {
          doubts: [doubt]
        },
        no_size: {
          choices: {
          }
        },
        no_device: {
          devices: {
          }
        },
        size_outdated: {
          outdated: ["left"]
        },
        other_device: {
          misfits: ["left"]
        }
      }
      firm.each do |code, facts|
        gates = described_class.new(visit(**facts, lists: { "left" => list("bad") }))
        expect([gates.passable, gates.firm.map(&:code)]).to eq [[], [code]]
        named =
          visit(
            **facts,
            passed: [gates.blocks(:hand_over).find { |block| block.code == code }.name]
          )
        expect(described_class.new(named).blocks(:hand_over).map(&:code)).to include code
      end
    end

    it "serves a recheck alike, for checks and questions" do
      facts = {
        recheck: true,
        handed: true,
        chosen_here: [],
        lists: {
          "left" => list("bad")
        },
        asks_open: [[question, nil]]
      }
      expect(names(**facts).map { |name| name["code"] }).to eq %w[ask_open check_failed]
      expect(codes(:close, **facts, passed: names(**facts))).to be_empty
    end
  end

  describe "where the work stands" do
    {
      measure: {
        unread: [:item]
      },
      size: {
        choices: {
        }
      },
      fit: {
        lists: {
          "left" => :unmade
        }
      },
      teach: {
        taught: {
        }
      },
      hand_over: {
      },
      recheck: {
        handed: true
      },
      order: {
        identity: false
      }
    }.each do |stage, facts|
      it "is #{stage}" do
        made =
          facts.transform_values do |value|
            next [item] if value == [:item]

            value == { "left" => :unmade } ? { "left" => list(nil) } : value
          end
        expect(described_class.new(visit(**made)).present).to eq stage
      end
    end

    it "is the recheck at a recheck, whatever was done" do
      gates = described_class.new(visit(recheck: true, handed: true, cautions: false))
      expect(gates.present).to eq :recheck
      expect(fitting::STAGES.select { |stage| gates.done?(stage) }).to eq %i[
           size
           fit
           teach
           hand_over
         ]
      expect(
        described_class.new(visit(recheck: true, handed: true, closed: true)).done?(:recheck)
      ).to be true
      expect(described_class.new(visit(recheck: true, handed: true)).done?(:measure)).to be true
    end

    it "is done for good once it was handed over" do
      gates = described_class.new(visit(handed: true, choices: {}))
      expect(
        %i[order measure size fit teach hand_over].map { |stage| gates.done?(stage) }
      ).to all be true
      expect(gates.done?(:recheck)).to be false
    end
  end
end
