# frozen_string_literal: true

require "fileutils"
require "tempfile"
require "vips"
require "zlib"

# Photos as they come from a telephone, and as they are kept.
RSpec.describe Handrail::Exchange::Photo do
  def image(width, height) =
    Vips::Image.black(width, height, bands: 3).linear([1, 1, 1], [200, 30, 30]).cast(:uchar)

  # a picture that says where and by what it was taken, and lies on its side
  def with_exif(width: 400, height: 300)
    image(width, height)
      .mutate do |made|
        made.set_type!(GObject::GINT_TYPE, "orientation", 6)
        made.set_type!(
          GObject::GSTR_TYPE,
          "exif-ifd3-GPSLatitude",
          "54/1 12/1 0/1 (54, 12, 0, Rational, 3)"
        )
        made.set_type!(GObject::GSTR_TYPE, "exif-ifd0-Make", "Telephone (Telephone, ASCII, 10)")
      end
      .jpegsave_buffer
  end

  it "keeps nothing of what the camera wrote into it" do
    raw = with_exif
    before = Vips::Image.new_from_buffer(raw, "").get_fields.grep(/exif/)
    expect(before).to include("exif-ifd3-GPSLatitude")
    kept = Vips::Image.new_from_buffer(described_class.new(raw).bytes, "")
    expect(kept.get_fields.grep(/exif|gps|xmp|iptc/i)).to eq []
  end

  it "turns it upright" do
    photo = described_class.new(with_exif)
    expect([photo.width, photo.height]).to eq [300, 400]
  end

  it "makes a large one smaller, and leaves a small one as it is" do
    large = described_class.new(image(4000, 2000).jpegsave_buffer)
    expect([large.width, large.height]).to eq [1600, 800]
    expect(Vips::Image.new_from_buffer(large.bytes, "").width).to eq 1600
    expect(described_class.new(image(40, 20).pngsave_buffer).width).to eq 40
  end

  it "writes a PNG with holes in it as a JPEG on white" do
    alpha = image(20, 20).bandjoin(0)
    kept = Vips::Image.new_from_buffer(described_class.new(alpha.pngsave_buffer).bytes, "")
    expect(kept.bands).to eq 3
    expect(kept.getpoint(10, 10)).to all(be > 240)
  end

  it "refuses what is no JPEG or PNG, cut off, empty, or a small file with a huge picture in it" do
    sound = image(400, 300).jpegsave_buffer
    ["", "GIF89a...", "<svg/>", "%PDF-1.4", "\0" * 100].each do |bad|
      expect { described_class.new(bad) }.to raise_error(
        described_class::Unreadable,
        /no JPEG or PNG/
      )
    end
    expect { described_class.new(sound[0, 60]) }.to raise_error(
      described_class::Unreadable,
      /damaged/
    )
    huge = image(12_000, 6000).pngsave_buffer(compression: 9)
    expect { described_class.new(huge) }.to raise_error(described_class::Unreadable, /60 million/)
  end

  it "refuses a file that is too large before it is read" do
    path = File.join(Dir.tmpdir, "photo-#{Process.pid}.jpg")
    File.open(path, "wb") { |file| file.truncate(described_class::MOST_BYTES + 1) }
    expect { described_class.read(path) }.to raise_error(
      described_class::Unreadable,
      /larger than 8 MB/
    )
  ensure
    FileUtils.rm_f(path)
  end

  describe "from a stranger" do
    # a PNG of so many points of one colour, packed as small as it gets
    def png(width, height, interlaced: 0)
      chunk = ->(type, data) do
        [data.bytesize].pack("N") + type + data + [Zlib.crc32(type + data)].pack("N")
      end
      head = [width, height, 8, 0, 0, 0, interlaced].pack("NNCCCCC")
      row = "\0#{"\x55" * width}".b
      packed = Zlib::Deflate.deflate(row * height, 9)
      "\x89PNG\r\n\x1A\n".b + chunk["IHDR".b, head] + chunk["IDAT".b, packed] +
        chunk["IEND".b, "".b]
    end

    def file(bytes)
      Tempfile.new("photo").tap { |one| one.binmode.write(bytes) && one.flush }.path
    end

    it "is unpacked in a process of its own, and comes out the same" do
      raw = with_exif
      expect(described_class.read(file(raw)).sha256).to eq described_class.new(
           described_class.new(raw).bytes
         ).sha256
    end

    it "is refused by its sides before it is unpacked" do
      started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      sizes = { [1, 20_000] => /16,000 points on a side/, [9000, 7000] => /60 million/ }
      sizes.each do |size, words|
        expect { described_class.read(file(png(*size))) }.to raise_error(
          described_class::Unreadable,
          words
        )
      end
      expect(Process.clock_gettime(Process::CLOCK_MONOTONIC) - started).to be < 10
    end

    it "may take only so much memory" do
      stub_const("Handrail::Exchange::Photo::MEMORY", 60_000_000)
      expect { described_class.read(file(png(4000, 4000))) }.to raise_error(
        described_class::Unreadable,
        /memory and time/
      )
    end
  end
end
