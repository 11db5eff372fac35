// Without a line the page goes on as the fitter does: to the next site, the next check, the next step. What those forms
// look like was fetched ahead, while there was a line.

import { moments } from "./pages.js";
import { entries } from "./queue.js";
import { lost } from "./sender.js";
import { restoreDrafts } from "./drafts.js";
import { element, here, newKey } from "./store.js";

const PAUSE = 400;
const forms = document.createElement("div");
let timer = null;

const address = () => document.querySelector("[data-ahead-from]")?.dataset.aheadFrom;

// what was fetched for this stage, from the server or, without a line, from what was kept
async function fetchAhead() {
  const from = address();
  if (!from) return;

  try {
    const answer = await fetch(from, { headers: { "HX-Request": "true" }, redirect: "manual" });
    if (!answer.ok || !answer.headers.get("handrail-build")) throw new Error("no answer");
    forms.innerHTML = await answer.text();
    moments.keep(from, forms.innerHTML);
  } catch {
    const kept = await moments.get(from);
    if (kept) forms.innerHTML = kept;
    onFromHere();
  }
}

// a page that was opened without a line stands where something waits already: it goes on from there
function onFromHere() {
  const form = document.querySelector("#bench form[data-place]");
  const field = form?.querySelector("[data-reading]");
  if (field && !field.value && waitsAt(form.dataset.place)) moveOn(form, { place: form.dataset.place });
}

const template = (place) => forms.querySelector(`template[data-ahead="${CSS.escape(place)}"]`);

const waitsAt = (place) => {
  const visit = here().dataset.visit;
  return entries().some((entry) => entry.visit === visit && entry.place === place);
};

// a copy of a form that was fetched ahead: each entry has a key of its own
function copy(place) {
  const made = template(place).content.cloneNode(true);
  made.querySelectorAll("[name=entry_key]").forEach((field) => (field.value = newKey()));
  return made;
}

function into(holder, content) {
  holder.replaceChildren(content);
  window.htmx.process(holder);
  restoreDrafts();
  const field = holder.querySelector("[data-reading], button, input:not([type=hidden])");
  field?.focus();
  if (field?.matches("[data-reading]") && field.value) field.select();
}

// the place after this one, in turn, that is open and has nothing waiting
function nextOpen(all, place) {
  const at = all.findIndex((one) => one.dataset.at === place);
  const turn = [...all.slice(at + 1), ...all.slice(0, at)];
  return turn.find((one) => one.dataset.open !== undefined && !waitsAt(one.dataset.at))?.dataset.at;
}

// --- sites of the tape: one form for all of them ---

const sites = () => [...document.querySelectorAll("[data-sites] [data-at]")];

function showSite(place) {
  const holder = document.getElementById("now");
  if (!holder || !template(place)) return false;

  sites().forEach((site) => site.classList.toggle("is-current", site.dataset.at === place));
  // what stands below is of the site that was read before
  document.getElementById("of-site")?.replaceChildren();
  into(holder, copy(place));
  return true;
}

// on a page that asks both, what comes after the readings
function onToChecks() {
  const first = checks().find((one) => one.dataset.open !== undefined && !waitsAt(one.dataset.at));
  if (!first) return false;
  document.getElementById("now")?.replaceChildren();
  return showCheck(first.dataset.at);
}

function nextSite(place) {
  const next = nextOpen(sites(), place);
  return next ? showSite(next) : onToChecks();
}

// --- checks: each has its form in its own line ---

const checks = () => [...document.querySelectorAll(".checks > [data-at]")];

function showCheck(place) {
  const item = checks().find((one) => one.dataset.at === place);
  if (!item || !template(place)) return false;

  checks().forEach((one) => one.classList.toggle("is-current", one === item));
  document.querySelectorAll(".checks .answer").forEach((form) => form.remove());
  let holder = item.querySelector(".answer-ahead");
  if (!holder) {
    holder = document.createElement("div");
    holder.className = "answer-ahead";
    item.append(holder);
  }
  into(holder, copy(place));
  return true;
}

function nextCheck(place) {
  const next = nextOpen(checks(), place);
  if (next) return showCheck(next);

  document.querySelectorAll(".checks .answer").forEach((form) => form.remove());
  return true;
}

// --- steps, in their order ---

const steps = () => [...forms.querySelectorAll('template[data-ahead^="step:"]')].map((one) => one.dataset.ahead);

function showStep(place) {
  const holder = document.getElementById("now");
  if (!holder || !template(place)) return false;

  into(holder, copy(place));
  return true;
}

function nextStep(place) {
  const all = steps();
  const next = all.slice(all.indexOf(place) + 1).find((one) => !waitsAt(one));
  if (next) return showStep(next);

  const said = element("p", "All steps are entered. What they let through is judged when the line is back.");
  said.className = "how";
  document.getElementById("now")?.replaceChildren(said);
  return true;
}

const NEXT = { site: nextSite, check: nextCheck, step: nextStep };
const SHOW = { site: showSite, check: showCheck, step: showStep };
const kindOf = (place) => place.split(":")[0];

// After an entry that waits: where the fitter goes on. Whether there is another form now.
export const moveOn = (form, { place }) => Boolean(NEXT[kindOf(place)]?.(place));


// To a place on this page. instead - the key of an entry that was taken back after it had been sent once.
// False where the page does not have that place.
export function goTo(place, instead) {
  const there = SHOW[kindOf(place)]?.(place);
  const form = document.querySelector(`form[data-place="${CSS.escape(place)}"]`);
  if (!there && !form) return false;

  if (form && instead) form.dataset.instead = instead;
  restoreDrafts();
  form?.querySelector("input:not([type=hidden]), button")?.focus();
  return true;
}

// a link to another site or check of this page, where there is no line
function followed(event) {
  const link = event.target.closest?.("[data-sites] a, .checks a.check-value");
  const place = link?.closest("[data-at]")?.dataset.at;
  if (place && lost() && SHOW[kindOf(place)](place)) event.preventDefault();
}

export function watchAhead() {
  const soon = () => {
    clearTimeout(timer);
    timer = setTimeout(fetchAhead, PAUSE);
  };
  document.addEventListener("click", followed);
  document.addEventListener("htmx:afterSwap", ({ detail }) => detail.target?.id === "bench" && soon());
  soon();
}
