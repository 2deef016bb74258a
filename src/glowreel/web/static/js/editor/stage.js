// @ts-check
/** The stage: fits the frame, knows where things lie on it at the playhead, and draws their outlines and grips. */

import { headers } from "../page.js";
import { send } from "./commands.js";
import { currentFormat, endOf, gridTicks, known, model, on, remember, remembered } from "./model.js";
import { sideBySide } from "./rooms.js";
import { add } from "./svg.js";

/** @typedef {import("./model.js").Box} Box */

const stage = /** @type {HTMLElement} */ (document.getElementById("stage"));
const fit = /** @type {HTMLElement} */ (document.getElementById("stage-fit"));
const svg = /** @type {SVGSVGElement} */ (/** @type {unknown} */ (document.getElementById("handles")));
let safe = Boolean(remembered.safe);
/** Whether places apply to this format only. */
export const scope = { only: false };
/** What is drawn over the frame in place of the usual outlines and grips, while something else is being edited. */
export const overlay = { draw: /** @type {((short: number) => void)|null} */ (null) };
/** What draws the cells of a collage. */
export const paintOver = {
  cells: /** @type {(short: number) => void} */ (() => undefined),
  path: /** @type {(clip: string, box: Box, short: number) => void} */ (() => undefined),
};
/** Whether the grips of the thing selected crop it instead of sizing it. */
export const cropping = { on: false };

/** Where the frame of a format stands on the stage, in CSS pixels: alone, or beside the others. @param {string} id */
export function roomOf(id) {
  const { formats } = model.state;
  const place = formats.findIndex((format) => format.id === id);
  if (model.beside && formats.length > 1)
    return sideBySide(formats, stage.clientWidth, stage.clientHeight)[Math.max(0, place)];
  const { wide, high } = formats[place] ?? currentFormat();
  const scale = Math.min((stage.clientWidth - 28) / wide, (stage.clientHeight - 20) / high);
  const [width, height] = [wide * scale, high * scale];
  return { x: (stage.clientWidth - width) / 2, y: (stage.clientHeight - height) / 2, width, height };
}

/** Size of the frame on the stage, in CSS pixels. */
export function stageSize() {
  const { width, height } = roomOf(currentFormat().id);
  return { width, height, short: Math.min(width, height) };
}

function lay() {
  const { x, y, width, height } = roomOf(currentFormat().id);
  fit.style.width = `${width}px`;
  fit.style.height = `${height}px`;
  fit.style.transform = `translate(${x}px, ${y}px)`;
  svg.setAttribute("viewBox", `0 0 ${width} ${height}`);
  handles();
}

/** @param {string} name @param {Record<string, string|number|undefined>} attributes */
export const draw = (name, attributes) => add(svg, name, attributes);

/* ---- where things lie ---- */

/** The layers on show at the playhead, front to back. */
export const visible = () => {
  const at = model.time + 1e-4;
  return model.state.front
    .flatMap((id) => known.get(id)?.row ?? [])
    .filter((row) => at >= row.start && at < endOf(row) && boxOf(row.id));
};

/** The clip of the main track at the playhead. */
export const clipHere = () =>
  model.state.main.find((row) => model.time + 1e-4 >= row.start && model.time + 1e-4 < endOf(row));

/** The picture of the clip selected, as the server said with its details. @param {string} id @returns {(Box & {framed: true})|null} */
function framedBox(id) {
  const text = /** @type {HTMLElement|null} */ (document.querySelector("#bench-details [data-framed]"))
    ?.dataset.framed;
  const box = text ? JSON.parse(text) : null;
  return box?.id === id && box.format === model.format
    ? { ...box, size: 1, wrap: 1, own: false, framed: true }
    : null;
}

/**
 * @typedef {{x: number, y: number, w: number, h: number}} Boxed
 * @typedef {Boxed & {id: string, label: string, kind: string, picture?: Boxed, zoom?: number, focus?: number[], turn?: number}} Cell
 * @typedef {{path: string, after: number, across: boolean, share: number, of: number, box: Boxed, room: Boxed}} Line
 */

/** The collage selected, as the server said with its details, where it is on show. @returns {{id: string, cells: Cell[], lines: Line[]}|null} */
export function cellsOf() {
  const text = /** @type {HTMLElement|null} */ (document.querySelector("#bench-details [data-cells]"))
    ?.dataset.cells;
  const told = text ? JSON.parse(text) : null;
  return told && model.selected.has(told.id) && clipHere()?.id === told.id && told.format === model.format
    ? told
    : null;
}

/** Where something lies at the playhead. @param {string} id @returns {Box|undefined} */
export function boxOf(id) {
  const row = known.get(id)?.row;
  if (known.get(id)?.lane === "main") return framedBox(id) ?? undefined;
  const box = model.state.boxes[model.format]?.[id];
  if (!box?.way || !row) return box?.w === undefined ? undefined : box;
  const at = model.time - row.start;
  const next = box.way.findIndex((/** @type {{at: number}} */ place) => place.at > at);
  if (next < 0) return box.way[box.way.length - 1];
  if (next === 0) return box.way[0];
  const [before, after] = [box.way[next - 1], box.way[next]];
  const share = (at - before.at) / (after.at - before.at);
  const between = (/** @type {"x"|"y"|"w"|"h"|"size"|"wrap"|"turn"} */ name) =>
    before[name] + (after[name] - before[name]) * share;
  return {
    ...before,
    ...Object.fromEntries(
      ["x", "y", "w", "h", "size", "wrap", "turn"].map((name) => [name, between(/** @type {any} */ (name))]),
    ),
  };
}

/** Whether a point of the frame, in fractions of the short side, lies in a box. @param {Box} box @param {number} x @param {number} y */
export function holds(box, x, y) {
  const angle = (-(box.turn ?? 0) * Math.PI) / 180;
  const [dx, dy] = [x - box.x - box.w / 2, y - box.y - box.h / 2];
  return (
    Math.abs(dx * Math.cos(angle) - dy * Math.sin(angle)) <= box.w / 2 &&
    Math.abs(dx * Math.sin(angle) + dy * Math.cos(angle)) <= box.h / 2
  );
}

/** What lies under a point, front to back: layers, then the clip of the main track. @param {number} x @param {number} y */
export function under(x, y) {
  const found = visible().filter((row) => holds(/** @type {Box} */ (boxOf(row.id)), x, y));
  const clip = clipHere();
  return clip ? [...found, clip] : found;
}

/* ---- outlines and grips ---- */

/** @param {Box} box @param {number} short */
export const rect = (box, short) => ({
  x: box.x * short,
  y: box.y * short,
  width: Math.max(4, box.w * short),
  height: Math.max(4, box.h * short),
});
/** @param {Box} box @param {number} short */
export const turned = (box, short) =>
  box.turn
    ? { transform: `rotate(${box.turn} ${(box.x + box.w / 2) * short} ${(box.y + box.h / 2) * short})` }
    : {};

/** Draws outlines to press, and the grips of what is selected. */
export function handles() {
  svg.replaceChildren();
  if (model.playing) return;
  const { width, height, short } = stageSize();
  if (overlay.draw) {
    overlay.draw(short);
    return;
  }
  if (safe) {
    for (const [what, x, y, wide, high] of currentFormat().covers) {
      const area = draw("rect", {
        class: "h-cover",
        x: x * width,
        y: y * height,
        width: wide * width,
        height: high * height,
      });
      const words = document.createElementNS("http://www.w3.org/2000/svg", "text");
      words.setAttribute("class", "h-cover-name");
      words.setAttribute("x", String((x + wide / 2) * width));
      words.setAttribute("y", String((y + high / 2) * height));
      words.textContent = what;
      area.after(words);
    }
    const [left, top, right, bottom] = currentFormat().safe;
    draw("rect", {
      class: "h-safe",
      x: left * width,
      y: top * height,
      width: (1 - left - right) * width,
      height: (1 - top - bottom) * height,
      rx: 4,
    });
  }
  const seen = visible();
  for (const layer of [...seen].reverse()) {
    const box = /** @type {Box} */ (boxOf(layer.id));
    const chosen = model.selected.has(layer.id);
    if (!chosen || model.selected.size > 1)
      draw("rect", {
        class: chosen ? "h-box" : "h-hot",
        "data-layer": layer.id,
        ...rect(box, short),
        ...turned(box, short),
      });
  }
  if (model.selected.size !== 1) return;
  const [id] = model.selected;
  const clip = clipHere();
  const box = boxOf(id);
  if (cellsOf()) paintOver.cells(short);
  else if (box && clip?.id === id) framing(clip, box, short);
  else if (box && seen.some((layer) => layer.id === id)) grips(id, box, short);
}

/** The traits of a thing's picture that decide its grips. @param {string} id */
export const kindOf = (id) => known.get(id)?.row.kind ?? "";

/** @param {string} name @param {string} id @param {number} x @param {number} y @param {object} [turn] */
function round(name, id, x, y, turn = {}) {
  draw("circle", {
    class: `h-grip h-${name}`,
    "data-layer": id,
    "data-grip": name,
    cx: x,
    cy: y,
    r: 6,
    ...turn,
  });
}

const CORNERS = /** @type {[string, number, number][]} */ ([
  ["nw", 0, 0],
  ["ne", 1, 0],
  ["se", 1, 1],
  ["sw", 0, 1],
]);
const SIDES = /** @type {[string, number, number][]} */ ([
  ["n", 0.5, 0],
  ["e", 1, 0.5],
  ["s", 0.5, 1],
  ["w", 0, 0.5],
]);

/** A bar in the middle of a side. @param {string} grip @param {string} id @param {{x: number, y: number, width: number, height: number}} edges @param {number} x @param {number} y @param {object} turn @param {string} [look] */
function bar(grip, id, edges, x, y, turn, look = "") {
  const upright = x !== 0.5;
  const [wide, high] = upright ? [8, 18] : [18, 8];
  draw("rect", {
    class: `h-grip h-${grip} ${look}`,
    "data-layer": id,
    "data-grip": look ? `crop-${grip}` : grip === "e" && kindOf(id) === "words" ? "wrap" : grip,
    x: edges.x + x * edges.width - wide / 2,
    y: edges.y + y * edges.height - high / 2,
    width: wide,
    height: high,
    rx: 4,
    ...turn,
  });
}

/** @param {string} id @param {Box} box @param {number} short */
function grips(id, box, short) {
  const edges = rect(box, short);
  const turn = turned(box, short);
  const picture = kindOf(id) === "picture";
  draw("rect", { class: "h-box", "data-layer": id, "data-grip": "move", ...edges, ...turn });
  if (cropping.on && picture) {
    for (const [name, x, y] of SIDES) bar(name, id, edges, x, y, turn, "h-crop");
    for (const [name, x, y] of CORNERS)
      draw("rect", {
        class: `h-grip h-crop h-${name}`,
        "data-layer": id,
        "data-grip": `crop-${name}`,
        x: edges.x + x * edges.width - 6,
        y: edges.y + y * edges.height - 6,
        width: 12,
        height: 12,
        ...turn,
      });
    return;
  }
  const middle = edges.x + edges.width / 2;
  draw("line", { class: "h-stem", x1: middle, x2: middle, y1: edges.y, y2: edges.y - 20, ...turn });
  round("turn", id, middle, edges.y - 24, turn);
  for (const [name, x, y] of CORNERS)
    round(name, id, edges.x + x * edges.width, edges.y + y * edges.height, turn);
  if (picture || ["shape", "sticker"].includes(kindOf(id) ?? ""))
    for (const [name, x, y] of SIDES) bar(name, id, edges, x, y, turn);
  else if (kindOf(id) === "words") bar("e", id, edges, 1, 0.5, turn);
  const room = Math.min(edges.width, edges.height);
  if (picture && room > 60) {
    const inset = 14 + ((box.corner ?? 0) * room) / 2 / 1.4;
    draw("circle", {
      class: "h-grip h-corner",
      "data-layer": id,
      "data-grip": "corner",
      cx: edges.x + inset,
      cy: edges.y + inset,
      r: 4.5,
      ...turn,
    });
  }
}

/** The grips of the picture of the main track: it fills the frame and reaches beyond it. @param {{id: string}} clip @param {Box} box @param {number} short */
function framing(clip, box, short) {
  const { width, height } = stageSize();
  draw("rect", { class: "h-whole", ...rect(box, short), ...aboutFrame(box) });
  draw("rect", {
    class: "h-box h-framed",
    "data-layer": clip.id,
    "data-grip": "move",
    x: 0,
    y: 0,
    width,
    height,
  });
  for (const [name, x, y] of CORNERS) round(name, clip.id, x ? width - 9 : 9, y ? height - 9 : 9);
  draw("line", { class: "h-stem", x1: width / 2, x2: width / 2, y1: 8, y2: 24 });
  round("turn", clip.id, width / 2, 28);
  paintOver.path(clip.id, box, short);
}

/** The picture of the main track is turned about the middle of the frame. @param {Box} box */
export function aboutFrame(box) {
  const { width, height } = stageSize();
  return box.turn ? { transform: `rotate(${box.turn} ${width / 2} ${height / 2})` } : {};
}

/* ---- what is sent ---- */

/** The command that puts something where it lies now. @param {string} id @param {Box} box @param {object} [extra] @param {object[]} [also] */
export function placing(id, box, extra = {}, also = []) {
  const lies = { x: box.x, y: box.y, width: box.w, height: box.h };
  const main = known.get(id)?.lane === "main";
  return {
    do: main ? "frame-clip" : "place-item",
    item: id,
    format: model.format,
    ...lies,
    only: scope.only,
    at: gridTicks(model.time),
    ...extra,
    ...(also.length ? { also } : {}),
  };
}

/** Moves what is selected by fractions of the short side. @param {number} dx @param {number} dy */
export function nudge(dx, dy) {
  const boxes = [...model.selected].flatMap((id) => {
    const box = boxOf(id);
    return box ? [{ id, box: { ...box, x: box.x + dx, y: box.y + dy } }] : [];
  });
  const [first, ...others] = boxes;
  if (!first) return false;
  const also = others.map(({ id, box }) => ({ item: id, x: box.x, y: box.y, width: box.w, height: box.h }));
  send(placing(first.id, first.box, {}, also));
  return true;
}

/** @param {boolean} wanted */
export function crop(wanted) {
  cropping.on = wanted;
  handles();
}

document.getElementById("safe")?.addEventListener("click", (event) => {
  safe = !safe;
  remember({ safe });
  /** @type {Element} */ (event.currentTarget).setAttribute("aria-pressed", String(safe));
  handles();
});
document.getElementById("safe")?.setAttribute("aria-pressed", String(safe));
/** Where layers lie in the format that is worked in, asked for where it is not known. */
async function know() {
  const { format } = model;
  if (!format || model.state.boxes[format]) return;
  const answer = await fetch(`${model.url}/boxes?format=${encodeURIComponent(format)}`, { headers });
  if (!answer.ok || model.format !== format || model.state.boxes[format]) return;
  const told = await answer.json();
  if (told.rev !== model.state.rev) return;
  model.state.boxes[format] = told.boxes;
  lay();
}
on("changed", lay);
on("format", lay);
on("changed", know);
on("format", know);
know();
on("selected", () => {
  cropping.on = false;
  handles();
});
on("dressed", handles);
on("moved", handles);
on("played", handles);
new ResizeObserver(lay).observe(stage);
