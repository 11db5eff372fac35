// The signature: strokes as an SVG path, from finger, pen or mouse.

const INK = "#22303c";

function pointOn(canvas, event) {
  const box = canvas.getBoundingClientRect();
  const x = Math.max(0, Math.round(((event.clientX - box.left) * canvas.width) / box.width));
  const y = Math.max(0, Math.round(((event.clientY - box.top) * canvas.height) / box.height));
  return `${x} ${y}`;
}

export function readySignature() {
  const canvas = document.querySelector("[data-pad]");
  if (!canvas || canvas.dataset.ready) return;

  canvas.dataset.ready = "yes";
  const field = document.querySelector("[data-signature]");
  const pen = canvas.getContext("2d");
  Object.assign(pen, { lineWidth: 2.5, lineCap: "round", lineJoin: "round", strokeStyle: INK });
  const draw = () => {
    pen.clearRect(0, 0, canvas.width, canvas.height);
    pen.stroke(new Path2D(field.value));
  };

  let drawing = false;
  canvas.addEventListener("pointerdown", (event) => {
    drawing = true;
    canvas.setPointerCapture(event.pointerId);
    field.value += `${field.value ? " " : ""}M ${pointOn(canvas, event)}`;
  });
  canvas.addEventListener("pointermove", (event) => {
    if (!drawing) return;

    field.value += ` L ${pointOn(canvas, event)}`;
    draw();
  });
  ["pointerup", "pointercancel"].forEach((name) => canvas.addEventListener(name, () => (drawing = false)));
  document.querySelector("[data-clear]").addEventListener("click", () => {
    field.value = "";
    draw();
  });
  if (field.value) draw();
}
