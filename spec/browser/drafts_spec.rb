# frozen_string_literal: true

require "browser_helper"
require "support/whole_jobs"

# A draft is of what its form does: it follows its form to another page, and goes into no like form beside it.
RSpec.describe "What is half typed" do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic, "senior") }
  let(:job) { make_visit(clinic, fitter) }

  before { sign_in(fitter) }

  def type(**given) = given.each { |id, text| fill_in id.to_s.tr("_", "-"), with: text }

  # a moment passes until a draft is on the disk
  def drafts
    page.evaluate_async_script(<<~JS)
      const done = arguments[0];
      indexedDB.open("handrail").onsuccess = ({ target }) => {
        const asked = target.result.transaction("drafts").objectStore("drafts").getAllKeys();
        asked.onsuccess = () => { target.result.close(); done(asked.result.map(([, name]) => name)); };
      };
    JS
  end

  # both give the same numbers from here
  def level(*tables)
    db = Handrail::Store.db
    last = tables.to_h { |table| [table, db.get { nextval("#{table}_id_seq") }] }
    last.each { |table, id| (last.values.max - id).times { db.get { nextval("#{table}_id_seq") } } }
  end

  describe "in a form that was refused and stands on another page since" do
    before { refuse_and_type_anew }

    def refuse_and_type_anew
      visit "/visits/#{job.id}/amend"
      type record: "none 9", move_why: "wrong record open"
      click_button "Move the order"
      expect(page).to have_css(".fault", text: /none 9/i)
      expect(page).to have_current_path("/visits/#{job.id}/move")
      expect(page).to have_no_css(".draft-note")
      type record: "hq 0412", move_why: "the twin sister"
    end

    def expect_newest
      expect(page).to have_css(".draft-note")
      expect(page).to have_field("record", with: "hq 0412")
      expect(page).to have_field("move-why", with: "the twin sister")
    end

    it "is there when the page is opened anew, as it was typed last" do
      visit "/"
      visit "/visits/#{job.id}/amend"
      expect_newest
    end

    it "is there when the fitter goes back" do
      page.go_back
      expect(page).to have_current_path("/visits/#{job.id}/amend")
      expect_newest
    end

    it "is gone once it is done" do
      make_patient(clinic, fitter, given_name: "Zoe", record_number: "HQ 0412")
      click_button "Move the order"
      expect(page).to have_content("Moved here from record")
      wait_until { drafts.empty? }
    end
  end

  it "of one side is not offered on the other" do
    pair = sized_job("knee_cage", side: "both")
    visit "/visits/#{pair.id}/skin?side=left"
    fill_in "words", with: "it pinches behind the knee"
    visit "/visits/#{pair.id}/skin?side=right"
    expect(page).to have_field("words", with: "")
    fill_in "words", with: "nothing"
    visit "/visits/#{pair.id}/skin?side=left"
    expect(page).to have_field("words", with: "it pinches behind the knee")
  end

  it "of a check's correction is not offered to a reading of the same number" do
    level(:readings, :check_results)
    worn = handed_over_visit(clinic, fitter)
    rows =
      %i[readings check_results].map { |table| record(worn).rows(table).to_set { |row| row[:id] } }
    expect(rows.reduce(:&)).not_to be_empty
    visit "/visits/#{worn.id}/record"
    first(".record-rows summary", text: "Correct").click
    within(first(".record-rows details[open]")) { fill_in "why", with: "read the wrong line" }
    visit "/visits/#{worn.id}/record"
    typed = page.all("[name=why]", visible: :all).map(&:value).grep("read the wrong line")
    expect(typed.size).to eq 1
  end

  it "that takes the place of what stood there goes with that: a colleague's change is told, not undone" do
    patient = make_patient(clinic, fitter)
    visit "/patients/#{patient.id}/edit"
    fill_in "family_name", with: "Tamarin"
    columns = %i[record_number given_name family_name born_on species sex language address version]
    form = columns.to_h { |name| [name.to_s, patient[name].to_s] }
    form.merge!("patient" => patient.id.to_s, "seen" => form.delete("version"), "phone" => "77 412")
    desk(clinic, make_account(clinic)).run(Handrail::Store::Commands::ChangePatient.new(form))
    visit "/patients/#{patient.id}/edit"
    expect(page).to have_css(".draft-note").and have_field("family_name", with: "Tamarin")
    click_button "Save"
    expect(page).to have_content("phone is now 77 412")
    expect(patient.refresh.phone).to eq "77 412"
    fill_in "phone", with: "77 412"
    click_button "Save"
    expect(page).to have_current_path("/patients/#{patient.id}")
    expect(patient.refresh.values).to include(family_name: "Tamarin", phone: "77 412")
  end

  describe "of a chart" do
    let(:product) { make_product(clinic) }
    let(:chart) { "/catalogue/#{product.id}/chart" }
    let(:rows) { page.all("[name$='[size]']").size }
    let(:last) { page.all("[name$='[size]']").last[:name][/\d+/] }

    def cell(row, column) = page.find("[name='rows[#{row}][#{column}]']")

    it "has room for one more row, and is there in all its rows" do
      visit chart
      [rows, last]
      2.times { |i| cell(last.to_i + i, "size").set("Z#{i}") }
      cell(last.to_i + 1, "max").set("99")
      visit "/"
      visit chart
      expect(page).to have_css(".draft-note")
      expect(cell(last.to_i + 1, "size").value).to eq "Z1"
      expect(cell(last.to_i + 1, "max").value).to eq "99"
      expect(cell(last.to_i + 2, "size").value).to eq ""
      # what is said of it stands above the columns, and moves none of them
      left = ->(css) do
        page.evaluate_script("document.querySelector('#{css}').getBoundingClientRect().left")
      end
      expect(left[".chart-side"]).to be < left[".chart-fields"]
      expect(page.all("[name$='[size]']").size).to eq rows + 2
    end

    it "gives way to a file that is looked at" do
      visit chart
      cell(0, "size").set("ZZ")
      file = File.join(Dir.mktmpdir, "hallam.csv")
      head = Handrail::Exchange::ChartFile::COLUMNS.join(",")
      File.write(file, "#{head}\n,S,calf_15_below_mid_patella,30,36,cm,,snug\n")
      visit "/catalogue/#{product.id}"
      attach_file("file", file)
      click_button "Look at the file"
      expect(page).to have_css("h1", text: "hallam.csv")
      expect(cell(0, "size").value).to eq "S"
      visit chart
      expect(cell(0, "max").value).to eq "36"
    end

    it "is the chart as it was refused, not its rows beside those that were moved up" do
      visit chart
      cell(rows - 4, "size").set("Z0")
      cell(rows - 2, "size").set("Z2")
      cell(rows - 2, "max").set("wide")
      click_button "Put in force"
      expect(page).to have_content("Everything you typed is still here")
      sizes = -> { page.all("[name$='[size]']").map(&:value) }
      expect(sizes.call.grep(/Z/)).to eq %w[Z0 Z2]
      expect(page.all("tr.is-wrong [name$='[size]']").map(&:value)).to eq %w[Z0 Z2]
      typed = sizes.call
      visit chart
      expect(page).to have_css(".draft-note")
      expect(sizes.call.reject(&:empty?)).to eq typed.reject(&:empty?)
    end
  end

  it "is still there after the program is another, that calls it by another name" do
    visit "/visits/#{job.id}/amend"
    type move_why: "the twin sister"
    wait_until { drafts.size == 1 }
    page.execute_script(<<~JS, drafts.first, "draft./visits/#{job.id}/amend#/visits/#{job.id}/move")
      const [now, before] = arguments;
      Object.keys(localStorage).filter((key) => key.includes("slot.")).forEach((key) => localStorage.removeItem(key));
      indexedDB.open("handrail").onsuccess = ({ target }) => {
        const drafts = target.result.transaction("drafts", "readwrite").objectStore("drafts");
        drafts.getAll().onsuccess = ({ target: { result } }) => result.forEach((row) => {
          drafts.put({ ...row, name: before });
          drafts.delete([row.account, now]);
        });
        drafts.transaction.oncomplete = () => target.result.close();
      };
    JS
    visit "/visits/#{job.id}/amend"
    expect(page).to have_field("move-why", with: "the twin sister")
    wait_until { drafts == ["draft./visits/#{job.id}/move#"] }
  end
end
