# frozen_string_literal: true

module Handrail
  class Visit
    # What a fitting is made on, as it was pinned: nothing that is edited later reaches it.
    #
    # id; visit_id, version - the entry that set it, nil for the order's own; family - a
    # Families::Family; product - a Product; revision - the chart's row (id, dated), or nil; chart -
    # a Sizing::Chart, or nil; rule - a Sizing::TieRule; methods - method => version; offer - the
    # digest of an offer that was left, or nil; settings - what the clinic had settled then:
    # "repeats", "firm", "windows"; edition - the Edition of the knowledge beside the family.
    Pin =
      Value.new(
        :id,
        :visit_id,
        :version,
        :family,
        :product,
        :revision,
        :chart,
        :rule,
        :methods,
        :offer,
        :settings,
        :edition
      ) do
        # What computes a method for this fitting, see Methods.
        def method_of(name) = Methods.made_by(name, methods[name])
      end
  end
end
