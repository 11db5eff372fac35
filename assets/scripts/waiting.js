// What waits, said: above the page all of it, by wearer, with what became of each and the way on; at its own place on
// the page of its visit, where it can be changed or taken back.

import { off } from "./clock.js";
import {
  entries,
  foreignFittings,
  isOpen,
  letUnreadableGo,
  ofVisit,
  remove,
  takeBack,
  unreadable,
  waits,
} from "./queue.js";
import { lineState, sendNow } from "./sender.js";
import { element, here } from "./store.js";

const LINES = {
  none: "Kept in this browser. It is sent when the line is back.",
  out: "Sign in again, then it is sent. It is kept in this browser.",
  another: "Somebody else is signed in here now. It is kept, and sent when you sign in again on this machine.",
  foreign: "What came back was no answer of Handrail. Nothing of what you sent is known to be saved; it is kept here.",
  broken: "The server can not take it just now. It is kept in this browser, and tried again.",
  renewed: "Handrail was renewed. Load this page again: what you typed stays, and what waits is sent then.",
};
const NOT_JUDGED =
  "What waits is not judged yet: no stop sign is shown for it. Where skin, colour, warmth, feeling, breath or pain " +
  "worries you, act now, as without Handrail.";
const STATES = {
  waiting: "waits",
  going: "is being sent",
  refused: "Not taken",
  changed: "Not taken",
  withdrawn: "taken back; whether it had arrived is asked when the line is back",
  arrived: "taken back, but it had arrived before: strike it out at its visit",
};
const NOT_TAKEN = { refused: true, changed: true, arrived: true };
let change = () => {};
let said = null;

const button = (words, act, look = "plain") => {
  const made = element("button", words);
  made.className = look;
  made.type = "button";
  made.addEventListener("click", act);
  return made;
};

const link = (words, href) => {
  const made = element("a", words);
  made.href = href;
  return made;
};

const clock = (seconds) =>
  new Date(seconds * 1000).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });

const own = (entry) => here()?.dataset.visit === entry.visit;

// where an entry belongs on this page: what its form names, else the form itself
function placeOf(entry) {
  if (!own(entry) || !entry.place) return null;

  const place = CSS.escape(entry.place);
  return document.querySelector(`[data-at="${place}"]`) || document.querySelector(`form[data-place="${place}"]`);
}

// in the list above the page; its own place shows the whole
const LISTED = 120;
const clipped = (text) => (text.length > LISTED ? `${text.slice(0, LISTED)}…` : text);

// an entry in the list above the page
function line(entry) {
  const item = element("li", `${entry.label}${entry.value ? `: ${clipped(entry.value)}` : ""} `);
  item.dataset.key = entry.key;
  item.append(element("small", `${entry.device}, ${clock(entry.made)}`));
  const state = entry.reason && !waits(entry) ? `${STATES[entry.state]}: ${entry.reason}` : STATES[entry.state];
  if (entry.state !== "waiting") item.append(element("p", state));
  else if (entry.reason) item.append(element("p", `${entry.reason} It is tried again.`));
  if (entry.state === "refused" || entry.state === "changed" || entry.state === "arrived") {
    if (!own(entry)) item.append(link("Open that visit", entry.page), " ");
    item.append(
      entry.state === "arrived" ? "" : button("Put it in its form again", () => change(entry)),
      " ",
      button("I have dealt with it", () => remove(entry.key)),
    );
  } else if (entry.state === "waiting") {
    item.append(" ", button("Take it back", () => takeBack(entry.key)));
  }
  return item;
}

function byWearer(list) {
  const wearers = new Map();
  list.forEach((entry) => wearers.set(entry.wearer, [...(wearers.get(entry.wearer) || []), entry]));
  return [...wearers].map(([wearer, theirs]) => {
    const part = document.createElement("section");
    const lines = document.createElement("ul");
    theirs.forEach((entry) => lines.append(line(entry)));
    part.append(element("p", wearer), lines);
    return part;
  });
}

// says something above the page until the next thing is said
export function say(sentence, way) {
  said = sentence ? { sentence, way } : null;
  show();
}

const BY_PAGE_MS = 1500;

// what a page sends by itself is told only where the answer is long in coming
const slow = (entry) => entry.state !== "page" || Date.now() - (entry.sentAt || 0) > BY_PAGE_MS;

function lineWords(list) {
  if (!list.some(isOpen)) return null;
  return LINES[lineState()] || LINES.none;
}

// what somebody else left here for this fitting
function foreign() {
  const fitting = here()?.dataset.fitting;
  if (!fitting || !foreignFittings().includes(fitting)) return null;

  return (
    "On this machine something waits for this fitting that a colleague entered and that is not saved yet. " +
    "It is sent when they sign in here again; ask them before you go on."
  );
}

// what nobody can open any more, and was never sent
function lostForGood() {
  const count = unreadable() === 1 ? "One entry" : `${unreadable()} entries`;
  const sentence = element("p", `${count} of yours can not be opened any more and will not be sent: enter it anew. `);
  sentence.append(button("I have dealt with it", letUnreadableGo));
  return sentence;
}

export function show() {
  const box = document.getElementById("unsaved");
  if (!box) return;

  const list = entries().filter(slow);
  const stranger = foreign();
  const clockOff = list.length ? off() : 0;
  box.textContent = "";
  box.hidden = !list.length && !said && !stranger && !unreadable() && lineState() !== "renewed";
  box.classList.toggle("is-quiet", list.length === 0 && !said);
  // what stands at its own place on this page need not stand here too
  const elsewhere = list.filter((entry) => NOT_TAKEN[entry.state] || entry.state === "withdrawn" || !placeOf(entry));
  if (list.length) box.append(element("strong", `Not saved yet (${list.length})`), ...byWearer(elsewhere));
  const words = lineState() === "renewed" ? LINES.renewed : lineWords(list);
  if (words) {
    const sentence = element("p", words);
    box.append(sentence);
    if (lineState() === "out" || lineState() === "another") sentence.append(" ", link("Sign in", "/login"));
    else if (lineState() === "renewed") sentence.append(" ", button("Load it again", () => location.reload()));
    else sentence.append(" ", button("Try now", sendNow));
  }
  if (list.some((entry) => entry.judged && isOpen(entry))) box.append(element("p", NOT_JUDGED));
  if (clockOff) {
    const minutes = Math.round(Math.abs(clockOff) / 60);
    const apart = `The clock of this machine is ${minutes} min off; the hours of what waits go by the server's.`;
    box.append(element("p", apart));
  }
  if (said) {
    const sentence = element("p", said.sentence);
    if (said.way) sentence.append(" ", link(said.way[0], said.way[1]));
    box.append(sentence);
  }
  if (stranger) box.append(element("p", stranger));
  if (unreadable()) box.append(lostForGood());
  showPlaces();
}

function note(entry) {
  const made = document.createElement("p");
  made.className = "waits";
  made.dataset.waits = entry.key;
  const judged = entry.judged ? "; judged when the line is back" : "";
  const words = NOT_TAKEN[entry.state] ? `not taken: ${entry.reason || STATES[entry.state]}` : `not saved yet${judged}`;
  const shown = element("strong", entry.value || entry.label);
  shown.classList.toggle("is-figure", /^\d/.test(shown.textContent));
  made.append(shown, ` ${words} `);
  if (entry.state === "waiting") {
    made.append(
      button("Change", () => change(entry)),
      " ",
      button("Take back", () => takeBack(entry.key)),
    );
  }
  return made;
}

// at its own place
export function showPlaces() {
  document.querySelectorAll("[data-waits]").forEach((old) => old.remove());
  const visit = here()?.dataset.visit;
  if (!visit) return;

  ofVisit(visit)
    .filter((entry) => slow(entry) && entry.state !== "withdrawn")
    .forEach((entry) => placeOf(entry)?.append(note(entry)));
}

export const whenChanged = (act) => (change = act);
