// The moment between a key and the store that seals in the background: what is typed is sealed and kept in the same
// instant, so that a page that is gone the next one leaves nothing behind. The key comes with the page (see
// Web::SlotKey); it is kept nowhere, and without it what lies here is no name and no figure. A slot goes once the
// store has what was in it.
//
//   fill("draft./orders", { at, values })   // true where it was kept
//   [...slots()]                            // => [["draft./orders", { at, values }], ...]

import { xchacha20poly1305 } from "@noble/ciphers/chacha.js";
import { managedNonce } from "@noble/ciphers/utils.js";
import { store } from "./store.js";

const START = "slot.";

// the page says it under a mask of its own, so that it never looks the same twice
function readKey() {
  const text = document.body.dataset.slot;
  if (!text) return null;

  const bytes = Uint8Array.from(atob(text), (letter) => letter.charCodeAt(0));
  const half = bytes.length / 2;
  return bytes.slice(half).map((byte, i) => byte ^ bytes[i]);
}

let cipher;
const own = () => {
  if (cipher === undefined) {
    const key = readKey();
    cipher = key && managedNonce(xchacha20poly1305)(key);
  }
  return cipher;
};

const text = (bytes) => btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(""));
const bytes = (sealed) => Uint8Array.from(atob(sealed), (letter) => letter.charCodeAt(0));

export function fill(name, value) {
  if (!own()) return false;

  return store.set(START + name, text(own().encrypt(new TextEncoder().encode(JSON.stringify(value)))));
}

function open(name) {
  try {
    return JSON.parse(new TextDecoder().decode(own().decrypt(bytes(store.get(START + name)))));
  } catch {
    // sealed with a key that is no more
    return null;
  }
}

// all that can be opened
export const slots = () =>
  store
    .keys(START)
    .map((key) => [key.slice(START.length), open(key.slice(START.length))])
    .filter(([, value]) => value);

// `at` - where what is there is of another moment, it stays
export function empty(name, at) {
  if (at === undefined || open(name)?.at === at) store.drop(START + name);
}
