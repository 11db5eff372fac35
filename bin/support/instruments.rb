# frozen_string_literal: true

# The stand-ins of the instruments, in a process of their own: ruby instruments.rb tape=8481 sensor=8482
# It ends with the server that it was started beside.

require_relative "../../lib/handrail"

parent = Process.ppid
ARGV.each do |named|
  kind, port = named.split("=")
  Handrail::Instruments::StandIn.new(kind, port: Integer(port)).start
end
sleep 1 while Process.ppid == parent
