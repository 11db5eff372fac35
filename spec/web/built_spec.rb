# frozen_string_literal: true

require "web_helper"
require "digest"

# What the browser gets is made of what stands in assets, and is small.
RSpec.describe "Built styles and scripts" do
  let(:root) { Handrail::ROOT }
  let(:manifest) { JSON.parse(File.read(File.join(root, "public", "built", "manifest.json"))) }

  it "are current: node assets/build.js was run after the last change" do
    names =
      Dir.chdir(root) do
        Dir["assets/**/*", "package-lock.json"].select { |path| File.file?(path) }.sort
      end
    digest = Digest::SHA256.new
    names.each { |name| digest << name << "\0" << File.binread(File.join(root, name)) }
    expect(manifest["sources"]).to eq digest.hexdigest
  end

  it "come compressed, for a year, under a name that says what is in them" do
    get "/login"
    paths = last_response.body.scan(%r{(?:href|src)="(/built/[^"]+)"}).flatten.uniq
    expect(paths.size).to be >= 2
    sizes =
      paths.map do |path|
        get path, {}, "HTTP_ACCEPT_ENCODING" => "br"
        expect([path, last_response.status, last_response.headers["cache-control"]]).to match [
                path,
                200,
                /max-age=31536000.*immutable/
              ]
        last_response.body.bytesize
      end
    fonts = Dir[File.join(root, "public", "fonts", "*.woff2")].sum { |file| File.size(file) }
    # a first visit: at most 150 KiB
    expect((sizes.sum + fonts) / 1024).to be <= 150
  end
end
