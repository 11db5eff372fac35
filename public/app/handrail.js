// Keys, drafts, and readings that outlast a lost connection. Pages work without it.
(() => {
  "use strict";
  const account = document.body.dataset.account;
  const store = {
    get(key) { try { return JSON.parse(localStorage.getItem(`handrail.${account}.${key}`)); } catch { return null; } },
    set(key, value) { try { localStorage.setItem(`handrail.${account}.${key}`, JSON.stringify(value)); } catch { /* a full or closed store loses only the draft */ } },
    drop(key) { try { localStorage.removeItem(`handrail.${account}.${key}`); } catch { /* as above */ } },
    keys(start) { return Object.keys(localStorage).filter((key) => key.startsWith(`handrail.${account}.${start}`)).map((key) => key.slice(`handrail.${account}.`.length)); }
  };
  const bench = () => document.getElementById("bench");
  const token = () => JSON.parse(document.body.getAttribute("hx-headers"))["X-CSRF-Token"];

  // --- what could not be sent: kept, shown, sent once when the line is back ---

  const unsaved = document.getElementById("unsaved");
  const queue = () => store.get("queue") || [];
  let sending = false;

  function showQueue(said) {
    const waiting = queue();
    unsaved.hidden = waiting.length === 0 && !said;
    unsaved.textContent = "";
    if (waiting.length) {
      const head = document.createElement("strong");
      head.textContent = `Not saved yet (${waiting.length})`;
      const list = document.createElement("ul");
      waiting.forEach((entry) => { const item = document.createElement("li"); item.textContent = `${entry.label}: ${entry.value}`; list.append(item); });
      unsaved.append(head, list);
    }
    if (said) { const line = document.createElement("p"); line.textContent = said; unsaved.append(line); }
    else if (waiting.length) { const line = document.createElement("p"); line.textContent = "Kept in this browser. It is sent when the line is back."; unsaved.append(line); }
  }

  function keep(form, submitter) {
    const body = new URLSearchParams(new FormData(form));
    if (submitter && submitter.name) body.set(submitter.name, submitter.value);
    const entry = { url: form.getAttribute("hx-post"), body: body.toString(), label: form.dataset.keep, value: `${body.get("value") || body.get("answer") || body.get("outcome") || ""} ${body.get("unit") || ""}`.trim() };
    const waiting = queue();
    if (waiting.some((other) => new URLSearchParams(other.body).get("entry_key") === body.get("entry_key"))) return;
    store.set("queue", [...waiting, entry]);
    const key = form.querySelector("[name=entry_key]");
    if (key) key.value = crypto.randomUUID ? crypto.randomUUID() : key.value.replace(/[0-9a-f]/g, () => Math.floor(Math.random() * 16).toString(16));
    const field = form.querySelector("[data-reading]");
    if (field) field.value = "";
    showQueue();
  }

  async function sendQueue() {
    if (sending || !queue().length) return;
    sending = true;
    try {
      while (queue().length) {
        const [entry, ...rest] = queue();
        const answer = await fetch(entry.url, { method: "POST", headers: { "HX-Request": "true", "X-CSRF-Token": token(), "Content-Type": "application/x-www-form-urlencoded" }, body: entry.body });
        if (answer.status === 401 || answer.status === 403) { showQueue("Sign in again, then it is sent."); return; }
        if (answer.status >= 500) return;
        store.set("queue", rest);
        showQueue(answer.ok ? null : `${entry.label}: ${entry.value} could not be taken as it stands. Look at the page.`);
        if (!rest.length || !answer.ok) show(await answer.text());
      }
    } catch { showQueue(); } finally { sending = false; }
  }

  // put a fragment that came outside htmx in the bench's place
  function show(html) {
    if (!bench() || !html.includes('id="bench"')) { if (bench()) location.reload(); return; }
    htmx.swap("#bench", html, { swapStyle: "outerHTML" });
  }

  let lastSubmitter = null;
  document.addEventListener("submit", (event) => { lastSubmitter = event.submitter; }, true);
  ["htmx:sendError", "htmx:timeout"].forEach((name) => document.addEventListener(name, (event) => {
    const form = event.detail.elt.closest("form");
    if (form && form.dataset.keep !== undefined) keep(form, lastSubmitter);
    else if (form && form.method === "post") showQueue("No connection. What you typed is still in the page: send it again when the line is back.");
  }));
  document.addEventListener("htmx:responseError", (event) => {
    const status = event.detail.xhr.status;
    const form = event.detail.elt.closest("form");
    if (status === 401 || status === 403) { if (form && form.dataset.keep !== undefined) keep(form, lastSubmitter); showQueue("You are signed out. What you typed is kept here: sign in again in this window."); link("/login"); }
    else if (form && form.dataset.keep !== undefined && status >= 500) keep(form, lastSubmitter);
    else showQueue("The server could not do that. What you typed is still in the page; try once more.");
  });
  function link(path) { const a = document.createElement("a"); a.href = path; a.textContent = "Sign in"; unsaved.append(" ", a); }
  window.addEventListener("online", sendQueue);
  setInterval(sendQueue, 4000);

  // --- drafts: what is typed in a form outlasts a reload, a crash and a restart ---

  const draftKey = (form) => `draft.${location.pathname}#${form.id || form.getAttribute("action")}${form.dataset.draft ? `.${form.dataset.draft}` : ""}`;
  document.addEventListener("input", (event) => {
    const form = event.target.closest("form[data-draft]") || (event.target.form && event.target.form.dataset.draft !== undefined ? event.target.form : null);
    if (!form) return;
    const values = [...new FormData(form)].filter(([name, value]) => !["authenticity_token", "seen", "page", "entry_key"].includes(name) && typeof value === "string");
    store.set(draftKey(form), { at: Date.now(), values });
  });

  function restoreDrafts() {
    document.querySelectorAll("form[data-draft]").forEach((form) => {
      const draft = store.get(draftKey(form));
      if (!draft || Date.now() - draft.at > 12 * 3600 * 1000) return;
      let changed = false;
      for (const field of form.elements) {
        if (!field.name || field.type === "hidden" || ["authenticity_token"].includes(field.name)) continue;
        const given = draft.values.filter(([name]) => name === field.name).map(([, value]) => value);
        if (field.type === "checkbox" || field.type === "radio") {
          const on = given.includes(field.value);
          if ((field.type === "checkbox" || given.length) && field.checked !== on) { field.checked = on; changed = true; }
        } else if (given.length && field.value !== given[0] && !field.matches("[aria-invalid]")) { field.value = given[0]; changed = true; }
      }
      if (changed && !form.querySelector(".draft-note")) {
        const note = document.createElement("p");
        note.className = "quiet draft-note";
        note.textContent = "Typed here before and not saved yet.";
        form.prepend(note);
      }
    });
  }
  // a draft is done with once the server has taken the form
  document.addEventListener("submit", (event) => { if (event.target.matches("form[data-draft]")) sessionStorage.setItem("handrail.sent", draftKey(event.target)); }, true);
  document.addEventListener("htmx:beforeOnLoad", (event) => {
    const form = event.detail.elt.closest && event.detail.elt.closest("form[data-draft]");
    if (form && event.detail.xhr.status < 400) store.drop(draftKey(form));
  });
  function settleDrafts() {
    const sent = sessionStorage.getItem("handrail.sent");
    if (sent && !document.querySelector(".notice.is-stop, .notice.is-look-again [role=alert], .fault")) store.drop(sent);
    sessionStorage.removeItem("handrail.sent");
  }
  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-forget]")) store.keys("draft.").forEach(store.drop);
  });

  // --- keys ---

  const typing = (target) => target.matches("input:not([type=radio]):not([type=checkbox]), textarea, select") && !(target.matches("[data-reading]") && target.value === "");
  const flip = (name) => {
    const chips = [...document.querySelectorAll(`#take [name=${name}]`)];
    if (chips.length < 2) return;
    const next = chips[(chips.findIndex((chip) => chip.checked) + 1) % chips.length];
    next.checked = true;
    next.dispatchEvent(new Event("change", { bubbles: true }));
    focusReading();
  };
  const focusReading = () => { const field = document.getElementById("value"); if (field) { field.focus(); field.select(); } };
  const press = (selector) => { const element = document.querySelector(selector); if (element && !element.disabled) { element.click(); return true; } return false; };
  const move = (step) => {
    const rows = [...document.querySelectorAll("[data-row]")];
    if (!rows.length) return;
    const at = rows.findIndex((row) => row.classList.contains("is-picked"));
    const next = rows[Math.min(Math.max(at + step, 0), rows.length - 1)];
    rows.forEach((row) => row.classList.remove("is-picked"));
    next.classList.add("is-picked");
    (next.querySelector("[data-open]") || next.querySelector("a")).focus();
  };
  const open = (selector) => { const details = document.querySelector(selector); if (!details) return; details.open = true; (details.querySelector("form input:not([type=hidden]), ul a") || details).focus(); };

  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.altKey || event.metaKey || event.isComposing) return;
    const dialog = document.getElementById("keys");
    if (typing(event.target) || dialog.open || (store.get("keys") === false && event.key !== "?")) return;
    const done = {
      "?": () => dialog.showModal(), "/": () => document.getElementById("find").focus(),
      u: () => flip("unit"), s: () => flip("side"), r: () => focusReading(),
      x: () => { const summary = document.querySelector("[data-strike]"); if (summary) { summary.parentElement.open = true; summary.parentElement.querySelector("[name=reason]").focus(); } },
      p: () => open("[data-problems]"), j: () => move(1), k: () => move(-1),
      y: () => press('[data-key="y"]'), n: () => press('[data-key="n"]'),
      " ": () => event.target.matches("button, a, summary, input") ? "native" : press('[data-key="Space"]')
    }[event.key];
    if (!done) return;
    if (done() !== "native") event.preventDefault();
  });

  // the strip's unit follows its chip
  document.addEventListener("change", (event) => {
    if (event.target.name === "unit" && event.target.closest("#take")) {
      document.querySelector(".strip .unit").textContent = event.target.value;
      document.querySelector(".strip").classList.toggle("is-inch", event.target.value === "in");
    }
    if (event.target.matches("[data-submit]")) event.target.form.requestSubmit();
    if (event.target.id === "keys-on") store.set("keys", event.target.checked);
  });
  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-next-check]")) { event.preventDefault(); const target = document.querySelector(".checks .is-current"); if (target) { target.scrollIntoView({ block: "center" }); (target.querySelector("input:not([type=hidden]), button") || target).focus(); } }
    if (!event.target.closest(".find")) document.getElementById("found").textContent = "";
  });

  // --- a chart on the tape: edges are pulled, or moved with the arrow keys; the fields follow, and are looked over again ---

  const field = (line, name) => document.querySelector(`[name="rows[${line}][${name}]"]`);
  const perUnit = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 };
  const written = (mm, unit) => {
    if (unit === "in") { const eighths = Math.round(mm / 25.4 * 8); const whole = Math.floor(eighths / 8); let top = eighths % 8; let bottom = 8; while (top && top % 2 === 0) { top /= 2; bottom /= 2; } return top ? `${whole ? `${whole} ` : ""}${top}/${bottom}` : `${whole}`; }
    return `${Math.round(mm) / (perUnit[unit] || 10)}`;
  };
  let lookTimer = null;
  function look(focus) {
    const form = document.getElementById("chart");
    if (!form) return;
    clearTimeout(lookTimer);
    lookTimer = setTimeout(async () => {
      try {
        const answer = await fetch(form.dataset.look, { method: "POST", headers: { "X-CSRF-Token": token(), "HX-Request": "true" }, body: new URLSearchParams(new FormData(form)) });
        if (!answer.ok) return;
        document.getElementById("look").outerHTML = await answer.text();
        if (focus) { const grip = document.querySelector(`.grip[data-line="${focus.line}"][data-edge="${focus.edge}"]`); if (grip) grip.focus(); }
      } catch { showQueue("No connection. What you typed is still in the page."); }
    }, 250);
  }
  function setEdge(grip, mm) {
    const { line, edge } = grip.dataset;
    const unit = field(line, "unit").value || "cm";
    field(line, edge).value = written(mm, unit);
    grip.setAttribute("aria-valuenow", mm);
  }
  const mmAt = (svg, clientX) => {
    const box = svg.getBoundingClientRect();
    const x = (clientX - box.left) * svg.viewBox.baseVal.width / box.width;
    const { low, high, left, right } = svg.dataset;
    return Number(low) + (x - Number(left)) / (right - left) * (high - low);
  };
  document.addEventListener("pointerdown", (event) => {
    const grip = event.target.closest && event.target.closest(".grip");
    if (!grip) return;
    event.preventDefault();
    grip.focus();
    grip.classList.add("is-held");
    const svg = grip.ownerSVGElement;
    const move = (e) => { const mm = mmAt(svg, e.clientX); setEdge(grip, mm); const { low, high, left, right } = svg.dataset; grip.setAttribute("cx", Number(left) + (mm - low) / (high - low) * (right - left)); };
    const up = () => { document.removeEventListener("pointermove", move); document.removeEventListener("pointerup", up); look(grip.dataset); };
    document.addEventListener("pointermove", move);
    document.addEventListener("pointerup", up);
  });
  document.addEventListener("keydown", (event) => {
    const grip = event.target.closest && event.target.closest(".grip");
    const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!grip || !way) return;
    event.preventDefault();
    const step = grip.ownerSVGElement.dataset.unit === "in" ? 25.4 / 8 : 1;
    setEdge(grip, Number(grip.getAttribute("aria-valuenow")) + way * step);
    look(grip.dataset);
  });
  document.addEventListener("change", (event) => { if (event.target.closest("#chart")) look(); });

  // --- the signature: strokes as an SVG path, from finger, pen or mouse ---

  function pad() {
    const canvas = document.querySelector("[data-pad]");
    if (!canvas || canvas.dataset.ready) return;
    canvas.dataset.ready = "yes";
    const field = document.querySelector("[data-signature]");
    const pen = canvas.getContext("2d");
    pen.lineWidth = 2.5; pen.lineCap = "round"; pen.lineJoin = "round"; pen.strokeStyle = "#22303c";
    let drawing = false;
    const draw = (path) => {
      pen.clearRect(0, 0, canvas.width, canvas.height);
      pen.stroke(new Path2D(path));
    };
    const point = (event) => { const box = canvas.getBoundingClientRect(); return `${Math.max(0, Math.round((event.clientX - box.left) * canvas.width / box.width))} ${Math.max(0, Math.round((event.clientY - box.top) * canvas.height / box.height))}`; };
    canvas.addEventListener("pointerdown", (event) => { drawing = true; canvas.setPointerCapture(event.pointerId); field.value += `${field.value ? " " : ""}M ${point(event)}`; });
    canvas.addEventListener("pointermove", (event) => { if (drawing) { field.value += ` L ${point(event)}`; draw(field.value); } });
    ["pointerup", "pointercancel"].forEach((name) => canvas.addEventListener(name, () => { drawing = false; }));
    document.querySelector("[data-clear]").addEventListener("click", () => { field.value = ""; draw(""); });
    if (field.value) draw(field.value);
  }

  function ready() {
    pad();
    const marked = document.querySelector("#bench [autofocus]");
    if (marked && document.activeElement !== marked && !document.querySelector("[data-strike][open]")) marked.focus();
  }
  document.addEventListener("htmx:afterSettle", () => { settleDrafts(); restoreDrafts(); ready(); });
  document.getElementById("keys-on").checked = store.get("keys") !== false;
  settleDrafts(); restoreDrafts(); ready(); showQueue(); sendQueue();
})();
