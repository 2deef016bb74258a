// @ts-check
/** What the page knows of the promo, where the playhead is, and what is selected. The server's word, never our own. */

/**
 * @typedef {{id: string, name: string, wide: number, high: number, safe: number[], channel: string,
 *   covers: [string, number, number, number, number][]}} Format
 * @typedef {{x: number, y: number, w: number, h: number, size: number, wrap: number, turn: number, own: boolean,
 *   stretch?: number, corner?: number, crop?: number[], way?: (Box & {at: number})[]}} Box
 * @typedef {{id: string, kind: string, label: string, start: number, length: number, source?: number, media?: string,
 *   after?: number, before?: number, of?: number, tiles?: number, step?: number, sounding?: boolean, muted?: boolean,
 *   gain?: number, fadeIn?: number, fadeOut?: number, curveIn?: string, curveOut?: string, heard?: string, runs?: string, tied?: string, to?: string, group?: string, fast?: string, empty?: string[],
 *   map?: number[][], roll?: [number, number], arrive?: number, leave?: number, hidden?: boolean,
 *   opacity?: number, line?: [number, number, string][], wait?: number, own?: string[], curves?: {name: string, label: string, format: string, points: [number, string][]}[]}} Row
 * @typedef {{id: string, kind: "layer"|"sound", locked: boolean, hidden: boolean, rows: Row[]}} Track
 * @typedef {{after: string, at: number, kind: string, length: number, heldBefore: number, heldBehind: number}} Cut
 * @typedef {{id: string, name: string, start: number, length: number, clips: number}} Scene
 * @typedef {{rev: number, name: string, length: number, frames: number, rate: number[], formats: Format[], channels: string[], own_channel: string, main: Row[], tracks: Track[],
 *   cuts: Cut[], scenes: Scene[], notes: {id: string, at: number, text: string}[], front: string[],
 *   opens: [string, number]|null, closes: [string, number]|null, boxes: Record<string, Record<string, Box>>,
 *   select: string[], sentence: string, notice: string}} State
 * @typedef {{row: Row, lane: "main"|"layer"|"sound", track: Track|null, place: number}} Known
 */

import { stateWith } from "./state.js";

const root = /** @type {HTMLElement} */ (document.getElementById("editor"));
/** Ticks in a second: times on their way to the server are whole numbers of these. */
const TICKS = Number(root.dataset.ticks);
const promoId = root.dataset.promo ?? "";

/** @returns {State} */
const read = () => JSON.parse(document.getElementById("state")?.textContent ?? "{}");

export const model = {
  /** Where the promo lies on the server. */
  url: root.dataset.base ?? "",
  state: read(),
  /** The playhead, in frames. */
  frame: 0,
  playing: false,
  /** Whether all formats stand side by side on the stage. */
  beside: false,
  format: "",
  /** @type {Set<string>} */
  selected: new Set(),
  /** The cell of the collage selected that is worked on. */
  cell: "",
  /** Marked range, seconds. @type {{start: number|null, end: number|null}} */
  range: { start: null, end: null },
  /** Notes of people on the promo, where they are now.
   * @type {{id: string, at: number, lasts: number, text: string, who: string, done: boolean, there: boolean,
   *   format: string, strokes: number[][][]}[]} */
  review: [],
  /** Frames in a second. */
  get fps() {
    return this.state.rate[0] / this.state.rate[1];
  },
  /** Frames in the whole promo. */
  get frameCount() {
    return this.state.frames;
  },
  /** The playhead, in seconds. */
  get time() {
    return this.frame / this.fps;
  },
};

/** Every clip and item by identifier. @type {Map<string, Known>} */
export const known = new Map();
function learn() {
  known.clear();
  model.state.main.forEach((row, place) => known.set(row.id, { row, lane: "main", track: null, place }));
  for (const track of model.state.tracks)
    track.rows.forEach((row, place) => known.set(row.id, { row, lane: track.kind, track, place }));
}
learn();

const key = `glowreel:${promoId}`;
/** What is remembered of this promo on this machine. */
export const remembered = JSON.parse(localStorage.getItem(key) ?? "{}");
/** @param {Record<string, unknown>} values */
export function remember(values) {
  Object.assign(remembered, values);
  localStorage.setItem(key, JSON.stringify(remembered));
}

/** @type {Map<string, Set<(detail?: any) => void>>} */
const listeners = new Map();
/**
 * @param {"changed"|"moved"|"selected"|"format"|"played"|"range"|"laid"|"scrubbed"|"dressed"|"made"|"shelved"} what
 * @param {(detail?: any) => void} listener
 */
export function on(what, listener) {
  if (!listeners.has(what)) listeners.set(what, new Set());
  listeners.get(what)?.add(listener);
}
/** @param {string} what @param {any} [detail] */
export function tell(what, detail) {
  listeners.get(what)?.forEach((listener) => listener(detail));
}

export const seconds = (/** @type {number} */ frame) => frame / model.fps;
/** Seconds to ticks, on the frame grid. @param {number} value */
export const gridTicks = (value) =>
  Math.round((Math.round(value * model.fps) * TICKS * model.state.rate[1]) / model.state.rate[0]);
/** @param {number} value */
export const ticks = (value) => Math.round(value * TICKS);
export const currentFormat = () =>
  model.state.formats.find((format) => format.id === model.format) ?? model.state.formats[0];
/** @param {Row} row */
export const endOf = (row) => row.start + row.length;
/** The clip of the main track at a time. @param {number} time */
export const clipAt = (time) =>
  model.state.main.find((row) => time >= row.start && time < endOf(row)) ?? null;
/** The scene at a time. @param {number} time */
export const sceneAt = (time) =>
  model.state.scenes.find((scene) => time >= scene.start && time < scene.start + scene.length) ?? null;

/** A time as people read it. @param {number} value seconds */
export function clock(value) {
  const hundredths = Math.floor(Math.max(0, value) * 100 + 1e-4);
  const two = (/** @type {number} */ n) => String(n).padStart(2, "0");
  return `${Math.floor(hundredths / 6000)}:${two(Math.floor(hundredths / 100) % 60)}.${two(hundredths % 100)}`;
}

/** Seconds from what people type: `1.5`, `90f`, `0:03.5`, `1,5`; NaN where it is none. @param {string} text */
export function typed(text) {
  const plain = text.trim().replace(",", ".");
  if (/^\d+f$/i.test(plain)) return parseInt(plain, 10) / model.fps;
  const parts = plain.replace(/s$/i, "").trim().split(":");
  if (parts.some((part) => !/^\d*\.?\d*$/.test(part) || part === "")) return NaN;
  return parts.reduce((sum, part) => sum * 60 + Number(part), 0);
}

/**
 * Puts the playhead on a frame, inside the promo.
 * @param {number} frame
 * @param {{quiet?: boolean, follow?: boolean}} [options]
 */
export function moveTo(frame, options = {}) {
  const last = Math.max(0, model.frameCount - 1);
  model.frame = Math.min(last, Math.max(0, Math.round(frame)));
  tell("moved", options);
}

/**
 * Selects these, and whatever is grouped with them.
 * @param {Iterable<string>} ids
 * @param {{alone?: boolean}} [options]
 */
export function select(ids, options = {}) {
  const chosen = new Set(ids);
  if (!options.alone) {
    const groups = new Set([...chosen].map((id) => known.get(id)?.row.group).filter(Boolean));
    if (groups.size)
      for (const [id, { row }] of known) if (row.group && groups.has(row.group)) chosen.add(id);
  }
  model.selected = chosen;
  model.cell = "";
  tell("selected");
}

/** Reads the state again after the server has answered. */
export function refresh() {
  const state = stateWith(model.state, read());
  if (!state) return false;
  model.state = state;
  learn();
  if (!model.state.formats.some((format) => format.id === model.format))
    model.format = model.state.formats[0].id;
  model.selected = new Set(model.state.select);
  const last = Math.max(0, model.frameCount - 1);
  const beyond = model.frame > last;
  if (beyond) model.frame = last;
  tell("changed");
  if (beyond) tell("moved", {});
  return true;
}
