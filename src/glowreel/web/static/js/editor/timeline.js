// @ts-check
/** The timeline's geometry: zoom, where things lie, ruler and playhead. */

import { paintArt } from "./art.js";
import { clock, fps, model, moveTo, on, remember, remembered, seconds, select } from "./model.js";

export const scroll = /** @type {HTMLElement} */ (document.getElementById("tl-scroll"));
const body = /** @type {HTMLElement} */ (document.getElementById("tl-body"));
const ruler = /** @type {HTMLElement} */ (document.getElementById("ruler"));
const marks = /** @type {HTMLCanvasElement} */ (document.getElementById("ruler-marks"));
const playhead = /** @type {HTMLElement} */ (document.getElementById("playhead"));
const afterEnd = /** @type {HTMLElement} */ (document.getElementById("after-end"));
const flag = /** @type {HTMLElement} */ (document.getElementById("playhead-flag"));

let pps = Number(remembered.pps) || 0;
export const view = { snap: remembered.snap !== false };
const SPARE = 0.28;

export const headWidth = () => body.querySelector(".tl-head")?.getBoundingClientRect().width ?? 152;
export const perSecond = () => pps;
const room = () => Math.max(200, scroll.clientWidth - headWidth());
/** Zoom at which the whole promo and some room after it are in sight. */
const fitZoom = () => room() / Math.max(4, model.state.length * (1 + SPARE));
const minZoom = () => Math.min(fitZoom(), 4);
const maxZoom = () => fps() * 40;

/** Seconds at a place on the screen. @param {number} clientX */
export const timeAt = (clientX) => (clientX - scroll.getBoundingClientRect().left + scroll.scrollLeft - headWidth()) / pps;

/** Puts every box where its times say. */
export function layOut() {
  if (!pps) pps = fitZoom();
  for (const box of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("#lanes [data-start]"))) {
    const length = Number(box.dataset.length ?? 0);
    box.style.left = `${Number(box.dataset.start) * pps}px`;
    if (!box.classList.contains("cut")) box.style.width = `${Math.max(3, length * pps - 1.5)}px`;
  }
  const width = Math.max(room(), Math.ceil(model.state.length * (1 + SPARE) * pps) + 120);
  body.style.width = `${width + headWidth()}px`;
  afterEnd.hidden = !model.state.length;
  afterEnd.style.left = `${headWidth() + model.state.length * pps}px`;
  choose();
  drawRuler();
  placePlayhead();
  paintArt();
}

/** Marks what is selected and the scene under the playhead. */
function choose() {
  for (const item of document.querySelectorAll("#lanes .item")) {
    const chosen = model.selected.has(item.getAttribute("data-id") ?? "");
    item.classList.toggle("is-chosen", chosen);
    item.setAttribute("aria-pressed", String(chosen));
  }
  here();
}

function here() {
  const at = seconds(model.frame) + 1e-4;
  for (const scene of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("#lanes .scene"))) {
    const start = Number(scene.dataset.start);
    scene.classList.toggle("is-here", at >= start && at < start + Number(scene.dataset.length));
  }
}

/** Steps of the ruler, in seconds, from single frames up. */
const steps = () => [1 / fps(), 5 / fps(), 0.5, 1, 2, 5, 10, 30, 60, 300];

function drawRuler() {
  const width = Math.min(room(), 4000);
  const ratio = window.devicePixelRatio || 1;
  marks.width = width * ratio;
  marks.height = 26 * ratio;
  marks.style.width = `${width}px`;
  const paper = /** @type {CanvasRenderingContext2D} */ (marks.getContext("2d"));
  paper.scale(ratio, ratio);
  paper.font = "11px 'Instrument Sans', sans-serif";
  paper.fillStyle = "#665E55";
  paper.strokeStyle = "#CFC4B2";
  const step = steps().find((s) => s * pps >= 58) ?? 600;
  const small = step / (step * pps > 150 ? 10 : step * pps > 90 ? 5 : 2);
  const from = scroll.scrollLeft / pps;
  for (let n = Math.floor(from / small); n * small * pps < scroll.scrollLeft + width; n += 1) {
    const at = n * small;
    const x = Math.round(at * pps - scroll.scrollLeft) + 0.5;
    const large = Math.abs(at / step - Math.round(at / step)) < 1e-6;
    paper.beginPath();
    paper.moveTo(x, large ? 8 : 20);
    paper.lineTo(x, 26);
    paper.stroke();
    if (large) paper.fillText(label(at, step), x + 4, 17);
  }
}

/** @param {number} at @param {number} step */
function label(at, step) {
  const minutes = Math.floor(at / 60 + 1e-9);
  const rest = String(Math.floor((at % 60) + 1e-6)).padStart(2, "0");
  if (step >= 1) return `${minutes}:${rest}`;
  if (step >= 0.5) return `${minutes}:${rest}.${Math.round((at % 1) * 10) % 10}`;
  return `${rest} f${Math.round(at * fps()) % Math.round(fps())}`;
}

function placePlayhead() {
  const at = seconds(model.frame);
  playhead.style.transform = `translateX(${headWidth() + at * pps}px)`;
  playhead.style.visibility = at * pps < scroll.scrollLeft - 1 ? "hidden" : "visible";
  flag.textContent = clock(at);
  playhead.setAttribute("aria-valuenow", at.toFixed(2));
  playhead.setAttribute("aria-valuemax", model.state.length.toFixed(2));
  playhead.setAttribute("aria-valuetext", clock(at));
  here();
}

/** Keeps the playhead in sight while it moves by itself or by key. */
function keepInSight() {
  const x = seconds(model.frame) * pps;
  const left = scroll.scrollLeft;
  if (x < left || x > left + room() - 24) scroll.scrollLeft = Math.max(0, x - room() * (model.playing ? 0.1 : 0.5));
}

/** Zooms so that the time under a point stays there. @param {number} factor @param {number} [clientX] */
export function zoom(factor, clientX) {
  const rect = scroll.getBoundingClientRect();
  const x = clientX ?? rect.left + headWidth() + Math.min(room(), Math.max(0, seconds(model.frame) * pps - scroll.scrollLeft));
  const at = timeAt(x);
  pps = Math.min(maxZoom(), Math.max(minZoom(), pps * factor));
  layOut();
  scroll.scrollLeft = at * pps - (x - rect.left - headWidth());
  remember({ pps });
}

export function zoomFit() {
  pps = fitZoom();
  scroll.scrollLeft = 0;
  layOut();
  remember({ pps: 0 });
}

/** Times that gestures are drawn to: playhead, item ends, scene edges. @param {Set<string>} [without] */
export function snapTimes(without = new Set()) {
  const times = [0, seconds(model.frame)];
  for (const box of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("#lanes .item"))) {
    if (without.has(box.dataset.id ?? "")) continue;
    times.push(Number(box.dataset.start), Number(box.dataset.start) + Number(box.dataset.length));
  }
  return times;
}

/** The nearest of some times within seven pixels, or the time itself. @param {number} time @param {number[]} times @param {boolean} off */
export function snapTo(time, times, off) {
  if (!view.snap || off) return { time, hit: false };
  let best = { time, hit: false, far: 7 / pps };
  for (const candidate of times) {
    const far = Math.abs(candidate - time);
    if (far < best.far) best = { time: candidate, hit: true, far };
  }
  return best;
}

/** Scrubs while the pointer is down. @param {PointerEvent} event */
function scrub(event) {
  event.preventDefault();
  const target = /** @type {HTMLElement} */ (event.currentTarget);
  target.setPointerCapture(event.pointerId);
  const times = snapTimes();
  const move = (/** @type {PointerEvent} */ e) => {
    const near = snapTo(timeAt(e.clientX), times, e.ctrlKey || e.type === "pointerdown");
    moveTo(near.time * fps() + (near.hit ? 0.01 : 0));
  };
  const end = () => { target.removeEventListener("pointermove", move); target.removeEventListener("pointerup", end); target.removeEventListener("pointercancel", end); };
  target.addEventListener("pointermove", move);
  target.addEventListener("pointerup", end);
  target.addEventListener("pointercancel", end);
  move(event);
}

ruler.addEventListener("pointerdown", scrub);
flag.addEventListener("pointerdown", scrub);
playhead.addEventListener("keydown", (event) => {
  const by = { ArrowLeft: -1, ArrowRight: 1, PageUp: -fps(), PageDown: fps() }[event.key];
  if (by) { event.preventDefault(); event.stopPropagation(); moveTo(model.frame + by * (event.shiftKey ? fps() : 1)); }
});
scroll.addEventListener("scroll", () => { drawRuler(); placePlayhead(); paintArt(); }, { passive: true });
scroll.addEventListener("wheel", (event) => {
  if (!event.ctrlKey) return;
  event.preventDefault();
  zoom(Math.exp(-event.deltaY * 0.003), event.clientX);
}, { passive: false });
scroll.addEventListener("pointerdown", (event) => {
  const target = /** @type {Element} */ (event.target);
  if (target.closest(".item, .cut, .scene, .tl-head, .tl-ruler, .playhead")) return;
  if (target.closest(".tl-lane, .tl-body")) {
    if (model.selected.size) select([]);
    moveTo(timeAt(event.clientX) * fps());
  }
});
document.getElementById("zoom-in")?.addEventListener("click", () => zoom(1.5));
document.getElementById("zoom-out")?.addEventListener("click", () => zoom(1 / 1.5));
document.getElementById("zoom-fit")?.addEventListener("click", zoomFit);
const snap = document.getElementById("snap");
export function toggleSnap() {
  view.snap = !view.snap;
  remember({ snap: view.snap });
  snap?.setAttribute("aria-pressed", String(view.snap));
}
snap?.setAttribute("aria-pressed", String(view.snap));
snap?.addEventListener("click", toggleSnap);

let lastLength = model.state.length;
on("changed", () => {
  // A promo that was shown whole stays shown whole while it grows.
  if (!remembered.pps && Math.abs(lastLength - model.state.length) > 1e-6) pps = fitZoom();
  lastLength = model.state.length;
  layOut();
});
on("moved", (options) => { placePlayhead(); if (model.playing || options?.follow) keepInSight(); });
on("selected", choose);
new ResizeObserver(() => { if (!remembered.pps) pps = fitZoom(); layOut(); }).observe(scroll);
