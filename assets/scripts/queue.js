// What could not be sent: kept, shown with whose it is, and sent once when the line is back. What the server could not
// take as it stands stays here with the reason until somebody deals with it; nothing is put on another patient's page.

import { draftKey } from "./drafts.js";
import { bench, keptBy, newKey, store, token } from "./store.js";

const EVERY = 4000;
// milliseconds after which a line that says nothing counts as lost
const PATIENCE = 15000;
const FOREIGN = "What came back was no answer of Handrail. Nothing of what you sent is known to be saved.";
let sending = false;

const queue = () => store.get("queue") || [];
const waiting = () => queue().filter((entry) => !entry.reason);

const element = (name, text) => {
  const made = document.createElement(name);
  made.textContent = text;
  return made;
};

const replace = (entry) =>
  store.set(
    "queue",
    queue().map((other) => (other.key === entry.key ? entry : other)),
  );
const remove = (key) =>
  store.set(
    "queue",
    queue().filter((other) => other.key !== key),
  );

// a line of the list: whose it is, what it is, and what became of it
function line(entry) {
  const item = element("li", `${entry.patient}: ${entry.label} ${entry.value}`);
  if (!entry.reason) return item;

  item.append(element("p", `Not taken: ${entry.reason}`));
  const open = element("a", "Open that visit");
  open.href = entry.page;
  const gone = element("button", "I have dealt with it");
  gone.className = "plain";
  gone.type = "button";
  gone.addEventListener("click", () => {
    remove(entry.key);
    showQueue();
  });
  item.append(open, " ", gone);
  return item;
}

export function showQueue(said, link) {
  const unsaved = document.getElementById("unsaved");
  const entries = queue();
  unsaved.hidden = entries.length === 0 && !said;
  unsaved.textContent = "";
  if (entries.length) {
    const list = document.createElement("ul");
    entries.forEach((entry) => list.append(line(entry)));
    unsaved.append(element("strong", `Not saved yet (${entries.length})`), list);
  }
  if (said) unsaved.append(element("p", said));
  else if (waiting().length) unsaved.append(element("p", "Kept in this browser. It is sent when the line is back."));
  if (link) {
    const there = element("a", "Sign in");
    there.href = link;
    unsaved.append(" ", there);
  }
}

const CAN_NOT_KEEP =
  "This browser can keep nothing more. It is NOT saved: it is still in its field. Send it again when the line is back.";

// what was sent, as it was when it was sent: null where a form does not wait in the queue, or did something else
function sentBy(detail) {
  const form = detail.elt.closest?.("form");
  const config = detail.requestConfig;
  if (!form || form.dataset.keep === undefined || config?.verb !== "post") return null;
  if (config.path !== form.getAttribute("data-hx-post")) return null;

  return { form, url: config.path, body: new URLSearchParams(config.formData) };
}

// The field is cleared for the next one where it still holds what was sent; where nothing can be kept it stays, red.
function clear(form, body, kept) {
  const reading = form.querySelector("[data-reading]");
  if (!reading || reading.value !== (body.get("value") || "")) return;

  if (kept) reading.value = "";
  else reading.setAttribute("aria-invalid", "true");
}

// keeps what could not be sent; false where the browser's store takes nothing
function keep({ form, url, body }) {
  const key = body.get("entry_key") || newKey();
  if (queue().some((other) => other.key === key)) return true;

  const said = body.get("value") || body.get("answer") || body.get("outcome") || "";
  const entry = {
    key,
    url,
    body: body.toString(),
    label: form.dataset.keep,
    value: `${said} ${body.get("unit") || ""}`.trim(),
    visit: bench().dataset.visit,
    patient: document.querySelector(".who .patient")?.textContent.trim() || "",
    page: location.pathname,
  };
  const kept = store.set("queue", [...queue(), entry]);
  clear(form, body, kept);
  if (!kept) {
    showQueue(CAN_NOT_KEEP);
    return false;
  }
  // it waits here and is no draft any more: it would be entered twice
  store.drop(draftKey(form));
  const field = form.querySelector("[name=entry_key]");
  if (field && field.value === key) field.value = newKey();
  return true;
}

const visitOf = (html) => new DOMParser().parseFromString(html, "text/html").getElementById("bench")?.dataset.visit;

// why an entry was not taken, from the page that came back
function reasonOf(html) {
  const page = new DOMParser().parseFromString(html, "text/html");
  const alert = page.querySelector("[role=alert], .notice, main p");
  return alert ? alert.textContent.replace(/\s+/g, " ").trim().slice(0, 300) : "the server could not take it.";
}

// puts a fragment that came outside htmx in the bench's place, if it is the bench of the same visit
function show(html, entry) {
  const here = bench();
  if (!here || here.dataset.visit !== entry.visit || visitOf(html) !== entry.visit) return;
  if (document.activeElement?.matches("[data-reading]") && document.activeElement.value) return;

  window.htmx.swap("#bench", html, { swapStyle: "outerHTML" });
}

async function send(entry) {
  const body = new URLSearchParams(entry.body);
  body.set("authenticity_token", token());
  return fetch(entry.url, {
    method: "POST",
    headers: {
      "HX-Request": "true",
      "X-CSRF-Token": token(),
      "Content-Type": "application/x-www-form-urlencoded",
    },
    body: body.toString(),
    // a page to sign in is no answer
    redirect: "manual",
    signal: AbortSignal.timeout(PATIENCE),
  });
}

// false where sending is to stop for now
async function settle(entry) {
  const answer = await send(entry);
  if (answer.type === "opaqueredirect" || answer.status === 401 || answer.status === 403) {
    showQueue("Sign in again, then it is sent.", "/login");
    return false;
  }
  if (answer.status >= 500) return false;

  // it leaves only when the answer names it
  const taken = answer.headers.get("handrail-kept") === entry.key;
  if (answer.ok && !taken) {
    showQueue(FOREIGN);
    return false;
  }
  const html = await answer.text();
  if (taken) remove(entry.key);
  else replace({ ...entry, reason: reasonOf(html) });
  showQueue();
  if (taken && answer.status === 200) show(html, entry);
  return true;
}

export async function sendQueue() {
  if (sending || !waiting().length) return;
  sending = true;
  try {
    while (waiting().length && (await settle(waiting()[0])));
  } catch {
    showQueue();
  } finally {
    sending = false;
  }
}

// what became of an answer that is none of ours: it changes nothing here
function foreign(event) {
  const { xhr, target } = event.detail;
  if (target?.id !== "bench" || xhr.status >= 400) return false;

  return visitOf(xhr.responseText) === undefined && !xhr.getResponseHeader("HX-Redirect");
}

const SIGNED_OUT = "You are signed out. What you typed is kept here: sign in again in this window.";
const NO_LINE = "No connection. What you typed is still in the page: send it again when the line is back.";
const NOT_DONE = "The server could not do that. What you typed is still in the page; try once more.";

// no answer came
function lost(event) {
  const sent = sentBy(event.detail);
  if (sent) {
    if (keep(sent)) showQueue();
  } else if (event.detail.requestConfig?.verb === "post") showQueue(NO_LINE);
}

// an answer came that says no
function refused(event) {
  const status = event.detail.xhr.status;
  const out = status === 401 || status === 403;
  const sent = out || status >= 500 ? sentBy(event.detail) : null;
  if (sent && !keep(sent)) return;
  if (out) showQueue(SIGNED_OUT, "/login");
  else showQueue(sent ? undefined : NOT_DONE);
}

export function watchLine() {
  ["htmx:sendError", "htmx:timeout"].forEach((name) => document.addEventListener(name, lost));
  document.addEventListener("htmx:responseError", refused);

  document.addEventListener("htmx:beforeOnLoad", (event) => {
    if (!foreign(event)) return;

    event.preventDefault();
    const sent = sentBy(event.detail);
    if (!sent || keep(sent)) showQueue(FOREIGN);
  });

  // what the server took shows that the line is back
  document.addEventListener("htmx:afterOnLoad", (event) => {
    if (keptBy(event.detail)) showQueue();
  });

  // a page swaps only its own visit
  document.addEventListener("htmx:beforeSwap", (event) => {
    if (event.detail.target.id !== "bench") return;

    const came = visitOf(event.detail.serverResponse);
    if (came === bench()?.dataset.visit) return;

    event.detail.shouldSwap = false;
    showQueue("An answer came for another visit. It is not shown here; nothing of this page was changed.");
  });

  window.addEventListener("online", sendQueue);
  setInterval(sendQueue, EVERY);
  showQueue();
  sendQueue();
}
