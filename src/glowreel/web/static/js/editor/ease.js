// @ts-check
/** A curve of one's own from a point to the next: a cubic Bézier from corner to corner, with two handles to drag. */

import { hush, sayAt } from "./drag.js";
import { add } from "./svg.js";

const SIDE = 100;
const STEP = 0.05;
const REACH = 1.5;

/** @param {SVGSVGElement} svg @param {number[]} four the two middle points: across and up, twice */
function paint(svg, four) {
  const [x1, y1, x2, y2] = four.map((value, n) => (n % 2 ? 1 - value : value) * SIDE);
  svg.replaceChildren();
  add(svg, "line", { class: "curve-grid", x1: 0, y1: SIDE, x2: SIDE, y2: 0 });
  add(svg, "line", { class: "curve-grid", x1: 0, y1: SIDE, x2: x1, y2: y1 });
  add(svg, "line", { class: "curve-grid", x1: SIDE, y1: 0, x2, y2 });
  add(svg, "path", { class: "curve-line", d: `M0 ${SIDE} C${x1} ${y1} ${x2} ${y2} ${SIDE} 0` });
  [
    [x1, y1],
    [x2, y2],
  ].forEach(([cx, cy], n) => {
    const dot = add(svg, "circle", {
      class: "curve-dot",
      cx,
      cy,
      r: 5,
      tabindex: 0,
      role: "slider",
      "data-handle": n,
    });
    dot.setAttribute("aria-label", `Handle at the ${n ? "end" : "start"}`);
    dot.setAttribute("aria-valuenow", four[n * 2 + 1].toFixed(2));
  });
}

/** @param {number[]} four */
const spoken = (four) => four.map((value) => String(Number(value.toFixed(2)))).join(" ");
/** @param {number} value */
const across = (value) => Math.min(1, Math.max(0, value));
/** @param {number} value */
const up = (value) => Math.min(REACH, Math.max(-REACH + 1, value));

/**
 * Draws the curves that are in sight, and lets them be changed.
 * @param {HTMLElement} bench
 * @param {(part: Element, ease: string) => void} changed is told the curve when a handle was let go
 */
export function drawEases(bench, changed) {
  for (const svg of /** @type {NodeListOf<SVGSVGElement>} */ (bench.querySelectorAll("svg.ease-own"))) {
    const four = (svg.dataset.ownEase ?? "").split(" ").map(Number);
    paint(svg, four);
    svg.onpointerdown = (event) => {
      const held = /** @type {Element} */ (event.target).getAttribute("data-handle");
      if (held === null || event.button) return;
      event.preventDefault();
      const box = svg.getBoundingClientRect();
      const spot = Number(held) * 2;
      svg.setPointerCapture(event.pointerId);
      svg.onpointermove = (pointer) => {
        four[spot] = across((pointer.clientX - box.left) / box.width);
        four[spot + 1] = up(1 - (pointer.clientY - box.top) / box.height);
        paint(svg, four);
        sayAt(pointer, spoken(four));
      };
      svg.onpointerup = svg.onpointercancel = (pointer) => {
        svg.onpointermove = svg.onpointerup = svg.onpointercancel = null;
        hush();
        if (pointer.type === "pointerup") changed(svg, spoken(four));
      };
    };
    svg.onkeydown = (event) => {
      const held = /** @type {Element} */ (event.target).getAttribute("data-handle");
      const way = { ArrowUp: [0, 1], ArrowDown: [0, -1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[event.key];
      if (held === null || !way) return;
      event.preventDefault();
      event.stopPropagation();
      const spot = Number(held) * 2;
      four[spot] = across(four[spot] + way[0] * STEP);
      four[spot + 1] = up(four[spot + 1] + way[1] * STEP);
      changed(svg, spoken(four));
    };
  }
}
