// What could not be sent: kept, shown with whose it is, and sent once when the line is back. What the server could not
// take as it stands stays here with the reason until somebody deals with it; nothing is put on another patient's page.

import { bench, newKey, store, token } from "./store.js";

const EVERY = 4000;
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

// keeps a form that could not be sent, and clears its field for the next one
export function keep(form, submitter) {
  const body = new URLSearchParams(new FormData(form));
  if (submitter && submitter.name) body.set(submitter.name, submitter.value);
  const key = body.get("entry_key") || newKey();
  if (queue().some((other) => other.key === key)) return;

  const said = body.get("value") || body.get("answer") || body.get("outcome") || "";
  const entry = {
    key,
    url: form.getAttribute("data-hx-post"),
    body: body.toString(),
    label: form.dataset.keep,
    value: `${said} ${body.get("unit") || ""}`.trim(),
    visit: bench().dataset.visit,
    patient: document.querySelector(".who .patient")?.textContent.trim() || "",
    page: location.pathname,
  };
  store.set("queue", [...queue(), entry]);
  const field = form.querySelector("[name=entry_key]");
  if (field) field.value = newKey();
  const reading = form.querySelector("[data-reading]");
  if (reading) reading.value = "";
  showQueue();
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
  });
}

// false where sending is to stop for now
async function settle(entry) {
  const answer = await send(entry);
  if (answer.status === 401 || answer.status === 403) {
    showQueue("Sign in again, then it is sent.", "/login");
    return false;
  }
  if (answer.status >= 500) return false;

  const html = await answer.text();
  if (answer.ok) remove(entry.key);
  else replace({ ...entry, reason: reasonOf(html) });
  showQueue();
  if (answer.ok) show(html, entry);
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

export function watchLine() {
  let submitter = null;
  document.addEventListener("submit", (event) => (submitter = event.submitter), true);

  ["htmx:sendError", "htmx:timeout"].forEach((name) =>
    document.addEventListener(name, (event) => {
      const form = event.detail.elt.closest("form");
      if (form && form.dataset.keep !== undefined) keep(form, submitter);
      else if (form && form.method === "post") {
        showQueue("No connection. What you typed is still in the page: send it again when the line is back.");
      }
    }),
  );

  // what the server took shows that the line is back
  document.addEventListener("htmx:afterOnLoad", (event) => {
    if (event.detail.xhr.status < 400) showQueue();
  });

  document.addEventListener("htmx:responseError", (event) => {
    const status = event.detail.xhr.status;
    const form = event.detail.elt.closest("form");
    const kept = form && form.dataset.keep !== undefined;
    if (status === 401 || status === 403) {
      if (kept) keep(form, submitter);
      showQueue("You are signed out. What you typed is kept here: sign in again in this window.", "/login");
    } else if (kept && status >= 500) keep(form, submitter);
    else showQueue("The server could not do that. What you typed is still in the page; try once more.");
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
