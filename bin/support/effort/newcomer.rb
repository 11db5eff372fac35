# frozen_string_literal: true

module Handrail
  class Effort
    # Of a Walk: a new patient, and the order.
    module Newcomer
      private

      def patient
        hands.key("n")
        hands.wait_for("#given_name")
        dog = @family.species == %w[dog]
        hands.write { hands.tap("[name=species][value=dog]") } if dog
        (
          dog ? { "given_name" => name } : { "given_name" => "Ada", "family_name" => name }
        ).each { |field, words| hands.write { hands.type("##{field}", words) } }
        hands.write { hands.type("#owner_name", "Leo Quill") } if dog
        hands.write { hands.type("#born_on", "14.3.19#{rand(30..70)}") }
        unless hands.js("return document.querySelector('#record_number').value")[/./]
          number = "E#{Process.pid % 1000}#{@plan.name[0, 2]}#{rand(100)}"
          hands.write { hands.type("#record_number", number) }
        end
        hands.key(:Enter)
        hands.wait_for("[href$='/orders/new']")
        hands.go_on
      end

      # five letters that nobody has
      def name =
        Array.new(3) { %w[b d f g k l m n p r t v].sample + %w[a e i o u].sample }.join.capitalize

      def order
        hands.wait_for("#order, #pick-filter")
        if hands.there?("#pick-filter")
          hands.write { hands.type("#pick-filter", @family.name[0, 5].downcase) }
          hands.tap("[href$='family=#{@plan.family}']")
        end
        hands.wait_for("#order")
        chip("side", @plan.side) if hands.there?("[type=radio][name=side]")
        @family.fields.select(&:required).each { |field| field_of(field) }
        asked_for
        primary
        hands.wait_for("#ask")
      end

      # who asked for it, when, and which product, where that is not known already
      def asked_for
        empty = ->(id) { hands.js("return document.querySelector('##{id}').value").empty? }
        hands.write { hands.type("#prescriber", "Dr Ansel") } if empty.call("prescriber")
        if empty.call("prescribed_on")
          hands.write { hands.type("#prescribed_on", (@clinic.today - 7).strftime("%-d %b")) }
        end
        unless hands.there?("[name=product_id]:checked")
          hands.write { hands.tap("[name=product_id]") }
        end
      end

      def field_of(field)
        name = "fields[#{field.key}]"
        return if hands.there?("[name='#{name}']:checked")

        unless field.type == "choice"
          return(
            hands.write { hands.type("[name='#{name}']", field.type == "text" ? "as asked" : "60") }
          )
        end

        choice = @plan.chosen[field.key] || field.choices.first.key
        return chip(name, choice) if hands.there?("[type=radio][name='#{name}']")

        hands.write do
          hands.reach("select[name='#{name}']")
          hands.key(:Down)
        end
      end

      # one of a group: Tab to it and an arrow, or a tap
      def chip(name, value)
        hands.write { hands.chip(name, value) }
      end

      def primary
        hands.decide
        hands.go_on
      end
    end
  end
end
