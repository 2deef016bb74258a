// @ts-check
/** The parts of lanes that are in the page: made once, put in the order of time, taken away when out of sight. */

import { endOf, known } from "./model.js";
import { perSecond } from "./timeline.js";

/** Boxes in the page, by what they stand for. @type {Map<string, HTMLElement>} */
export const made = new Map();

/** @param {string} name @param {string} look @param {string} [words] */
export function element(name, look, words) {
  const part = document.createElement(name);
  part.className = look;
  if (words) part.textContent = words;
  return part;
}

/** @param {HTMLElement} parent @param {string} icon @param {string} [look] */
export function icon(parent, icon, look = "") {
  const mark = element("i", `bi bi-${icon} ${look}`);
  mark.setAttribute("aria-hidden", "true");
  parent.append(mark);
}

/** @param {string} key @param {() => HTMLElement} make */
export function kept(key, make) {
  let part = made.get(key);
  if (!part) {
    part = make();
    made.set(key, part);
  }
  return part;
}

/**
 * Puts a box where its time says.
 * @param {HTMLElement} box
 * @param {number} start
 * @param {number} length
 * @param {number} [least]
 */
export function lay(box, start, length, least = 2) {
  box.style.left = `${start * perSecond()}px`;
  box.style.width = `${Math.max(least, length * perSecond() - 1.5)}px`;
}

/** The first row that ends after a time, by halving. @param {import("./model.js").Row[]} rows @param {number} time */
export function firstAfter(rows, time) {
  let low = 0;
  let high = rows.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (endOf(rows[middle]) <= time) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** @type {Set<string>} */
let used = new Set();
/**
 * Where each lane has got to: parts stand in the page in the order of time, so that Tab goes through them in it.
 * @type {Map<HTMLElement, Element|null>}
 */
let last = new Map();

/** @param {HTMLElement} lane @param {string} key @param {HTMLElement} part */
export function put(lane, key, part) {
  used.add(key);
  let next = last.get(lane)
    ? /** @type {Element} */ (last.get(lane)).nextElementSibling
    : lane.firstElementChild;
  // What is passed over has gone out of sight or will be put further on.
  while (next && next !== part && !wanted(next)) next = next.nextElementSibling;
  if (next !== part) lane.insertBefore(part, next);
  last.set(lane, part);
}

/** Whether a part of a lane stands for something that is still in the promo. @param {Element} part */
const wanted = (part) =>
  part instanceof HTMLElement && Boolean(part.dataset.id) && known.has(part.dataset.id ?? "");

/** Begins anew: nothing is on show until it is put there. */
export function clear() {
  used = new Set();
  last = new Map();
}

/** Takes away what was not put on a lane since it was cleared. */
export function sweep() {
  for (const [key, part] of made) {
    if (used.has(key) || part.classList.contains("is-ghost")) continue;
    // Whoever has the focus stays, so that the keyboard does not lose its place; unless it is gone from the promo.
    if (part.contains(document.activeElement) && known.has(key)) continue;
    part.remove();
    made.delete(key);
  }
}

/** The box of a clip or item, if it is in sight. @param {string} id */
export const boxFor = (id) => made.get(id) ?? null;
