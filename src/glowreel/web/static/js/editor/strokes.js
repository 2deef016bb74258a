// @ts-check
/** Painting on the picture what stays and what goes of it, where the model was wrong. */

import { commandWith, controlOf } from "./details.js";
import { send } from "./commands.js";
import { model, on } from "./model.js";
import { boxOf, draw, handles, overlay, stageSize } from "./stage.js";

const WIDTH = 0.045;
const MOST = 200;
const bench = /** @type {HTMLElement} */ (document.getElementById("bench-details"));
/** Which is painted: what stays, what goes, or nothing. @type {null|0|1} */
let paints = null;
/** The stroke that is being painted, in pixels of the stage. @type {[number, number][]} */
let line = [];

/** Where the whole picture lies on the stage, of which a part may be cut off. */
function whole() {
  const box = boxOf([...model.selected][0] ?? "");
  if (!box) return null;
  const { short } = stageSize();
  const [left, top, right, bottom] = box.crop ?? [0, 0, 0, 0];
  const w = (box.w * short) / (1 - left - right);
  const h = (box.h * short) / (1 - top - bottom);
  return { x: box.x * short - left * w, y: box.y * short - top * h, w, h };
}

function paint() {
  const lies = whole();
  const { width, height } = stageSize();
  draw("rect", { class: "h-canvas", "data-painting": 1, x: 0, y: 0, width, height });
  if (!lies) return;
  const wide = WIDTH * Math.min(lies.w, lies.h);
  if (line.length)
    draw("polyline", {
      class: `h-stroke ${paints ? "is-kept" : "is-gone"}`,
      points: line.map(([x, y]) => `${x},${y}`).join(" "),
      "stroke-width": wide,
    });
}

/** @param {PointerEvent} event */
function press(event) {
  const target = /** @type {SVGElement} */ (event.target);
  const lies = whole();
  if (paints === null || !target.dataset?.painting || !lies || event.button) return;
  event.preventDefault();
  event.stopPropagation();
  const board = /** @type {Element} */ (document.getElementById("handles")).getBoundingClientRect();
  const move = (/** @type {PointerEvent} */ pointer) => {
    const next = /** @type {[number, number]} */ ([
      pointer.clientX - board.left,
      pointer.clientY - board.top,
    ]);
    const last = line[line.length - 1];
    if (!last || Math.hypot(next[0] - last[0], next[1] - last[1]) > 3) line.push(next);
    handles();
  };
  const end = (/** @type {Event} */ ending) => {
    window.removeEventListener("pointermove", move);
    window.removeEventListener("pointerup", end);
    window.removeEventListener("pointercancel", end);
    const step = Math.ceil(line.length / MOST);
    const inside = (/** @type {number} */ value) => Number(Math.min(1, Math.max(0, value)).toFixed(4));
    const points = line
      .filter((_, n) => n % step === 0)
      .map(([x, y]) => [inside((x - lies.x) / lies.w), inside((y - lies.y) / lies.h)]);
    line = [];
    handles();
    const holder = /** @type {HTMLElement|null} */ (bench.querySelector("[data-strokes]"));
    const found = holder && controlOf(holder);
    if (!holder || !found || ending.type !== "pointerup" || !points.length) return;
    const old = JSON.parse(holder.dataset.strokes ?? "[]");
    send(commandWith(found.control, [...old, [paints, WIDTH, points]].slice(-60)));
  };
  move(event);
  window.addEventListener("pointermove", move);
  window.addEventListener("pointerup", end);
  window.addEventListener("pointercancel", end);
}
document.getElementById("handles")?.addEventListener("pointerdown", press, true);

/** @param {null|0|1} what */
function choose(what) {
  paints = what;
  overlay.draw = what === null ? null : paint;
  for (const press of /** @type {NodeListOf<HTMLElement>} */ (bench.querySelectorAll("[data-paint]")))
    press.setAttribute("aria-pressed", String(what !== null && press.dataset.paint === String(what)));
  handles();
}

bench.addEventListener("click", (event) => {
  const target = /** @type {Element} */ (event.target);
  const press = /** @type {HTMLElement|null} */ (target.closest("[data-paint]"));
  if (press) {
    const what = press.dataset.paint === "1" ? 1 : 0;
    choose(paints === what ? null : what);
  }
  const none = target.closest("[data-set-strokes]");
  const found = none && controlOf(none);
  if (found) send(commandWith(found.control, []));
});
document.addEventListener(
  "keydown",
  (event) => {
    if (event.key !== "Escape" || paints === null) return;
    event.stopPropagation();
    choose(null);
  },
  true,
);
on("selected", () => paints !== null && choose(null));
on("format", () => paints !== null && choose(null));
on("dressed", () => {
  if (paints !== null) choose(bench.querySelector("[data-paint]") ? paints : null);
});
