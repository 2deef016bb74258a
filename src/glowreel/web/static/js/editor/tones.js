// @ts-check
/** Curves of tones in Details: points that are dragged, added by a press, taken away by Delete or dragged out. */

import { hush, sayAt } from "./drag.js";
import { add } from "./svg.js";

const SIDE = 100;
const MOST = 16;

/** @typedef {[number, number][]} Points */

/** Slopes at the points of a curve that never turns back between two of them. @param {Points} points */
function slopes(points) {
  const steps = points.slice(1).map(([x, y], n) => (y - points[n][1]) / (x - points[n][0]));
  return points.map((_, n) => {
    const [before, behind] = [steps[n - 1] ?? steps[n] ?? 1, steps[n] ?? steps[n - 1] ?? 1];
    if (before * behind <= 0) return 0;
    const mean = (before + behind) / 2;
    return Math.sign(mean) * Math.min(Math.abs(mean), 3 * Math.abs(before), 3 * Math.abs(behind));
  });
}

/** @param {Points} points */
function path(points) {
  const at = (/** @type {number} */ x, /** @type {number} */ y) => `${x * SIDE} ${(1 - y) * SIDE}`;
  if (!points.length) return `M${at(0, 0)} L${at(1, 1)}`;
  if (points.length === 1) {
    const by = points[0][1] - points[0][0];
    const held = (/** @type {number} */ x) => at(x, Math.min(1, Math.max(0, x + by)));
    return `M${held(0)} L${held(1)}`;
  }
  const slope = slopes(points);
  let line = `M${at(0, points[0][1])} L${at(points[0][0], points[0][1])}`;
  points.slice(1).forEach(([x, y], n) => {
    const [from, high] = points[n];
    const third = (x - from) / 3;
    line += ` C${at(from + third, high + slope[n] * third)} ${at(x - third, y - slope[n + 1] * third)} ${at(x, y)}`;
  });
  return `${line} L${at(1, points[points.length - 1][1])}`;
}

/** @param {SVGSVGElement} svg @param {Points} points */
function paint(svg, points) {
  svg.replaceChildren();
  for (const share of [0.25, 0.5, 0.75]) {
    add(svg, "line", { class: "curve-grid", x1: share * SIDE, x2: share * SIDE, y1: 0, y2: SIDE });
    add(svg, "line", { class: "curve-grid", y1: share * SIDE, y2: share * SIDE, x1: 0, x2: SIDE });
  }
  add(svg, "line", { class: "curve-grid", x1: 0, y1: SIDE, x2: SIDE, y2: 0 });
  add(svg, "path", { class: "curve-line", d: path(points) });
  points.forEach(([x, y], n) => {
    const dot = add(svg, "circle", {
      class: "curve-dot",
      cx: x * SIDE,
      cy: (1 - y) * SIDE,
      r: 4.2,
      tabindex: 0,
      role: "slider",
      "data-point": n,
      "aria-valuenow": Math.round(y * 100),
    });
    dot.setAttribute(
      "aria-label",
      `Point ${n + 1}: ${Math.round(x * 100)} % becomes ${Math.round(y * 100)} %`,
    );
  });
}

/** @param {Points} points @returns {Points} */
const ordered = (points) =>
  [...points]
    .sort((one, other) => one[0] - other[0])
    .filter(([x], n, all) => !n || x - all[n - 1][0] > 0.004);

/**
 * Draws the curves that are in sight, and lets them be changed.
 * @param {HTMLElement} bench
 * @param {(part: Element, points: Points) => void} changed is told the points when something was let go
 */
export function drawTones(bench, changed) {
  for (const svg of /** @type {NodeListOf<SVGSVGElement>} */ (bench.querySelectorAll("svg.tones"))) {
    /** @type {Points} */
    const points = JSON.parse(svg.dataset.tones ?? "[]");
    paint(svg, points);
    svg.onpointerdown = (event) => press(event, svg, points, changed);
    svg.onkeydown = (event) => byKey(event, svg, points, changed);
  }
}

/** @param {PointerEvent} event @param {SVGSVGElement} svg @param {Points} points @param {(part: Element, points: Points) => void} changed */
function press(event, svg, points, changed) {
  if (event.button) return;
  event.preventDefault();
  const box = svg.getBoundingClientRect();
  const at = (/** @type {PointerEvent} */ pointer) =>
    /** @type {[number, number]} */ ([
      Math.min(1, Math.max(0, (pointer.clientX - box.left) / box.width)),
      Math.min(1, Math.max(0, 1 - (pointer.clientY - box.top) / box.height)),
    ]);
  const held = /** @type {Element} */ (event.target).getAttribute("data-point");
  const start =
    held === null && !points.length
      ? /** @type {Points} */ ([
          [0, 0],
          [1, 1],
        ])
      : points;
  const others = start.filter((_, n) => held === null || n !== Number(held));
  if (held === null && others.length >= MOST) return;
  let now = ordered([...others, at(event)]);
  paint(svg, now);
  svg.setPointerCapture(event.pointerId);
  const move = (/** @type {PointerEvent} */ pointer) => {
    const [x, y] = at(pointer);
    // Dragged far out, it goes.
    const out = pointer.clientY < box.top - 30 || pointer.clientY > box.bottom + 30;
    now = out ? others : ordered([...others, [x, y]]);
    paint(svg, now);
    sayAt(pointer, out ? "goes" : `${Math.round(x * 100)} % becomes ${Math.round(y * 100)} %`);
  };
  const end = (/** @type {PointerEvent} */ pointer) => {
    svg.removeEventListener("pointermove", move);
    hush();
    if (pointer.type === "pointerup")
      changed(
        svg,
        now.map(([x, y]) => [Number(x.toFixed(4)), Number(y.toFixed(4))]),
      );
    else paint(svg, points);
  };
  svg.addEventListener("pointermove", move);
  svg.addEventListener("pointerup", end, { once: true });
  svg.addEventListener("pointercancel", end, { once: true });
}

/** Arrows move the point in focus, Delete takes it away. @param {KeyboardEvent} event @param {SVGSVGElement} svg @param {Points} points @param {(part: Element, points: Points) => void} changed */
function byKey(event, svg, points, changed) {
  const held = /** @type {Element} */ (event.target).getAttribute("data-point");
  if (held === null) return;
  const spot = Number(held);
  const way = { ArrowUp: [0, 1], ArrowDown: [0, -1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[event.key];
  if (event.key !== "Delete" && event.key !== "Backspace" && !way) return;
  event.preventDefault();
  event.stopPropagation();
  const [x, y] = points[spot];
  const step = event.shiftKey ? 0.1 : 0.01;
  const others = points.filter((_, n) => n !== spot);
  const inside = (/** @type {number} */ value) => Math.min(1, Math.max(0, Number(value.toFixed(4))));
  changed(svg, way ? ordered([...others, [inside(x + way[0] * step), inside(y + way[1] * step)]]) : others);
}
