# frozen_string_literal: true

module Handrail
  module Web
    # A product with its chart, its shelf and its options.
    class ProductPage
      # the most pieces that are shown as held or worn
      HELD = 12

      attr_reader :account, :product, :faults, :import_faults, :import_asked

      # typed - what was sent and not taken; faults - field => what is wrong; import_faults - of a
      # maker's file; import_asked - such a file, as TablesIn::Sent, of which something has to be chosen first.
      def initialize(account, product, typed: {}, faults: {}, import_faults: [], import_asked: nil)
        @import_asked = import_asked
        @account = account
        @product = product
        @typed = typed
        @faults = faults
        @import_faults = import_faults
      end

      def clinic = account.clinic
      def family = product.device_family
      def revision = @revision ||= product.revision(clinic.today)
      def earlier = Store::ChartRevision.where(product_id: product.id).reverse(:dated).all.drop(1)
      def draft = @draft ||= ChartDraft.of(revision ? revision.rows : [])
      def lines = @lines ||= Store::Shelf.lines(clinic, product: product)
      def size_names = product.size_names(clinic.today)
      def typed(name) = @typed[name].is_a?(String) ? @typed[name] : nil

      # Whether this person can bring a chart for it.
      def chartable? = account.senior? && family.size_rule.by != "sheet"
      def fingerprint = Store::Commands::ChangeProduct.fingerprint(product)
      def option_values = @typed["options"].is_a?(Hash) ? @typed["options"] : product.options.to_h

      # [[label, value], ...]
      def option_words
        family.options.map do |option|
          [option.label, option.print(product.options[option.key] || option.default)]
        end
      end

      # Pieces that someone holds or wears: [row, name of the wearer, whether that fitting has
      # ended].
      def held
        rows =
          Store.db[:stock_items]
            .where(clinic_id: clinic.id, product_id: product.id, state: %w[reserved taken])
            .reverse(:id)
            .limit(HELD)
            .all
        fittings =
          Store::Fitting.where(id: rows.map { |row| row[:fitting_id] }).eager(:patient).as_hash(:id)
        rows.map do |row|
          [row, fittings[row[:fitting_id]].patient.name, !fittings[row[:fitting_id]].ended_at.nil?]
        end
      end
    end
  end
end
