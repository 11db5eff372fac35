# frozen_string_literal: true

require "store_helper"
require "open3"

# What another version of the program made of the same rows: nothing is left as it said it, whatever the schema.
RSpec.describe "Summaries that another version made" do
  store = Handrail::Store

  describe "in a database whose tables did not change", :rolled_back do
    let!(:clinic) { make_clinic }
    let(:fitter) { make_account(clinic) }

    before do
      fitted_visit(clinic, fitter)
      as_owner do
        store::Summaries.catch_up
        store.db[:visit_summaries].where(clinic_id: clinic.id).update(finding: "closed")
        store.db.run("COMMENT ON TABLE visit_summaries IS 'made by another'")
      end
    end

    it "are brought to date once, those alone that come out otherwise, and told by clinic" do
      expect(store::Summaries.current?).to be false
      expect(store::Summaries.differences(clinic)).not_to eq []
      told = []
      as_owner { store::Summaries.catch_up { |one, count| told << [one.id, count] } }
      expect(told.to_h).to include(clinic.id => 1)
      expect(store::Summaries.differences(clinic)).to eq []
      expect(store::Summaries.current?).to be true
      as_owner { store::Summaries.catch_up { raise "a second time" } }
    end

    it "are made by another program wherever one of its files says something else" do
      as_owner { store::Summaries.catch_up }
      path = File.join(Handrail::ROOT, "lib", "handrail", "store", "pin.rb")
      read = Digest::SHA256.method(:file)
      allow(Digest::SHA256).to receive(:file) { |one|
        one == path ? read.call(__FILE__) : read.call(one)
      }
      expect(store::Summaries.current?).to be false
    end
  end

  # in a database of their own, which the program is started on
  describe "before it serves" do
    name = "handrail_test_caught_up"
    url = ENV.fetch("DATABASE_URL").sub(%r{/[^/]+\z}, "/#{name}")

    around do |example|
      Sequel.connect(ENV.fetch("DATABASE_URL")) do |admin|
        admin.run("DROP DATABASE IF EXISTS #{name} WITH (FORCE)")
        admin.run("CREATE DATABASE #{name}")
        example.run
      ensure
        admin.run("DROP DATABASE IF EXISTS #{name} WITH (FORCE)")
      end
    end

    define_method(:there) do |*command|
      output, status = Open3.capture2e({ "DATABASE_URL" => url }, *command, chdir: Handrail::ROOT)
      expect([command.last, status.success?, output]).to match [command.last, true, String]
      output
    end

    define_method(:prepared) { there(RbConfig.ruby, "bin/support/prepare.rb", "--own") }
    define_method(:say) { |code| there(RbConfig.ruby, "-e", "require './lib/handrail'\n#{code}") }

    it "a clinic's file says what this version makes of it, and a database that was served by another does" do
      file = Dir[File.join(Handrail::ROOT, "spec", "others", "clinics", "schema-*.zip")].max
      sign_ins = File.join(Handrail::ROOT, "var", "sign-ins")
      kept = File.exist?(sign_ins) && File.read(sign_ins)
      prepared
      changed = <<~RUBY
        require "tmpdir"
        store = Handrail::Store
        clinic = store::WholeClinic.in(#{file.inspect})
        store.db[:visit_summaries].update(finding: "another")
        Dir.mktmpdir do |folder|
          store::WholeClinic.out(clinic, "\#{folder}/clinic.zip")
          store.db.transaction { store::SetUp.remove(clinic.update(demo: true)) }
          clinic = store::WholeClinic.in("\#{folder}/clinic.zip")
        end
        p store::Summaries.differences(clinic)
        store.db[:visit_summaries].update(finding: "another")
        store.db.run("COMMENT ON TABLE visit_summaries IS 'made by another'")
      RUBY
      expect(say(changed)).to eq "[]\n"
      expect(prepared).to match(
        /\ASummaries of .*: \d+ fittings say something else by this version\n\z/
      )
      expect(
        say("p Handrail::Store::Summaries.differences(Handrail::Store::Clinic.first)")
      ).to eq "[]\n"
      expect(prepared).to eq ""
    ensure
      File.write(sign_ins, kept) if kept
    end
  end
end
