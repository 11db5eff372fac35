// What the tabs of this browser tell each other.

const channel = "BroadcastChannel" in window ? new BroadcastChannel("handrail") : null;
const heard = {};

// to the other tabs, never to this one
export const tell = (what, more = {}) => channel?.postMessage({ what, ...more });
export const hear = (what, act) => (heard[what] = act);

channel?.addEventListener("message", ({ data }) => heard[data.what]?.(data));

// A lock that is held as long as this page lives: by it the others see what it has in hand.
export const tab = crypto.randomUUID?.() || String(Math.random());
const lock = (id) => `handrail-tab-${id}`;

navigator.locks?.request(lock(tab), () => new Promise(() => {}));

export async function tabsAlive() {
  const { held } = await navigator.locks.query();
  return held.map(({ name }) => name.replace("handrail-tab-", "")).concat(tab);
}
