# frozen_string_literal: true

require_relative "lib/handrail"

run Handrail::Web.app
