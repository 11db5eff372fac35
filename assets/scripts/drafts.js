// Drafts: what is typed in a form outlasts a reload, a crash and a restart. A draft goes only when the server has said
// that the form was kept, or when the queue holds it. Draft and entry key go together: a form whose answer was lost is
// sent again as the same entry, which is kept once; a new figure is a new entry.

import { all, drop, put, unseal } from "./vault.js";
import { keptBy, newKey, store } from "./store.js";
import { empty, fill, slots } from "./slots.js";

const HALF_A_DAY = 12 * 3600 * 1000;
const RELAXED = { durability: "relaxed" };
const NOT_DRAFTED = ["authenticity_token", "seen", "page", "entry_key"];

// where drafts lie: sealed, read once with the page; or, on pages of who is not signed in yet, in clear
const sealed = new Map();
const vault = {
  get: (name) => sealed.get(name) || null,
  async set(name, draft) {
    sealed.set(name, draft);
    fill(name, draft);
    const made = await put("drafts", { name }, draft, RELAXED);
    if (made) empty(name, draft.at);
    return made;
  },
  drop(name) {
    empty(name);
    if (sealed.delete(name)) drop("drafts", [Number(document.body.dataset.account), name]);
  },
};
let kept = store;

async function readSealed() {
  kept = vault;
  const account = Number(document.body.dataset.account);
  const own = (await all("drafts")).filter((row) => row.account === account);
  for (const row of own) {
    try {
      if (!sealed.has(row.name)) sealed.set(row.name, await unseal(row.sealed));
    } catch {
      // sealed with a key that is no more
    }
  }
  for (const [name, draft] of slots()) if (!(sealed.get(name)?.at > draft.at)) vault.set(name, draft);
}

export const dropDraft = (name) => kept.drop(name);
// resolves once it is kept
export const saveDraft = (name, values) => kept.set(name, { at: Date.now(), values, key: newKey(), sent: false });

// Hidden fields that say which of several like forms this is: what was typed of the left is not offered on the right.
const ABOUT = ["side", "on", "stage", "problem", "line"];

// A draft is of what its form does, not of the page that it stands on: a form that was refused stands on another one.
export const draftKey = (form) => {
  const about = ABOUT.map((name) => form.querySelector(`[type=hidden][name=${name}]`)?.value);
  const own = [form.dataset.draft, ...about].filter(Boolean);
  return `draft.${form.getAttribute("action") || location.pathname}#${[form.id, ...own].join(".")}`;
};

// A draft that was left by the program of before December 2026, under the page's address, is still found.
const formerKey = (form) => {
  const own = form.dataset.draft ? `.${form.dataset.draft}` : "";
  return `draft.${location.pathname}#${form.id || form.getAttribute("action")}${own}`;
};

function draftOf(form) {
  const [name, former] = [draftKey(form), formerKey(form)];
  if (!kept.get(name) && kept.get(former)) kept.set(name, kept.get(former));
  if (former !== name) kept.drop(former);
  return kept.get(name);
}

const entryKey = (form) => form.querySelector("[name=entry_key]")?.value;

const typedIn = (form) => {
  const secret = [...form.querySelectorAll("[type=password]")].map((field) => field.name);
  return [...new FormData(form)].filter(
    ([name, value]) => !NOT_DRAFTED.includes(name) && !secret.includes(name) && typeof value === "string",
  );
};

const seenOf = (form) => form.querySelector("[type=hidden][name=seen]");

const keep = (form, { values = typedIn(form), sent = false } = {}) =>
  kept.set(draftKey(form), { at: Date.now(), values, key: entryKey(form), sent, seen: seenOf(form)?.value });

function write(event) {
  const form = event.target.form || event.target.closest("form");
  if (!form || form.dataset.draft === undefined) return;

  const values = typedIn(form);
  const before = kept.get(draftKey(form));
  const key = form.querySelector("[name=entry_key]");
  // it was sent as it stood; what is typed now is something else
  if (key && before?.sent && before.key === key.value && JSON.stringify(before.values) !== JSON.stringify(values)) {
    key.value = newKey();
  }
  keep(form, { values, sent: Boolean(before?.sent && before.key === key?.value) });
}

// the draft of a form as it is sent: its key stays with it
function markSent(form) {
  const draft = kept.get(draftKey(form));
  if (draft) kept.set(draftKey(form), { ...draft, key: entryKey(form), sent: true });
}

// one field as it was typed; true where that changed it. What was sent and refused stands as the server shows it;
// what was typed over it since is newer
function restore(field, { values, sent }) {
  const given = values.filter(([name]) => name === field.name).map(([, value]) => value);
  if (field.type === "checkbox" || field.type === "radio") {
    const on = given.includes(field.value);
    if ((field.type === "radio" && !given.length) || field.checked === on) return false;

    field.checked = on;
    return true;
  }
  // what is being typed now is newer
  const typing = field === document.activeElement && field.value !== field.defaultValue;
  const refused = sent && field.matches("[aria-invalid]");
  if (!given.length || field.value === given[0] || typing || refused) return false;

  field.value = given[0];
  // the next typing takes the place of a half-typed reading, and is not hung on its end
  if (field === document.activeElement && field.matches("[data-reading]")) field.select();
  return true;
}

// the form as the server made it, and as an entry of its own
function afresh(form) {
  kept.drop(draftKey(form));
  form.reset();
  const key = form.querySelector("[name=entry_key]");
  if (key) key.value = newKey();
  if (form.dataset.pageSeen) seenOf(form).value = form.dataset.pageSeen;
  form.querySelector(".draft-note")?.remove();
  form.querySelector("input:not([type=hidden]), textarea, select")?.focus();
}

// what a form was left with, of whom where the form says so, and the way to begin anew
function note(form, { values }) {
  const names = (form.dataset.whose || "").split(" ").filter(Boolean);
  const whose = names.map((name) => values.find(([own]) => own === name)?.[1]).filter(Boolean);
  const said = document.createElement("p");
  said.className = "quiet draft-note";
  said.textContent = `Typed here before and not saved yet${whose.length ? `: ${whose.join(" ")}` : ""}. `;
  form.prepend(said);
  // a reading is marked whole: to type is to begin anew
  if (form.querySelector("[data-reading]")) return;

  const button = document.createElement("button");
  button.type = "button";
  button.className = "button is-small";
  button.textContent = "Start afresh";
  button.addEventListener("click", () => afresh(form));
  said.append(button);
}

// the page is the answer to what was drafted: what it shows was looked over, and stands
const answered = (draft) =>
  draft?.sent && draft.key === document.querySelector("meta[name=handrail-answers]")?.content;

// What takes the place of what stood there when it was typed goes with that: the server tells what came meanwhile.
function asItWas(form, { seen }) {
  const field = seenOf(form);
  if (form.dataset.replaces === undefined || !field || !seen || seen === field.value) return;

  form.dataset.pageSeen ||= field.value;
  field.value = seen;
}

export function restoreDrafts() {
  document.querySelectorAll("form[data-draft]").forEach((form) => {
    // what a device sent stands in place of what was half typed
    if (form.dataset.sent !== undefined) kept.drop(draftKey(form));
    const draft = draftOf(form);
    if (form.dataset.shown !== undefined || answered(draft)) return keep(form);
    if (!draft || Date.now() - draft.at > HALF_A_DAY) return;

    const names = draft.values.map(([name]) => name);
    form.dispatchEvent(new CustomEvent("handrail:restoring", { detail: names, bubbles: true }));
    const fields = [...form.elements].filter((field) => field.name && field.type !== "hidden");
    const changed = fields.map((field) => restore(field, draft)).some(Boolean);
    const key = form.querySelector("[name=entry_key]");
    if (changed && draft.key && key && draft.key !== key.value) key.value = draft.key;
    if (changed) asItWas(form, draft);
    if (!changed || form.querySelector(".draft-note")) return;

    note(form, draft);
  });
}

// what the server says it kept since the last page: the draft of that form is done with
export function settleDrafts() {
  const said = document.querySelector("meta[name=handrail-kept]")?.content;
  const sent = store.get("sent") || [];
  if (!said) return;

  sent.filter(([key]) => key === said).forEach(([, draft]) => dropDraft(draft));
  store.set(
    "sent",
    sent.filter(([key]) => key !== said),
  );
}

// apart - where nobody is signed in yet
export async function watchDrafts({ apart = false } = {}) {
  if (!apart) kept = vault;
  document.addEventListener("input", write);
  document.addEventListener("change", write);
  document.addEventListener(
    "submit",
    (event) => {
      // a form may do in place of another one what is drafted there: once it is kept, that draft is done with
      const form = event.target;
      const drafted = form.dataset.settles ? document.getElementById(form.dataset.settles) : form;
      if (drafted?.dataset.draft === undefined) return;

      markSent(drafted);
      store.set("sent", [...(store.get("sent") || []).slice(-20), [entryKey(form), draftKey(drafted)]]);
    },
    true,
  );
  // the answer to a form that was sent by htmx says itself whether it was taken
  document.addEventListener("htmx:beforeOnLoad", (event) => {
    const form = event.detail.elt.closest?.("form[data-draft]");
    if (form && keptBy(event.detail)) kept.drop(draftKey(form));
  });
  if (!apart) await readSealed();
  settleDrafts();
  restoreDrafts();
}
