// The server's time. A page is told it when it is made; since then a clock runs that nobody sets. Where that clock
// stood still, because the machine slept, or this is a page that was kept, it is set again: by the server where there
// is a line, else by how far the machine's own clock has gone since.

// seconds by which the two clocks of this machine may part before the server is asked
const APART = 5;
const OWN = "handrail.clock";

const kept = document.querySelector("meta[name=handrail-kept-page]") !== null;
let base = Number(document.body.dataset.now);
let began = performance.now();
let wall = Date.now();

// how far the machine's own clock is behind the server's, in seconds; known once a server has told
function ahead() {
  try {
    return Number(localStorage.getItem(OWN)) || 0;
  } catch {
    return 0;
  }
}

export function setBy(serverNow) {
  base = serverNow;
  began = performance.now();
  wall = Date.now();
  try {
    localStorage.setItem(OWN, String(Math.round(serverNow - wall / 1000)));
  } catch {
    // then only this page knows
  }
}

// seconds since 1970, by the server's clock
export function now() {
  const run = (performance.now() - began) / 1000;
  const gone = (Date.now() - wall) / 1000;
  // it slept: the clock of the page stood still meanwhile
  return base + (gone - run > APART ? gone : run);
}

// whether the machine's clocks have parted since the server told the time
export const parted = () => Math.abs((Date.now() - wall) / 1000 - (performance.now() - began) / 1000) > APART;

// seconds by which this machine's clock is off, where that is worth a word
export const off = () => (Math.abs(ahead()) > 120 ? ahead() : 0);

if (kept) {
  base = Date.now() / 1000 + ahead();
  began = performance.now();
  wall = Date.now();
} else setBy(base);
