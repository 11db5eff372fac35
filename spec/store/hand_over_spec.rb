# frozen_string_literal: true

require "store_helper"

# How a teach-back went task by task, what is confirmed at the hand-over, and papers that are kept.
RSpec.describe "Teaching and handing over", :rolled_back do
  store = Handrail::Store

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:visit) { fitted_visit(clinic, fitter) }

  def levels(**changes)
    record(visit).tasks.to_h { |task| [task.key, "unaided"] }.merge(changes.transform_keys(&:to_s))
  end

  def show(levels, **more) =
    run(visit, fitter, :RecordTeachBack, who: "Wilma", levels: levels, **more)
  def blocks = record(visit).gates.blocks(:hand_over)

  describe "a teach-back" do
    it "passes when every task went unaided, and keeps how often it was tried" do
      show(levels, tries: "3")
      expect(record(visit).fit.teach_back.tries).to eq 3
      expect(blocks).to eq []
    end

    %w[word hands not].each do |level|
      it "does not pass while one task went #{level}, and the gate names that task" do
        show(levels(calf_first: level))
        expect(blocks.map(&:code)).to eq [:teach_back_poor]
        expect(Handrail::Wording.block(blocks.first, record(visit))).to include(
          "Still open: “Closes the calf strap first”."
        )
      end
    end

    it "counts a task that nobody said anything of as open" do
      show(levels.except("takes_off"))
      expect(record(visit).fit.teach_back.open_tasks(record(visit).tasks).map(&:key)).to eq [
           "takes_off"
         ]
    end

    it "does not pass with a mistake left, and says so" do
      show(levels, mistakes: ["too_low"])
      expect(
        Handrail::Wording.block(blocks.first, record(visit))
      ).to include "One mistake was left."
    end

    it "refuses a level or a count that is none" do
      expect { show(levels(calf_first: "well")) }.to raise_error(store::Unacceptable, /how it went/)
      %w[0 many 100].each do |tries|
        expect { show(levels, tries: tries) }.to raise_error(store::Unacceptable, /whole number/)
      end
    end
  end

  describe "a hand-over" do
    before { teach(visit, fitter) }

    statements = { "0" => "I have received it.", "1" => "It was shown to me." }

    define_method(:give) do |**more|
      hand_over(visit, fitter, {}, statements: statements, **more)
      record(visit).hand_over
    end

    it "keeps what was delivered, and every statement with its initials" do
      row = give(initials: { "0" => "WQ", "1" => "WQ" }, spares: "two liners")
      expect(row.slice(:spares, :signed_how)).to eq(spares: "two liners", signed_how: "drawn")
      expect(row[:statements]).to eq [["I have received it.", "WQ"], ["It was shown to me.", "WQ"]]
    end

    it "wants all initials once there is one, names the statement, and hands nothing over" do
      expect { give(initials: { "0" => "WQ" }) }.to raise_error(
        store::Unacceptable,
        /It was shown to me/
      )
      expect(record(visit).handed_over?).to be false
    end

    it "takes a signature on paper: no strokes are kept, no initials asked" do
      row = give(on_paper: "yes", initials: { "0" => "WQ" })
      expect(row.slice(:signed_how, :signature)).to eq(signed_how: "paper", signature: nil)
      expect(give_again).to eq "handed_over_already"
    end

    define_method(:give_again) do
      give
    rescue store::Refused => e
      e.blocks.first.code.to_s
    rescue store::Closed
      "handed_over_already"
    end

    it "keeps the plan as it was left or changed, and refuses one that makes no sense" do
      plan = { "start" => "2", "add" => "1", "every" => "2", "most" => "6" }
      expect { give(plan: plan.merge("most" => "1")) }.to raise_error(
        store::Unacceptable,
        /less than the beginning/
      )
      expect(give(plan: plan)[:plan]).to eq plan
    end

    it "needs no plan, and says by name where nothing was drawn" do
      row = give(signature: nil)
      expect(row.slice(:plan, :signed_how)).to eq(plan: nil, signed_how: "name")
    end
  end

  it "confirms what the clinic asks for, and what the records say of a like device" do
    clinic.update(
      choices: store.json("statements" => "Bring it along.\nKeep the box.", "like_years" => "3")
    )
    codes = store::Statements.of(record(visit)).map(&:first)
    expect(codes).to eq %w[received taught own own like_none]
    earlier = handed_over_visit(clinic, fitter)
    again = make_visit(clinic, fitter, patient: earlier.fitting.patient)
    found = store::Statements.of(record(again)).last
    expect([found.first, *found.last.values_at(:on, :side)]).to eq [
         "like_there",
         clinic.today,
         "left"
       ]
    # as the wearer reads it
    day = clinic.today
    said = Handrail::Web::Visits::SheetPage.new(record(again), language: "es").statements.last
    expect(said).to match(/uno entregado el #{day.day} .* #{day.year}, izquierda\.\z/)
  end

  describe "a paper" do
    let(:paper) { Handrail::Exchange::Paper::Made[bytes: "%PDF one", pages: 2] }

    def keep(paper)
      command = Handrail::Store::Commands::KeepPaper.new({ "kind" => "record" }, paper: paper)
      Handrail::Store::Ledger.new(visit, fitter).run(command)
    end

    it "is kept once by its digest, also after the visit is closed" do
      teach(visit, fitter)
      hand_over(visit, fitter)
      2.times { keep(paper) }
      rows = record(visit).rows(:papers)
      expect(rows.map { |row| row.slice(:kind, :pages, :sha256) }).to eq [
           { kind: "record", pages: 2, sha256: Digest::SHA256.hexdigest("%PDF one") }
         ]
      expect(store.db[:files].where(clinic_id: clinic.id).get(:bytes).to_s).to eq "%PDF one"
    end

    it "is another one once more was written" do
      keep(paper)
      keep(Handrail::Exchange::Paper::Made[bytes: "%PDF two", pages: 2])
      expect(record(visit).rows(:papers).size).to eq 2
      expect { keep(nil) }.to raise_error(store::Unacceptable, /no paper/)
    end
  end
end
