# frozen_string_literal: true

source "https://rubygems.org"

# the core and its knowledge
gem "csv", "~> 3.3"
gem "json_schemer", "~> 2.3"
gem "matrix", "~> 0.4"
gem "zeitwerk", "~> 2.6.18"

# what is kept
gem "pg", "~> 1.5"
gem "sequel", "~> 5.80"
gem "sequel_pg", "~> 1.17"
gem "tzinfo", "~> 2.0"
gem "tzinfo-data", "~> 1.2024"

# open formats
gem "icalendar", "~> 2.10"
gem "ice_cube", "~> 0.17"
gem "prawn", "~> 2.5"
gem "prawn-svg", "~> 0.36"
gem "prawn-table", "~> 0.2"
gem "rubyzip", "~> 2.3"

# watched
gem "prometheus-client", "~> 4.2"

# photos: made small, turned upright, without their place data
gem "ffi", "~> 1.16.3" # the newest that Debian's RubyGems takes
gem "ruby-vips", "~> 2.2"

# the web
gem "activesupport", "~> 7.2"
gem "argon2", "~> 2.3"
gem "bcrypt", "~> 3.1"
gem "erubi", "~> 1.13"
gem "i18n", "~> 1.14"
gem "puma", ">= 6.6", "< 9"
gem "rack", "~> 3.1"
gem "rack-attack", "~> 6.7"
gem "rack-brotli", "~> 2.0"
gem "rack-protection", "~> 4.1"
gem "rack-session", "~> 2.0"
gem "roda", "~> 3.80"
gem "rodauth", "~> 2.36"
gem "rotp", "~> 6.3"
gem "rqrcode", "~> 2.2"
gem "sinatra", "~> 4.1"
gem "tilt", "~> 2.4"

group :test do
  gem "axe-core-api", "~> 4.10"
  gem "capybara", "~> 3.40"
  gem "cuprite", "~> 0.15"
  gem "distribution", "~> 0.8"
  gem "ferrum", "~> 0.17"
  gem "fhir_models", "~> 4.3"
  gem "nokogiri", "~> 1.16"
  gem "parallel_tests", "~> 4.7"
  gem "pdf-reader", "~> 2.12"
  gem "prime", "~> 0.1" # which distribution needs
  gem "prop_check", "~> 1.0"
  gem "rack-test", "~> 2.1"
  gem "rspec", "~> 3.13"
  gem "ruby-units", "~> 4.0"
  gem "simplecov", "~> 0.22", require: false
end

group :development do
  gem "erb_lint", "~> 0.9", require: false
  gem "htmlbeautifier", "~> 1.4", require: false
  gem "rubocop", "~> 1.70", require: false
  gem "rubocop-performance", "~> 1.23", require: false
  gem "rubocop-rspec", "~> 3.3", require: false
  gem "rubocop-sequel", "~> 0.3", require: false
  gem "syntax_tree", "~> 6.2", require: false
end
