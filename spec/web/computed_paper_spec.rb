# frozen_string_literal: true

require "web_helper"
require "open3"
require "pdf-reader"
require "vips"

# Computed sheets on paper: to their scale on A4 and on Letter, and no paper without its fonts.
RSpec.describe "Computed sheets as papers" do
  let(:maren) do
    Handrail::Store::Account.first(clinic_id: DEMO.id, email: "maren@heronquay.example")
  end

  before { sign_in(maren, password: "lamp-on-the-quay") }

  # visits of the demo that have a piece on a computed sheet, one a family
  def drawn
    ids = Handrail::Store::Fitting.where(clinic_id: DEMO.id).order(:id).select_map(:id)
    visits = Handrail::Store::Visits.of_fittings(DEMO, ids).values.map(&:first)
    visits
      .flat_map { |visit| visit.sides.map { |side| [visit, side] } }
      .select do |visit, side|
        visit.by_edition do
          visit.sizing.sheets(side).values.any? { |sheet| sheet.complete? && sheet.piece }
        end
      end
      .uniq { |visit, _| visit.family.key }
  end

  # the lengths of dark runs in the rows of the pages, in mm, rendered at 254 dots an inch: ten to the millimetre
  def runs(bytes)
    Dir.mktmpdir do |folder|
      File.binwrite("#{folder}/sheet.pdf", bytes)
      Open3.capture2e("pdftoppm", "-r", "254", "-gray", "#{folder}/sheet.pdf", "#{folder}/page")
      Dir["#{folder}/page*"].flat_map do |path|
        dark = (Vips::Image.new_from_file(path, memory: true) < 170).copy_memory
        # how much of each row is dark: only those in which a tenth of a metre can be are looked at
        _, rows = dark.project
        sums = rows.to_a.map { |row| row.flatten.first / 255 }
        sums
          .each_index
          .select { |y| sums[y] >= 950 }
          .flat_map do |y|
            line = dark.crop(0, y, dark.width, 1).to_a.first.flatten
            line
              .chunk { |value| value }
              .select { |value, _| value.positive? }
              .map { |_, part| part.size / 10.0 }
          end
      end
    end
  end

  it "print their ruler at its own length on both papers, every family that has a drawing" do
    found = drawn
    expect(found.size).to be >= 3
    found.each do |visit, side|
      %w[a4 letter].each do |size|
        get "/visits/#{visit.id}/computed.pdf?#{"side=#{side}&" if side}size=#{size}"
        expect(last_response.status).to eq(200),
        "#{visit.family.key} #{last_response.errors[0, 300]}"
        page = PDF::Reader.new(StringIO.new(last_response.body)).pages.first
        expect(page.attributes[:MediaBox].last(2).map(&:round)).to eq(
          size == "a4" ? [595, 842] : [612, 792]
        )
        said = [
          visit.family.key,
          size,
          runs(last_response.body).any? { |mm| mm.between?(99.7, 100.5) }
        ]
        expect(said).to eq [visit.family.key, size, true]
      end
    end
  end

  it "carry every font that they use, as all papers do" do
    visit = drawn.first.first
    closed =
      Handrail::Store::Visit.where(clinic_id: DEMO.id).exclude(closed_at: nil).order(:id).first
    [
      "/visits/#{visit.id}/computed.pdf",
      "/visits/#{closed.id}/record.pdf",
      "/visits/#{closed.id}/sheet.pdf",
      "/visits/#{closed.id}/sheet.pdf?in=de&size=letter"
    ].each do |path|
      get path
      reader = PDF::Reader.new(StringIO.new(last_response.body))
      fonts = reader.pages.flat_map { |page| page.fonts.values }
      names = fonts.map { |font| reader.objects.deref(font) }
      expect([path, names]).not_to eq [path, []]
      embedded =
        names.map do |font|
          inner =
            (
              if font[:DescendantFonts]
                reader.objects.deref(reader.objects.deref(font[:DescendantFonts]).first)
              else
                font
              end
            )
          reader
            .objects
            .deref(inner[:FontDescriptor])
            .to_h
            .keys
            .any? { |key| key.to_s.start_with?("FontFile") }
        end
      expect([path, embedded.uniq]).to eq [path, [true]]
    end
  end
end
