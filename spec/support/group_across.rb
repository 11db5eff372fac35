# frozen_string_literal: true

# Run with both clusters in sight (see TwoClusters#program): an office and a clinic of its group at the first, another
# clinic at the second; people, figures, wearers and charts go across, and each step prints what came of it.
require_relative "../../lib/handrail"

module Handrail
  module Store
    db
    form = {
      "place" => "P",
      "phone" => "1",
      "time_zone" => "UTC",
      "tape" => "cm 1 mm",
      "person" => "Ada Marsh",
      "password" => "lamp-on-the-quay",
      "again" => "lamp-on-the-quay"
    }
    make = ->(name, office) do
      SetUp.make(
        form.merge("name" => name, "email" => "#{name.downcase}@x.example"),
        office: office
      )
    end
    office = make["Office", true]
    near = make["Near", false]
    far = Clusters.within("inland") { make["Far", false] }
    Directory.prepare
    code = -> do
      token, digest, ends = Group.code
      Store.db[:group_codes].insert(
        clinic_id: office.clinic_id,
        by: office.id,
        digest: digest,
        expires_at: ends
      )
      token
    end
    join = ->(account, token) do
      Desk.new(account.clinic, account).run(Commands::JoinGroup.new("code" => token))
    end
    token = code[]
    Clusters.within("inland") { join[far, token] }
    join[near, code[]]
    key = office.clinic.key
    p(Group.figures(key, Date.today).then { |all, silent| [all.map(&:name), silent] })
    near = Account.with_clinic(near.id)
    Desk.new(near.clinic, near).run(
      Commands::AddWorkPlace.new({ "email" => "far@x.example" }, password: "lamp-on-the-quay")
    )
    p(Places.of(near).map { |one| [one.cluster, one.account.clinic.name] })
    wearer =
      Patient.create(
        clinic_id: near.clinic_id,
        record_number: "N 1",
        family_name: "Quill",
        given_name: "Ines",
        born_on: Date.new(1980, 1, 1)
      )
    form = {
      "patient" => wearer.id,
      "to" => far.clinic_id,
      "consent_by" => "herself",
      "consent_on" => Date.today.iso8601
    }
    sent = Desk.new(near.clinic, near).run(Commands::SendRecord.new(form))["sent"]
    p(Array.new(2) { SentRecords.deliver(wearer, sent, "zip") })
    coming = Clusters.within("inland") { SentRecords.coming(far.clinic) }
    p(coming.map { |row| row.values_at(:wearer, :from_name, :from_record) })
    row =
      Clusters.within("inland") do
        SentRecords.end_here(far.clinic, coming.first[:id], by: far.id, record: "F 9")
      end
    SentRecords.tell(row, Clusters.within("inland") { Clinic[far.clinic_id] }, record: "F 9")
    p(SentRecords.of(near.clinic, wearer.id).map { |one| one[:taken_as] })
    p Clusters.within("inland") { GroupCatalogue.offered(Clinic[far.clinic_id]) }
  end
end
