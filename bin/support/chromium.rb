# frozen_string_literal: true

module Handrail
  # The browser that tests, counts and pictures are made with: the one without windows, where it is there, since it
  # takes two thirds of the processor time; CHROMIUM names another one.
  CHROMIUM =
    ENV.fetch("CHROMIUM") do
      %w[/usr/bin/chromium-headless-shell /usr/bin/chromium].find { |path| File.exist?(path) }
    end
end
