# frozen_string_literal: true

module Handrail
  module Web
    # The demo's page of stand-ins: their buttons are pressed here, since there is no tape in the
    # hand. It is there only where stand-ins run, and only in the demo clinic.
    class Devices < Base
      # what each form does: words => the line that is sent, with the number that was typed
      DOES = {
        "press" => "PRESS %s",
        "battery" => "BATTERY %d",
        "drop" => "DROP 1",
        "garble" => "GARBLE 1",
        "repeat" => "REPEAT"
      }.freeze

      helpers do
        def stand_ins!
          clinical!
          halt 404 unless clinic.demo && ENV["HANDRAIL_STAND_INS"]
        end

        # "unit cm" => the line that says so
        def unit_of(kind)
          unit = text("does")[/\Aunit (.+)\z/, 1]
          "UNIT #{unit}" if Instruments::KINDS.fetch(kind).units.key?(unit)
        end
      end

      get "/" do
        stand_ins!
        erb :"devices/stand_ins", locals: { told: nil }
      end

      post "/:kind" do
        stand_ins!
        kind = instrument!
        line = found(DOES[text("does")] || unit_of(kind))
        number = Families::Number.read(text("value")) || 0
        told =
          begin
            Instruments.at(kind).command(format(line, number.to_f))
          rescue Instruments::Silent => e
            e.message
          end
        erb :"devices/stand_ins", locals: { told: told == "OK" ? "Done." : told }
      end
    end
  end
end
