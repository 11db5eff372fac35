# frozen_string_literal: true

require "store_helper"
require_relative "../support/whole_jobs"

# Of a pair what can differ has its side.
RSpec.describe "Two sides" do
  include WholeJobs

  let(:store) { Handrail::Store }
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:pair) { recheck_of("graduated_stocking", sized_job("graduated_stocking", side: "both")) }

  def answer(field, choice, side) =
    run(pair, fitter, :AnswerRecheck, field: field, answer: choice, side: side)

  def deal_with(stop)
    how = { action: "referred", who: "Dr Spec", advice: "stays off" }
    run(pair, fitter, :RecordStopAction, stop: stop, **how)
  end

  describe "answers at a recheck" do
    it "are asked and kept of each device" do
      before = record(pair).asks_open.map { |ask, side| [ask.key, side] }
      expect(before).to include(%w[skin left], %w[skin right])
      answer("skin", "clear", "left")
      expect(record(pair).asks_open.map { |ask, side| [ask.key, side] }).to eq before -
           [%w[skin left]]
      expect(record(pair).answer("skin", "right")).to be_nil
    end

    it "raise a stop of their own side, and are dealt with there" do
      answer("skin", "broken", "left")
      answer("skin", "broken", "right")
      expect(record(pair).safety.stops.map { |stop| [stop.key, stop.side] }).to contain_exactly(
        %w[ask:skin:left left],
        %w[ask:skin:right right]
      )
      deal_with("ask:skin:left")
      expect(record(pair).safety.stops.map(&:key)).to eq %w[ask:skin:right]
    end

    it "say on the board which side stops, and which side a check is of" do
      said = -> do
        step = Handrail::Fitting::NextStep.of(record(pair))
        Handrail::Wording.next_step(step.finding, step.figures)
      end
      check, place =
        record(pair).fit.checks("right").find { |one, _| !one.measured? && !one.answered_by }
      look(pair, fitter, check.key, side: "right", place: place, outcome: "bad", note: "seen")
      expect(said.call).to match(/\ARight: .*Change one thing\./)
      answer("skin", "broken", "left")
      expect(said.call).to match(/\ALeft: .*do not fit, refer\./)
      words =
        record(pair)
          .gates
          .before(:close_recheck)
          .map { |block| Handrail::Wording.block(block, record(pair)) }
      expect(words.grep(/do not fit, refer/)).to match [/\ALeft: (?!Left)/]
    end

    it "is asked once of what the wearer wanted to do, for the record; worse than without is a stop of the whole" do
      open = record(pair).asks_open.map { |ask, _| ask.key }
      expect(open).not_to include("task")
      run(pair, fitter, :AnswerRecheck, field: "task", answer: "worse", side: "left")
      now = record(pair)
      expect(%w[left right].map { |side| now.answer("task", side)&.fetch(:answer) }).to eq %w[
           worse
           worse
         ]
      expect(now.safety.stops.map { |stop| [stop.key, stop.side, stop.urgency] }).to eq [
           ["ask:task", nil, :prescriber]
         ]
    end

    it "holds the recheck back by side, in words that name it" do
      blocks = record(pair).gates.before(:close_recheck).select { |block| block.code == :ask_open }
      words = blocks.map { |block| Handrail::Wording.block(block, record(pair)) }
      expect(words.grep(/\ALeft: /).size).to eq words.grep(/\ARight: /).size
    end

    it "counts an answer from before sides were told apart for both" do
      answer("elastic", "good", "left")
      row = store.db[:recheck_answers].where(visit_id: pair.id).first
      store.db[:recheck_answers].insert(
        **row.except(:id),
        field: "skin",
        answer: "clear",
        side: nil
      )
      read_anew(pair.id)
      expect(record(pair).asks_open.map { |ask, _| ask.key }).not_to include "skin"
    end
  end

  describe "an end of one side" do
    def ends(side = "left") =
      run(pair, fitter, :EndFitting, why: "the left leg is healed", side: side)

    it "leaves the other as if it alone had been ordered" do
      ends
      now = record(pair)
      expect(now).to have_attributes(side: "right", sides: %w[right])
      expect(now.needs.map(&:side).uniq).to eq %w[right]
      expect([now.title, now.title[/left|both/]]).to match [/right /, nil]
      worn = store.db[:issued_devices].where(fitting_id: pair.fitting_id)
      expect(worn.select_hash(:side, :ended_why)).to eq("left" => "returned", "right" => nil)
      expect(pair.fitting.refresh.ended_at).to be_nil
      expect(store::Summaries.differences(clinic)).to eq []
    end

    it "says nothing else of a visit that was closed before" do
      first = pair.fitting.visits_dataset.order(:id).first
      before = record(first).sides
      ends
      expect([before, record(first).sides]).to eq [%w[left right], %w[left right]]
    end

    it "holds from the next visit on where it is written down after the visit was closed" do
      record(pair).asks_open.each { |ask, side| answer(ask.key, ask.choices.first.key, side) }
      look_at_all(pair, fitter)
      run(pair, fitter, :CloseRecheck)
      ends("right")
      expect(record(pair).sides).to eq %w[left right]
      expect(record(record(pair).visits.last).sides).to eq %w[left]
      expect { ends("right") }.to raise_error(store::Unacceptable, /not worn: left/)
      # the last that is worn ends the whole
      ends("left")
      expect(pair.fitting.refresh.ended_at).not_to be_nil
    end

    it "is taken at the newest visit alone: none that was closed before it says another thing" do
      first = pair.fitting.visits_dataset.order(:id).first
      expect { run(first, fitter, :EndFitting, why: "healed by now", side: "left") }.to raise_error(
        store::Unacceptable,
        /newest visit/
      )
      expect(record(pair).sides).to eq %w[left right]
    end

    it "waits for what is to be done about a stop of that side, not of the other" do
      answer("skin", "broken", "right")
      expect { ends("right") }.to raise_error(store::Unacceptable, /stop sign is open/)
      ends("left")
      expect(record(pair).sides).to eq %w[right]
    end

    it "leaves a stop that was dealt with dealt with, under the name that it had" do
      answer("skin", "broken", "left")
      deal_with("ask:skin:left")
      ends("left")
      expect(record(pair).safety.stops.map(&:key)).to eq []
      expect(store::Summaries.differences(clinic)).to eq []
    end

    it "ends a side once, and one that is worn" do
      ends
      expect {
        run(pair, fitter, :EndFitting, why: "again and again", side: "left")
      }.to raise_error(store::Unacceptable, /not worn/)
      run(pair, fitter, :EndFitting, why: "the right one is healed too", side: "right")
      expect(pair.fitting.refresh.ended_at).not_to be_nil
    end
  end
end
