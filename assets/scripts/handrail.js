// Keys, drafts, and readings that outlast a lost connection. Pages work without it.

import { watchBeside } from "./beside.js";
import { watchChart } from "./chart.js";
import { offerTables } from "./csv.js";
import { restoreDrafts, watchDrafts } from "./drafts.js";
import { watchKeys } from "./keys.js";
import { watchLive } from "./live.js";
import { watchMoves } from "./move.js";
import { watchPoints } from "./points.js";
import { watchLine } from "./queue.js";
import { readySignature } from "./signature.js";
import { watchTaps } from "./tap.js";
import { watchTimers } from "./timers.js";

// after a refused entry its text is selected, so that the next typing takes its place
function ready() {
  offerTables();
  readySignature();
  const refused = document.querySelector("#bench [data-select]");
  if (refused) {
    refused.focus();
    refused.select();
    return;
  }
  // a long form that was refused opens at the first field that is wrong
  const wrong = document.querySelector(".page [aria-invalid]");
  if (wrong) {
    wrong.focus();
    return;
  }
  const marked = document.querySelector("#bench [autofocus]");
  if (marked && document.activeElement !== marked && !document.querySelector(".strike[open]")) marked.focus();
}

watchKeys();
watchBeside();
watchChart();
watchDrafts();
watchLine();
watchTimers();
watchTaps();
watchPoints();
watchMoves();
watchLive();
ready();
document.addEventListener("htmx:afterSettle", () => {
  restoreDrafts();
  ready();
});
