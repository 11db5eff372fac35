# frozen_string_literal: true

module Handrail
  class Effort
    # A fitter's two hands at a browser, counted by the keystroke-level model (Card, Moran and Newell, 1980, with its
    # times for a practised typist): a key 0.28 s, pointing 1.1 s and the press 0.1 s, the hands between keys and
    # pointer 0.4 s, making up one's mind 1.35 s an entry or question that is read; what the program takes is measured.
    #
    #   hands.write { hands.type("#value", "36.5"); hands.key(:Enter) }
    #   hands.counts   # => { keys: 5, taps: 0, loads: 1, decisions: 1, seconds: 3.1, ceremony: 0.0, ... }
    #
    # Nothing is done that a person can not do: a key goes where the focus is, a tap where it is seen. What writes
    # nothing is ceremony. `write` is what would have been written on paper as well.
    class Hands
      K = 0.28
      P = 1.1
      B = 0.1
      H = 0.4
      M = 1.35
      # further than so many Tabs, a hand takes the pointer
      TABS = 3

      TABBABLE =
        "a[href], button:not([disabled]):not([tabindex='-1']), input:not([type=hidden]):not([disabled]), " \
          "select, textarea, summary"
      MARK = <<~JS
        window.effort = window.effort || 0;
        if (!window.effortOn) {
          window.effortOn = true;
          document.addEventListener("htmx:beforeRequest", ({ detail }) => {
            if (!/find|same/.test(detail.pathInfo?.requestPath || "")) window.effortBusy = true;
          });
          document.addEventListener("htmx:responseError", () => (window.effortBusy = false));
          document.addEventListener("htmx:afterSettle", () => {
            window.effortBusy = false;
            window.effort += 1;
          });
        }
      JS
      private_constant :TABBABLE, :MARK

      attr_reader :page

      # page - a Ferrum page, or browser
      def initialize(page)
        @page = page
        @keys = @taps = @loads = @decisions = @hidden = @lost = 0
        @seconds = @ceremony = @waited = 0.0
        @at_keys = true
        @writing = false
      end

      def counts
        {
          keys: @keys,
          taps: @taps,
          loads: @loads,
          decisions: @decisions,
          seconds: @seconds.round(1),
          ceremony: @ceremony.round(1),
          hidden: @hidden,
          lost: @lost,
          waited: @waited.round(1)
        }
      end

      # One entry that would have been written on paper as well, with what was made up of it.
      def write
        @writing = true
        decide
        yield
      ensure
        @writing = false
      end

      # Something read or made up one's mind about.
      def decide
        @decisions += 1
        spend(M)
      end

      # A key by its name, or each letter of a text; to where the focus is.
      def key(name)
        hand(true)
        @keys += 1
        spend(K)
        settle { @page.keyboard.type(name) }
      end

      def text(words)
        hand(true)
        @keys += words.length
        spend(K * words.length)
        @page.keyboard.type(words)
      end

      # Types into a field: where it has the focus at once, else by a few Tabs, else by a tap.
      def type(selector, words)
        reach(selector)
        text(words)
      end

      # The focus onto this; lost where it was nowhere before.
      def reach(selector)
        return if focused?(selector)

        away = tabs_to(selector)
        @lost += 1 if js("return document.activeElement === document.body")
        return tap(selector) if away.nil? || away > TABS

        away.times { key(:Tab) }
        tap(selector) unless focused?(selector)
      end

      # A tap, or a click; what lies behind the bar or out of the window is scrolled to first.
      def tap(selector)
        node = find(selector)
        unless seen?(selector)
          @hidden += 1 if selector.include?("answer") || selector.include?("question")
          spend(K)
          js("document.querySelector(#{selector.to_json}).scrollIntoView({ block: 'center' })")
        end
        hand(false)
        @taps += 1
        spend(P + B)
        # a box or a chip is tapped where it is seen
        label = @page.at_css("label:has(#{selector})") if node
          .attribute("type")
          .to_s
          .match?(/radio|checkbox/)
        settle { (label || node).click }
      end

      # One of a group of chips: by a few Tabs and the arrows, else by a tap.
      def chip(name, value)
        values =
          js("return [...document.querySelectorAll(\"[name='#{name}']\")].map((one) => one.value)")
        away =
          focused?("[name='#{name}']") ? 0 : tabs_to("[name='#{name}'][value='#{values.first}']")
        if !away || away > TABS || values.index(value) > TABS
          return tap("[name='#{name}'][value='#{value}']")
        end

        away.times { key(:Tab) }
        values.index(value).zero? ? key(" ") : values.index(value).times { key(:Right) }
        unless js("return document.querySelector(\"[name='#{name}']:checked\")?.value") == value
          raise "#{value} was not chosen"
        end
      end

      # A box, a button or a link: by a few Tabs and a key where the hands are at the keys, else by a tap.
      def press(selector)
        node = find(selector)
        away = @at_keys && tabs_to(selector)
        return tap(selector) if !away || away > TABS || node.attribute("type") == "radio"

        away.times { key(:Tab) }
        key(node.tag_name == "a" ? :Enter : " ")
      end

      # Goes on by what the bar offers: Space where it only leads on, Enter where the focus is in a field of its form,
      # else a tap.
      def go_on(selector = ".bar .is-primary")
        find(selector)
        case js(<<~JS)
          const it = document.querySelector(#{selector.to_json});
          const here = document.activeElement;
          if (it.matches("button")) return here.matches("input") && here.form === it.form ? "Enter" : "tap";
          const own = here.matches("a, button, summary, select, textarea, input:not([data-reading])");
          return own || here.value || document.querySelector("#bench .question") ? "tap" : " ";
        JS
        when "Enter"
          key(:Enter)
        when " "
          key(" ")
        else
          tap(selector)
        end
      end

      # Notes where what is asked is not wholly in view.
      def asked(selector)
        wait_for(selector)
        @hidden += 1 unless seen?(selector)
      end

      def there?(selector) = !@page.at_css(selector).nil?
      def js(code) =
        @page.evaluate("(() => { #{code.include?("return") ? code : "return #{code}"} })()")
      def words(selector) = js("document.querySelector(#{selector.to_json})?.textContent.trim()")

      def wait_for(selector)
        300.times do
          return if there?(selector)

          sleep 0.02
        end
        raise "#{selector} did not come on #{@page.url}"
      end

      private

      def spend(seconds)
        @seconds += seconds
        @ceremony += seconds unless @writing
      end

      def hand(to_keys)
        return if @at_keys == to_keys

        @at_keys = to_keys
        spend(H)
      end

      def find(selector)
        wait_for(selector)
        @page.at_css(selector)
      end

      def focused?(selector)
        10.times do
          return true if js("return document.activeElement?.matches(#{selector.to_json})")
          return false unless js("return document.activeElement === document.body")

          sleep 0.02
        end
        false
      end

      # how many Tabs away it is, nil where it lies before or nowhere
      def tabs_to(selector)
        js(<<~JS)
          const all = [...document.querySelectorAll(#{TABBABLE.to_json})].filter((one) => one.getClientRects().length);
          const radios = new Set();
          const stops = all.filter((one) => {
            if (one.type !== "radio") return true;
            const first = !radios.has(one.name);
            radios.add(one.name);
            return first || one.checked || one.matches(#{selector.to_json});
          });
          const here = document.activeElement;
          const to = stops.findIndex((one) => one.matches(#{selector.to_json}));
          if (to < 0) return null;
          let from = stops.indexOf(here);
          if (from < 0) {
            from = stops.findIndex((one) => here.compareDocumentPosition(one) & Node.DOCUMENT_POSITION_FOLLOWING) - 1;
          }
          return to > from ? to - from : null;
        JS
      end

      def seen?(selector)
        js(<<~JS)
          const it = document.querySelector(#{selector.to_json});
          const box = (it.closest("label") || it).getBoundingClientRect();
          const bar = document.querySelector(".bar");
          const bottom = bar && !bar.contains(it) ? bar.getBoundingClientRect().top : innerHeight;
          return box.top >= 0 && box.bottom <= bottom + 1 && box.right <= innerWidth + 1;
        JS
      end

      # does it, and waits until the page has answered: that is measured
      def settle
        @page.execute(MARK)
        before = js("return performance.timeOrigin")
        count = js("return window.effort")
        yield
        began = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        sleep 0.03
        400.times do
          break unless busy?

          sleep 0.01
        end
        took = Process.clock_gettime(Process::CLOCK_MONOTONIC) - began - 0.03
        turned =
          js("return performance.timeOrigin") != before || js("return window.effort || 0") != count
        return unless turned

        @loads += 1
        @waited += [took, 0].max
        spend([took, 0].max)
      end

      def busy?
        js("return document.readyState !== 'complete' || window.effortBusy === true")
      rescue Ferrum::Error
        true
      end
    end
  end
end
