// What colleagues write: the board and the weeks follow it by themselves, a visit says that there is
// something new and leaves alone what is being typed.

const POLL = 20000;
let waiting = null;
let newest = null;

const follows = () => document.querySelector("main.board, main.weeks");
const visit = () => document.getElementById("bench")?.dataset.visit;
const ownPages = () => [...document.querySelectorAll("input[name=page]")].map((field) => field.value);

// a person is at work in it: a field, an open form, something taken up
const FIELDS = "main input, main select, main textarea";
const busy = (main) => main.querySelector(".is-held, details[open]") || document.activeElement?.matches(FIELDS);

// where the focus is, to be found again in what comes
const place = (element) => element?.closest("main") && element.getAttribute("href");

async function follow() {
  const main = follows();
  if (!main) return;
  if (busy(main)) {
    later(3000);
    return;
  }
  const answer = await fetch(location.href, { headers: { Accept: "text/html", "Handrail-Follows": "yes" } });
  if (!answer.ok || answer.redirected) return;
  const next = new DOMParser().parseFromString(await answer.text(), "text/html").getElementById("main");
  const now = follows();
  if (!next || !now || busy(now)) return;

  const focused = place(document.activeElement);
  const picked = now.querySelector(".is-picked a")?.getAttribute("href");
  now.replaceChildren(...next.childNodes);
  const links = [...now.querySelectorAll("a")];
  const to = (href) => links.find((link) => link.getAttribute("href") === href);
  if (picked) to(picked)?.closest("[data-row]")?.classList.add("is-picked");
  if (focused) to(focused)?.focus({ preventScroll: true });
}

function later(after) {
  clearTimeout(waiting);
  waiting = setTimeout(() => follow().catch(() => {}), after);
}

function mention() {
  const region = document.getElementById("written");
  if (!region || !region.hidden) return;
  const link = document.createElement("a");
  link.href = location.href;
  link.textContent = "Show it";
  region.replaceChildren("Somebody has written at this visit meanwhile. What you typed stays. ", link);
  region.hidden = false;
}

function written(entry) {
  if (follows()) later(300);
  // what the page itself wrote it shows already
  else if (entry.visit && String(entry.visit) === visit() && !ownPages().includes(entry.page)) mention();
}

async function poll() {
  const answer = await fetch("/live/state", { headers: { Accept: "application/json" } });
  if (!answer.ok || answer.redirected) return;
  const state = await answer.json();
  if (newest !== null && state.newest !== newest && follows()) later(0);
  newest = state.newest;
}

export function watchLive() {
  if (!follows() && !visit()) return;
  let polling = null;
  const ask = () => {
    polling ||= setInterval(() => poll().catch(() => {}), POLL);
  };
  if (!window.EventSource) {
    ask();
    return;
  }
  const source = new EventSource("/live");
  source.addEventListener("written", (event) => written(JSON.parse(event.data)));
  source.addEventListener("open", () => {
    clearInterval(polling);
    polling = null;
  });
  source.addEventListener("error", () => source.readyState === EventSource.CLOSED && ask());
  window.addEventListener("pagehide", () => source.close());
}
