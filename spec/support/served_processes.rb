# frozen_string_literal: true

require "net/http"
require "socket"
require "tmpdir"

# The server as bin/start runs it, of several processes, on a port and in a folder of its own.
#
#   served = ServedProcesses.new.start
#   served.get("/ready").code
#   served.workers           # ids of the processes that serve
#   served.stop
class ServedProcesses
  attr_reader :port, :pid

  # env - variables of its environment beside those of every server here
  def initialize(processes: 2, env: {})
    @processes = processes
    @env = env
    @folder = Dir.mktmpdir("handrail-served")
    @port = TCPServer.open("127.0.0.1", 0) { |free| free.addr[1] }
  end

  def start
    @pid = spawn(environment, *command, %i[out err] => log)
    wait(60) { answers? && workers.size == @processes }
    self
  end

  def stop
    Process.kill(:TERM, @pid)
    Process.wait(@pid)
    FileUtils.rm_rf(@folder)
  end

  # what the server printed
  def told = File.read(log)

  def workers
    Dir["/proc/#{@pid}/task/*/children"]
      .flat_map { |path| File.read(path).split }
      .select { |pid| File.read("/proc/#{pid}/cmdline").include?("cluster worker") }
  rescue Errno::ENOENT
    []
  end

  def wait(seconds)
    ends = Time.now + seconds
    until (found = yield)
      raise "not within #{seconds} s: #{told[0, 2000]}" if Time.now > ends

      sleep 0.1
    end
    found
  end

  def get(path, cookie = nil) = ask(Net::HTTP::Get.new(path), cookie)

  def post(path, form, cookie = nil)
    request = Net::HTTP::Post.new(path)
    request.form_data = form
    ask(request, cookie)
  end

  # The answer to a try of somebody; its cookie is theirs from then on.
  def sign_in(account, password = Fixtures::PASSWORD)
    page = get("/login")
    form = { "login" => account.email, "password" => password, "authenticity_token" => token(page) }
    post("/login", form, cookie(page))
  end

  def cookie(answer) = answer["set-cookie"]&.slice(/\A[^;]+/)
  def token(answer) =
    CGI.unescapeHTML(answer.body[/name="authenticity_token" value="([^"]+)"/, 1].to_s)

  private

  def log = File.join(@folder, "log")

  def command = %w[bundle exec puma --silent -C] + [File.join(Handrail::ROOT, "config", "puma.rb")]

  def environment
    {
      "HANDRAIL_SERVED" => @folder,
      "HANDRAIL_ADDRESS" => "http://127.0.0.1:#{port}",
      "HANDRAIL_WORKERS" => @processes.to_s,
      "DATABASE_CONNECTIONS" => "4",
      "SESSION_SECRET" => "s" * 64,
      "RACK_ENV" => "production",
      **@env
    }
  end

  def ask(request, cookie)
    request["cookie"] = cookie if cookie
    Net::HTTP.start("127.0.0.1", port, read_timeout: 30) { |http| http.request(request) }
  end

  def answers?
    get("/ready").code == "200"
  rescue SystemCallError
    false
  end
end
