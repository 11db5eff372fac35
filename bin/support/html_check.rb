# frozen_string_literal: true

# Sends every page that can be reached in the demo clinic through the Nu HTML checker: bin/handrail html-check
# Needs Java, and the checker from npm (npm install). Exit code 1 where it finds a fault.

require "cgi"
require "json"
require "open3"
require "rack"
require "tmpdir"
require_relative "../../lib/handrail"

module Handrail
  # All pages of the demo, followed link by link as each role, and what the checker says of them.
  class HtmlCheck
    JAR = File.join(ROOT, "node_modules", "vnu-jar", "build", "dist", "vnu.jar")
    START = %w[/ /patients /catalogue/ /tapes /patients/new /handbook].freeze
    APPS = {
      "/" => Web::Board,
      "/patients" => Web::Patients,
      "/visits" => Web::Visits,
      "/catalogue" => Web::Catalogue,
      "/tapes" => Web::Tapes,
      "/handbook" => Web::HandbookPages
    }.freeze
    # the most pages of one kind (the path without its numbers) that are looked at
    OF_A_KIND = 12

    # Why it can not run here, or nil.
    def self.missing
      unless system("java", "-version", out: File::NULL, err: File::NULL)
        return(
          "Java is not here, so the pages were not checked (apt-get install default-jre-headless)."
        )
      end

      unless File.exist?(JAR)
        "The checker is not here, so the pages were not checked (npm install)."
      end
    end

    def initialize
      @app = Web::ErrorPages.new(Rack::URLMap.new(APPS))
    end

    # Prints every fault with the page it is on. Returns how many there were.
    def run
      Dir.mktmpdir do |folder|
        Store::Account.order(:id).all.uniq(&:role).each { |account| save_all(account, folder) }
        faults = check(folder)
        faults.each { |path, line, text| puts "#{path}:#{line} #{text}" }
        puts "#{Dir.children(folder).size} pages, #{faults.size} faults"
        faults.size
      end
    end

    private

    # Follows the links from the places everybody starts at, and writes each page.
    def save_all(account, folder)
      seen = START.dup
      kinds = Hash.new(0)
      seen.each do |path|
        next if (kinds[path.gsub(/\d+/, "N")] += 1) > OF_A_KIND

        html = ask(path, account) or next
        File.write(
          File.join(folder, "#{account.role}#{path.gsub(/[^A-Za-z0-9]+/, "-")}.html"),
          html
        )
        seen.concat(links(html) - seen)
      end
    end

    # a page's HTML; nil for what is no page
    def ask(path, account)
      env = Rack::MockRequest.env_for(path, "rack.session" => { "csrf" => SecureRandom.base64(32) })
      env["handrail.account"] = account
      status, headers, body = @app.call(env)
      return unless status == 200 && headers["content-type"].to_s.start_with?("text/html")

      body.each.to_a.join
    end

    def links(html)
      html
        .scan(/\shref="([^"#]+)/)
        .flatten
        .map { |href| CGI.unescapeHTML(href) }
        .select { |href| href.start_with?("/") && !href.start_with?("/built", "/fonts") }
        .uniq
    end

    # [[page, line, message], ...]
    def check(folder)
      files = Dir[File.join(folder, "*.html")]
      _, said, =
        Open3.capture3(
          "java",
          "-Xss8m",
          "-jar",
          JAR,
          "--format",
          "json",
          "--exit-zero-always",
          *files
        )
      JSON
        .parse(said)
        .fetch("messages")
        .reject { |one| one["type"] == "info" && one["subType"] != "warning" }
        .map { |one| [File.basename(one["url"].to_s, ".html"), one["lastLine"], one["message"]] }
        .uniq
    end
  end
end

if (why = Handrail::HtmlCheck.missing)
  puts why
elsif Handrail::HtmlCheck.new.run.positive?
  exit 1
end
