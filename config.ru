# frozen_string_literal: true

require_relative "lib/handrail"

# the just in time compiler, where Ruby calls it ready for production (from 3.2; it can be switched on from 3.3)
RubyVM::YJIT.enable if defined?(RubyVM::YJIT) && RubyVM::YJIT.respond_to?(:enable)
Handrail::Web::Patience.set
served = ENV.fetch("HANDRAIL_SERVED", File.join(Handrail::ROOT, "var", "server"))
Handrail::Web::Metrics.begin(File.join(served, "metrics"))
Handrail::Web::Warm.up

run Handrail::Web.app
