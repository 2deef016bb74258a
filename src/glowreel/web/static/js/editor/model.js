// @ts-check
/** What the page knows of the promo, where the playhead is, and what is selected. The server's word, never our own. */

/**
 * @typedef {{id: string, name: string, wide: number, high: number, safe: number[]}} Shape
 * @typedef {{x: number, y: number, w: number, h: number, size: number, wrap: number, turn: number, own: boolean}} Box
 * @typedef {{rev: number, name: string, length: number, rate: number[], formats: Shape[], scenes: number[][],
 *   layers: {id: string, kind: string, start: number, end: number}[], boxes: Record<string, Record<string, Box>>,
 *   select: string[], words: string, notice: string}} State
 */

export const TICKS = 705600000;
const root = /** @type {HTMLElement} */ (document.getElementById("editor"));
export const base = root.dataset.base ?? "";

/** @returns {State} */
const read = () => JSON.parse(document.getElementById("state")?.dataset.state ?? "{}");

export const model = {
  state: read(),
  frame: 0,
  playing: false,
  format: "",
  /** @type {Set<string>} */
  selected: new Set(),
};

const key = `glowreel:${root.dataset.promo}`;
/** What is remembered of this promo on this machine. */
export const remembered = JSON.parse(localStorage.getItem(key) ?? "{}");
/** @param {Record<string, unknown>} values */
export function remember(values) {
  Object.assign(remembered, values);
  localStorage.setItem(key, JSON.stringify(remembered));
}

/** @type {Map<string, Set<(detail?: any) => void>>} */
const listeners = new Map();
/** @param {"changed"|"moved"|"selected"|"format"|"played"} what @param {(detail?: any) => void} listener */
export function on(what, listener) {
  if (!listeners.has(what)) listeners.set(what, new Set());
  listeners.get(what)?.add(listener);
}
/** @param {string} what @param {any} [detail] */
export function tell(what, detail) {
  listeners.get(what)?.forEach((listener) => listener(detail));
}

export const fps = () => model.state.rate[0] / model.state.rate[1];
export const frames = () => Math.max(0, Math.round(model.state.length * fps()));
export const seconds = (/** @type {number} */ frame) => frame / fps();
/** Seconds to ticks, on the frame grid. @param {number} value */
export const gridTicks = (value) => Math.round((Math.round(value * fps()) * TICKS * model.state.rate[1]) / model.state.rate[0]);
/** @param {number} value */
export const ticks = (value) => Math.round(value * TICKS);
export const shape = () => model.state.formats.find((f) => f.id === model.format) ?? model.state.formats[0];

/** A time as people read it. @param {number} value seconds */
export function clock(value) {
  const hundredths = Math.round(Math.max(0, value) * 100);
  const two = (/** @type {number} */ n) => String(n).padStart(2, "0");
  return `${Math.floor(hundredths / 6000)}:${two(Math.floor(hundredths / 100) % 60)}.${two(hundredths % 100)}`;
}

/** Seconds from what people type: `1.5`, `90f`, `0:03.5`, `1,5`; NaN where it is none. @param {string} text */
export function typed(text) {
  const plain = text.trim().replace(",", ".");
  if (/^\d+f$/i.test(plain)) return parseInt(plain, 10) / fps();
  const parts = plain.replace(/s$/i, "").split(":");
  if (parts.some((part) => !/^\d*\.?\d*$/.test(part) || part === "")) return NaN;
  return parts.reduce((sum, part) => sum * 60 + Number(part), 0);
}

/** Puts the playhead on a frame, inside the promo. @param {number} frame @param {{quiet?: boolean}} [options] */
export function moveTo(frame, options = {}) {
  const last = Math.max(0, frames() - 1);
  model.frame = Math.min(last, Math.max(0, Math.round(frame)));
  tell("moved", options);
}

/** @param {Iterable<string>} ids */
export function select(ids) {
  model.selected = new Set(ids);
  tell("selected");
}

/** Reads the state again after the server has answered. */
export function refresh() {
  model.state = read();
  if (!model.state.formats.some((f) => f.id === model.format)) model.format = model.state.formats[0].id;
  model.selected = new Set(model.state.select);
  if (model.frame > Math.max(0, frames() - 1)) model.frame = Math.max(0, frames() - 1);
  tell("changed");
}
