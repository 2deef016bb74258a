// @ts-check
/** The box of a clip or item: what it says, its way in and out, its line, its fades and its grips. */

import { fadeGrips, placeFades } from "./fades.js";
import { lineOf } from "./itemline.js";
import { element, icon, made } from "./laneparts.js";
import { perSecond } from "./timeline.js";

const ICONS = {
  footage: "film",
  photo: "image",
  filler: "square",
  collage: "grid-1x2",
  words: "type",
  design: "layout-text-window",
  shape: "star",
  sticker: "emoji-smile",
  adjustment: "sliders",
  picture: "image",
  sound: "music-note",
};
const HEARD = /** @type {Record<string, string>} */ ({
  voice: "mic",
  music: "music-note",
  effects: "lightning",
  ambience: "tree",
});

/** How a sound goes on, in a word. @param {import("./model.js").Row} row */
const runsOn = (row) => (row.runs === "round" ? "round" : "fits");

/**
 * The box of a clip or item, made when it comes in sight.
 * @param {import("./model.js").Row} row
 * @param {number} width
 */
export function boxOf(row, width) {
  let box = made.get(row.id);
  if (!box) {
    box = element("button", "item");
    box.setAttribute("type", "button");
    made.set(row.id, box);
  }
  const held = /** @type {any} */ (box);
  const roomy = width >= 22;
  if (held.row === row && held.roomy === roomy) return box;
  held.row = row;
  held.roomy = roomy;
  box.className = `item is-${row.kind}${row.muted ? " is-muted" : ""}${row.group ? " is-grouped" : ""}${row.heard ? ` heard-${row.heard}` : ""}`;
  box.dataset.id = row.id;
  box.dataset.kind = row.kind;
  box.dataset.start = String(row.start);
  box.dataset.length = String(row.length);
  if (row.media) box.dataset.media = row.media;
  box.dataset.tied = row.tied ?? "";
  box.setAttribute(
    "aria-label",
    `${row.label}, ${row.length.toFixed(1)} s, at ${row.start.toFixed(1)} s${row.fast ? `, ${row.fast}` : ""}${row.runs ? `, ${runsOn(row)}` : ""}`,
  );
  box.replaceChildren(...(roomy ? inside(row) : []));
  return box;
}

/** @param {import("./model.js").Row} row */
function inside(row) {
  const art = element("canvas", "item-art");
  art.setAttribute("aria-hidden", "true");
  const label = element("span", "item-label");
  icon(label, HEARD[row.heard ?? ""] ?? ICONS[/** @type {keyof typeof ICONS} */ (row.kind)] ?? "square");
  label.append(` ${row.label}`);
  if (row.fast) label.append(element("span", "item-fast", row.fast));
  if (row.runs) {
    // Said in the box's own label: here it is only drawn.
    const runs = element("span", "item-fast");
    runs.dataset.runs = runsOn(row);
    label.append(runs);
  }
  if (row.muted) icon(label, "volume-mute");
  if (row.tied === "time" && row.kind !== "sound") icon(label, "unlock", "item-free");
  const parts = [art, label];
  for (const [side, length] of /** @type {[string, number|undefined][]} */ ([
    ["arrive", row.arrive],
    ["leave", row.leave],
  ])) {
    if (!length) continue;
    const slope = element("span", `item-way is-${side}`);
    slope.dataset.lasts = String(length);
    slope.dataset.way = side;
    slope.title =
      side === "arrive"
        ? `Comes in ${length.toFixed(2)} s: drag its edge`
        : `Goes in ${length.toFixed(2)} s: drag its edge`;
    if (side === "arrive" && row.wait) slope.dataset.wait = String(row.wait);
    parts.push(slope);
  }
  parts.push(...lineOf(row), ...fadeGrips(row));
  for (const side of ["start", "end"]) {
    const grip = element("span", `grip grip-${side}`);
    grip.dataset.grip = side;
    parts.push(grip);
  }
  return parts;
}

/**
 * Keeps the label of a long box in sight, and its slopes as long as they last at this zoom.
 * @param {HTMLElement} box
 * @param {import("./model.js").Row} row
 * @param {number} from
 */
export function inSight(box, row, from) {
  const label = /** @type {HTMLElement|null} */ (box.querySelector(".item-label"));
  const hidden = (from - row.start) * perSecond() + 300;
  if (label)
    label.style.transform =
      hidden > 0 && hidden < row.length * perSecond() - 60 ? `translateX(${hidden}px)` : "";
  for (const slope of /** @type {NodeListOf<HTMLElement>} */ (box.querySelectorAll(".item-way"))) {
    slope.style.width = `${Math.min(Number(slope.dataset.lasts), row.length) * perSecond()}px`;
    if (slope.dataset.wait) slope.style.left = `${Number(slope.dataset.wait) * perSecond()}px`;
  }
  placeFades(box, row);
}
