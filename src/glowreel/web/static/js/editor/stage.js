// @ts-check
/** The stage: fits the frame, and lets layers be selected, moved, sized, wrapped and turned on it. */

import { send } from "./commands.js";
import { base, endOf, here, known, model, on, remember, remembered, select, shape } from "./model.js";

const stage = /** @type {HTMLElement} */ (document.getElementById("stage"));
const fit = /** @type {HTMLElement} */ (document.getElementById("stage-fit"));
const svg = /** @type {SVGSVGElement} */ (/** @type {unknown} */ (document.getElementById("handles")));
const number = /** @type {HTMLElement} */ (document.getElementById("stage-number"));
let safe = Boolean(remembered.safe);
/** Whether places apply to this format only. */
export const scope = { only: false };

/** Size of the frame on the stage, in CSS pixels. */
export function stageSize() {
  const { wide, high } = shape();
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
  document.getElementById("stage-empty")?.toggleAttribute("hidden", model.state.length > 0);
  handles();
}

/** @param {string} name @param {Record<string, string|number>} attributes */
function draw(name, attributes) {
  const element = document.createElementNS("http://www.w3.org/2000/svg", name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, String(value));
  svg.append(element);
  return element;
}

const visible = () => {
  const at = here() + 1e-4;
  return model.state.front.flatMap((id) => known.get(id)?.row ?? []).filter((row) => at >= row.start && at < endOf(row));
};
const boxOf = (/** @type {string} */ id) => model.state.boxes[model.format]?.[id];

/** Draws boxes to click, and the handles of the selected layer. */
export function handles() {
  svg.replaceChildren();
  if (model.playing) return;
  const { width, height, short } = stageSize();
  if (safe) {
    const [left, top, right, bottom] = shape().safe;
    draw("rect", { class: "h-safe", x: left * width, y: top * height, width: (1 - left - right) * width, height: (1 - top - bottom) * height, rx: 4 });
  }
  const seen = visible();
  for (const layer of [...seen].reverse()) {
    const box = boxOf(layer.id);
    if (box && !model.selected.has(layer.id)) draw("rect", { class: "h-hot", "data-layer": layer.id, ...rect(box, short), ...turned(box, short) });
  }
  const one = seen.find((layer) => model.selected.has(layer.id));
  const box = one && model.selected.size === 1 ? boxOf(one.id) : null;
  if (one && box) grips(one, box, short);
}

/** @param {import("./model.js").Box} box @param {number} short */
const rect = (box, short) => ({ x: box.x * short, y: box.y * short, width: Math.max(4, box.w * short), height: Math.max(4, box.h * short) });
/** @param {import("./model.js").Box} box @param {number} short */
const turned = (box, short) => (box.turn ? { transform: `rotate(${box.turn} ${(box.x + box.w / 2) * short} ${(box.y + box.h / 2) * short})` } : {});

/** @param {{id: string, kind: string}} layer @param {import("./model.js").Box} box @param {number} short */
function grips(layer, box, short) {
  const r = rect(box, short);
  const turn = turned(box, short);
  draw("rect", { class: "h-box", "data-layer": layer.id, "data-grip": "move", ...r, ...turn });
  const middle = r.x + r.width / 2;
  draw("line", { class: "h-stem", x1: middle, x2: middle, y1: r.y, y2: r.y - 20, ...turn });
  draw("circle", { class: "h-grip h-turn", "data-layer": layer.id, "data-grip": "turn", cx: middle, cy: r.y - 24, r: 6, ...turn });
  for (const [name, x, y] of /** @type {[string, number, number][]} */ ([["nw", 0, 0], ["ne", 1, 0], ["se", 1, 1], ["sw", 0, 1]]))
    draw("circle", { class: `h-grip h-${name}`, "data-layer": layer.id, "data-grip": name, cx: r.x + x * r.width, cy: r.y + y * r.height, r: 6, ...turn });
  if (layer.kind === "words") draw("rect", { class: "h-grip h-e", "data-layer": layer.id, "data-grip": "wrap", x: r.x + r.width - 4, y: r.y + r.height / 2 - 9, width: 8, height: 18, rx: 4, ...turn });
}

/* ---- gestures ---- */

/** Pulls a box to edges, middles, thirds and the safe area; answers with the guides to draw. @param {{x: number, y: number, w: number, h: number}} box */
function snapped(box) {
  const { width, height, short } = stageSize();
  const [left, top, right, bottom] = shape().safe;
  const reach = 6 / short;
  const guides = [];
  for (const [axis, extent, size, lines] of /** @type {["x"|"y", number, number, number[]][]} */ ([
    ["x", width / short, box.w, [0, left, 1 / 3, 0.5, 2 / 3, 1 - right, 1]],
    ["y", height / short, box.h, [0, top, 1 / 3, 0.5, 2 / 3, 1 - bottom, 1]],
  ])) {
    let best = reach;
    for (const line of lines) for (const part of [0, 0.5, 1]) {
      const off = line * extent - (box[axis] + part * size);
      if (Math.abs(off) < best) { best = Math.abs(off); guides[axis === "x" ? 0 : 1] = { axis, at: line * extent, off }; }
    }
  }
  for (const guide of guides) if (guide) box[guide.axis] += guide.off;
  return guides.filter(Boolean);
}

/** @param {PointerEvent} event */
function begin(event) {
  const target = /** @type {Element} */ (event.target);
  const id = target.getAttribute("data-layer");
  if (!id) { if (model.selected.size) select([]); return; }
  event.preventDefault();
  if (!model.selected.has(id)) select([id]);
  const start = boxOf(id);
  if (!start) return;
  const how = target.getAttribute("data-grip") ?? "move";
  const { short } = stageSize();
  const from = { x: event.clientX, y: event.clientY };
  const box = { ...start };
  const sprite = /** @type {SVGImageElement} */ (draw("image", { class: "h-sprite", opacity: 0.85, visibility: "hidden" }));
  const { width, height } = stageSize();
  sprite.setAttribute("width", String(width));
  sprite.setAttribute("height", String(height));
  sprite.setAttribute("href", `${base}/sprite.png?rev=${model.state.rev}&format=${model.format}&item=${id}&short=360`);
  let moved = false;
  svg.setPointerCapture(event.pointerId);

  const move = (/** @type {PointerEvent} */ e) => {
    const dx = (e.clientX - from.x) / short;
    const dy = (e.clientY - from.y) / short;
    if (!moved && Math.hypot(e.clientX - from.x, e.clientY - from.y) < 3) return;
    moved = true;
    Object.assign(box, start);
    let guides = [];
    if (how === "move") {
      Object.assign(box, { x: start.x + dx, y: start.y + dy });
      guides = e.ctrlKey ? [] : snapped(box);
      say(e, `${Math.round((box.x / (width / short)) * 100)} %, ${Math.round((box.y / (height / short)) * 100)} %`);
    } else if (how === "turn") {
      const middle = svg.getBoundingClientRect();
      const angle = Math.atan2(e.clientY - middle.top - (start.y + start.h / 2) * short, e.clientX - middle.left - (start.x + start.w / 2) * short);
      box.turn = Math.round((angle * 180) / Math.PI + 90);
      if (!e.ctrlKey && Math.abs(((box.turn + 382.5) % 45) - 22.5) < 4) box.turn = Math.round(box.turn / 45) * 45;
      say(e, `${box.turn}°`);
    } else if (how === "wrap") {
      box.wrap = Math.max(0.1, start.w + dx);
      box.w = box.wrap;
      say(e, `${Math.round(box.wrap * 100)} % wide`);
    } else {
      const outwards = (how.includes("e") ? dx : -dx) / start.w + (how.includes("s") ? dy : -dy) / start.h;
      const scale = Math.max(0.1, 1 + outwards / 2);
      Object.assign(box, { w: start.w * scale, h: start.h * scale, size: start.size * scale, wrap: start.wrap * scale });
      if (how.includes("w")) box.x = start.x + start.w - box.w;
      if (how.includes("n")) box.y = start.y + start.h - box.h;
      say(e, `${(box.size * 100).toFixed(1)} %`);
    }
    follow(id, start, box, sprite, guides, how);
  };
  const end = (/** @type {Event} */ e) => {
    svg.removeEventListener("pointermove", move);
    svg.removeEventListener("pointerup", end);
    svg.removeEventListener("pointercancel", end);
    document.removeEventListener("keydown", escape, true);
    number.hidden = true;
    stage.classList.remove("is-dragging");
    if (!moved || e.type !== "pointerup") { handles(); return; }
    const extra = how === "turn" ? { turn: box.turn } : how === "wrap" ? { wrap: box.wrap } : how === "move" ? {} : { size: box.size, wrap: Math.min(8, box.wrap) };
    place(id, box, extra);
  };
  const escape = (/** @type {KeyboardEvent} */ e) => { if (e.key === "Escape") { e.stopPropagation(); end(e); } };
  svg.addEventListener("pointermove", move);
  svg.addEventListener("pointerup", end);
  svg.addEventListener("pointercancel", end);
  document.addEventListener("keydown", escape, true);
}

/** Lets the item's own picture follow the gesture. @param {string} id @param {any} start @param {any} box @param {SVGImageElement} sprite @param {any[]} guides @param {string} how */
function follow(id, start, box, sprite, guides, how) {
  const { short, width, height } = stageSize();
  for (const old of svg.querySelectorAll(".h-guide, .h-grip, .h-stem")) old.remove();
  const frame = svg.querySelector(`.h-box`);
  if (frame) for (const [key, value] of Object.entries({ ...rect(box, short), ...turned(box, short) })) frame.setAttribute(key, String(value));
  const scale = how === "wrap" ? 1 : box.w / start.w;
  const shift = `translate(${box.x * short} ${box.y * short}) scale(${scale}) translate(${-start.x * short} ${-start.y * short})`;
  const spin = box.turn - start.turn ? `rotate(${box.turn - start.turn} ${(start.x + start.w / 2) * short} ${(start.y + start.h / 2) * short}) ` : "";
  sprite.setAttribute("transform", spin + shift);
  sprite.setAttribute("visibility", "visible");
  for (const guide of guides) {
    const at = guide.at * short;
    draw("line", guide.axis === "x" ? { class: "h-guide", x1: at, x2: at, y1: 0, y2: height } : { class: "h-guide", y1: at, y2: at, x1: 0, x2: width });
  }
}

/** @param {PointerEvent} event @param {string} text */
function say(event, text) {
  const box = stage.getBoundingClientRect();
  number.hidden = false;
  number.textContent = text;
  number.style.left = `${event.clientX - box.left + 14}px`;
  number.style.top = `${event.clientY - box.top + 14}px`;
}

/** Sends an item's new place. @param {string} id @param {{x: number, y: number, w: number, h: number}} box @param {Record<string, number>} [extra] */
export function place(id, box, extra = {}) {
  return send({ do: "place-item", item: id, format: model.format, x: box.x, y: box.y, width: box.w, height: box.h, only: scope.only, ...extra });
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
