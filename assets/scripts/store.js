// What this browser keeps for the person who is signed in. A full or closed store loses only drafts.

const prefix = () => `handrail.${document.body.dataset.account}.`;

export const store = {
  get(key) {
    try {
      return JSON.parse(localStorage.getItem(prefix() + key));
    } catch {
      return null;
    }
  },

  set(key, value) {
    try {
      localStorage.setItem(prefix() + key, JSON.stringify(value));
    } catch {
      // nothing more can be done here
    }
  },

  drop(key) {
    try {
      localStorage.removeItem(prefix() + key);
    } catch {
      // nothing more can be done here
    }
  },

  // keys that begin so, without the prefix
  keys(start) {
    const full = prefix() + start;
    return Object.keys(localStorage)
      .filter((key) => key.startsWith(full))
      .map((key) => key.slice(prefix().length));
  },
};

export const bench = () => document.getElementById("bench");

export const token = () => JSON.parse(document.body.getAttribute("data-hx-headers"))["X-CSRF-Token"];

export const newKey = () =>
  crypto.randomUUID
    ? crypto.randomUUID()
    : "10000000-1000-4000-8000-100000000000".replace(/[018]/g, (digit) =>
        (Number(digit) ^ (crypto.getRandomValues(new Uint8Array(1))[0] & (15 >> (Number(digit) / 4)))).toString(16),
      );
