// A point that is shown on a figure: where it was tapped, in the figure's own frame. The server says what lies there;
// without a line a place on the skin is noted as it was tapped.

import { lost } from "./sender.js";

const SVG = "http://www.w3.org/2000/svg";

function noted(picture, { x, y }) {
  const form = document.getElementById("skin-new");
  if (!form || !lost()) return false;

  form.elements.x.value = x.toFixed(1);
  form.elements.y.value = y.toFixed(1);
  form.querySelector("h2").textContent = "What is at the place you tapped";
  form.querySelector("button").disabled = false;
  picture.querySelector(".placing")?.remove();
  const dot = document.createElementNS(SVG, "circle");
  const look = { cx: x, cy: y, r: picture.viewBox.baseVal.width / 60, class: "placing" };
  Object.entries(look).forEach(([name, value]) => dot.setAttribute(name, value));
  picture.append(dot);
  return true;
}

function tapped(event) {
  const zone = event.target.closest("[data-tap]");
  const picture = zone?.querySelector("svg.figure");
  if (!picture || !picture.contains(event.target)) return;

  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(picture.getScreenCTM().inverse());
  const { width, height } = picture.viewBox.baseVal;
  if (point.x < 0 || point.y < 0 || point.x > width || point.y > height || noted(picture, point)) return;

  const where = new URL(zone.dataset.tap, location.href);
  where.searchParams.set("x", point.x.toFixed(1));
  where.searchParams.set("y", point.y.toFixed(1));
  location.assign(where);
}

export const watchTaps = () => document.addEventListener("click", tapped);
