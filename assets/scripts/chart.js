// A chart on the tape: edges are pulled, or moved with the arrow keys; the fields follow, and are looked over again.

import { token } from "./store.js";

const PER_UNIT = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8 };
const EIGHTHS = 8;

const field = (line, name) => document.querySelector(`[name="rows[${line}][${name}]"]`);

const inches = (mm) => {
  const eighths = Math.round((mm / PER_UNIT.in) * EIGHTHS);
  const whole = Math.floor(eighths / EIGHTHS);
  let top = eighths % EIGHTHS;
  let bottom = EIGHTHS;
  while (top && top % 2 === 0) {
    top /= 2;
    bottom /= 2;
  }
  if (!top) return `${whole}`;
  return whole ? `${whole} ${top}/${bottom}` : `${top}/${bottom}`;
};

const written = (mm, unit) => (unit === "in" ? inches(mm) : `${Math.round(mm) / (PER_UNIT[unit] || 10)}`);

let timer = null;

async function lookNow(form, focus) {
  const answer = await fetch(form.dataset.look, {
    method: "POST",
    headers: { "X-CSRF-Token": token(), "HX-Request": "true" },
    body: new URLSearchParams(new FormData(form)),
  });
  if (!answer.ok) return;

  document.getElementById("look").outerHTML = await answer.text();
  if (focus) document.querySelector(`.grip[data-line="${focus.line}"][data-edge="${focus.edge}"]`)?.focus();
}

function look(focus) {
  const form = document.getElementById("chart");
  if (!form) return;

  clearTimeout(timer);
  timer = setTimeout(() => lookNow(form, focus).catch(() => null), 250);
}

function setEdge(grip, mm) {
  const { line, edge } = grip.dataset;
  field(line, edge).value = written(mm, field(line, "unit").value || "cm");
  grip.setAttribute("aria-valuenow", mm);
}

// between a place on the screen and mm on the tape
const mmAt = (svg, clientX) => {
  const box = svg.getBoundingClientRect();
  const x = ((clientX - box.left) * svg.viewBox.baseVal.width) / box.width;
  const { low, high, left, right } = svg.dataset;
  return Number(low) + ((x - Number(left)) / (right - left)) * (high - low);
};

function pull(event) {
  const grip = event.target.closest?.(".grip");
  if (!grip) return;

  event.preventDefault();
  grip.focus();
  grip.classList.add("is-held");
  const svg = grip.ownerSVGElement;
  const moved = (at) => {
    const mm = mmAt(svg, at.clientX);
    const { low, high, left, right } = svg.dataset;
    setEdge(grip, mm);
    grip.setAttribute("cx", Number(left) + ((mm - low) / (high - low)) * (right - left));
  };
  const let_go = () => {
    document.removeEventListener("pointermove", moved);
    document.removeEventListener("pointerup", let_go);
    look(grip.dataset);
  };
  document.addEventListener("pointermove", moved);
  document.addEventListener("pointerup", let_go);
}

function nudge(event) {
  const grip = event.target.closest?.(".grip");
  const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (!grip || !way) return;

  event.preventDefault();
  const step = grip.ownerSVGElement.dataset.unit === "in" ? PER_UNIT.in / EIGHTHS : 1;
  setEdge(grip, Number(grip.getAttribute("aria-valuenow")) + way * step);
  look(grip.dataset);
}

const indexOf = (name) => Number(name?.match(/^rows\[(\d+)\]/)?.[1] ?? -1);
const rows = () => [...document.querySelectorAll(".chart-rows tbody tr")];
const numberOf = (row) => indexOf(row.querySelector("[name]").name);

// an empty row below the last, of the next number
function addRow() {
  const last = rows().at(-1);
  const number = numberOf(last) + 1;
  const row = last.cloneNode(true);
  row.classList.remove("is-wrong");
  row.cells[0].textContent = number + 1;
  row.querySelectorAll("[name]").forEach((field) => {
    field.name = field.name.replace(/^rows\[\d+\]/, `rows[${number}]`);
    field.setAttribute("aria-label", field.getAttribute("aria-label").replace(/\d+$/, number + 1));
    field.value = "";
  });
  last.after(row);
}

// rows as far as those that are typed in, and one empty one below
function grow(upTo) {
  while (numberOf(rows().at(-1)) <= upTo) addRow();
}

export function watchChart() {
  document.addEventListener("input", (event) => event.target.closest("#chart") && grow(indexOf(event.target.name)));
  document.addEventListener("handrail:restoring", (event) => {
    if (!event.target.matches("#chart")) return;

    grow(Math.max(...event.detail.map(indexOf)) - 1);
    look();
  });
  document.addEventListener("pointerdown", pull);
  document.addEventListener("keydown", nudge);
  document.addEventListener("change", (event) => event.target.closest("#chart") && look());
}
