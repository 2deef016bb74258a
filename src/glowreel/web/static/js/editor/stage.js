// @ts-check
/** The stage: fits the frame, and lets layers be selected, moved, sized, wrapped and turned on it. */

import { send } from "./commands.js";
import { currentFormat, endOf, gridTicks, known, model, on, remember, remembered, select } from "./model.js";

const stage = /** @type {HTMLElement} */ (document.getElementById("stage"));
const fit = /** @type {HTMLElement} */ (document.getElementById("stage-fit"));
const svg = /** @type {SVGSVGElement} */ (/** @type {unknown} */ (document.getElementById("handles")));
const number = /** @type {HTMLElement} */ (document.getElementById("stage-number"));
let safe = Boolean(remembered.safe);
/** Whether places apply to this format only. */
export const scope = { only: false };

/** Size of the frame on the stage, in CSS pixels. */
export function stageSize() {
  const { wide, high } = currentFormat();
  const room = { width: stage.clientWidth - 28, height: stage.clientHeight - 20 };
  const scale = Math.min(room.width / wide, room.height / high);
  return { width: wide * scale, height: high * scale, short: Math.min(wide, high) * scale };
}

function lay() {
  const { width, height } = stageSize();
  fit.style.width = `${width}px`;
  fit.style.height = `${height}px`;
  fit.style.transform = `translate(${(stage.clientWidth - width) / 2}px, ${(stage.clientHeight - height) / 2}px)`;
  svg.setAttribute("viewBox", `0 0 ${width} ${height}`);
  handles();
}

/** @param {string} name @param {Record<string, string|number|undefined>} attributes */
function draw(name, attributes) {
  const element = document.createElementNS("http://www.w3.org/2000/svg", name);
  for (const [key, value] of Object.entries(attributes))
    if (value !== undefined) element.setAttribute(key, String(value));
  svg.append(element);
  return element;
}

const visible = () => {
  const at = model.time + 1e-4;
  return model.state.front
    .flatMap((id) => known.get(id)?.row ?? [])
    .filter((row) => at >= row.start && at < endOf(row));
};
/** Where a layer lies at the playhead. @param {string} id */
function boxOf(id) {
  const box = model.state.boxes[model.format]?.[id];
  const row = known.get(id)?.row;
  if (!box?.way || !row) return box;
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

/** Draws boxes to click, and the handles of the selected layer. */
export function handles() {
  svg.replaceChildren();
  if (model.playing) return;
  const { width, height, short } = stageSize();
  if (safe) {
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
    const box = boxOf(layer.id);
    if (box && !model.selected.has(layer.id))
      draw("rect", { class: "h-hot", "data-layer": layer.id, ...rect(box, short), ...turned(box, short) });
  }
  const one = seen.find((layer) => model.selected.has(layer.id));
  const box = one && model.selected.size === 1 ? boxOf(one.id) : null;
  if (one && box) grips(one, box, short);
}

/** @param {import("./model.js").Box} box @param {number} short */
const rect = (box, short) => ({
  x: box.x * short,
  y: box.y * short,
  width: Math.max(4, box.w * short),
  height: Math.max(4, box.h * short),
});
/** @param {import("./model.js").Box} box @param {number} short */
const turned = (box, short) =>
  box.turn
    ? { transform: `rotate(${box.turn} ${(box.x + box.w / 2) * short} ${(box.y + box.h / 2) * short})` }
    : {};

/** @param {{id: string, kind: string}} layer @param {import("./model.js").Box} box @param {number} short */
function grips(layer, box, short) {
  const edges = rect(box, short);
  const turn = turned(box, short);
  draw("rect", { class: "h-box", "data-layer": layer.id, "data-grip": "move", ...edges, ...turn });
  const middle = edges.x + edges.width / 2;
  draw("line", { class: "h-stem", x1: middle, x2: middle, y1: edges.y, y2: edges.y - 20, ...turn });
  draw("circle", {
    class: "h-grip h-turn",
    "data-layer": layer.id,
    "data-grip": "turn",
    cx: middle,
    cy: edges.y - 24,
    r: 6,
    ...turn,
  });
  for (const [name, x, y] of /** @type {[string, number, number][]} */ ([
    ["nw", 0, 0],
    ["ne", 1, 0],
    ["se", 1, 1],
    ["sw", 0, 1],
  ]))
    draw("circle", {
      class: `h-grip h-${name}`,
      "data-layer": layer.id,
      "data-grip": name,
      cx: edges.x + x * edges.width,
      cy: edges.y + y * edges.height,
      r: 6,
      ...turn,
    });
  if (layer.kind === "words")
    draw("rect", {
      class: "h-grip h-e",
      "data-layer": layer.id,
      "data-grip": "wrap",
      x: edges.x + edges.width - 4,
      y: edges.y + edges.height / 2 - 9,
      width: 8,
      height: 18,
      rx: 4,
      ...turn,
    });
}

/* ---- gestures ---- */

/** Pulls a box to edges, middles, thirds and the safe area; answers with the guides to draw. @param {Box} box */
function snapped(box) {
  const { width, height, short } = stageSize();
  const [left, top, right, bottom] = currentFormat().safe;
  const reach = 6 / short;
  /** @type {{axis: "x"|"y", at: number, off: number}[]} */
  const guides = [];
  for (const [axis, extent, size, lines] of /** @type {["x"|"y", number, number, number[]][]} */ ([
    ["x", width / short, box.w, [0, left, 1 / 3, 0.5, 2 / 3, 1 - right, 1]],
    ["y", height / short, box.h, [0, top, 1 / 3, 0.5, 2 / 3, 1 - bottom, 1]],
  ])) {
    let best = reach;
    for (const line of lines)
      for (const part of [0, 0.5, 1]) {
        const off = line * extent - (box[axis] + part * size);
        if (Math.abs(off) < best) {
          best = Math.abs(off);
          guides[axis === "x" ? 0 : 1] = { axis, at: line * extent, off };
        }
      }
  }
  for (const guide of guides) if (guide) box[guide.axis] += guide.off;
  return guides.filter(Boolean);
}

/** @typedef {import("./model.js").Box} Box */

/**
 * One grip dragged by dx, dy (fractions of the short side): changes the box, answers with guides and the number to show.
 * @type {Record<string, (box: Box, start: Box, dx: number, dy: number, pointer: PointerEvent) => {guides?: any[], words: string}>}
 */
const GRIPS = {
  move(box, start, dx, dy, pointer) {
    const { width, height, short } = stageSize();
    Object.assign(box, { x: start.x + dx, y: start.y + dy });
    const guides = pointer.ctrlKey ? [] : snapped(box);
    const [across, down] = [box.x / (width / short), box.y / (height / short)].map((part) =>
      Math.round(part * 100),
    );
    return { guides, words: `${across} %, ${down} %` };
  },
  turn(box, start, _dx, _dy, pointer) {
    const { short } = stageSize();
    const corner = svg.getBoundingClientRect();
    const angle = Math.atan2(
      pointer.clientY - corner.top - (start.y + start.h / 2) * short,
      pointer.clientX - corner.left - (start.x + start.w / 2) * short,
    );
    box.turn = Math.round((angle * 180) / Math.PI + 90);
    if (!pointer.ctrlKey && Math.abs(((box.turn + 382.5) % 45) - 22.5) < 4)
      box.turn = Math.round(box.turn / 45) * 45;
    return { words: `${box.turn}°` };
  },
  wrap(box, start, dx) {
    box.wrap = Math.max(0.1, start.w + dx);
    box.w = box.wrap;
    return { words: `${Math.round(box.wrap * 100)} % wide` };
  },
};

/** A corner dragged: the opposite one stays. @param {string} corner */
const sized =
  (corner) =>
  (/** @type {Box} */ box, /** @type {Box} */ start, /** @type {number} */ dx, /** @type {number} */ dy) => {
    const outwards =
      (corner.includes("e") ? dx : -dx) / start.w + (corner.includes("s") ? dy : -dy) / start.h;
    const scale = Math.max(0.1, 1 + outwards / 2);
    Object.assign(box, {
      w: start.w * scale,
      h: start.h * scale,
      size: start.size * scale,
      wrap: start.wrap * scale,
    });
    if (corner.includes("w")) box.x = start.x + start.w - box.w;
    if (corner.includes("n")) box.y = start.y + start.h - box.h;
    return { words: `${(box.size * 100).toFixed(1)} %` };
  };

/** What a grip changes besides the place. @param {string} grip @param {Box} box */
function changedBy(grip, box) {
  if (grip === "turn") return { turn: box.turn };
  if (grip === "wrap") return { wrap: box.wrap };
  return grip === "move" ? {} : { size: box.size, wrap: Math.min(8, box.wrap) };
}

/** The layer's own picture, which follows the gesture. @param {string} id */
function spriteOf(id) {
  const { width, height } = stageSize();
  const href = `${model.url}/sprite.png?rev=${model.state.rev}&format=${model.format}&item=${id}&short=360`;
  const sprite = draw("image", {
    class: "h-sprite",
    opacity: 0.85,
    visibility: "hidden",
    width,
    height,
    href,
  });
  return /** @type {SVGImageElement} */ (sprite);
}

/** @param {PointerEvent} event */
function begin(event) {
  const target = /** @type {Element} */ (event.target);
  const id = target.getAttribute("data-layer");
  if (!id) {
    if (model.selected.size) select([]);
    return;
  }
  event.preventDefault();
  if (!model.selected.has(id)) select([id]);
  const start = boxOf(id);
  if (!start) return;
  const grip = target.getAttribute("data-grip") ?? "move";
  const dragged = GRIPS[grip] ?? sized(grip);
  const from = { x: event.clientX, y: event.clientY };
  const box = { ...start };
  const sprite = spriteOf(id);
  let moved = false;
  svg.setPointerCapture(event.pointerId);

  const move = (/** @type {PointerEvent} */ pointer) => {
    const [across, down] = [pointer.clientX - from.x, pointer.clientY - from.y];
    if (!moved && Math.hypot(across, down) < 3) return;
    moved = true;
    const { short } = stageSize();
    Object.assign(box, start);
    const { guides, words } = dragged(box, start, across / short, down / short, pointer);
    showNumber(pointer, words);
    follow(start, box, sprite, guides ?? [], grip);
  };
  const end = (/** @type {Event} */ ending) => {
    svg.removeEventListener("pointermove", move);
    svg.removeEventListener("pointerup", end);
    svg.removeEventListener("pointercancel", end);
    document.removeEventListener("keydown", escape, true);
    number.hidden = true;
    stage.classList.remove("is-dragging");
    if (moved && ending.type === "pointerup") place(id, box, changedBy(grip, box));
    else handles();
  };
  const escape = (/** @type {KeyboardEvent} */ key) => {
    if (key.key !== "Escape") return;
    key.stopPropagation();
    end(key);
  };
  svg.addEventListener("pointermove", move);
  svg.addEventListener("pointerup", end);
  svg.addEventListener("pointercancel", end);
  document.addEventListener("keydown", escape, true);
}

/**
 * Lets the item's own picture follow the gesture.
 * @param {Box} start
 * @param {Box} box
 * @param {SVGImageElement} sprite
 * @param {any[]} guides
 * @param {string} grip
 */
function follow(start, box, sprite, guides, grip) {
  const { short, width, height } = stageSize();
  for (const old of svg.querySelectorAll(".h-guide, .h-grip, .h-stem")) old.remove();
  const frame = svg.querySelector(`.h-box`);
  if (frame)
    for (const [key, value] of Object.entries({ ...rect(box, short), ...turned(box, short) }))
      frame.setAttribute(key, String(value));
  const scale = grip === "wrap" ? 1 : box.w / start.w;
  const shift = `translate(${box.x * short} ${box.y * short}) scale(${scale}) translate(${-start.x * short} ${-start.y * short})`;
  const spin =
    box.turn - start.turn
      ? `rotate(${box.turn - start.turn} ${(start.x + start.w / 2) * short} ${(start.y + start.h / 2) * short}) `
      : "";
  sprite.setAttribute("transform", spin + shift);
  sprite.setAttribute("visibility", "visible");
  for (const guide of guides) {
    const at = guide.at * short;
    draw(
      "line",
      guide.axis === "x"
        ? { class: "h-guide", x1: at, x2: at, y1: 0, y2: height }
        : { class: "h-guide", y1: at, y2: at, x1: 0, x2: width },
    );
  }
}

/** @param {PointerEvent} event @param {string} text */
function showNumber(event, text) {
  const box = stage.getBoundingClientRect();
  number.hidden = false;
  number.textContent = text;
  number.style.left = `${event.clientX - box.left + 14}px`;
  number.style.top = `${event.clientY - box.top + 14}px`;
}

/**
 * Sends an item's new place.
 * @param {string} id
 * @param {{x: number, y: number, w: number, h: number}} box
 * @param {Partial<Record<"size"|"wrap"|"turn", number>>} [extra]
 */
export function place(id, box, extra = {}) {
  return send({
    do: "place-item",
    item: id,
    format: model.format,
    x: box.x,
    y: box.y,
    width: box.w,
    height: box.h,
    only: scope.only,
    at: gridTicks(model.time),
    ...extra,
  });
}

/** Moves the selected layer by fractions of the short side. @param {number} dx @param {number} dy */
export function nudge(dx, dy) {
  const id = [...model.selected][0];
  const box = id && boxOf(id);
  if (box) place(id, { ...box, x: box.x + dx, y: box.y + dy });
}

document.getElementById("safe")?.addEventListener("click", (event) => {
  safe = !safe;
  remember({ safe });
  /** @type {Element} */ (event.currentTarget).setAttribute("aria-pressed", String(safe));
  handles();
});
document.getElementById("safe")?.setAttribute("aria-pressed", String(safe));
svg.addEventListener("pointerdown", begin);
svg.addEventListener("dblclick", () => document.getElementById("words-text")?.focus());
on("changed", lay);
on("format", lay);
on("selected", handles);
on("moved", handles);
on("played", handles);
new ResizeObserver(lay).observe(stage);
