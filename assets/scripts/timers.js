// Timers that run at a visit: the record knows when each rings, the page counts down to it and says so, once.

import { now } from "./clock.js";

const rung = new Set();

const words = (seconds) => {
  const minutes = Math.floor(seconds / 60);
  return minutes ? `${minutes} min ${String(seconds % 60).padStart(2, "0")} s` : `${seconds} s`;
};

function tick() {
  document.querySelectorAll("[data-rings]").forEach((timer) => {
    const left = Number(timer.dataset.rings) - Math.floor(now());
    const said = timer.querySelector("[data-left]");
    const text = left > 0 ? `${words(left)} left` : "look now";
    if (said && said.textContent !== text) said.textContent = text;
    if (left > 0 || timer.classList.contains("is-ringing")) return;

    timer.classList.add("is-ringing");
    timer.querySelectorAll("[data-when-rung]").forEach((form) => {
      form.hidden = false;
    });
    if (!rung.has(timer.dataset.rings)) {
      rung.add(timer.dataset.rings);
      said?.setAttribute("role", "alert");
    }
  });
}

export function watchTimers() {
  tick();
  setInterval(tick, 1000);
  document.addEventListener("htmx:afterSettle", tick);
}
