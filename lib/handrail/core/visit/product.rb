# frozen_string_literal: true

module Handrail
  class Visit
    # The product as it was when it was pinned. options - as the product had them.
    Product =
      Value.new(:id, :maker_name, :name, :options) { def full_name = "#{maker_name} #{name}" }
  end
end
