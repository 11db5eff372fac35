// The weeks: a booked visit is taken up, by pointer or with m, and put down at another time. Where it
// is put is sent like any booking; what can not be is said on the page of that booking.

// minutes of a row, and rows of a quarter of an hour: what is moved goes from quarter to quarter
const STEP = 5;
const QUARTER = 3;
let held = null; // { block, lane, row, from: the place that it came from }

const tape = () => document.querySelector(".tape-day");
const lanes = () => [...document.querySelectorAll("[data-lane]")];
const placed = (block) => Number([...block.classList].find((name) => name.startsWith("at-")).slice(3));

function place(block, lane, row) {
  const length = Number([...block.classList].find((name) => name.startsWith("for-")).slice(4));
  const last = Number(tape().dataset.rows) - length;
  const to = Math.min(Math.max(row, 0), Math.max(last, 0));
  block.classList.replace(`at-${placed(block)}`, `at-${to}`);
  if (block.parentElement !== lane) lane.append(block);
  return to;
}

const quarter = (row, round = Math.round) => round(row / QUARTER) * QUARTER;
const clock = (row) => {
  const minutes = Number(tape().dataset.from) + row * STEP;
  return `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
};

function say() {
  const what = held.block.querySelector("a").textContent.trim();
  const where = `${held.lane.dataset.said}, ${clock(held.row)}`;
  document.getElementById("moving").textContent = `${what}: ${where}. Enter puts it there, Esc leaves it.`;
}

function take(block) {
  const lane = block.parentElement;
  held = { block, lane, row: placed(block), from: { lane, row: placed(block), before: block.nextElementSibling } };
  block.classList.add("is-held");
  say();
}

function carry(lane, row) {
  held.lane = lane;
  held.row = place(held.block, lane, row);
  held.block.querySelector("a").focus({ preventScroll: true });
  say();
}

function leave() {
  const { block, from } = held;
  from.lane.insertBefore(block, from.before);
  place(block, from.lane, from.row);
  block.classList.remove("is-held");
  block.querySelector("a").focus({ preventScroll: true });
  held = null;
  document.getElementById("moving").textContent = "It stays where it was.";
}

function put() {
  const { block, lane, row, from } = held;
  if (lane === from.lane && row === from.row) return leave();
  const form = document.getElementById("move");
  const { visit, seen, keyOf, minutes, who, room } = block.dataset;
  const values = {
    entry_key: keyOf, seen, minutes, room, day: lane.dataset.day, time: clock(row), with: lane.dataset.with ?? who,
  };
  for (const [name, value] of Object.entries(values)) form.elements[name].value = value;
  form.action = `/visits/${visit}/book`;
  held = null;
  return form.submit();
}

const KEYS = {
  ArrowUp: () => carry(held.lane, quarter(held.row - 1, Math.floor)),
  ArrowDown: () => carry(held.lane, quarter(held.row + 1, Math.ceil)),
  ArrowLeft: () => aside(-1),
  ArrowRight: () => aside(1),
  Enter: put,
  Escape: leave,
};

function aside(by) {
  const all = lanes();
  const next = all[all.indexOf(held.lane) + by];
  if (next) carry(next, held.row);
}

function pressed(event) {
  if (!tape()) return;
  if (held) {
    if (!KEYS[event.key]) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    KEYS[event.key]();
  } else if (event.key === "m" && document.activeElement?.closest(".booked[data-visit]")) {
    event.preventDefault();
    event.stopImmediatePropagation();
    take(document.activeElement.closest(".booked[data-visit]"));
  }
}

// where a pointer is on the tape: the lane, and the row within it
function under(event, grip) {
  const lane = lanes().find((one) => {
    const box = one.getBoundingClientRect();
    return event.clientX >= box.left && event.clientX <= box.right;
  });
  if (!lane) return null;
  const box = lane.getBoundingClientRect();
  return { lane, row: Math.round(((event.clientY - box.top - grip) / box.height) * Number(tape().dataset.rows)) };
}

function dragged(event) {
  const block = event.target.closest?.(".booked[data-visit]");
  if (!block || event.button !== 0 || held) return;
  const grip = event.clientY - block.getBoundingClientRect().top;
  const start = { x: event.clientX, y: event.clientY };
  let moved = false;

  const move = (at) => {
    if (!moved && Math.hypot(at.clientX - start.x, at.clientY - start.y) < 6) return;
    if (!moved) take(block);
    moved = true;
    const to = under(at, grip);
    if (to) carry(to.lane, quarter(to.row));
  };
  const drop = () => {
    document.removeEventListener("pointermove", move);
    if (!moved) return;
    // the click that ends a drag follows no link
    document.addEventListener("click", (click) => click.preventDefault(), { capture: true, once: true });
    if (held) put();
  };
  document.addEventListener("pointermove", move);
  document.addEventListener("pointerup", drop, { once: true });
}

export function watchMoves() {
  document.addEventListener("keydown", pressed, { capture: true });
  document.addEventListener("pointerdown", dragged);
  document.addEventListener("dragstart", (event) => {
    if (event.target.closest?.(".booked[data-visit]")) event.preventDefault();
  });
}
