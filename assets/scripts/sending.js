// What a form at a visit sends: kept here before it goes, let go of when the answer names it. Where there is no line it
// waits here, and the page goes on as the fitter does.

import { goTo, moveOn } from "./ahead.js";
import { hear, tab } from "./channel.js";
import { now } from "./clock.js";
import { draftKey, dropDraft, saveDraft } from "./drafts.js";
import { add, entries, isOpen, load, move, onChange, remove, takeBack, waits } from "./queue.js";
import { lineLost, lineThere, lost, renewed, sendAll, sendNow, watchSender } from "./sender.js";
import { account } from "./vault.js";
import { fromStore } from "./pages.js";
import { bench, here, keptBy, newKey } from "./store.js";
import { say, show, whenChanged } from "./waiting.js";

const SIGNED_OUT = "You are signed out. What you typed is kept here: sign in again in this window.";
const NO_LINE =
  "There is no line to the server. This waits for it: what you typed stays here; send it again when the line is back.";
const NOT_DONE = "The server could not do that. What you typed is still in the page; try once more.";
const FOREIGN =
  "What came back was no answer of Handrail. Nothing of what you sent is known to be saved; it is still in the page.";
const CAN_NOT_KEEP =
  "This browser can keep nothing more. It is NOT saved: it is still in its field. Send it again when the line is back.";
const HIDDEN = ["authenticity_token", "seen", "page", "entry_key", "rests_on"];

// what each key is about while its page awaits the answer: { form, fields, kept: Promise }
const underWay = new Map();

const text = (selector) => document.querySelector(selector)?.textContent.replace(/\s+/g, " ").trim() || "";

function wearer() {
  const identifiers = [...document.querySelectorAll(".who .identifier")].map((one) => one.textContent.trim());
  return [text(".who .patient"), ...identifiers].join(", ");
}

// the form of an entry that waits for the line, where htmx sends one; null for all else
function keeps(detail) {
  const form = detail.elt.closest?.("form");
  const config = detail.requestConfig;
  if (!form || form.dataset.keep === undefined || config?.verb !== "post") return null;

  return config.path === form.getAttribute("data-hx-post") ? form : null;
}

const TYPED = "textarea, input[type=text], input:not([type])";

const CHOSEN = ["answer", "what", "kind", "way"];

const inOneLine = (text) => (text || "").replace(/\s+/g, " ").trim();

// what was chosen under a name, as it is called there
function chosenOf(form, name) {
  const one = [...form.elements].find((field) => field.name === name && field.checked);
  return one ? inOneLine(one.labels?.[0]?.textContent) || one.value : "";
}

// What a person sees of an entry while it waits: the figure, what was pressed and chosen, and every word of theirs.
function valueOf(form, data, submitter) {
  const figure = [data.get("value"), data.get("size")].find((one) => typeof one === "string" && one);
  const fields = [...form.elements].filter((one) => one.matches(TYPED) && one.name);
  const words = fields.filter((one) => !["value", "size"].includes(one.name)).map((one) => inOneLine(one.value));
  return [
    figure && `${figure} ${data.get("unit") || ""}`.trim(),
    submitter?.name && inOneLine(submitter.textContent),
    ...CHOSEN.map((name) => chosenOf(form, name)),
    ...words,
  ]
    .filter(Boolean)
    .join(", ");
}

function entryOf(form, config) {
  const data = config.formData;
  const key = data.get("entry_key") || newKey();
  data.set("entry_key", key);
  const all = [...data];
  return {
    files: all.filter(([, value]) => value instanceof File && value.size),
    entry: {
      key,
      fitting: here().dataset.fitting,
      visit: here().dataset.visit,
      url: config.path,
      fields: all.filter(([, value]) => typeof value === "string"),
      label: form.dataset.keep,
      value: valueOf(form, data, config.triggeringEvent?.submitter),
      place: form.dataset.place || "",
      draft: draftKey(form),
      judged: form.dataset.judged !== undefined,
      wearer: wearer(),
      device: text(".who .device-name"),
      page: location.pathname + location.search,
      made: Math.floor(now()),
      sentAt: Date.now(),
      instead: form.dataset.instead,
    },
  };
}

// whether the form still holds what was sent: what was typed meanwhile is not cleared
function asSent(form, fields) {
  const sent = fields.filter(([name]) => !HIDDEN.includes(name)).map(String);
  return [...new FormData(form)].every(
    ([name, value]) => typeof value !== "string" || HIDDEN.includes(name) || sent.includes(String([name, value])),
  );
}

// what was said of the entry before this one, which was refused: it is past, once another waits in its place
function pastRefusal(form) {
  form.querySelector(".has-fault")?.classList.remove("has-fault");
  form.querySelectorAll("[aria-describedby]").forEach((field) => {
    const words = document.getElementById(field.getAttribute("aria-describedby"));
    if (!words?.matches(".fault, [role=alert]")) return;

    words.remove();
    field.removeAttribute("aria-describedby");
    field.removeAttribute("aria-invalid");
    if (field.matches(TYPED)) field.defaultValue = "";
  });
}

// it waits here and is no draft any more
function letGo(form, { key, fields }) {
  const field = form.querySelector("[name=entry_key]");
  if (field && field.value === key) field.value = newKey();
  delete form.dataset.instead;
  delete form.dataset.again;
  dropDraft(draftKey(form));
  if (!asSent(form, fields)) return;

  form.reset();
  const reading = form.querySelector("[data-reading]");
  if (reading) reading.value = "";
}

// whether it is said that the page stayed where it was: no more, once it is sent and the page goes on
let stayed = false;

// the entry waits; false where it could not be kept, and then it stays in its field, red
async function wait(form, entry, kept) {
  if (!(await kept)) {
    delete form.dataset.keeping;
    form.querySelector("[data-reading]")?.setAttribute("aria-invalid", "true");
    say(CAN_NOT_KEEP);
    return false;
  }
  await move(entry.key, "waiting", ["page", "waiting"]);
  const typedOn = typedSince(form);
  delete form.dataset.keeping;
  pastRefusal(form);
  letGo(form, entry);
  say(null);
  stayed = false;
  if (moveOn(form, entry)) goOnTyping(typedOn);
  else if (form.querySelector("[data-reading]")) {
    stayed = true;
    say(`Still at ${entry.label}: what comes next was not fetched yet.`);
  }
  return true;
}

// What was typed since an entry was sent, while it is being kept or awaits its answer, is of what comes next: it is
// never filed where the last one was.
function typedSince(form) {
  const reading = form.querySelector("[data-reading]");
  const typed = reading && form.dataset.typed !== undefined ? reading.value : null;
  return { typed, entered: form.dataset.again !== undefined, place: form.dataset.place };
}

function goOnTyping({ typed, entered, place }) {
  const reading = bench()?.querySelector("form[data-keep] [data-reading]");
  if (typed === null || typed === "") return;
  if (!reading || reading.form.dataset.place === place || reading.value) {
    say(`Meanwhile you typed ${typed}: it was not entered.`);
    return;
  }
  reading.focus();
  reading.value = typed;
  reading.dispatchEvent(new Event("input", { bubbles: true }));
  if (entered) reading.form.requestSubmit();
}

// what was typed ahead of an answer that is being put into the page
let typedAhead = null;

// the next Enter waits until the entry before it is kept or answered
function hold(event) {
  const form = event.target;
  if (form.dataset?.keep === undefined || form.dataset.keeping === undefined) return;

  event.preventDefault();
  event.stopImmediatePropagation();
  form.dataset.again = "";
}

function inKeeping(form) {
  form.dataset.keeping = "";
  delete form.dataset.typed;
  const reading = form.querySelector("[data-reading]");
  if (reading && document.activeElement === reading) reading.select();
}

// a field that must hold something and does not: there is no server now that would say so
function nothing(form, config) {
  const reading = form.querySelector("[data-reading]");
  if (!reading || reading.value.trim() || config.triggeringEvent?.submitter?.name) return false;

  reading.setAttribute("aria-invalid", "true");
  reading.focus();
  return true;
}

// what waits already of a form that is answered once: the newer answer stands in its place
const waitingAt = ({ visit, place }) =>
  entries().find((one) => one.visit === visit && one.place === place && one.state === "waiting");

// Before htmx sends. What must not overtake others, or has no line, waits at once.
function sending(event) {
  const form = keeps(event.detail);
  if (!form) return;

  if (lost() && nothing(form, event.detail.requestConfig)) {
    event.preventDefault();
    return;
  }
  const { entry, files } = entryOf(form, event.detail.requestConfig);
  const before = form.dataset.once === undefined ? null : waitingAt(entry);
  if (before) entry.instead = before.tries ? before.key : before.instead;
  const behind = entries().some((other) => other.fitting === entry.fitting && waits(other));
  const anyway = form.dataset.anyway !== undefined;
  delete form.dataset.anyway;
  if ((lost() && !anyway) || behind) {
    event.preventDefault();
    inKeeping(form);
    const kept = add(entry, files, { state: "waiting" });
    kept.then((did) => did || delete form.dataset.keeping);
    if (before) kept.then((did) => did && takeBack(before.key));
    // what can not be kept is sent all the same: the line may be back
    kept.then((did) => {
      if (did || behind) return wait(form, entry, kept).then(() => sendAll());
      form.dataset.anyway = "";
      return setTimeout(() => form.requestSubmit(event.detail.requestConfig.triggeringEvent?.submitter));
    });
    return;
  }
  const kept = add(entry, files, { state: "page", by: tab, tries: 1 });
  underWay.set(entry.key, { form, entry, kept });
  inKeeping(form);
  const xhr = event.detail.xhr;
  xhr.addEventListener("loadend", () => setTimeout(() => underWay.delete(entry.key), 0));
}

const inHand = (detail) => underWay.get(detail.requestConfig?.formData?.get("entry_key"));

async function gone({ form, entry, kept }) {
  delete form.dataset.keeping;
  await kept;
  await remove(entry.key);
}

// no answer came, or none that says anything of it
async function unsure(event, words, way) {
  const hand = inHand(event.detail);
  if (hand) {
    if (await wait(hand.form, hand.entry, hand.kept)) sendAll();
  } else if (event.detail.requestConfig?.verb === "post") say(words, way);
}

function refused(event) {
  const { xhr } = event.detail;
  const ours = xhr.getResponseHeader("handrail-build");
  if (!ours) return unsure(event, FOREIGN);
  if (xhr.status === 401) return unsure(event, SIGNED_OUT, ["Sign in", "/login"]);
  if (xhr.status >= 500 || xhr.status === 429) return unsure(event, NOT_DONE);
  // a page that is older than the sign-in: it is sent with a new token
  if (xhr.status === 403 && !xhr.getResponseHeader("handrail-refused")) {
    return unsure(event, NOT_DONE, ["Load it again", location.href]);
  }

  const hand = inHand(event.detail);
  const words = new DOMParser().parseFromString(xhr.responseText, "text/html").querySelector("main p")?.textContent;
  say((words || NOT_DONE).replace(/\s+/g, " ").trim());
  return hand && gone(hand);
}

const visitOf = (html) => new DOMParser().parseFromString(html, "text/html").getElementById("bench")?.dataset.visit;

// an answer that is none of ours changes nothing here
function answered(event) {
  const { xhr } = event.detail;
  if (!xhr.getResponseHeader("handrail-build") && xhr.status < 400) {
    event.preventDefault();
    unsure(event, FOREIGN);
    return;
  }
  const hand = inHand(event.detail);
  if (hand) typedAhead = typedSince(hand.form);
  if (hand && (keptBy(event.detail) || xhr.getResponseHeader("handrail-refused") === hand.entry.key)) gone(hand);
  // another build answers: nothing that waits is sent by this one
  if (xhr.getResponseHeader("handrail-build") !== document.body.dataset.build) renewed();
  else if (xhr.status < 400) {
    lineThere();
    if (event.detail.requestConfig?.verb === "post") say(null);
  }
}

// The page as it stands on the server, where nothing is being typed in it.
async function refresh(visit) {
  if (here()?.dataset.visit !== visit) return;

  const typing = document.activeElement?.matches("main input, main textarea") && document.activeElement.value;
  if (typing || entries().some((entry) => entry.visit === visit && isOpen(entry))) return;

  if (stayed) say(null);
  stayed = false;
  if (!bench() || fromStore()) location.reload();
  else await window.htmx.ajax("GET", location.pathname + location.search, { target: "#bench", swap: "outerHTML" });
}

// What waits, or was not taken, back in its form: what was typed is a draft of that form first, then it is taken back.
async function change(entry) {
  const given = entry.fields.filter(([name]) => !HIDDEN.includes(name));
  await saveDraft(entry.draft, given);
  const asked = entry.state === "waiting" && entry.tries ? entry.key : null;
  if (entry.state === "waiting") await takeBack(entry.key);
  else await remove(entry.key);
  if (!goTo(entry.place, asked)) location.assign(pageOf(entry));
}

// the page on which an entry's form stands, whatever has been done there since
function pageOf({ page, place, fields }) {
  const url = new URL(page, location.href);
  const [kind, ...rest] = place.split(":");
  const side = fields.find(([name]) => name === "side")?.[1];
  if (side) url.searchParams.set("side", side);
  if (kind === "site") url.searchParams.set("at", rest.join(":"));
  if (kind === "check" || kind === "step") url.searchParams.set(kind, rest.slice(0, -1).join(":"));
  return url.href;
}

export function watchLine() {
  document.addEventListener("htmx:beforeRequest", sending);
  document.addEventListener("htmx:configRequest", ({ detail }) => {
    detail.headers["Handrail-Account"] = String(account() ?? document.body.dataset.account);
  });
  ["htmx:sendError", "htmx:timeout"].forEach((name) =>
    document.addEventListener(name, (event) => {
      lineLost();
      unsure(event, NO_LINE);
    }),
  );
  document.addEventListener("htmx:responseError", refused);
  document.addEventListener("htmx:beforeOnLoad", answered);

  // a page swaps only its own visit
  document.addEventListener("htmx:beforeSwap", (event) => {
    if (event.detail.target.id !== "bench") return;

    const came = visitOf(event.detail.serverResponse);
    if (came === bench()?.dataset.visit) return;

    event.detail.shouldSwap = false;
    say("An answer came for another visit. It is not shown here; nothing of this page was changed.");
  });
  document.addEventListener("submit", hold, true);
  document.addEventListener("input", ({ target }) => {
    if (target.form?.dataset.keeping !== undefined) target.form.dataset.typed = "";
  });
  document.addEventListener("htmx:afterSettle", () => {
    show();
    if (typedAhead) goOnTyping(typedAhead);
    typedAhead = null;
  });
  whenChanged(change);
  onChange(show);
  hear("queue", load);
  hear("settled", ({ visit }) => load().then(() => refresh(visit)));
  watchSender(show, refresh);
  sendNow();
}
