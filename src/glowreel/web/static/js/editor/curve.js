// @ts-check
/** The speed curve in Details: points that are dragged, added by a press on the line, taken away by Delete. */

import { send } from "./commands.js";
import { sayAt, hush } from "./drag.js";

const WIDTH = 260;
const HEIGHT = 96;
const [SLOW, FAST] = [Math.log(100), Math.log(16000)];

const yOf = (/** @type {number} */ speed) =>
  HEIGHT - 8 - ((Math.log(Math.max(100, speed)) - SLOW) / (FAST - SLOW)) * (HEIGHT - 16);
const speedAt = (/** @type {number} */ y) =>
  Math.round(
    Math.min(16000, Math.max(100, Math.exp(SLOW + ((HEIGHT - 8 - y) / (HEIGHT - 16)) * (FAST - SLOW)))),
  );

/** @param {SVGElement} svg @param {string} name @param {Record<string, string|number>} attributes */
function add(svg, name, attributes) {
  const part = document.createElementNS("http://www.w3.org/2000/svg", name);
  for (const [key, value] of Object.entries(attributes)) part.setAttribute(key, String(value));
  svg.append(part);
  return part;
}

/** Draws the curve of the details on show, where there is one. */
export function drawCurve() {
  const svg = /** @type {SVGSVGElement|null} */ (/** @type {unknown} */ (document.getElementById("curve")));
  if (!svg) return;
  const points = (svg.dataset.points ?? "")
    .split(";")
    .filter(Boolean)
    .map((pair) => /** @type {[number, number]} */ (pair.split(",").map(Number)));
  paint(svg, points);
  svg.onpointerdown = (event) => press(event, svg, points);
  svg.onkeydown = (event) => byKey(event, points);
}

/** @param {SVGSVGElement} svg @param {[number, number][]} points */
function paint(svg, points) {
  svg.replaceChildren();
  for (const speed of [500, 1000, 2000, 4000]) {
    add(svg, "line", {
      class: speed === 1000 ? "curve-one" : "curve-grid",
      x1: 0,
      x2: WIDTH,
      y1: yOf(speed),
      y2: yOf(speed),
    });
    add(svg, "text", { class: "curve-mark", x: 3, y: yOf(speed) - 2 }).textContent = `${speed / 1000}×`;
  }
  // Speed runs straight between two points; on this scale of ratios that is a bend, drawn in steps.
  const line = [];
  for (let n = 0; n < points.length - 1; n += 1)
    for (let step = 0; step <= 12; step += 1) {
      const share = step / 12;
      line.push(
        `${(points[n][0] + (points[n + 1][0] - points[n][0]) * share) * WIDTH},${yOf(points[n][1] + (points[n + 1][1] - points[n][1]) * share)}`,
      );
    }
  add(svg, "polyline", { class: "curve-line", points: line.join(" ") });
  points.forEach(([share, speed], n) => {
    const dot = add(svg, "circle", {
      class: "curve-dot",
      cx: Math.min(WIDTH - 7, Math.max(7, share * WIDTH)),
      cy: yOf(speed),
      r: 6,
      tabindex: 0,
      role: "slider",
      "data-point": n,
    });
    dot.setAttribute(
      "aria-label",
      `Point ${n + 1}: ${(speed / 1000).toFixed(2)}× at ${Math.round(share * 100)} %`,
    );
    dot.setAttribute("aria-valuenow", (speed / 1000).toFixed(2));
  });
}

/** @param {[number, number][]} points */
const keep = (points) =>
  send({
    do: "set-curve",
    item: document.querySelector("#bench-details [data-for]")?.getAttribute("data-for"),
    points,
  });

/** @param {PointerEvent} event @param {SVGSVGElement} svg @param {[number, number][]} points */
function press(event, svg, points) {
  const box = svg.getBoundingClientRect();
  const at = (/** @type {PointerEvent} */ pointer) => ({
    share: Math.min(1, Math.max(0, (pointer.clientX - box.left) / box.width)),
    speed: speedAt(((pointer.clientY - box.top) / box.height) * HEIGHT),
  });
  let spot = Number(/** @type {Element} */ (event.target).getAttribute("data-point") ?? -1);
  const made = points.map((point) => /** @type {[number, number]} */ ([...point]));
  if (spot < 0) {
    const { share, speed } = at(event);
    spot = Math.max(
      1,
      made.findIndex((point) => point[0] > share),
    );
    made.splice(spot, 0, [share, speed]);
  }
  event.preventDefault();
  svg.setPointerCapture(event.pointerId);
  const ends = spot === 0 || spot === made.length - 1;
  const move = (/** @type {PointerEvent} */ pointer) => {
    const { share, speed } = at(pointer);
    made[spot][1] = Math.abs(speed - 1000) < 60 && !pointer.ctrlKey ? 1000 : speed;
    if (!ends) made[spot][0] = Math.min(made[spot + 1][0], Math.max(made[spot - 1][0], share));
    paint(svg, made);
    sayAt(pointer, `${(made[spot][1] / 1000).toFixed(2)}×`);
  };
  const end = (/** @type {Event} */ pointer) => {
    for (const name of ["pointermove", "pointerup", "pointercancel"])
      svg.removeEventListener(name, name === "pointermove" ? /** @type {any} */ (move) : end);
    document.removeEventListener("keydown", escape, true);
    hush();
    if (pointer.type === "pointerup") keep(made);
    else paint(svg, points);
  };
  const escape = (/** @type {KeyboardEvent} */ pointer) => {
    if (pointer.key === "Escape") {
      pointer.stopPropagation();
      end(pointer);
    }
  };
  svg.addEventListener("pointermove", move);
  svg.addEventListener("pointerup", end);
  svg.addEventListener("pointercancel", end);
  document.addEventListener("keydown", escape, true);
}

/** @param {KeyboardEvent} event @param {[number, number][]} points */
function byKey(event, points) {
  const spot = Number(/** @type {Element} */ (event.target).getAttribute("data-point") ?? -1);
  if (spot < 0) return;
  const made = points.map((point) => /** @type {[number, number]} */ ([...point]));
  const ends = spot === 0 || spot === made.length - 1;
  if (event.key === "ArrowUp" || event.key === "ArrowDown")
    made[spot][1] = speedAt(yOf(made[spot][1]) + (event.key === "ArrowUp" ? -2 : 2));
  else if ((event.key === "ArrowLeft" || event.key === "ArrowRight") && !ends)
    made[spot][0] = Math.min(
      made[spot + 1][0],
      Math.max(made[spot - 1][0], made[spot][0] + (event.key === "ArrowLeft" ? -0.02 : 0.02)),
    );
  else if (event.key === "Delete" && !ends) made.splice(spot, 1);
  else return;
  event.preventDefault();
  event.stopPropagation();
  keep(made).then(() =>
    /** @type {HTMLElement|null} */ (
      document.querySelector(`#curve [data-point="${Math.min(spot, made.length - 1)}"]`)
    )?.focus(),
  );
}
