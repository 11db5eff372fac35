# frozen_string_literal: true

# What is asked now must lie wholly in view, clear of the bar, and the next key must be meant for it.
module AskedNow
  ASKED = [
    "#bench .question",
    "#bench #now form",
    "#bench .checks .is-current",
    "#bench .ask-one.is-asked"
  ].freeze

  # Fails unless what is asked is wholly visible and, where said, this has the focus.
  def asked_now!(focus: nil)
    found = nil
    200.times do
      found = page.evaluate_script(<<~JS)
        (() => {
          const asked = #{ASKED.to_json}.map((one) => document.querySelector(one))
            .find((one) => one && one.getClientRects().length);
          if (!asked) return { seen: false, what: "nothing is asked" };
          const box = asked.getBoundingClientRect();
          const bar = document.querySelector(".bar");
          const bottom = bar ? bar.getBoundingClientRect().top : innerHeight;
          const top = document.querySelector(".top").getBoundingClientRect();
          const above = getComputedStyle(document.querySelector(".top")).position === "sticky" ? top.bottom : 0;
          const here = document.activeElement;
          return {
            seen: box.height > 0 && box.top >= above && box.bottom <= bottom && box.right <= innerWidth,
            what: `${asked.className || asked.id} ${Math.round(box.top)} to ${Math.round(box.bottom)}, bar ${Math.round(bottom)}`,
            focus: #{(focus || "*").to_json} === "*" || here.matches(#{(focus || "*").to_json}),
            here: here.outerHTML.slice(0, 120),
          };
        })()
      JS
      return if found["seen"] && found["focus"]

      sleep 0.02
    end
    raise "out of view: #{found["what"]}" unless found["seen"]

    raise "the focus is on #{found["here"]}"
  end
end
