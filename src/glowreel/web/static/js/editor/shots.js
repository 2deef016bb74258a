// @ts-check
/**
 * Moving over a picture, drawn on it: all of the picture is shown, and on it the first and the last frame as two
 * rectangles in the shape of the format. Dragged, they move; by their corner they come nearer or go away.
 */

import { send } from "./commands.js";
import { currentFormat, known, model, on } from "./model.js";
import { showTrial } from "./player.js";
import { draw, handles, overlay, scope, stageSize } from "./stage.js";

/**
 * @typedef {{focus: [number, number], zoom: number}} Shot
 * @typedef {{id: string, fit: string, wide: number, high: number, ease: string, first: Shot, last: Shot}} Facts
 */
const WORDS = { first: "first", last: "last" };
const LEAST = 0.1;
const MOST = 8;

const bench = /** @type {HTMLElement} */ (document.getElementById("bench-details"));
/** Whose movement is edited. */
let edited = "";

/** @returns {Facts|null} */
function facts() {
  const text = /** @type {HTMLElement|null} */ (bench.querySelector("[data-shots]"))?.dataset.shots;
  return text ? JSON.parse(text) : null;
}

/** The picture on the stage, all of it, in pixels; and how large a pixel of it is. @param {Facts} of */
function whole(of) {
  const { width, height } = stageSize();
  const scale = Math.min(width / of.wide, height / of.high);
  return {
    x: (width - of.wide * scale) / 2,
    y: (height - of.high * scale) / 2,
    scale,
    width,
    height,
  };
}

/** How much of the picture a shot shows, in its own pixels. @param {Facts} of @param {number} zoom */
function shown(of, zoom) {
  const { wide, high } = currentFormat();
  const ways = [wide / of.wide, high / of.high];
  const scale = (of.fit === "fill" ? Math.max(...ways) : Math.min(...ways)) * zoom;
  return { w: wide / scale, h: high / scale };
}

/** Where along one side a shot begins. @param {number} side @param {number} length @param {number} focus @param {number} zoom */
function begins(side, length, focus, zoom) {
  if (length >= side) return (side - length) * (zoom < 1 ? focus : 0.5);
  return Math.min(side - length, Math.max(0, focus * side - length / 2));
}

/** A shot as a rectangle of the picture. @param {Facts} of @param {Shot} shot */
function rectOf(of, shot) {
  const { w, h } = shown(of, shot.zoom);
  return {
    x: begins(of.wide, w, shot.focus[0], shot.zoom),
    y: begins(of.high, h, shot.focus[1], shot.zoom),
    w,
    h,
  };
}

/** The shot of a rectangle. @param {Facts} of @param {{x: number, y: number, w: number, h: number}} rect @returns {Shot} */
function shotOf(of, rect) {
  const zoom = Math.min(MOST, Math.max(LEAST, shown(of, 1).w / rect.w));
  const focus = (/** @type {number} */ start, /** @type {number} */ length, /** @type {number} */ side) =>
    Number(
      Math.min(
        1,
        Math.max(0, length >= side && zoom < 1 ? start / (side - length || 1) : (start + length / 2) / side),
      ).toFixed(4),
    );
  return {
    zoom: Number(zoom.toFixed(4)),
    focus: [focus(rect.x, rect.w, of.wide), focus(rect.y, rect.h, of.high)],
  };
}

/** @param {Facts} of @param {"first"|"last"} which @param {{x: number, y: number, w: number, h: number}} rect */
function frame(of, which, rect) {
  const lies = whole(of);
  const box = {
    x: lies.x + rect.x * lies.scale,
    y: lies.y + rect.y * lies.scale,
    width: rect.w * lies.scale,
    height: rect.h * lies.scale,
  };
  draw("rect", { class: `h-shot is-${which}`, "data-shot": which, ...box, rx: 3 });
  const words = draw("text", { class: "h-words", x: box.x + 8, y: box.y + (which === "first" ? 17 : 33) });
  words.textContent = WORDS[which];
  draw("rect", {
    class: `h-grip h-se is-${which}`,
    "data-shot": which,
    "data-size": 1,
    x: box.x + box.width - 7,
    y: box.y + box.height - 7,
    width: 14,
    height: 14,
    rx: 3,
  });
}

/** The rectangles while one is dragged. @type {Record<string, {x: number, y: number, w: number, h: number}>} */
let dragged = {};

function paint() {
  const of = facts();
  if (!of || of.id !== edited) return;
  /** @param {"first"|"last"} which */
  const now = (which) => dragged[which] ?? rectOf(of, of[which]);
  const [a, b] = [now("first"), now("last")];
  // The smaller one lies over the larger, so that both can be reached.
  if (a.w >= b.w) {
    frame(of, "first", a);
    frame(of, "last", b);
  } else {
    frame(of, "last", b);
    frame(of, "first", a);
  }
  const lies = whole(of);
  const middle = (/** @type {typeof a} */ rect) => [
    lies.x + (rect.x + rect.w / 2) * lies.scale,
    lies.y + (rect.y + rect.h / 2) * lies.scale,
  ];
  const [[x1, y1], [x2, y2]] = [middle(a), middle(b)];
  if (Math.hypot(x2 - x1, y2 - y1) > 8) draw("line", { class: "h-way", x1, y1, x2, y2 });
}

/** @param {PointerEvent} event */
function press(event) {
  const target = /** @type {SVGElement} */ (event.target);
  const which = /** @type {"first"|"last"|undefined} */ (target.dataset?.shot);
  const of = facts();
  if (!which || !of || event.button) return;
  event.preventDefault();
  event.stopPropagation();
  const start = rectOf(of, of[which]);
  const { scale } = whole(of);
  const sizes = Boolean(target.dataset.size);
  let moved = false;
  const move = (/** @type {PointerEvent} */ pointer) => {
    moved = true;
    const dx = (pointer.clientX - event.clientX) / scale;
    const dy = (pointer.clientY - event.clientY) / scale;
    if (sizes) {
      const ratio = start.h / start.w;
      const least = shown(of, MOST).w;
      const wide = Math.max(least, start.w + (dx + dy / ratio) / 2);
      dragged[which] = { ...start, w: wide, h: wide * ratio };
    } else {
      const held = (/** @type {number} */ at, /** @type {number} */ length, /** @type {number} */ side) =>
        length >= side ? (side - length) / 2 : Math.min(side - length, Math.max(0, at));
      dragged[which] = {
        ...start,
        x: held(start.x + dx, start.w, of.wide),
        y: held(start.y + dy, start.h, of.high),
      };
    }
    handles();
  };
  const end = (/** @type {Event} */ ending) => {
    window.removeEventListener("pointermove", move);
    window.removeEventListener("pointerup", end);
    window.removeEventListener("pointercancel", end);
    const rect = dragged[which];
    dragged = {};
    if (!moved || !rect || ending.type !== "pointerup") return handles();
    send({
      do: "pan-zoom",
      items: [of.id],
      first: of.first,
      last: of.last,
      [which]: shotOf(of, rect),
      ease: of.ease,
      format: model.format,
      only: scope.only,
    });
  };
  window.addEventListener("pointermove", move);
  window.addEventListener("pointerup", end);
  window.addEventListener("pointercancel", end);
}
document.getElementById("handles")?.addEventListener("pointerdown", press, true);

/** Shows all of the picture, and both frames on it. */
function begin() {
  const of = facts();
  if (!of) return;
  edited = of.id;
  overlay.draw = paint;
  const still = { fit: "letterbox", zoom: 1, focus: [0.5, 0.5], turn: 0, shown: true };
  showTrial({ do: "set", items: [of.id], values: still, format: model.format, only: true }, middleOf(of.id));
  handles();
}

/** The frame in the middle of a clip. @param {string} id */
function middleOf(id) {
  const row = known.get(id)?.row;
  return row ? Math.floor((row.start + row.length / 2) * model.fps) : model.frame;
}

/** @param {boolean} [quiet] */
function end(quiet = false) {
  if (!edited) return;
  edited = "";
  overlay.draw = null;
  if (!quiet) showTrial(null);
  handles();
}

bench.addEventListener("click", (event) => {
  const press = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-shots]")
  );
  if (!press) return;
  if (edited) end();
  else begin();
  press.setAttribute("aria-pressed", String(Boolean(edited)));
});
document.addEventListener(
  "keydown",
  (event) => {
    if (event.key !== "Escape" || !edited) return;
    event.stopPropagation();
    end();
    bench.querySelector("[data-shots]")?.setAttribute("aria-pressed", "false");
  },
  true,
);
on("selected", () => end(true));
on("format", () => end(true));
on("played", () => end(true));
on("moved", () => end(true));
on("dressed", () => {
  if (!edited) return;
  bench.querySelector("[data-shots]")?.setAttribute("aria-pressed", "true");
  handles();
  // After everybody has heard of the change: the player forgets then what was tried.
  setTimeout(begin);
});
