// What an instrument sends arrives by itself in the field that is open, where this bench has the instrument: the page
// asks once a second whether something was pressed since it was made, and then presses its own button to read it.
// Where something stands in the field already, nothing is read over it.

const EVERY = 1000;
let asking = false;

const field = (place) => document.querySelector(place.dataset.into);
const free = (place) => field(place)?.value === "" && !document.querySelector("dialog[open]");

async function look() {
  const place = document.querySelector("[data-arrives]");
  if (!place || asking || document.hidden || !free(place)) return;
  asking = true;
  try {
    // asked by the page itself: no use of the sign-in
    const answer = await fetch(place.dataset.arrives, { headers: { "handrail-follows": "yes" } });
    if (answer.status === 409) {
      const whose = await answer.text();
      delete place.dataset.arrives;
      place.querySelector(".arrives").textContent = whose ? `It is with ${whose} now.` : "It is elsewhere now.";
    } else if (answer.status === 200 && place.isConnected && free(place)) place.querySelector("[data-read]").click();
  } catch {
    // no line: it is asked again
  } finally {
    asking = false;
  }
}

export function watchArrivals() {
  setInterval(look, EVERY);
}
