// The service worker: styles and scripts of this build are kept; a page comes from the server, and where there is no
// line the page that was kept of it, opened with the key of who is signed in here. It never answers for anything that
// writes, and shows no error page of the browser.

import { openDB } from "idb";

const { build, page: WITHOUT_LINE, shell, policy } = self.HANDRAIL;
const SHELL = `handrail-${build}`;
// a page is awaited this long (milliseconds) where one of it is kept
const PATIENCE = 8000;
// who has not worked here for this long (milliseconds) has gone: nothing is opened for them
const IDLE = 3600 * 1000;

self.addEventListener("install", (event) => {
  // on a poor line one file or another does not come: it is kept when it is first asked for
  const fill = async () => {
    const cache = await caches.open(SHELL);
    await Promise.allSettled([WITHOUT_LINE, ...shell].map((path) => cache.add(path)));
  };
  event.waitUntil(fill().then(() => self.skipWaiting()));
});

// a page that was opened while this worker came up is told of no other way
self.addEventListener("message", ({ data }) => data === "claim" && self.clients.claim());

self.addEventListener("activate", (event) => {
  const clean = async () => {
    const old = (await caches.keys()).filter((name) => name.startsWith("handrail-") && name !== SHELL);
    // pages of the build before may still be open, or kept: the newest of the old ones stays
    await Promise.all(old.slice(0, -1).map((name) => caches.delete(name)));
    await self.clients.claim();
  };
  event.waitUntil(clean());
});

async function unsealed(row, key) {
  const plain = await crypto.subtle.decrypt({ name: "AES-GCM", iv: row.sealed.iv }, key, row.sealed.data);
  return JSON.parse(new TextDecoder().decode(plain));
}

// what is kept for who is signed in here: [rows, key]; nothing where nobody is, or has long gone
async function keptHere() {
  const disk = await openDB("handrail", 1);
  try {
    const [who] = await disk.getAll("keys");
    if (!who || Date.now() - who.used > IDLE) return [[], null];

    return [(await disk.getAll("pages")).filter((row) => row.account === who.account), who.key];
  } catch {
    return [[], null];
  } finally {
    disk.close();
  }
}

const HEADERS = {
  "content-type": "text/html;charset=utf-8",
  "content-security-policy": policy,
  "cache-control": "no-store",
};
const answer = (html) => new Response(html, { headers: HEADERS });

const bare = (path) => path.split("?")[0];
const isPage = ({ path }) => !path.includes("/ahead/");

// the page as it was kept: that very address, else the stage without what is asked of it
async function keptPage(url) {
  const [rows, key] = await keptHere();
  const pages = rows.filter(isPage);
  const same = pages.find((one) => one.path === url.pathname + url.search);
  const row = same || pages.find((one) => bare(one.path) === url.pathname);
  if (!row) return null;

  const html = await unsealed(row, key);
  return answer(html.replace("</title>", `</title><meta name="handrail-kept-page" content="${row.at}">`));
}

const NOT_SENT =
  "That was not sent, or its answer was lost. What you typed is kept: go back to the form and send it again.";
const NEWEST = 12;

const nameOf = (path) => (path === "/" ? "The board" : path.replaceAll("/", " ").trim());

// the page that there is in place of one: what is kept here
async function instead(html, request) {
  const [rows] = await keptHere();
  const links = rows
    .filter((row) => isPage(row) && !row.path.includes("?"))
    .sort((a, b) => b.at - a.at)
    .slice(0, NEWEST)
    .map(({ path }) => `<li><a href="${path}">${nameOf(path)}</a></li>`);
  const again = html.replace('href=""', `href="${new URL(request.url).pathname}"`);
  if (!links.length) return again;
  return again.replace('<div id="held" hidden>', '<div id="held">').replace("<ul></ul>", `<ul>${links.join("")}</ul>`);
}

// a form that was sent and had no answer
function notSent(html, { referrer }) {
  const from = referrer ? new URL(referrer) : null;
  const back = from?.origin === self.location.origin ? from.pathname : "/";
  return html
    .replace("This page is not kept in this browser.", NOT_SENT)
    .replace('href=""', `href="${back}"`)
    .replace("Try again</a>", "Back to the form</a>");
}

async function withoutLine(request) {
  const known = await caches.match(WITHOUT_LINE);
  if (!known) return Response.error();

  const html = await known.text();
  return answer(request.method === "GET" ? await instead(html, request) : notSent(html, request));
}

const patience = () => new Promise((_, late) => setTimeout(() => late(new Error("late")), PATIENCE));

async function page(event) {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET") return fetch(request).catch(() => withoutLine(request));

  const coming = fetch(request);
  try {
    return await Promise.race([coming, patience()]);
  } catch {
    return (await keptPage(url).catch(() => null)) || coming.catch(() => withoutLine(request));
  }
}

async function fromShell(request) {
  const known = await caches.match(request, { ignoreVary: true });
  if (known) return known;

  const came = await fetch(request);
  if (came.ok) (await caches.open(SHELL)).put(request, came.clone());
  return came;
}

self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (url.origin !== self.location.origin) return;
  if (event.request.mode === "navigate") event.respondWith(page(event));
  else if (event.request.method === "GET" && /^\/(built|fonts)\//.test(url.pathname)) {
    event.respondWith(fromShell(event.request));
  }
});
