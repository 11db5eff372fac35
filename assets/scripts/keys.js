// Single keys, none of which fires while text is typed; and what the mouse does to the same things.

import { sayAsked } from "./aloud.js";
import { goOn, pedalDown, pedalUp } from "./pedal.js";
import { bench, store } from "./store.js";

// no reading begins with a letter: in an empty reading field, and while all of it is marked, letters are keys
const allMarked = (field) => field.selectionStart === 0 && field.selectionEnd === field.value.length;

const typing = (target) =>
  target.matches("input:not([type=radio]):not([type=checkbox]), textarea, select") &&
  !(target.matches("[data-reading]") && allMarked(target));

const focusReading = () => {
  const field = document.getElementById("value");
  if (!field) return;

  field.focus();
  field.select();
};

// true where it was there to be pressed
const press = (selector) => {
  const found = document.querySelector(selector);
  if (!found || found.disabled) return false;

  found.click();
  return true;
};

// the next chip of a group
const flip = (name) => {
  const chips = [...document.querySelectorAll(`#take [name=${name}]`)];
  if (chips.length < 2) return;

  const next = chips[(chips.findIndex((chip) => chip.checked) + 1) % chips.length];
  next.checked = true;
  next.dispatchEvent(new Event("change", { bubbles: true }));
  focusReading();
};

const move = (step) => {
  const rows = [...document.querySelectorAll("[data-row]:not([hidden])")];
  if (!rows.length) return;

  const at = rows.findIndex((row) => row.classList.contains("is-picked"));
  const next = rows[Math.min(Math.max(at + step, 0), rows.length - 1)];
  rows.forEach((row) => row.classList.remove("is-picked"));
  next.classList.add("is-picked");
  (next.querySelector("[data-open]") || next.querySelector("a")).focus();
};

const open = (selector) => {
  const details = document.querySelector(selector);
  if (!details) return;

  details.open = true;
  (details.querySelector("form input:not([type=hidden]), ul a") || details).focus();
};

const strike = () => {
  const summary = document.querySelector("[data-strike]");
  if (!summary) return;

  summary.parentElement.open = true;
  summary.parentElement.querySelector("[name=reason]").focus();
};

// a check that fails in two ways is not answered by one key: it goes to the ways, and Tab and Enter say which
const no = () => {
  const way = document.querySelector(".is-current [data-way]");
  if (way) way.focus();
  else press('[data-key="n"], [data-key="no"]');
};

// the site before this one, else the stage before
function back() {
  const sites = [...document.querySelectorAll("#bench .sites li")];
  const at = sites.findIndex((site) => site.classList.contains("is-current"));
  const before = at > 0 ? sites[at - 1].querySelector("a") : [...document.querySelectorAll(".rail li")]
    .filter((stop, i, all) => i < all.findIndex((one) => one.classList.contains("is-present")))
    .map((stop) => stop.querySelector("a"))
    .filter(Boolean)
    .at(-1);
  before?.click();
}

const ACTIONS = {
  unit: () => flip("unit"),
  side: () => flip("side"),
  again: focusReading,
  strike,
  problem: () => open("[data-problems]"),
  down: () => move(1),
  up: () => move(-1),
  yes: () => press('[data-key="y"], [data-key="yes"]'),
  no,
  pedal: pedalDown,
  together: () => press('[data-key="together"]'),
  say: () => sayAsked(true),
  back,
  meant: () => press('[data-key="meant"]'),
};

// what a key that is not ours does by itself, it does
const ITS_OWN = "its own";
const moreBelow = () => document.documentElement.scrollHeight - innerHeight - scrollY > 4;

// Does the step; where there is none, goes on, from a page to be read only once its end is in view. With the focus in
// a reading's field, empty since all is read, no step is done.
function space({ target }) {
  if (!target.matches("input") && press('[data-key="Space"]')) return null;
  if (!bench() && moreBelow()) return ITS_OWN;
  goOn();
  return null;
}

const nothingIn = (field) => field.matches("[data-reading]") && field.value === "";

// a digit is an answer of the question that waits, never of what is typed
const digit = (number) => ({ target }) =>
  target.matches("input, textarea, select") || !press(`.ask-one.is-asked [data-key="${number}"]`) ? ITS_OWN : null;

const FIXED = {
  ...Object.fromEntries([1, 2, 3, 4, 5, 6, 7, 8, 9].map((number) => [String(number), digit(number)])),
  "?": () => document.getElementById("keys").showModal(),
  "/": () => document.getElementById("find").focus(),
  " ": space,
};

// what a held key may do again and again: it only moves
const MANY = new Set([ACTIONS.down, ACTIONS.up]);

// which key does what is the account's own choice
const actions = () => {
  const own = JSON.parse(document.body.dataset.keys || "{}");
  return { ...Object.fromEntries(Object.entries(own).map(([action, key]) => [key, ACTIONS[action]])), ...FIXED };
};

// a bar code reader types its separator as Ctrl and ]: it stays in the text as a sign that can be seen
function separator(event) {
  const field = event.target.closest?.("[data-label]");
  if (!field || !event.ctrlKey || event.key !== "]") return;
  field.setRangeText("\u241D", field.selectionStart, field.selectionEnd, "end");
  event.preventDefault();
}

function pressed(event) {
  if (event.ctrlKey || event.altKey || event.metaKey || event.isComposing) return;

  const off = store.get("keys") === false && event.key !== "?";
  if (typing(event.target) || document.getElementById("keys").open || off) return;
  if (event.key === " " && event.target.matches("button, a, summary, input") && !nothingIn(event.target)) return;
  const act = actions()[event.key];
  if (!act) return;
  // a key that is held, or that something lies on, is pressed once: it would answer what nobody looked at
  if (event.repeat && !MANY.has(act)) {
    if (act !== space || bench() || !moreBelow()) event.preventDefault();
    return;
  }

  if (act(event) !== ITS_OWN) event.preventDefault();
}

function released(event) {
  if (actions()[event.key] === pedalDown) pedalUp(event);
}

// the strip's unit follows its chip
function changed(event) {
  if (event.target.name === "unit" && event.target.closest("#take")) {
    document.querySelector(".strip .unit").textContent = event.target.value;
    document.querySelector(".strip").classList.toggle("is-inch", event.target.value === "in");
  }
  if (event.target.matches("[data-submit]")) event.target.form.requestSubmit();
  if (event.target.id === "keys-on") store.set("keys", event.target.checked);
}

function clicked(event) {
  if (event.target.closest("[data-next-check]")) {
    event.preventDefault();
    const target = document.querySelector(".checks .is-current");
    target?.scrollIntoView({ block: "center" });
    target?.querySelector("input:not([type=hidden]), button")?.focus();
  }
  if (event.target.closest("[data-all-unaided]")) {
    document.querySelectorAll('.levels input[value="unaided"]').forEach((box) => (box.checked = true));
  }
  if (!event.target.closest(".find")) document.getElementById("found").textContent = "";
}

// in what was found: arrows go through it, Enter opens what is marked, or the only one
function found(event) {
  const field = event.target.closest(".find");
  if (!field) return;

  const hits = [...field.querySelectorAll("#found a")];
  const at = hits.indexOf(document.activeElement);
  if (["ArrowDown", "ArrowUp"].includes(event.key) && hits.length) {
    const next = at + (event.key === "ArrowDown" ? 1 : -1);
    (hits[next] || (next < 0 ? document.getElementById("find") : hits.at(-1))).focus();
    event.preventDefault();
  }
  // what was found for less than is typed by now is not meant
  const asked = field.querySelector("#found [data-asked]")?.dataset.asked;
  if (event.key === "Enter" && event.target.id === "find" && hits.length === 1 && asked === event.target.value.trim()) {
    hits[0].click();
    event.preventDefault();
  }
  if (event.key === "Escape") document.getElementById("found").textContent = "";
}

// a list is narrowed to what has every word that is typed
function filtered(event) {
  const field = event.target.closest("[data-filter]");
  if (!field) return;

  const words = field.value.toLowerCase().split(/\s+/).filter(Boolean);
  document.querySelectorAll(`${field.dataset.filter} [data-filter-text]`).forEach((row) => {
    row.hidden = !words.every((word) => row.dataset.filterText.includes(word));
  });
  document.querySelectorAll(`${field.dataset.filter} [data-filter-group]`).forEach((group) => {
    group.hidden = !group.querySelector("[data-filter-text]:not([hidden])");
  });
}

export function watchKeys() {
  document.addEventListener("keydown", pressed);
  document.addEventListener("keydown", separator);
  document.addEventListener("keyup", released);
  document.addEventListener("keydown", found);
  document.addEventListener("change", changed);
  document.addEventListener("click", clicked);
  document.addEventListener("input", filtered);
  document.getElementById("keys-on").checked = store.get("keys") !== false;
}
