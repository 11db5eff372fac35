# frozen_string_literal: true

require "cgi"
require "net/http"
require "puma"
require "puma/server"

module Handrail
  # The whole stack over HTTP, on loopback: session, whether the sign-in goes on, compression, headers, the log. What it
  # takes more than the page alone, and than to ask for nothing in the same way, is what stands around every page.
  #
  #   http = OverHTTP.begin(account)   # nil where nobody knows the password: only the demo's is known
  #   http.get("/")
  #   http.end
  class OverHTTP
    PASSWORD = "lamp-on-the-quay"

    def self.begin(account)
      made = new
      return made if account.clinic.demo && made.sign_in(account)

      made.end
      nil
    end

    # An answer of nothing, asked in the same way: what asking alone takes, of which nothing is the program's.
    def self.nothing = new(->(_env) { [200, { "content-type" => "text/plain" }, [""]] })

    # app - a Rack app that is served
    def initialize(app = Web.app)
      @server =
        Puma::Server.new(app, nil, min_threads: 1, max_threads: 2, log_writer: Puma::LogWriter.null)
      port = @server.add_tcp_listener("127.0.0.1", 0).addr[1]
      @server.run
      @http = Net::HTTP.new("127.0.0.1", port)
      @http.keep_alive_timeout = 60
      @http.start
    end

    def get(path) = ask(Net::HTTP::Get.new(path))

    # Returns whether somebody is signed in now.
    def sign_in(account)
      token = get("/login").body[/name="authenticity_token" value="([^"]+)"/, 1].to_s
      request = Net::HTTP::Post.new("/login")
      request.form_data = {
        "login" => account.email,
        "password" => PASSWORD,
        "authenticity_token" => CGI.unescapeHTML(token)
      }
      ask(request).code == "302"
    end

    def end
      @http.finish
      @server.stop(true)
    end

    private

    def ask(request)
      request["cookie"] = @cookie if @cookie
      # as a browser asks; the answer is not taken apart here
      request["accept-encoding"] = "br" if @cookie
      answer = @http.request(request)
      @cookie = answer["set-cookie"][/\A[^;]+/] if answer["set-cookie"]
      answer
    end
  end
end
