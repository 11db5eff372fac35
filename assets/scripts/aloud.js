// What was read and what comes next, said aloud by the browser where the fitter wants it.

const wanted = () => document.body.dataset.ways?.split(" ").includes("aloud") && "speechSynthesis" in window;
const text = (node) => node?.textContent.replace(/\s+/g, " ").trim() || "";
const one = (selector) => document.querySelector(`#bench ${selector}`);
let taken = null; // where the last reading went

// the reading that was just taken, as the page shows it
function read() {
  if (!taken) return "";
  const { place, name } = taken;
  taken = null;
  const at = `[data-at="${CSS.escape(place)}"]`;
  const shown = text(document.querySelector(`${at} .value, .value${at}`));
  return shown && shown !== "–" ? `${name}, ${shown}.` : "";
}

// what is asked now, in the order in which it is asked
function now() {
  const question = one(".question strong");
  if (question) return text(question);
  const refused = one("[role=alert]");
  if (refused) return text(refused);
  if (one("#take")) return `Next: ${text(one(".site-now"))}.`;
  const step = one("#now .now h1");
  if (step) return text(step);
  const check = one(".checks .is-current .check-title span");
  return check ? `${text(check)}?` : text(one("h1"));
}

// Says what is asked; again - also where nothing new was read, and where nobody switched it on.
export function sayAsked(again = false) {
  if (!wanted() && !(again && "speechSynthesis" in window)) return;

  const words = [read(), now()].filter(Boolean).join(" ");
  if (!words) return;
  speechSynthesis.cancel();
  const said = new SpeechSynthesisUtterance(words);
  said.lang = "en";
  speechSynthesis.speak(said);
  document.body.dataset.said = words;
}

export function watchAloud() {
  document.addEventListener("htmx:beforeRequest", ({ target }) => {
    if (target.id === "take") taken = { place: target.dataset.place, name: target.dataset.keep };
  });
  document.addEventListener("htmx:afterSettle", ({ target }) => {
    if (target.id === "bench" || target.querySelector?.("#bench")) sayAsked();
  });
}
