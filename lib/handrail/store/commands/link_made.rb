# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # For a command that makes a link: its token can be shown while it is kept nowhere.
      module LinkMade
        # The token, once the command was run; nil where the same entry came before, also at the
        # same moment.
        def token = (@token if @token && People.open_link(@token))
      end
    end
  end
end
