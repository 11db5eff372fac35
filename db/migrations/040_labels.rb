# frozen_string_literal: true

# What a piece's own label says beside its lot and number: the product's number and two days.
Sequel.migration do
  up do
    %i[issued_devices stock_items].each do |table|
      alter_table table do
        add_column :gtin, String
        add_column :made_on, Date
        add_column :use_by, Date
        add_index %i[clinic_id gtin], where: Sequel.lit("gtin IS NOT NULL")
        add_constraint :"#{table}_gtin_check", Sequel.lit("gtin ~ '^[0-9]{14}$'")
      end
    end
  end

  down do
    %i[issued_devices stock_items].each do |table|
      alter_table table do
        drop_column :gtin
        drop_column :made_on
        drop_column :use_by
      end
    end
  end
end
