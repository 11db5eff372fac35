# frozen_string_literal: true

require_relative "lib/handrail"

# the just in time compiler, where Ruby calls it ready for production (from 3.2; it can be switched on from 3.3)
RubyVM::YJIT.enable if defined?(RubyVM::YJIT) && RubyVM::YJIT.respond_to?(:enable)
Handrail::Web::Patience.set
served = ENV.fetch("HANDRAIL_SERVED", File.join(Handrail::ROOT, "var", "server"))
Handrail::Web::Metrics.begin(File.join(served, "metrics"))
begin
  Handrail::Web::Warm.up
rescue StandardError, ScriptError => e
  # the server begins this process anew, for ever, and says nothing of why
  warn "Handrail can not serve: #{e.message} (#{e.backtrace.to_a.first})"
  raise
end

run Handrail::Web.app
