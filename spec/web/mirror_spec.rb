# frozen_string_literal: true

require "web_helper"
require_relative "../support/whole_jobs"
require "nokogiri"
require "pdf-reader"

# Exchanges the sides in lines of text: their names, what other programs call them (SNOMED CT), and the letters by
# which devices are marked.
module ExchangedSides
  CODES = { "7771000" => "24028007", "24028007" => "7771000", "L" => "R", "R" => "L" }.freeze
  WORDS = /\b(?:7771000|24028007|[Ll]eft|[Rr]ight)\b|(?:(?<=\. )|(?<="code": ")|(?<=strut ))[LR]\b/
  # what names both is of both in either story; in a small figure two words of it overlap on paper
  BOTH = /left and right|right and left|left from right|left, then right|\bL\+R\b/i
  OVERLAPPING = /\A(?:\w*inn?e?\w*|\w*oute?\w*|front\w*|\w*back|wearewearer's)\z/

  # typed alike in either story, the left arm first
  TYPED = /Pressures in mmHg: [^.]*\./

  module_function

  def same(lines) =
    lines.grep_v(OVERLAPPING).map { |line| line.gsub(BOTH, "both").sub(TYPED, "pressures") }.sort

  def exchanged(lines)
    same(lines).map { |line| line.gsub(WORDS) { |side| CODES[side] || other(side) } }.sort
  end

  def other(side)
    word = side.downcase == "left" ? "right" : "left"
    side.match?(/\A[A-Z]/) ? word.capitalize : word
  end
end

# One story told twice, once of the left and once of the right: pages, papers, files, stock and report of the one
# are those of the other with the sides exchanged, and nothing else. It holds the words to it, too: "right" is a
# side, and never what is correct. HANDRAIL_MIRRORS=30 tells it of every family.
RSpec.describe "Left and right" do
  include WholeJobs

  let(:store) { Handrail::Store }
  let(:morning) { Time.utc(2026, 9, 7, 9, 12) }
  let(:pages) do
    {
      first: %w[order measure size fit teach hand-over skin record straps sheet record.pdf],
      later: %w[measure size fit skin recheck hand-over record sheet record.pdf]
    }
  end

  attr_reader :clinic, :fitter

  # the same pressures on both sides
  def cautions(visit)
    pressures =
      %w[arm_left arm_right ankle_left_front ankle_right_front].to_h do |key|
        [key, key[/arm/] ? "130" : "140"]
      end
    ask(visit, fitter, pressures: record(visit).family.index ? pressures : {})
  end

  # a story of one side, in a clinic of its own, as far as a recheck at which all was asked and looked at
  def told(family, side)
    @clinic = make_clinic("Mirror #{SecureRandom.hex(3)}")
    @fitter = make_account(clinic, "senior")
    store.at(morning) do
      recheck_of(family, sized_job(family, side: side)).tap do |later|
        answer_all(later, fitter)
        run(later, fitter, :WriteWord, pain_without: "5", pain_with: "2", side: side)
        look_at_all(later, fitter)
      end
    end
  end

  # what somebody reads: lines of text, without what tells one clinic and entry from another
  def lines(text) =
    text
      .gsub(/Mirror \h{6}|T \h{8}|SHA-256 \h+|clinic-\d+|visit \d+|_id": \d+|\b\h{32,64}\b/, "…")
      .lines
      .map { |line| line.gsub(/\s+/, " ").strip }
      .reject(&:empty?)

  def page(path)
    get path
    return ["status #{last_response.status}"] unless last_response.status == 200
    return paper if path.include?(".pdf")

    html = Nokogiri.HTML(last_response.body)
    html.css("script, style, template").each(&:remove)
    html
      .css("svg text, li, p, td, th, h1, h2, h3, small, span, option, dd, dt")
      .each { |one| one.add_next_sibling("\n") }
    lines(html.css("main, .who").map(&:text).join("\n"))
  end

  # words, since lines break where they may
  def paper
    text = PDF::Reader.new(StringIO.new(last_response.body)).pages.map(&:text).join(" ")
    lines(lines(text).join(" ").gsub(/\s+/, "\n"))
  end

  # side - the one that the pages are asked for, where they show one of two
  def all_of(later, side: nil)
    store.at(morning + 3600) do
      sign_out
      sign_in(fitter)
      first = later.fitting.visits_dataset.order(:id).first
      paths =
        { first: first, later: later }.flat_map do |name, visit|
          pages[name].map do |stage|
            ["#{name} #{stage}", "/visits/#{visit.id}/#{stage}#{"?side=#{side}" if side}"]
          end
        end
      paths << ["patient", "/patients/#{later.fitting.patient_id}"] << %w[report /report] <<
        %w[week /week]
      paths << ["product", "/catalogue/#{later.fitting.product_id}"]
      paths.to_h { |name, path| [name, page(path)] }.merge(files_of(later))
    end
  end

  # the wearer's files, line by line: the record, the readings, what goes to other programs
  def files_of(later)
    visits =
      later
        .fitting
        .visits_dataset
        .order(:id)
        .select_map(:id)
        .map { |id| store::Visits.find(clinic, id) }
    bundle = Handrail::Exchange::PatientBundle.new(clinic, later.fitting.patient, visits) { nil }
    files = bundle.contents.slice("patient.json", "readings.csv", "fhir.json", "visits.ics")
    files.transform_values do |bytes|
      # an address of an entry is made of its name, which numbers and sides are in
      plain = bytes.dup.force_encoding("UTF-8").gsub(/urn:uuid:[\h-]{36}/, "urn:uuid")
      lines(plain.gsub(%r{(?<=[/"-])\d+(?=[/"@-])}, "N"))
    end
  end

  # the story of a pair, of which one side goes another way: its skin is broken, it is sent away with, and ends
  def told_of_a_pair(family, side)
    @clinic = make_clinic("Mirror #{SecureRandom.hex(3)}")
    @fitter = make_account(clinic, "senior")
    store.at(morning) do
      recheck_of(family, sized_job(family, side: "both")).tap do |later|
        record(later).asks_open.each do |ask, one|
          choice = ask.key == "skin" && one == side ? "broken" : ask.choices.first.key
          run(later, fitter, :AnswerRecheck, field: ask.key, answer: choice, side: one)
        end
        sent = {
          stop: "ask:skin:#{side}",
          action: "referred",
          who: "Dr Spec",
          advice: "off until Friday"
        }
        run(later, fitter, :RecordStopAction, **sent)
        run(
          later,
          fitter,
          :RenewPart,
          part: record(later).wear.part_dues.first.part.key,
          side: side
        )
        run(later, fitter, :EndFitting, why: "the skin is to heal", side: side)
      end
    end
  end

  # the story of a pair of which one breaks: another piece is given out, worn by a plan and at a stage of its own
  def told_of_a_new_piece(family, side)
    @clinic = make_clinic("Mirror #{SecureRandom.hex(3)}")
    @fitter = make_account(clinic, "senior")
    later = store.at(morning) { recheck_of(family, sized_job(family, side: "both")) }
    store.at(morning + (60 * 86_400)) do
      run(later, fitter, :IssueDevice, serial: "S-new", side: side, same: "another")
      answer_all(later, fitter)
      run(
        later,
        fitter,
        :ClearStage,
        stage: "full_wear",
        side: side,
        cleared_by: "Dr Spec",
        hours: "4"
      )
      finish_steps(later, fitter)
      look_at_all(later, fitter)
      teach(later, fitter)
      plan = { "start" => "1", "add" => "1", "every" => "2", "most" => "3" }
      hand_over(later, fitter, start_hours: "1 hour", plan: plan)
    end
    later
  end

  # what differs, page by page: [its name, what it should say, what it says]
  def differences(left, right)
    left.filter_map do |name, said|
      here = ExchangedSides.exchanged(said)
      there = ExchangedSides.same(right[name])
      [name, here - there, there - here] unless here == there
    end
  end

  families =
    Handrail::Families::Registry
      .all
      .values
      .select { |family| (%w[left right] - family.sides).empty? }
      .map(&:key)
  told =
    families.sample(
      ENV.fetch("HANDRAIL_MIRRORS", 3).to_i,
      random: Random.new(RSpec.configuration.seed)
    )
  told.each do |family|
    it "are told alike of #{family}" do
      left = all_of(told(family, "left"))
      right = all_of(told(family, "right"))
      shown = differences(left, right)
      expect(shown).to(be_empty, -> { shown.map(&:inspect).join("\n") })
    end
  end

  # which entry gave a side its piece is no part of the story: the left one is written down first in either
  def unnumbered(line) = line.delete_suffix(",").sub(/\A("piece": )?\d+\z/, "\\1N")

  # where both are named it is the left one first: word by word; what is for programs line by line
  def by_words(pages)
    pages.to_h do |name, said|
      words = said.flat_map { |line| line.scan(/[[:alnum:]'-]+/) }
      [name, name.end_with?(".json") ? said.map { |line| unnumbered(line) } : words]
    end
  end

  %i[told_of_a_pair told_of_a_new_piece]
    .zip(%w[graduated_stocking knee_cage], ["one side ends", "one is given out anew"])
    .each do |story, family, what|
      it "are told alike of a pair of which #{what}" do
        left, right =
          %w[left right].map { |side| by_words(all_of(send(story, family, side), side: side)) }
        shown = differences(left, right)
        expect(shown).to(be_empty, -> { shown.map(&:inspect).join("\n") })
      end
    end
end
