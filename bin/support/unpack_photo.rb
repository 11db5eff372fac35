# frozen_string_literal: true

# Makes one photo small, in a process of its own with bounds on memory and time; see
# Handrail::Exchange::Photo. Prints the JPEG, or why there is none with status 3.

require_relative "../../lib/handrail"

photo = Handrail::Exchange::Photo
begin
  $stdout.binmode.write(photo.new(File.binread(ARGV.fetch(0))).bytes)
rescue photo::Unreadable => e
  $stdout.write(e.message)
  exit photo::REFUSED
end
