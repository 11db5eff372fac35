# frozen_string_literal: true

require "tmpdir"

# A browser with a profile on the disk and a process of its own: it can be killed, and started again on what
# its profile then holds.
#
#   browser = OwnBrowser.new
#   browser.session.visit(url)
#   browser.kill                 # as where the power fails
#   browser.session              # starts it again
#   browser.close                # ends it as a person does
#   browser.forget               # its profile too
class OwnBrowser
  attr_reader :folder

  def initialize
    @folder = Dir.mktmpdir("profile")
  end

  def session = @session ||= start

  def kill
    return unless @session

    Process.kill(:KILL, -@pid)
    gone
  end

  def close
    return unless @session

    @session.driver.browser.command("Browser.close")
    gone
  end

  def forget
    kill
    FileUtils.rm_rf(folder)
  end

  private

  def start
    port_file = File.join(folder, "DevToolsActivePort")
    FileUtils.rm_f(port_file)
    flags = CHROMIUM_FLAGS.map { |flag| "--#{flag}" }
    own = [
      "--headless=new",
      "--remote-debugging-port=0",
      "--user-data-dir=#{folder}",
      "about:blank"
    ]
    @pid = spawn(Handrail::CHROMIUM, *flags, *own, %i[out err] => File::NULL, :pgroup => true)
    400.times { File.size?(port_file) ? break : sleep(0.05) }
    url = "http://127.0.0.1:#{File.read(port_file).lines.first.strip}"
    name = :"browser_#{@pid}"
    Capybara.register_driver(name) { |app| chromium(app, url: url) }
    Capybara::Session.new(name, Capybara.app)
  end

  def gone
    Process.wait(@pid)
    @session = nil
  end
end
