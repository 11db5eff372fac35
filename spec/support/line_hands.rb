# frozen_string_literal: true

# What a person does at a page of a LineWalk: types, signs in and out, and looks what became of a value.
module LineHands
  PASSWORD = Fixtures::PASSWORD
  PATIENCE = 25
  # where what waits is said
  LISTED = "#unsaved li, .waits"

  private

  # the visit whose page is shown here, after one was opened where none was
  def at_a_bench(stage)
    unless page.current_path.to_s.match?(%r{\A/visits/\d+/#{stage}})
      to("/visits/#{@visits.sample(random: @dice).id}/#{stage}")
    end
    number =
      page.evaluate_script("document.querySelector('[data-visit][data-fitting]')?.dataset.visit")
    [@visits.find { |visit| visit.id.to_s == number }]
  rescue Ferrum::Error
    # a page that hangs on a server that was killed
    [nil]
  end

  # Types, and reads in the same moment for which place: the page may go on between two looks at it.
  def type(field, value, visit, kind)
    place = page.evaluate_script(<<~JS, field, value)
      ((at, value) => {
        const f = document.querySelector(at);
        f.focus();
        f.value = value;
        f.dataset.walk = "here";
        f.dispatchEvent(new Event("input", { bubbles: true }));
        return ["site", "side"].map((name) =>
          document.querySelector(`#take [name=${name}]:checked, #take [name=${name}][type=hidden]`)?.value);
      })(arguments[0], arguments[1])
    JS
    one =
      LineWalk::Typed.new(
        value: value,
        kind: kind,
        visit: visit,
        place: (place if kind == :reading),
        who: @here.who,
        profile: @here,
        seen: false
      )
    @typed << one
    @told << "#{value} at #{visit.id}"
    yield
    # its person sees it as kept: in the list of what waits, or the field has let go of it
    wait do
      rows_of(one).any? || page.has_css?(LISTED, text: value, wait: 0) ||
        page.has_css?("#unsaved", text: /still in (its|the) (field|page)/, wait: 0) ||
        page.has_css?(".notice", text: "Yours is not saved yet", wait: 0)
    end
    one.seen = rows_of(one).any? || page.has_css?(LISTED, text: value, wait: 0)
    # and looks up when the page has gone on: what is typed before that belongs to the next place
    wait(2) { gone_on?(one, field) }
  rescue Ferrum::Error, Capybara::Cuprite::ObsoleteNode, Capybara::ElementNotFound
    nil
  end

  # another value in the field, or another field: what somebody said last stands in it again
  def gone_on?(one, field)
    page.evaluate_script(
      "(([at, value]) => { const f = document.querySelector(at); return f?.value !== value || !f.dataset.walk; })" \
        "(arguments[0])",
      [field, one.value]
    )
  end

  def rows_of(one)
    case one.kind
    when :reading
      db[:readings].where(typed: one.value, clinic_id: one.who.clinic_id).all
    when :word
      db[:wearer_words].where(wants: one.value, clinic_id: one.who.clinic_id).all
    when :note
      db[:visit_notes].where(text: one.value, clinic_id: one.who.clinic_id).all
    end
  end

  def placed?(one, row) = one.place.nil? || [row[:site], row[:side]] == one.place

  # whether a value stands in view on this page
  def shown?(one) = page.has_css?(LISTED, text: one.value, wait: 0)

  # how many entries of who is signed in here are still to be sent
  def open_here
    page.evaluate_script(<<~JS)
      [...document.querySelectorAll("#unsaved li, .waits")]
        .filter((one) => /Take (it )?back|is being sent|is asked when/.test(one.textContent)).length
    JS
  rescue Ferrum::Error
    1
  end

  def close_other_tabs
    (page.windows - [page.current_window]).each(&:close)
  end

  # a request that is under way may bring its cookie back: the session is ended at the server too
  def sign_out
    end_session
    wait do
      page.driver.clear_cookies
      to("/login")
      page.has_css?("#login", wait: 1)
    end
  end

  def sign_in(who)
    to("/login")
    # a browser that was killed may still be signed in
    wait { page.has_css?("#login, .me", wait: 0) } or
      raise "no page to sign in: #{page.text[0, 200]}"
    return if page.has_css?(".me", wait: 0)

    page.execute_script(<<~JS, who.email, PASSWORD)
      document.getElementById("login").value = arguments[0];
      document.getElementById("password").value = arguments[1];
      document.querySelector("form").requestSubmit();
    JS
    # what was under way may have changed the session meanwhile: the page comes anew
    wait { page.has_css?(".me", wait: 0) || page.current_url.end_with?("old=yes") } or
      raise "not signed in: #{page.text[0, 200]}"
    sign_in(who) unless page.has_css?(".me", wait: 0)
  end
end
