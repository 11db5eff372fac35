# frozen_string_literal: true

# The stand-ins of a tape and a sensor, in a process of their own: ruby instruments.rb TAPE_PORT SENSOR_PORT
# It ends with the server that it was started beside.

require_relative "../../lib/handrail"

parent = Process.ppid
%w[tape sensor].zip(ARGV) do |kind, port|
  Handrail::Instruments::StandIn.new(kind, port: Integer(port)).start
end
sleep 1 while Process.ppid == parent
