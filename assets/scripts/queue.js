// Entries that the server has not yet said yes to, in their order. An entry is whole from the moment it is sent: where
// to, its fields and files, its key, whose fitting, the wearer by two identifiers, its place, the hour. It goes when
// the server's answer names its key, or by an act of the person it belongs to.
//
// Where an entry is, in its row:
//   page     a page is sending it and awaits the answer        (by: the tab)
//   waiting  it waits for the line
//   going    it is being sent from here                        (by: the tab)
//   refused  the server did not take it; changed: somebody wrote meanwhile. Both stay until they are dealt with
//   withdrawn  taken back after it had been sent once: whether it had arrived is asked when the line is back
//   arrived  it had arrived all the same
// What is in hand of a tab that is gone waits again.

import { tabsAlive, tell } from "./channel.js";
import * as vault from "./vault.js";

const IN_HAND = ["page", "going"];
let mine = [];
let others = [];
let sealedAway = [];
const listeners = [];

export const entries = () => mine;
export const ofVisit = (visit) => mine.filter((entry) => entry.visit === visit);
// fittings for which something of somebody else lies here
export const foreignFittings = () => others.map((row) => row.fitting);
// own entries that this account's key does not open: it is another one than they were sealed with
export const unreadable = () => sealedAway.length;
export async function letUnreadableGo() {
  await Promise.all(sealedAway.map((row) => vault.drop("entries", row.seq)));
  await done();
}
export const onChange = (act) => listeners.push(act);
export const isOpen = ({ state }) => state === "waiting" || state === "page" || state === "going";
export const waits = (entry) => entry.state === "waiting" || entry.state === "going";

function changed() {
  listeners.forEach((act) => act());
}

async function whole(row) {
  try {
    return { ...(await vault.unseal(row.sealed)), ...row, files: row.files };
  } catch {
    return null;
  }
}

// reads what lies here, one reading after the other; what this account's key can not open is left alone
let reading = Promise.resolve();

export function load() {
  reading = reading.then(readAll);
  return reading;
}

async function readAll() {
  const rows = await vault.all("entries");
  const own = rows.filter((row) => row.account === vault.account());
  others = rows.filter((row) => row.account !== vault.account());
  const alive = await tabsAlive();
  const opened = await Promise.all(own.map(whole));
  sealedAway = vault.usable() ? own.filter((_, at) => !opened[at]) : [];
  const left = ({ state, by }) => IN_HAND.includes(state) && !alive.includes(by);
  mine = opened.filter(Boolean).map((entry) => (left(entry) ? { ...entry, state: "waiting" } : entry));
  changed();
}

async function done() {
  await load();
  tell("queue");
}

async function sealFiles(files) {
  return Promise.all(
    files.map(async ([name, file]) => ({
      name,
      filename: file.name,
      type: file.type,
      sealed: await vault.seal(await file.arrayBuffer()),
    })),
  );
}

// Keeps an entry; resolves to true once it is on the disk.
//   { key, fitting, visit, url, fields, label, value, wearer, device, page, place, made, judged, instead }
export async function add(entry, files, row) {
  if (mine.some((other) => other.key === entry.key)) return true;

  const { key, fitting, ...secret } = entry;
  const sealed = await sealFiles(files).catch(() => null);
  if (!sealed) return false;

  const seq = await vault.put("entries", { key, fitting, files: sealed, tries: 0, ...row }, secret);
  if (seq === null) return false;

  await done();
  return true;
}

const rowOf = (key) => mine.find((entry) => entry.key === key);

// moves an entry on; still - what it must still be in for that. Resolves to whether it was.
export async function move(key, state, still, more = {}) {
  const entry = rowOf(key);
  if (!entry) return false;

  const fields = { state, ...more };
  if (more.reason !== undefined) {
    const { reason, ...rest } = more;
    const secret = { ...(await vault.unseal(entry.sealed)), reason };
    Object.assign(fields, rest, { sealed: await vault.seal(secret) });
    delete fields.reason;
  }
  const row = await vault.change("entries", entry.seq, fields, (now) => !still || still.includes(now.state));
  await done();
  return row !== null;
}

export async function remove(key) {
  const entry = rowOf(key);
  if (entry) await vault.drop("entries", entry.seq);
  await done();
}

// Takes an entry back that the server has not taken. One that was never sent is gone; of one that was, it is asked.
export async function takeBack(key) {
  const entry = rowOf(key);
  if (!entry || entry.state !== "waiting") return;
  if (entry.tries) await move(key, "withdrawn", ["waiting", "page", "going"]);
  else await remove(key);
}

// the files of an entry, as they were
export const filesOf = (entry) =>
  Promise.all(
    (entry.files || []).map(async ({ name, filename, type, sealed }) => [
      name,
      new File([await vault.bytes(sealed)], filename, { type }),
    ]),
  );
