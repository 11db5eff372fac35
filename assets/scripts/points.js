// Points that are placed on a picture in their order: each tap fills the next field that is empty.

const SVG = "http://www.w3.org/2000/svg";

const fields = () => [...document.querySelectorAll("[data-point]")];

function draw(zone, picture) {
  picture.querySelectorAll(".placing").forEach((old) => old.remove());
  const radius = picture.viewBox.baseVal.width / 60;
  for (const field of fields()) {
    const [x, y] = field.value.split(",").map(Number);
    if (!field.value || Number.isNaN(x) || Number.isNaN(y)) continue;

    const dot = document.createElementNS(SVG, "circle");
    const look = { cx: x, cy: y, r: radius, class: "placing" };
    Object.entries(look).forEach(([name, value]) => dot.setAttribute(name, value));
    picture.append(dot);
  }
}

function tapped(event) {
  const zone = event.target.closest("[data-points]");
  const picture = zone?.querySelector("[data-picture] svg");
  if (!picture || !picture.contains(event.target)) return;

  const next = fields().find((field) => !field.value) || fields().at(-1);
  if (!next) return;

  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(picture.getScreenCTM().inverse());
  next.value = `${point.x.toFixed(1)},${point.y.toFixed(1)}`;
  next.dispatchEvent(new Event("input", { bubbles: true }));
  draw(zone, picture);
}

function typed(event) {
  if (!event.target.matches("[data-point]")) return;

  const zone = document.querySelector("[data-points]");
  const picture = zone?.querySelector("[data-picture] svg");
  if (picture) draw(zone, picture);
}

export function watchPoints() {
  document.addEventListener("click", tapped);
  document.addEventListener("input", typed);
}
