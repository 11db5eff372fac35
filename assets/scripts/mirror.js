// The mirror: a live picture of the wearer with a plumb line and a level over it; frozen, the points of the line are
// placed on it. Nothing of it leaves this page, unless the fitter says that it is kept.

import { token } from "./store.js";

const SVG = "http://www.w3.org/2000/svg";
const QUALITY = 0.85;
let stream = null;
let frozen = null; // { href, width, height, visit, line, photo } of the picture that points are placed on

const bench = () => document.querySelector('#bench[data-stage="line"]');
const part = (name) => bench()?.querySelector(`[data-mirror-${name}]`);
const show = (name, on) => part(name) && (part(name).hidden = !on);
const line = () => bench()?.querySelector("[name=line]")?.value;
const form = () => document.getElementById("line");

function stop() {
  stream?.getTracks().forEach((track) => track.stop());
  stream = null;
  show("live", false);
}

function say(words) {
  const said = part("said");
  if (said) said.textContent = words;
}

async function start() {
  stop();
  try {
    stream = await navigator.mediaDevices.getUserMedia({ video: { width: 1280, height: 720 }, audio: false });
  } catch {
    say("There is no camera here, or it was not allowed. Keep a photo below, and place the points on it.");
    return;
  }
  if (!bench()) {
    stop();
    return;
  }
  forget();
  say("");
  show("live", true);
  show("still", false);
  const video = part("video");
  video.srcObject = stream;
  await video.play();
  part("freeze").focus();
}

// whoever sees themselves in it moves the right way; the picture that is kept is never turned
const turn = () => part("frame").classList.toggle("is-mirrored");

function picture({ href, width, height }) {
  const drawn = document.createElementNS(SVG, "svg");
  Object.entries({ viewBox: `0 0 ${width} ${height}`, class: "figure photo", role: "img" })
    .forEach(([name, value]) => drawn.setAttribute(name, value));
  const image = document.createElementNS(SVG, "image");
  Object.entries({ href, width, height }).forEach(([name, value]) => image.setAttribute(name, value));
  drawn.append(image);
  return drawn;
}

function place() {
  const zone = bench()?.querySelector("[data-points]");
  if (!zone || !frozen) return;

  zone.querySelector("[data-picture]").replaceChildren(picture(frozen));
  show("live", false);
  show("still", true);
  form().elements.camera.value = "yes";
  form().elements.photo.value = frozen.photo || "";
  form().hidden = false;
}

function forget() {
  frozen = null;
  if (!form()) return;

  form().elements.camera.value = "";
  form().querySelectorAll("[data-point]").forEach((field) => (field.value = ""));
}

function freeze() {
  const video = part("video");
  const canvas = document.createElement("canvas");
  canvas.width = video.videoWidth;
  canvas.height = video.videoHeight;
  canvas.getContext("2d").drawImage(video, 0, 0);
  frozen = {
    href: canvas.toDataURL("image/jpeg", QUALITY),
    width: canvas.width,
    height: canvas.height,
    visit: bench().dataset.visit,
    line: line(),
  };
  stop();
  place();
  form().querySelector("[data-point]")?.focus();
}

// the picture that is to be kept goes first; the line then names it
async function keep() {
  const sent = new FormData(document.querySelector(".photo-form"));
  sent.set("photo", bytes(frozen.href), "line.jpg");
  sent.set("what", part("keep").dataset.what);
  const answer = await fetch(`/visits/${frozen.visit}/photos`, {
    method: "POST",
    headers: { "X-CSRF-Token": token(), "HX-Request": "true" },
    body: sent,
  });
  if (!answer.ok) throw new Error("the photo was not kept");
  frozen.photo = (await answer.text()).match(/photos\/(\d+)\.jpg/)?.[1];
}

// a data address can not be fetched under this page's policy: its bytes are taken as they stand
function bytes(href) {
  const text = atob(href.split(",")[1]);
  return new Blob([Uint8Array.from(text, (one) => one.charCodeAt(0))], { type: "image/jpeg" });
}

function sending(event) {
  if (event.target.id !== "line" || !frozen || frozen.photo || !part("keep")?.checked) return;

  event.preventDefault();
  event.stopImmediatePropagation();
  keep()
    .then(() => {
      form().elements.photo.value = frozen.photo;
      form().requestSubmit();
    })
    .catch(() => say("The picture could not be kept. Untick it to write the line without it, or send it again."));
}

// how far the camera itself leans, where the device says so
function leaned({ gamma }) {
  if (gamma === null || gamma === undefined) return;

  const off = Math.abs(gamma);
  const level = part("level");
  if (level) level.textContent = off < 1 ? `level, ${off.toFixed(1)}° off` : `${off.toFixed(0)}° off level`;
}

const ACTS = { start, turn, freeze, stop };

function clicked(event) {
  const act = event.target.closest?.("[data-mirror-act]")?.dataset.mirrorAct;
  if (act) ACTS[act]();
}

function pressed(event) {
  if (event.key !== "m" || !stream || event.target.matches("input, textarea, select")) return;

  turn();
  event.preventDefault();
}

function settled() {
  if (!bench()) {
    stop();
    frozen = null;
    return;
  }
  const same = frozen && frozen.visit === bench().dataset.visit && frozen.line === line();
  if (same) place();
  else forget();
}

export function watchMirror() {
  document.addEventListener("click", clicked);
  document.addEventListener("keydown", pressed);
  document.addEventListener("submit", sending, true);
  document.addEventListener("htmx:afterSettle", ({ target }) => target.id === "bench" && settled());
  window.addEventListener("deviceorientation", leaned);
  window.addEventListener("pagehide", stop);
}
