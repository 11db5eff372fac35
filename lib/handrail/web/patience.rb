# frozen_string_literal: true

require "puma"
require "puma/const"

module Handrail
  module Web
    # How long the server waits for a client that takes nothing of its answer. Puma waits ten seconds
    # and has no setting for it; thirty clients that never read would hold all of its threads for
    # that long, one after another.
    module Patience
      SECONDS = 2

      # Sets it, before the server starts.
      def self.set(seconds = SECONDS)
        Puma::Const.send(:remove_const, :WRITE_TIMEOUT)
        Puma::Const.const_set(:WRITE_TIMEOUT, seconds)
      end
    end
  end
end
