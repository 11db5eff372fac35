// Sends what waits, once, in its order, from one tab at a time. What one entry meets holds up the fitting that it
// belongs to, never another one.

import { tab, tell } from "./channel.js";
import { arrived, ask } from "./line.js";
import { entries, filesOf, isOpen, load, move, remove, waits } from "./queue.js";
import { account } from "./vault.js";

// milliseconds after which an answer is awaited no longer
const PATIENCE = 20000;
const FIRST = 2000;
const LONGEST = 60000;

// what is known of the line: there, none, out, another, foreign, broken, renewed; null before it was asked
let line = { state: null };
let failures = 0;
let timer = null;
let told = () => {};
let settled = () => {};

export const lineState = () => line.state;
export const lost = () => !["there", null].includes(line.state);

const ownBuild = () => document.body.dataset.build;

function setLine(next) {
  line = next;
  told();
}

export function lineLost() {
  if (!lost()) setLine({ state: "none" });
  wait();
}

export function lineThere() {
  failures = 0;
  if (lost()) setLine({ state: "there" });
}

export const renewed = () => setLine({ state: "renewed" });

// the next try: sooner at first, then more and more seldom, no two tabs at the same moment
function wait() {
  clearTimeout(timer);
  const pause = Math.min(LONGEST, FIRST * 2 ** Math.min(failures, 6)) * (0.8 + Math.random() * 0.4);
  timer = setTimeout(sendAll, pause);
}

// why an entry was not taken, from the page that came back
function reasonOf(html) {
  const page = new DOMParser().parseFromString(html, "text/html");
  const said = page.querySelector("[role=alert], .notice, main p");
  return said ? said.textContent.replace(/\s+/g, " ").trim().slice(0, 400) : "The server could not take it.";
}

async function post(entry, token) {
  const body = new FormData();
  entry.fields.forEach(([name, value]) => body.append(name, value));
  (await filesOf(entry)).forEach(([name, file]) => body.append(name, file));
  body.set("authenticity_token", token);
  return fetch(entry.url, {
    method: "POST",
    headers: {
      "HX-Request": "true",
      "X-CSRF-Token": token,
      "Handrail-Account": String(account()),
      "Handrail-Made": String(Math.floor(entry.made)),
    },
    body: entry.files?.length ? body : new URLSearchParams(body),
    // a page to sign in is no answer
    redirect: "manual",
    signal: AbortSignal.timeout(PATIENCE),
  });
}

const named = (answer, header, entry) => answer.headers.get(header) === entry.key;

// What became of one entry: "on" to the next; "held": the others of its fitting wait; "stop": there is no line.
async function settle(entry, token) {
  const mineNow = await move(entry.key, "going", ["waiting", "page", "going"], { by: tab, tries: entry.tries + 1 });
  if (!mineNow) return "on";

  const back = (reason) => move(entry.key, "waiting", ["going"], reason ? { reason } : {});
  let answer;
  try {
    answer = await post(entry, token);
  } catch {
    await back();
    setLine({ state: "none" });
    return "stop";
  }
  if (named(answer, "handrail-kept", entry)) {
    await remove(entry.key);
    settled(entry.visit);
    tell("settled", { visit: entry.visit });
    return "on";
  }
  if (answer.type === "opaqueredirect" || answer.status === 401) {
    await back();
    setLine({ state: "out" });
    return "stop";
  }
  if (!answer.headers.get("handrail-build")) {
    await back();
    setLine({ state: "foreign" });
    return "stop";
  }
  if (answer.status >= 500 || answer.status === 429) {
    await back(answer.status === 507 ? "The disk of the server is full." : "The server could not do it just now.");
    return "held";
  }
  if (answer.status === 403 && !named(answer, "handrail-refused", entry)) {
    // the page that it came from is older than this sign-in: it is sent anew with the next token
    await back();
    return "held";
  }
  const reason = reasonOf(await answer.text().catch(() => ""));
  const state = answer.status === 409 ? "changed" : "refused";
  await move(entry.key, state, ["going"], { reason });
  return "on";
}

// what was taken back after it had been sent: whether it arrived
async function askAfter(token) {
  const asked = entries().filter((entry) => entry.state === "withdrawn");
  const instead = entries().filter((entry) => waits(entry) && entry.instead);
  if (!asked.length && !instead.length) return;

  const kept = await arrived([...asked.map(({ key }) => key), ...instead.map((entry) => entry.instead)], token);
  if (!kept) return;

  for (const entry of asked) {
    if (!kept.includes(entry.key)) await remove(entry.key);
    else await move(entry.key, "arrived", ["withdrawn"]);
  }
  for (const entry of instead.filter((one) => kept.includes(one.instead))) {
    const reason = "What it was to stand for had arrived already. Look at both at its visit.";
    await move(entry.key, "changed", ["waiting"], { reason });
  }
}

// whether there is anything to send or to ask, or a line to look for
const toDo = () => lost() || entries().some((entry) => isOpen(entry) || entry.state === "withdrawn");

async function sendInTurn() {
  await load();
  if (!toDo()) return;

  const found = await ask(account());
  if (found.state === "there" && found.build !== ownBuild()) found.state = "renewed";
  setLine(found);
  if (found.state !== "there") {
    failures += 1;
    return;
  }
  await askAfter(found.token);
  const held = new Set();
  const tried = new Set();
  for (;;) {
    const next = entries().find((entry) => isOpen(entry) && !held.has(entry.fitting) && !tried.has(entry.key));
    if (!next) break;
    // another page has it in hand: what comes after it waits for it
    if (next.state !== "waiting") {
      held.add(next.fitting);
      continue;
    }
    tried.add(next.key);
    const became = await settle(next, found.token);
    if (became === "stop") break;
    if (became === "held") held.add(next.fitting);
  }
  failures = entries().some(waits) ? failures + 1 : 0;
}

export async function sendAll() {
  clearTimeout(timer);
  try {
    await navigator.locks.request("handrail-sender", { ifAvailable: true }, (lock) => lock && sendInTurn());
  } catch {
    // the store of this browser is closed: it is tried again
  }
  told();
  if (toDo()) wait();
}

// now - without the pause that has grown
export function sendNow() {
  failures = 0;
  return sendAll();
}

export function watchSender(onLine, onSettled) {
  told = onLine;
  settled = onSettled;
  window.addEventListener("online", sendNow);
  document.addEventListener("visibilitychange", () => document.hidden || sendAll());
}
