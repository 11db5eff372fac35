// One pedal, or one key, for a whole visit. While a step is to be done, each press does it. Where a check is asked,
// a press alone never answers: held down it is yes, twice it is no, once says it again. Elsewhere it goes on, where
// going on writes nothing.

import { sayAsked } from "./aloud.js";

const HELD = 600;
const TWICE = 350;
let down = null; // when it went down
let once = null; // a press that may become the first of two

const find = (selector) => {
  const found = document.querySelector(selector);
  return found && !found.disabled && found.getClientRects().length ? found : null;
};

// what is asked with yes and no, in the order in which it is asked
const asked = () => find("#bench .question") || find("#bench .checks .is-current .answer");

function no() {
  const at = asked();
  const way = at.querySelector("[data-way]");
  if (way) way.focus();
  else (at.querySelector('[data-key="n"], [data-key="no"]') || at.querySelector("[data-reading]"))?.click();
}

const yes = () => asked().querySelector('[data-key="y"], [data-key="yes"]')?.click();

// only what goes somewhere: nothing is handed over, closed or chosen by foot
const onward = () => (asked() ? null : find("#bench .bar a.is-primary") || find(".bar a.is-primary"));

// Goes on where nothing is asked: true where there was somewhere to go.
export function goOn() {
  const way = onward();
  way?.click();
  return Boolean(way);
}

function pressedOnce() {
  once = null;
  if (!goOn()) sayAsked(true);
}

function stepDone() {
  const step = find('#bench [data-key="Space"]');
  if (step) step.click();
  return Boolean(step);
}

// The pedal went down: true where that was all.
export function pedalDown(event) {
  if (event.repeat) return;
  if (!find("#bench .question") && stepDone()) return;
  down = event.timeStamp;
}

// and up again
export function pedalUp(event) {
  if (down === null) return;

  const held = event.timeStamp - down;
  down = null;
  if (asked() && held >= HELD) {
    clearTimeout(once);
    once = null;
    yes();
  } else if (once !== null) {
    clearTimeout(once);
    once = null;
    if (asked()) no();
  } else {
    once = setTimeout(pressedOnce, TWICE);
  }
}
