// @ts-check
/** The timeline's geometry: zoom, what is in sight, ruler, playhead, snapping. It tells `laid` when places changed. */

import { beatsBetween } from "./lines.js";
import { clock, endOf, model, moveTo, on, remember, remembered, tell } from "./model.js";

export const scroll = /** @type {HTMLElement} */ (document.getElementById("tl-scroll"));
const body = /** @type {HTMLElement} */ (document.getElementById("tl-body"));
const ruler = /** @type {HTMLElement} */ (document.getElementById("ruler"));
const marks = /** @type {HTMLCanvasElement} */ (document.getElementById("ruler-marks"));
const playhead = /** @type {HTMLElement} */ (document.getElementById("playhead"));
const afterEnd = /** @type {HTMLElement} */ (document.getElementById("after-end"));
const flag = /** @type {HTMLElement} */ (document.getElementById("playhead-flag"));

let pps = Number(remembered.pps) || 0;
export const view = { snap: remembered.snap !== false, reach: Number(remembered.reach) || 7 };
const SPARE = 0.28;

let headWide = 0;
export const headWidth = () =>
  (headWide ||= body.querySelector(".tl-head")?.getBoundingClientRect().width ?? 152);
export const perSecond = () => pps;
export const room = () => Math.max(200, scroll.clientWidth - headWidth());
/** Zoom at which the whole promo and some room after it are in sight. */
const fitZoom = () => room() / Math.max(4, model.state.length * (1 + SPARE));
const minZoom = () => Math.min(fitZoom(), 4);
const maxZoom = () => model.fps * 40;

/** Seconds at a place on the screen. @param {number} clientX */
export const timeAt = (clientX) =>
  (clientX - scroll.getBoundingClientRect().left + scroll.scrollLeft - headWidth()) / pps;

/**
 * The stretch of time in sight, wider by some pixels on either side.
 * @param {number} [margin]
 * @returns {[number, number]}
 */
export function visibleSpan(margin = 0) {
  return [(scroll.scrollLeft - margin) / pps, (scroll.scrollLeft + room() + margin) / pps];
}

/** Sets the width of everything and lets the lanes be painted. */
export function layOut() {
  if (!pps) pps = fitZoom();
  const width = Math.max(room(), Math.ceil(model.state.length * (1 + SPARE) * pps) + 120);
  body.style.width = `${width + headWidth()}px`;
  afterEnd.hidden = !model.state.length;
  afterEnd.style.left = `${headWidth() + model.state.length * pps}px`;
  tell("laid");
  drawRuler();
  placePlayhead();
}

/** Steps of the ruler, in seconds, from single frames up. */
const steps = () => [1 / model.fps, 5 / model.fps, 0.5, 1, 2, 5, 10, 30, 60, 300];

function drawRuler() {
  const width = Math.min(room(), 4000);
  const ratio = window.devicePixelRatio || 1;
  if (marks.width !== width * ratio) {
    marks.width = width * ratio;
    marks.style.width = `${width}px`;
  }
  marks.height = 26 * ratio;
  const paper = /** @type {CanvasRenderingContext2D} */ (marks.getContext("2d"));
  paper.scale(ratio, ratio);
  const left = scroll.scrollLeft;
  drawRange(paper, left);
  paper.font = "11px 'Instrument Sans', sans-serif";
  paper.fillStyle = "#665E55";
  paper.strokeStyle = "#CFC4B2";
  const step = steps().find((candidate) => candidate * pps >= 58) ?? 600;
  const small = step / (step * pps > 150 ? 10 : step * pps > 90 ? 5 : 2);
  const from = left / pps;
  for (let n = Math.floor(from / small); n * small * pps < left + width; n += 1) {
    const at = n * small;
    const x = Math.round(at * pps - left) + 0.5;
    const large = Math.abs(at / step - Math.round(at / step)) < 1e-6;
    paper.beginPath();
    paper.moveTo(x, large ? 8 : 20);
    paper.lineTo(x, 26);
    paper.stroke();
    if (large) paper.fillText(label(at, step), x + 4, 17);
  }
  paper.fillStyle = "#7A4B7D";
  for (const note of model.state.notes) paper.fillRect(note.at * pps - left - 1.5, 19, 3, 7);
}

/** The marked range, on the ruler. @param {CanvasRenderingContext2D} paper @param {number} left */
function drawRange(paper, left) {
  const { start, end } = model.range;
  if (start === null && end === null) return;
  const first = (start ?? end ?? 0) * pps - left;
  const last = (end ?? start ?? 0) * pps - left;
  paper.fillStyle = "rgb(246 183 60 / .45)";
  paper.fillRect(first, 0, Math.max(2, last - first), 26);
}

/** @param {number} at @param {number} step */
function label(at, step) {
  const minutes = Math.floor(at / 60 + 1e-9);
  const rest = String(Math.floor((at % 60) + 1e-6)).padStart(2, "0");
  if (step >= 1) return `${minutes}:${rest}`;
  if (step >= 0.5) return `${minutes}:${rest}.${Math.round((at % 1) * 10) % 10}`;
  return `${rest} f${Math.round(at * model.fps) % Math.round(model.fps)}`;
}

function placePlayhead() {
  const at = model.time;
  playhead.style.transform = `translateX(${headWidth() + at * pps}px)`;
  playhead.style.visibility = at * pps < scroll.scrollLeft - 1 ? "hidden" : "visible";
  flag.textContent = clock(at);
  // At the left edge the flag stands beside the line, not over the tools.
  const x = at * pps - scroll.scrollLeft;
  flag.style.transform = x < 32 ? `translateX(${-Math.max(0, Math.min(x, 26))}px)` : "";
  playhead.setAttribute("aria-valuenow", at.toFixed(2));
  playhead.setAttribute("aria-valuemax", model.state.length.toFixed(2));
  playhead.setAttribute("aria-valuetext", clock(at));
}

/** Keeps the playhead in sight while it moves by itself or by key. */
function keepInSight() {
  const x = model.time * pps;
  const left = scroll.scrollLeft;
  if (x < left || x > left + room() - 24)
    scroll.scrollLeft = Math.max(0, x - room() * (model.playing ? 0.1 : 0.5));
}

/**
 * Sets the zoom so that the time under a point stays there.
 * @param {number} wanted pixels to a second
 * @param {number} [clientX]
 */
function zoomTo(wanted, clientX) {
  const rect = scroll.getBoundingClientRect();
  const x =
    clientX ?? rect.left + headWidth() + Math.min(room(), Math.max(0, model.time * pps - scroll.scrollLeft));
  const at = timeAt(x);
  pps = Math.min(maxZoom(), Math.max(minZoom(), wanted));
  layOut();
  scroll.scrollLeft = at * pps - (x - rect.left - headWidth());
  remember({ pps });
}

let zoomed = 0;
let zoomAt = 0;
/**
 * Zooms by a factor; many wishes in one frame are carried out as one.
 * @param {number} factor
 * @param {number} [clientX]
 */
export function zoom(factor, clientX) {
  if (clientX === undefined) {
    zoomTo(pps * factor);
    return;
  }
  if (!zoomed)
    requestAnimationFrame(() => {
      const by = zoomed;
      zoomed = 0;
      zoomTo(pps * by, zoomAt);
    });
  zoomed = (zoomed || 1) * factor;
  zoomAt = clientX;
}

export function zoomFit() {
  pps = fitZoom();
  scroll.scrollLeft = 0;
  layOut();
  remember({ pps: 0 });
}

/** Shows a stretch of time with some room on either side. @param {number} start @param {number} end */
export function zoomSpan(start, end) {
  pps = Math.min(maxZoom(), Math.max(minZoom(), (room() * 0.84) / Math.max(1 / model.fps, end - start)));
  layOut();
  scroll.scrollLeft = start * pps - room() * 0.08;
  remember({ pps });
}

/** Fits what is selected; all of the promo where nothing is. */
export function zoomSelected() {
  const rows = [...model.state.main, ...model.state.tracks.flatMap((track) => track.rows)].filter((row) =>
    model.selected.has(row.id),
  );
  if (!rows.length) {
    zoomFit();
    return;
  }
  zoomSpan(Math.min(...rows.map((row) => row.start)), Math.max(...rows.map(endOf)));
}

/** Times that gestures are drawn to: playhead, item ends, scene edges, notes. @param {Set<string>} [without] */
export function snapTimes(without = new Set()) {
  const times = [0, model.time];
  for (const rows of [model.state.main, ...model.state.tracks.map((track) => track.rows)])
    for (const row of rows) if (!without.has(row.id)) times.push(row.start, endOf(row));
  for (const scene of model.state.scenes) times.push(scene.start);
  for (const note of model.state.notes) times.push(note.at);
  for (const edge of [model.range.start, model.range.end]) if (edge !== null) times.push(edge);
  const [from, to] = visibleSpan(0);
  times.push(...beatsBetween(from, to));
  return times;
}

/**
 * The nearest of some times within reach, or the time itself.
 * @param {number} time
 * @param {number[]} times
 * @param {boolean} off
 */
export function snapTo(time, times, off) {
  if (!view.snap || off) return { time, hit: false };
  let best = { time, hit: false, far: view.reach / pps };
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
  const move = (/** @type {PointerEvent} */ pointer) => {
    const near = snapTo(timeAt(pointer.clientX), times, pointer.ctrlKey || pointer.type === "pointerdown");
    moveTo(near.time * model.fps + (near.hit ? 0.01 : 0));
    tell("scrubbed");
  };
  const end = () => {
    for (const [name, run] of runs) target.removeEventListener(name, run);
    tell("scrubbed", { done: true });
  };
  const runs = /** @type {[string, any][]} */ ([
    ["pointermove", move],
    ["pointerup", end],
    ["pointercancel", end],
  ]);
  for (const [name, run] of runs) target.addEventListener(name, run);
  move(event);
}

ruler.addEventListener("pointerdown", scrub);
flag.addEventListener("pointerdown", scrub);
playhead.addEventListener("keydown", (event) => {
  const by = { ArrowLeft: -1, ArrowRight: 1, PageUp: -model.fps, PageDown: model.fps }[event.key];
  if (by) {
    event.preventDefault();
    event.stopPropagation();
    moveTo(model.frame + by * (event.shiftKey ? model.fps : 1));
  }
});
let scrolled = 0;
scroll.addEventListener(
  "scroll",
  () => {
    scrolled ||= requestAnimationFrame(() => {
      scrolled = 0;
      drawRuler();
      placePlayhead();
    });
  },
  { passive: true },
);
scroll.addEventListener(
  "wheel",
  (event) => {
    if (event.ctrlKey) {
      event.preventDefault();
      zoom(Math.exp(-event.deltaY * 0.003), event.clientX);
    } else if (event.shiftKey && !event.deltaX) {
      event.preventDefault();
      scroll.scrollLeft += event.deltaY;
    }
  },
  { passive: false },
);
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
/** How near something must be to be snapped to. @param {number} pixels */
export function setReach(pixels) {
  view.reach = Math.min(40, Math.max(2, pixels));
  remember({ reach: view.reach });
}

let lastLength = model.state.length;
on("changed", () => {
  // A promo that was shown whole stays shown whole while it grows.
  if (!remembered.pps && Math.abs(lastLength - model.state.length) > 1e-6) pps = fitZoom();
  lastLength = model.state.length;
  layOut();
});
on("moved", (options) => {
  placePlayhead();
  if (model.playing || options?.follow) keepInSight();
});
on("range", drawRuler);
new ResizeObserver(() => {
  headWide = 0;
  if (!remembered.pps) pps = fitZoom();
  layOut();
}).observe(scroll);
