// Keys, drafts, and readings that outlast a lost connection. Pages work without it.

import { watchAhead } from "./ahead.js";
import { watchAloud } from "./aloud.js";
import { watchArrivals } from "./arrive.js";
import { watchBeside } from "./beside.js";
import { watchChart } from "./chart.js";
import { offerTables } from "./csv.js";
import { restoreDrafts, watchDrafts } from "./drafts.js";
import { watchFills } from "./fill.js";
import { watchKeys } from "./keys.js";
import { watchLive } from "./live.js";
import { watchMirror } from "./mirror.js";
import { watchMoves } from "./move.js";
import { watchPoints } from "./points.js";
import { watchLeave } from "./leave.js";
import { fromStore, watchPages, whole } from "./pages.js";
import { watchLine } from "./sending.js";
import { readySignature } from "./signature.js";
import { watchTaps } from "./tap.js";
import { watchTimers } from "./timers.js";
import { open } from "./vault.js";
import { say } from "./waiting.js";

// before anything changes it
const asItCame = whole();

// after a refused entry its text is selected, so that the next typing takes its place
function ready(settled) {
  // what is typed is kept sealed, and nowhere else: a browser that keeps fields for itself keeps them in clear
  document.querySelectorAll("form:not([autocomplete])").forEach((form) => (form.autocomplete = "off"));
  offerTables();
  readySignature();
  const refused = document.querySelector("#bench [data-select]");
  if (refused) {
    // what is being typed already stays as it is
    if (document.activeElement === refused && refused.value !== refused.defaultValue) return;
    refused.focus();
    refused.select();
    showAsked();
    return;
  }
  // a long form that was refused opens at the first field that is wrong
  const wrong = document.querySelector(".page [aria-invalid]");
  if (wrong) {
    wrong.focus();
    return;
  }
  // only a new bench takes the focus: what is typed in the search must never end up as a reading
  if (settled && !settled.closest("#bench") && !settled.querySelector("#bench")) return;
  const typing = document.activeElement;
  if (typing?.value && typing.matches("input:not([type=hidden])") && !typing.closest("#bench")) return;
  // a form as a whole takes the focus where it stands: who it is for stays in view above it
  const marked = document.querySelector("#bench [autofocus], #bench [data-focus]");
  if (marked && document.activeElement !== marked && !document.querySelector(".strike[open]")) {
    marked.focus({ preventScroll: marked.matches("[data-focus]") });
  }
  showAsked();
}

// What is asked now lies wholly in view, and the next key is meant for it. A check has the focus as a whole: a
// pedal that goes on must never answer it.
function showAsked() {
  const asked = ["#bench .question", "#bench #now form", "#bench .checks .is-current", "#bench .ask-one.is-asked"]
    .map((one) => document.querySelector(one))
    .find((one) => one && one.getClientRects().length);
  if (!asked || document.querySelector(".strike[open]")) return;
  const whole = asked.matches(".is-current, .is-asked");
  const inner = whole ? asked.querySelector("[data-reading]") || asked : null;
  if (inner && (document.activeElement === document.body || !document.activeElement)) {
    inner.focus({ preventScroll: true });
  }
  asked.scrollIntoView({ block: "nearest" });
}

const NOTHING_KEPT =
  "This browser can keep nothing here (no store, no secure address, or a store that does not answer; close the " +
  "browser and open it anew): what can not be sent stays in its field, and what waits here is not seen now.";

// what needs the store of this browser: it is opened with the key of who is signed in
async function begin() {
  const kept = open(document.body.dataset.account);
  watchDrafts();
  watchLine();
  watchAhead();
  watchPages(asItCame);
  if (!(await kept) && !fromStore()) say(NOTHING_KEPT);
  if (navigator.serviceWorker) await answeredByWorker().catch(() => null);
}

// the worker answers for this page too, even where it came up while the page was opened
async function answeredByWorker() {
  await navigator.serviceWorker.register("/worker.js");
  const { active } = await navigator.serviceWorker.ready;
  if (!navigator.serviceWorker.controller) active.postMessage("claim");
}

watchKeys();
watchAloud();
watchArrivals();
watchFills();
watchMirror();
watchBeside();
watchChart();
watchLeave();
watchTimers();
watchTaps();
watchPoints();
watchMoves();
watchLive();
ready();
begin();
document.addEventListener("htmx:afterSettle", ({ target }) => {
  restoreDrafts();
  ready(target);
});
