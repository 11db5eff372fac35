// Pages of who is not signed in: what was typed in a form outlasts a lost connection there too. Where somebody has
// signed out, no key and no page of theirs stays in this browser; that something waits here is said, not whose or what.

import { watchDrafts } from "./drafts.js";
import { all, forget } from "./vault.js";

async function sayWaiting() {
  const place = document.getElementById("waiting");
  const rows = place ? await all("entries") : [];
  if (!rows.length) return;

  const people = new Set(rows.map((row) => row.account)).size;
  const entries = rows.length === 1 ? "1 entry waits" : `${rows.length} entries wait`;
  const whose = people === 1 ? "the one who made them signs" : `the ${people} who made them sign`;
  place.textContent = `${entries} on this machine, not saved yet: sent when ${whose} in here.`;
  place.hidden = false;
}

watchDrafts({ apart: true });
if (document.body.dataset.signedOut !== undefined) forget();
sayWaiting();
