# frozen_string_literal: true

# The wire to tape and sensor: what is taken, and what is not.
RSpec.describe Handrail::Instruments do
  def device(kind = "tape", **how)
    made = described_class::StandIn.new(kind, seed: 5, **how).start
    @devices = [*@devices, made]
    made
  end

  after { @devices.to_a.each(&:stop) }

  def client(made, kind = "tape") = described_class::Client.new(kind, "127.0.0.1", made.port)

  # a server that says exactly these lines, whatever it is asked
  def saying(*lines)
    server = TCPServer.new("127.0.0.1", 0)
    thread =
      Thread.new do
        socket = server.accept
        lines.each { |line| socket.write(line) }
        sleep 3
      rescue IOError, SystemCallError
        nil
      end
    yield described_class::Client.new("tape", "127.0.0.1", server.addr[1])
  ensure
    thread&.kill
    server&.close
  end

  it "sends what was read when its button was pressed, with noise, once a press" do
    tape = device
    wire = client(tape)
    expect { wire.newest }.to raise_error(described_class::Silent, /Press its button/)
    expect(wire.command("PRESS 373")).to eq "OK"
    reading = wire.newest
    expect([reading.unit, reading.message, reading.battery]).to match [
            "cm",
            /\AHT-7:1@\d{10}\z/,
            90
          ]
    expect(reading.value.to_f).to be_within(0.3).of(37.3)
    wire.command("PRESS 373")
    expect(wire.newest.message).to start_with "HT-7:2@"
  end

  it "sends no more what was acknowledged, and the same message again when it is told to" do
    tape = device
    wire = client(tape)
    wire.command("PRESS 373")
    first = wire.newest
    wire.acknowledge(first.message)
    expect { wire.newest }.to raise_error(described_class::Silent)
    wire.command("REPEAT")
    expect(wire.newest).to eq first
  end

  it "sends nothing that was pressed before what was acknowledged" do
    tape = device
    wire = client(tape)
    2.times { |i| wire.command("PRESS #{700 + (100 * i)}") }
    wire.acknowledge(wire.newest.message)
    expect { wire.newest }.to raise_error(described_class::Silent, /Press its button/)
  end

  it "says how old it is, and is not taken by who asked for a younger one" do
    tape = device
    wire = client(tape)
    wire.command("LATE 90")
    wire.command("PRESS 700")
    expect(wire.newest.age).to eq 90
    expect(wire.newest(within: 100).age).to eq 90
    expect { wire.newest(within: 60) }.to raise_error(
      described_class::Silent,
      /cm\) was read before this page was opened/
    )
  end

  it "says of a device that counts from the beginning again, and takes nothing of one whose clock is off" do
    presses = Handrail::Instruments::Presses.new
    told = ->(name, number, moment) { presses.seen(name, number, moment) }
    expect([told["A", 12, 1000], told["A", 12, 1002], told["A", 13, 1010]]).to eq %i[new again new]
    expect([told["A", 1, 1100], told["A", 2, 1110], told["B", 1, 1110]]).to eq %i[restarted new new]
    # one press, at two moments
    expect([told["A", 2, 1190], told["A", 3, 1200]]).to eq %i[clock_off new]
    # what was sent before the last, once more
    expect(told["A", 2, 1110]).to eq :new
  end

  it "reads the exchange of its page, and no line with another end, a comma or a sign" do
    page = File.read(File.join(Handrail::ROOT, "docs", "instruments.md"))
    lines = page[/```\ndevice: HELLO(.*?)```/m].scan(/^device: (.*)$/).flatten
    wire = Handrail::Instruments::Wire
    expect(wire.name(lines.first, "tape")).to eq "HT-7"
    read = wire.reading(lines[1], "tape", "HT-7", now: 1_796_027_267)
    expect(read.to_h.slice(:value, :unit, :message, :age, :battery).values).to eq [
         "37.3",
         "cm",
         "HT-7:12@1796027263",
         4,
         80
       ]
    [
      "VALUE 12 37,3 cm age=4",
      "VALUE 12 -37.3 cm age=4",
      "VALUE 12 1'037 mm age=4",
      "VALUE 12 37.3 cm age=4\r",
      "VALUE 12 37.3 cm",
      "VALUE 12 37.3 cm age=-4",
      "VALUE 12 37.3 ft age=4"
    ].each do |line|
      expect { wire.reading(line, "tape", "HT-7") }.to raise_error(Handrail::Instruments::Silent)
    end
  end

  it "is noisy about as much as a tape is, and no more than a few tenths off" do
    tape = device
    wire = client(tape)
    values =
      Array.new(60) do
        wire.command("PRESS 400")
        wire.newest.value.to_f
      end
    mean = values.sum / values.size
    expect(mean).to be_within(0.03).of(40)
    expect(values.minmax).to match [be > 39.7, be < 40.3]
    expect(values.uniq.size).to be > 1
  end

  it "sends inches when it is set to them, and says when its battery is low or empty" do
    tape = device
    wire = client(tape)
    wire.command("UNIT in")
    wire.command("BATTERY 8")
    wire.command("PRESS 381")
    reading = wire.newest
    expect([reading.unit, reading.low?]).to eq ["in", true]
    expect(reading.value.to_f).to be_within(0.1).of(15)
    wire.command("BATTERY 0")
    expect(wire.command("PRESS 381")).to eq "ERROR battery empty"
  end

  it "drifts as a sensor does, until it is zeroed; a tape has no zero" do
    sensor = device("sensor")
    wire = client(sensor, "sensor")
    200.times { wire.command("PRESS 40") }
    drifted = Array.new(20) { wire.command("PRESS 40") && wire.newest.value.to_f }
    wire.zero
    zeroed = Array.new(20) { wire.command("PRESS 40") && wire.newest.value.to_f }
    expect(drifted.sum / 20).to be > (zeroed.sum / 20) + 5
    expect { client(device).zero }.to raise_error(described_class::Silent, /no zero/)
  end

  it "says that a lost device is lost, and takes nothing" do
    tape = device
    wire = client(tape)
    wire.command("PRESS 373")
    wire.command("DROP 1")
    expect { wire.newest }.to raise_error(described_class::Silent, /does not answer/)
    expect(wire.newest.message).to start_with "HT-7:1@"
    tape.stop
    expect { wire.newest }.to raise_error(described_class::Silent, /does not answer/)
    expect { wire.acknowledge("HT-7:1") }.not_to raise_error
  end

  it "takes nothing of nonsense, whatever it is" do
    tape = device
    wire = client(tape)
    wire.command("PRESS 373")
    wire.command("GARBLE 1")
    expect { wire.newest }.to raise_error(described_class::Silent, /can not be read/)
    [
      "VALUE 1 37.3 kg age=1\n",
      "VALUE x 37.3 cm age=1\n",
      "VALUE 1 37,3 cm age=1\n",
      "VALUE 1 -3 cm age=1\n",
      "VALUE 1 1e9 cm age=1\n",
      "value 1 37.3 cm age=1\n",
      "VALUE 1 37.3 cm\n",
      "VALUE 1 37.3 cm age=1 battery=9999\n",
      "#{"V" * 4000}\n",
      "\u0000\n",
      "VALÜE 1 37.3 cm age=1\n",
      "\n"
    ].each do |line|
      saying("HELLO tape HT-1\n", line) do |other|
        expect { other.newest }.to raise_error(described_class::Silent, /can not be read/)
      end
    end
  end

  it "does not take a sensor for a tape, nor something else for either" do
    ["HELLO sensor HS-1\n", "SSH-2.0-OpenSSH\n", "HTTP/1.1 200 OK\n"].each do |line|
      saying(line, "VALUE 1 37.3 cm\n") do |other|
        expect { other.newest }.to raise_error(described_class::Silent, /no tape/)
      end
    end
  end

  it "waits no longer than its patience for one that says nothing" do
    stub_const("Handrail::Instruments::Client::PATIENCE", 0.3)
    started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    saying("HELLO tape HT-1\n") do |other|
      expect { other.newest }.to raise_error(described_class::Silent, /does not answer/)
    end
    expect(Process.clock_gettime(Process::CLOCK_MONOTONIC) - started).to be < 2
  end
end
