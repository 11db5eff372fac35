# frozen_string_literal: true

require_relative "../support/tables"

# The skin on the figure, what the wearer says, photos, and points of the line of a limb.
Sequel.migration do
  up do
    # photos and papers, once each, by their digest
    create_table :files do
      foreign_key :clinic_id, :clinics, type: :Bignum, null: false
      String :sha256, null: false
      String :content_type, null: false
      File :bytes, null: false
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      primary_key %i[clinic_id sha256]
      constraint(:digest_is_one, Sequel.lit("sha256 ~ '^[0-9a-f]{64}$'"))
      constraint(:type_known, content_type: %w[image/jpeg application/pdf])
      constraint(:size_bounded, Sequel.lit("octet_length(bytes) BETWEEN 1 AND 8000000"))
    end
    Tables.append_only(self, :files)

    Tables.at_visit(self, :photos) do
      String :side
      String :sha256, null: false
      String :what, null: false
      Integer :width, null: false
      Integer :height, null: false
      check side: Tables::SIDES
      constraint(:what_said, Tables.said(:what))
      constraint(
        :frame_bounded,
        Sequel.lit("width BETWEEN 1 AND 4000 AND height BETWEEN 1 AND 4000")
      )
      foreign_key %i[clinic_id sha256], :files, key: %i[clinic_id sha256], name: :photos_file_fkey
    end

    # x, y - in the figure's own frame
    Tables.at_visit(
      self,
      :skin_findings,
      parents: {
        follows_id: :skin_findings,
        photo_id: :photos
      },
      optional: %i[follows_id photo_id]
    ) do
      String :side
      String :figure, null: false
      BigDecimal :x, null: false
      BigDecimal :y, null: false
      String :kind, null: false
      BigDecimal :size_mm
      String :course
      String :note
      check side: Tables::SIDES
      check kind: %w[mark_fades mark_stays blister open old_sore]
      check course: %w[smaller same larger gone]
      constraint(:point_in_frame, Sequel.lit("x BETWEEN 0 AND 5000 AND y BETWEEN 0 AND 5000"))
      constraint(:size_sound, Sequel.lit("size_mm > 0 AND size_mm <= 500"))
      constraint(:course_of_something, Sequel.lit("(follows_id IS NULL) = (course IS NULL)"))
    end

    Tables.at_visit(self, :wearer_words) do
      Integer :pain_without
      Integer :pain_with
      String :place
      String :wants
      constraint(
        :scores_in_range,
        Sequel.lit("pain_without BETWEEN 0 AND 10 AND pain_with BETWEEN 0 AND 10")
      )
      constraint(
        :says_something,
        Sequel.lit(
          "coalesce(pain_without, pain_with) IS NOT NULL OR " \
            "length(trim(coalesce(place, '') || coalesce(wants, ''))) > 0"
        )
      )
    end

    # points - name => [x, y] on the photo or the figure
    Tables.at_visit(self, :alignments, parents: { photo_id: :photos }, optional: %i[photo_id]) do
      String :side
      String :line, null: false
      String :moment, null: false
      TrueClass :bent, null: false, default: false
      column :points, :jsonb, null: false
      BigDecimal :known_mm
      check side: Tables::SIDES
      check moment: %w[before after]
      constraint(:known_sound, Sequel.lit("known_mm > 0 AND known_mm <= 3000"))
    end

    %i[photos skin_findings wearer_words alignments].each do |table|
      Tables.append_only(self, table)
    end
  end

  down do
    raise Sequel::Error,
          "What was written at visits is not thrown away: use bin/start --reset-demo."
  end
end
