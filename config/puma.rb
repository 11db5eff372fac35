# frozen_string_literal: true

var = File.expand_path("../var", __dir__)
served = File.join(var, "server")
address = ENV.fetch("HANDRAIL_ADDRESS", "http://127.0.0.1:8470")

environment ENV.fetch("RACK_ENV", "production")
bind address.sub("http:", "tcp:")
require File.expand_path("../lib/handrail", __dir__)
Handrail::Web::Patience.set
# more than the database has connections: those that wait for a slow client hold no connection
threads 2, 16
# a body larger than the largest file that is taken is refused before it is read
http_content_length_limit 9_000_000
pidfile File.join(served, "pid")
rackup File.expand_path("../config.ru", __dir__)
quiet

ready =
  proc do
    puts "Handrail serves at #{address}"
    puts File.read(File.join(var, "sign-ins")) if File.exist?(File.join(var, "sign-ins"))
    puts "Ctrl-C stops the server; bin/stop stops the database too."
    $stdout.flush
  end
respond_to?(:after_booted) ? after_booted(&ready) : on_booted(&ready)
