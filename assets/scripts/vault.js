// What this browser keeps for the person who is signed in: entries that wait, drafts, and pages of today. All of it
// is sealed with a key of the account that the server gives at the sign-in; at the sign-out the key is thrown away, and
// what lies here is no name and no figure to anybody else. Which fitting something waits for is told, not what.
//
//   await open(account)      // false where this browser can keep nothing: no store, no secure address
//   await put("entries", { key, fitting, ... }, secret)   // resolves when it is on the disk; false where it is not
//
// Nothing here knows what an entry means: see queue.js, drafts.js, pages.js.

import { openDB } from "idb";

const NAME = "handrail";
const STRICT = { durability: "strict" };
// milliseconds after which a store that does not answer counts as none: its disk hangs, or a browser that crashed
// still holds it
const PATIENCE = 5000;

let db = null;
let key = null;
let whose = null;
// until the store is open, what asks for it waits
let opened = Promise.resolve(false);

const store = () =>
  openDB(NAME, 1, {
    upgrade(fresh) {
      fresh.createObjectStore("keys", { keyPath: "account" });
      fresh.createObjectStore("entries", { keyPath: "seq", autoIncrement: true });
      fresh.createObjectStore("drafts", { keyPath: ["account", "name"] });
      fresh.createObjectStore("pages", { keyPath: ["account", "path"] });
    },
    // another tab with another build of this program wants the store
    blocking: (_was, _will, event) => event.target.close(),
    terminated: () => (db = null),
  });

const soon = (work) =>
  Promise.race([work, new Promise((_, fail) => setTimeout(fail, PATIENCE, new Error("The store does not answer.")))]);

async function ours() {
  db ||= await soon(store());
  return db;
}

// a transaction that is done, or that is not: what is told of as not kept is not kept later either
async function done(writing) {
  try {
    await soon(writing.done);
  } catch (fault) {
    try {
      writing.abort();
    } catch {
      // it had ended by itself
    }
    throw fault;
  }
}

const bytesOf = (text) => Uint8Array.from(atob(text), (letter) => letter.charCodeAt(0));

async function fetchKey() {
  const answer = await fetch("/line/key", { redirect: "manual", cache: "no-store" });
  if (!answer.ok) return null;

  const { key: text } = await answer.json();
  return crypto.subtle.importKey("raw", bytesOf(text), "AES-GCM", false, ["encrypt", "decrypt"]);
}

export const account = () => whose;
export const usable = () => key !== null;

// Opens the store for an account. Its key comes from here, or from the server where this is the first page after the
// sign-in; keys and pages of others, who are signed in here no more, go.
export function open(id) {
  whose = Number(id);
  opened = opening();
  return opened;
}

async function opening() {
  try {
    if (!window.crypto?.subtle || !navigator.locks) return false;

    const disk = await ours();
    const known = await soon(disk.get("keys", whose));
    key = known?.key || (await fetchKey());
    if (!key) return false;

    await disk.put("keys", { account: whose, key, used: Date.now() });
    await onlyOwn(disk);
    navigator.storage?.persist?.();
    return true;
  } catch {
    return false;
  }
}

async function onlyOwn(disk) {
  const others = (await disk.getAllKeys("keys")).filter((id) => id !== whose);
  await Promise.all(others.map((id) => disk.delete("keys", id)));
  const pages = (await disk.getAllKeys("pages")).filter(([id]) => id !== whose);
  await Promise.all(pages.map((path) => disk.delete("pages", path)));
}

// Nobody is signed in here any more: no key and no page stays. What waits and what was typed stays, sealed.
export async function forget() {
  try {
    const disk = await ours();
    const gone = disk.transaction(["keys", "pages"], "readwrite", STRICT);
    gone.objectStore("keys").clear();
    gone.objectStore("pages").clear();
    key = null;
    await done(gone);
  } catch {
    // nothing is kept here
  }
}

// this account is at work: see worker.js, which opens no page that was kept for somebody who has long gone
export const touch = async () => key && (await ours()).put("keys", { account: whose, key, used: Date.now() });

export async function seal(value) {
  await opened;
  const iv = crypto.getRandomValues(new Uint8Array(12));
  const bytes = value instanceof ArrayBuffer ? value : new TextEncoder().encode(JSON.stringify(value));
  return { iv, data: await crypto.subtle.encrypt({ name: "AES-GCM", iv }, key, bytes) };
}

export async function bytes({ iv, data }) {
  await opened;
  return crypto.subtle.decrypt({ name: "AES-GCM", iv }, key, data);
}
export const unseal = async (sealed) => JSON.parse(new TextDecoder().decode(await bytes(sealed)));

// Keeps a row, with what is secret of it sealed. Resolves to its key once it is on the disk; null where it is not.
export async function put(where, row, secret, how = STRICT) {
  await opened;
  if (!key) return null;
  try {
    const whole = { ...row, account: whose, ...(secret === undefined ? {} : { sealed: await seal(secret) }) };
    const disk = await ours();
    const writing = disk.transaction(where, "readwrite", how);
    const made = writing.store.put(whole);
    made.catch(() => null);
    await done(writing);
    return await made;
  } catch {
    return null;
  }
}

export async function drop(where, name) {
  try {
    const disk = await ours();
    const writing = disk.transaction(where, "readwrite", STRICT);
    writing.store.delete(name).catch(() => null);
    await done(writing);
  } catch {
    // it is looked at again with the next page
  }
}

// all rows of a store, of everybody
export async function all(where) {
  try {
    return await soon((await ours()).getAll(where));
  } catch {
    return [];
  }
}

export async function get(where, name) {
  try {
    return await soon((await ours()).get(where, name));
  } catch {
    return undefined;
  }
}

// Changes fields of a row in one step where it still is as `still` wants it; resolves to the row as it is then, else
// to null.
export async function change(where, name, fields, still = () => true) {
  try {
    const disk = await ours();
    const writing = disk.transaction(where, "readwrite", STRICT);
    const row = await soon(writing.store.get(name));
    const fits = Boolean(row) && still(row);
    if (fits) writing.store.put({ ...row, ...fields }).catch(() => null);
    await done(writing);
    return fits ? { ...row, ...fields } : null;
  } catch {
    return null;
  }
}
