// Pages of today that this browser keeps, sealed, so that a reload without a line opens the bench: as it was when the
// server last drew it. The worker opens them, see worker.js; a page that it opened says so.

import * as vault from "./vault.js";
import { bench, element, newKey } from "./store.js";

const DAY = 24 * 3600 * 1000;
const RELAXED = { durability: "relaxed" };
const ENOUGH = 10 * 60 * 1000;
const KEPT = ["/", "/week"];

const path = () => location.pathname + location.search;
const worth = (where) => KEPT.includes(where.split("?")[0]) || /^\/visits\/\d+\//.test(where);

// the page as it came, before any script changed it
const whole = () => `<!doctype html>\n${document.documentElement.outerHTML}`;
let asItCame = null;

const keepPage = (where, html) => vault.put("pages", { path: where, at: Date.now() }, html, RELAXED);

// fragments that were fetched ahead, under the address that they came from
export const moments = {
  keep: (from, html) => keepPage(from, html),
  async get(from) {
    const row = await vault.get("pages", [vault.account(), from]);
    try {
      return row && (await vault.unseal(row.sealed));
    } catch {
      return null;
    }
  },
};

export const fromStore = () => document.querySelector("meta[name=handrail-kept-page]");

// another bench stands in the page now: so it does in the page that is kept
function benchChanged(html) {
  if (!asItCame) return;

  const page = new DOMParser().parseFromString(asItCame, "text/html");
  const fresh = new DOMParser().parseFromString(html, "text/html").getElementById("bench");
  const old = page.getElementById("bench");
  if (!fresh || !old || fresh.dataset.visit !== old.dataset.visit) return;

  old.replaceWith(page.importNode(fresh, true));
  asItCame = `<!doctype html>\n${page.documentElement.outerHTML}`;
  keepPage(path(), asItCame);
}

async function tidy() {
  const old = (await vault.all("pages")).filter((row) => Date.now() - row.at > DAY);
  await Promise.all(old.map((row) => vault.drop("pages", [row.account, row.path])));
}

// the other stages of this visit that can be gone to
async function keepStages() {
  const rows = await vault.all("pages");
  const fresh = rows.filter((row) => Date.now() - row.at < ENOUGH).map((row) => row.path);
  const links = [...document.querySelectorAll(".rail a[href], .side-choice a[href]")];
  const wanted = links.map((link) => new URL(link.href)).filter((url) => url.origin === location.origin);
  for (const url of wanted) {
    const where = url.pathname + url.search;
    if (where !== path() && worth(where) && !fresh.includes(where)) {
      const answer = await fetch(url, { headers: { "Handrail-Follows": "yes" }, redirect: "manual" });
      if (!answer.ok || !answer.headers.get("handrail-build")) return;

      await keepPage(where, await answer.text());
    }
  }
}

// A page that was kept: nothing on it is newer than it says; each form gets a key of its own, or two entries had one.
function old(meta) {
  document.querySelectorAll("[name=entry_key]").forEach((field) => (field.value = newKey()));
  const at = new Date(Number(meta.content)).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  const was = `No line: this is the page as it was at ${at}. `;
  const said = element("p", `${was}What you enter waits here; what others wrote since is not on it.`);
  said.id = "kept-page";
  said.setAttribute("role", "status");
  document.getElementById("unsaved").after(said);
}

export function watchPages(html) {
  const meta = fromStore();
  if (meta) old(meta);
  else if (worth(path()) && document.querySelector("main")) {
    asItCame = html;
    keepPage(path(), html);
  }
  document.addEventListener("htmx:afterSwap", ({ detail }) => {
    if (detail.target?.id === "bench") benchChanged(detail.xhr.responseText);
  });
  if (bench() && !meta) setTimeout(() => keepStages().catch(() => null), 3000);
  setTimeout(tidy, 5000);
}

export { whole };
