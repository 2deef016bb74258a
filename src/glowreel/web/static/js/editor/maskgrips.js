// @ts-check
/** The shape through which something is seen, on the stage: moved, sized by its corners and sides, and turned. */

import { send } from "./commands.js";
import { gridTicks, model, on } from "./model.js";
import { showTrial } from "./player.js";
import { boxOf, draw, handles, overlay, scope, stageSize } from "./stage.js";

/** @typedef {{id: string, place: [number, number], size: [number, number], turn: number}} Facts */
const GRIPS = /** @type {[string, number, number][]} */ ([
  ["nw", -1, -1],
  ["n", 0, -1],
  ["ne", 1, -1],
  ["e", 1, 0],
  ["se", 1, 1],
  ["s", 0, 1],
  ["sw", -1, 1],
  ["w", -1, 0],
]);
const bench = /** @type {HTMLElement} */ (document.getElementById("bench-details"));
let edited = "";
/** What it is while it is dragged. @type {Facts|null} */
let dragged = null;

/** @returns {Facts|null} */
function facts() {
  const text = /** @type {HTMLElement|null} */ (bench.querySelector("[data-mask]"))?.dataset.mask;
  return text ? JSON.parse(text) : null;
}

/** Where the shape lies on the stage, in pixels. @param {Facts} of */
function lies(of) {
  const box = boxOf(of.id);
  if (!box) return null;
  const { short } = stageSize();
  const unit = Math.min(box.w, box.h) * short;
  return {
    x: (box.x + box.w / 2) * short + of.place[0] * unit,
    y: (box.y + box.h / 2) * short + of.place[1] * unit,
    w: of.size[0] * unit,
    h: of.size[1] * unit,
    unit,
  };
}

function paint() {
  const of = dragged ?? facts();
  const at = of && of.id === edited ? lies(of) : null;
  if (!of || !at) return;
  const turn = { transform: `rotate(${of.turn} ${at.x} ${at.y})` };
  draw("rect", {
    class: "h-box h-mask",
    "data-masked": "move",
    x: at.x - at.w / 2,
    y: at.y - at.h / 2,
    width: at.w,
    height: at.h,
    ...turn,
  });
  draw("line", {
    class: "h-stem",
    x1: at.x,
    x2: at.x,
    y1: at.y - at.h / 2,
    y2: at.y - at.h / 2 - 20,
    ...turn,
  });
  draw("circle", {
    class: "h-grip h-turn",
    "data-masked": "turn",
    cx: at.x,
    cy: at.y - at.h / 2 - 24,
    r: 6,
    ...turn,
  });
  for (const [name, x, y] of GRIPS)
    draw("rect", {
      class: `h-grip h-${name}`,
      "data-masked": name,
      x: at.x + (x * at.w) / 2 - 5,
      y: at.y + (y * at.h) / 2 - 5,
      width: 10,
      height: 10,
      rx: 2,
      ...turn,
    });
}

/** The command that leaves the shape as it was dragged. @param {Facts} of */
const command = (of) => ({
  do: "set",
  items: [of.id],
  values: { mask_place: of.place, mask_size: of.size, mask_turn: of.turn },
  format: model.format,
  only: scope.only,
  at: gridTicks(model.time),
});

/** @param {PointerEvent} event */
function press(event) {
  const grip = /** @type {SVGElement} */ (event.target).dataset?.masked;
  const start = facts();
  const at = start && lies(start);
  if (!grip || !start || !at || event.button) return;
  event.preventDefault();
  event.stopPropagation();
  const board = /** @type {Element} */ (document.getElementById("handles")).getBoundingClientRect();
  const angle = (-start.turn * Math.PI) / 180;
  const move = (/** @type {PointerEvent} */ pointer) => {
    const [dx, dy] = [pointer.clientX - event.clientX, pointer.clientY - event.clientY];
    const short = (/** @type {number} */ value) => Number(value.toFixed(4));
    dragged = structuredClone(start);
    if (grip === "move")
      dragged.place = [short(start.place[0] + dx / at.unit), short(start.place[1] + dy / at.unit)];
    else if (grip === "turn") {
      const way = Math.atan2(pointer.clientY - board.top - at.y, pointer.clientX - board.left - at.x);
      const step = pointer.shiftKey ? 15 : 1;
      dragged.turn = Math.round(((way * 180) / Math.PI + 90) / step) * step;
    } else {
      // Its middle stays; with a corner its ratio too, unless Shift is held.
      const along = dx * Math.cos(angle) - dy * Math.sin(angle);
      const down = dx * Math.sin(angle) + dy * Math.cos(angle);
      const [x, y] = (GRIPS.find(([name]) => name === grip) ?? ["", 0, 0]).slice(1).map(Number);
      let wide = Math.max(0.05, 1 + (2 * x * along) / at.w);
      let high = Math.max(0.05, 1 + (2 * y * down) / at.h);
      if (x && y && !pointer.shiftKey) wide = high = (wide + high) / 2;
      dragged.size = [short(start.size[0] * (x ? wide : 1)), short(start.size[1] * (y ? high : 1))];
    }
    handles();
    showTrial(command(dragged));
  };
  const end = (/** @type {Event} */ ending) => {
    window.removeEventListener("pointermove", move);
    window.removeEventListener("pointerup", end);
    window.removeEventListener("pointercancel", end);
    const made = dragged;
    dragged = null;
    if (made && ending.type === "pointerup") send(command(made));
    else {
      showTrial(null);
      handles();
    }
  };
  window.addEventListener("pointermove", move);
  window.addEventListener("pointerup", end);
  window.addEventListener("pointercancel", end);
}
document.getElementById("handles")?.addEventListener("pointerdown", press, true);

function leave() {
  if (!edited) return;
  edited = "";
  overlay.draw = null;
  bench.querySelector("[data-mask]")?.setAttribute("aria-pressed", "false");
  handles();
}

bench.addEventListener("click", (event) => {
  const target = /** @type {Element} */ (event.target).closest("[data-mask]");
  if (!target) return;
  if (edited) return leave();
  edited = facts()?.id ?? "";
  overlay.draw = paint;
  target.setAttribute("aria-pressed", "true");
  handles();
});
document.addEventListener(
  "keydown",
  (event) => {
    if (event.key !== "Escape" || !edited || dragged) return;
    event.stopPropagation();
    leave();
  },
  true,
);
on("selected", leave);
on("format", leave);
on("dressed", () => {
  if (!edited) return;
  const press = bench.querySelector("[data-mask]");
  if (press) press.setAttribute("aria-pressed", "true");
  else leave();
  handles();
});
