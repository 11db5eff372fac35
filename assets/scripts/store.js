// What this browser keeps in clear: choices that say nothing of anybody, and what is typed on pages of who is not
// signed in yet. All else is sealed, see vault.js. A full or closed store keeps nothing: who sets is told.

const prefix = () => `handrail.${document.body.dataset.account}.`;

export const store = {
  get(key) {
    try {
      return JSON.parse(localStorage.getItem(prefix() + key));
    } catch {
      return null;
    }
  },

  // whether it was kept
  set(key, value) {
    try {
      const text = JSON.stringify(value);
      localStorage.setItem(prefix() + key, text);
      return localStorage.getItem(prefix() + key) === text;
    } catch {
      return false;
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
    try {
      return Object.keys(localStorage)
        .filter((key) => key.startsWith(full))
        .map((key) => key.slice(prefix().length));
    } catch {
      return [];
    }
  },
};

// whether the answer to what htmx sent says that just this entry was kept: its key, never a status alone
export function keptBy({ xhr, requestConfig }) {
  const key = requestConfig?.formData?.get("entry_key");
  return Boolean(key) && xhr.getResponseHeader("handrail-kept") === key;
}

export const element = (name, text) => {
  const made = document.createElement(name);
  made.textContent = text;
  return made;
};

export const bench = () => document.getElementById("bench");
// the visit that a page is about: its bench, or its record
export const here = () => document.querySelector("[data-visit][data-fitting]");

export const token = () => JSON.parse(document.body.getAttribute("data-hx-headers"))["X-CSRF-Token"];

export const newKey = () =>
  crypto.randomUUID
    ? crypto.randomUUID()
    : "10000000-1000-4000-8000-100000000000".replace(/[018]/g, (digit) =>
        (Number(digit) ^ (crypto.getRandomValues(new Uint8Array(1))[0] & (15 >> (Number(digit) / 4)))).toString(16),
      );
