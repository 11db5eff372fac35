// A point that is shown on a figure: where it was tapped, in the figure's own frame.

function tapped(event) {
  const zone = event.target.closest("[data-tap]");
  const picture = zone?.querySelector("svg.figure");
  if (!picture || !picture.contains(event.target)) return;

  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(picture.getScreenCTM().inverse());
  const { width, height } = picture.viewBox.baseVal;
  if (point.x < 0 || point.y < 0 || point.x > width || point.y > height) return;

  const where = new URL(zone.dataset.tap, location.href);
  where.searchParams.set("x", point.x.toFixed(1));
  where.searchParams.set("y", point.y.toFixed(1));
  location.assign(where);
}

export const watchTaps = () => document.addEventListener("click", tapped);
