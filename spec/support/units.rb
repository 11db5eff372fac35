# frozen_string_literal: true

# A second reckoner of units to hold ours against. Both it and Active Support give Time another
# minus; it has to come second, or the two call one another for ever.
require "active_support"
require "active_support/core_ext/time/calculations"
require "ruby-units"
