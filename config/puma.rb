# frozen_string_literal: true

require "etc"
require "fileutils"

var = File.expand_path("../var", __dir__)
served = ENV.fetch("HANDRAIL_SERVED", File.join(var, "server"))
address = ENV.fetch("HANDRAIL_ADDRESS", "http://127.0.0.1:8470")

environment ENV.fetch("RACK_ENV", "production")
bind address.sub("http:", "tcp:")
# A process for each core, since a page is computed on one; HANDRAIL_WORKERS says otherwise, 0 is one process alone.
# Each reads the program itself (some 50 MiB more than sharing what one has read): only so does USR1 bring in another
# state of the program one process after the other, while the others go on serving.
cores = Etc.nprocessors
workers Integer(ENV.fetch("HANDRAIL_WORKERS") { cores > 1 ? [cores, 8].min : 0 })
preload_app! false
# how long one may take until it serves: on a machine that is starved of its processors far more than Puma's minute, and
# who is ended while reading the program begins anew, for ever
worker_boot_timeout 900
# more than the database has connections: those that wait for a slow client hold no connection
threads 2, 16
# A thread that computes hands over after 12.5 ms instead of 100 (Ruby: each step of priority below 0 halves its
# turn), so that a short page does not wait for a long one.
short_turns = proc { Thread.current.priority = -3 }
if respond_to?(:before_thread_start)
  before_thread_start(&short_turns)
else
  on_thread_start(&short_turns)
end
# a body larger than the largest file that is taken is refused before it is read
http_content_length_limit 9_000_000
pidfile File.join(served, "pid")
rackup File.expand_path("../config.ru", __dir__)
quiet
# what the processes count, each in a file of its own, see Handrail::Web::Metrics
FileUtils.mkdir_p(File.join(served, "metrics"))
FileUtils.rm_f(Dir[File.join(served, "metrics", "*.bin")])

ready =
  proc do
    puts "Handrail serves at #{address}"
    puts File.read(File.join(var, "sign-ins")) if File.exist?(File.join(var, "sign-ins"))
    puts "Ctrl-C stops the server; bin/stop stops the database too."
    $stdout.flush
  end
respond_to?(:after_booted) ? after_booted(&ready) : on_booted(&ready)
