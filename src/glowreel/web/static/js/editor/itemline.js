// @ts-check
/**
 * The line on an item: how loud it is where it is heard, else how much of it is seen. On the selected item a drag of
 * the line or a double press on it adds a point, dragging moves a point, a double press takes it away.
 */

import { follow } from "./follow.js";
import { send } from "./commands.js";
import { sayAt, hush } from "./drag.js";
import { gridTicks, known, ticks } from "./model.js";
import { perSecond } from "./timeline.js";

const SVG = "http://www.w3.org/2000/svg";
const LOWEST = -40;
const LOUDEST = 12;
const TOP = 6;
const ROOM = 88;

/** @typedef {import("./model.js").Row} Row */

/** @param {Row} row */
const heard = (row) => row.kind === "sound" || Boolean(row.sounding);
/** How far down of the box a value lies, in hundredths. @param {Row} row @param {number} value */
const down = (row, value) => {
  const share = heard(row) ? (value - LOWEST) / (LOUDEST - LOWEST) : value;
  return TOP + ROOM * (1 - Math.min(1, Math.max(0, share)));
};
/** The value at a height in the box. @param {Row} row @param {number} height hundredths */
function valueAt(row, height) {
  const share = Math.min(1, Math.max(0, 1 - (height - TOP) / ROOM));
  if (!heard(row)) return Math.round(share * 100) / 100;
  return share === 0 ? -60 : Math.round((LOWEST + share * (LOUDEST - LOWEST)) * 2) / 2;
}
/** @param {Row} row @param {number} value */
const said = (row, value) =>
  heard(row) ? `${value.toFixed(1).replace("-", "−")} dB` : `${Math.round(value * 100)} %`;
/** Which property it is. @param {Row} row */
const named = (row) => (heard(row) ? "gain" : "opacity");

/** @param {Row} row @returns {[number, number, string][]} */
const pointsOf = (row) => row.line ?? [[0, heard(row) ? (row.gain ?? 0) : (row.opacity ?? 1), "straight"]];

/** The height of the line at a time since the item begins. @param {Row} row @param {number} since */
function heightAt(row, since) {
  const points = pointsOf(row);
  let place = points.findIndex((point) => point[0] > since);
  if (place < 0) place = points.length;
  const before = points[Math.max(0, place - 1)];
  const behind = points[Math.min(points.length - 1, place)];
  const span = behind[0] - before[0];
  const share = span > 0 && before[2] !== "hold" ? Math.min(1, Math.max(0, (since - before[0]) / span)) : 0;
  return down(row, before[1] + (behind[1] - before[1]) * share);
}

/**
 * The line and its points, to be put in the box of an item.
 * @param {Row} row
 * @returns {HTMLElement[]}
 */
export function lineOf(row) {
  if (row.kind === "filler" || !row.length) return [];
  const holder = document.createElement("span");
  holder.className = `item-line is-${named(row)}${row.line ? " is-moving" : ""}`;
  const svg = document.createElementNS(SVG, "svg");
  svg.setAttribute("viewBox", "0 0 100 100");
  svg.setAttribute("preserveAspectRatio", "none");
  const inner = pointsOf(row).filter((point) => point[0] > 0 && point[0] < row.length);
  /** @type {string[]} */
  const corners = [`0,${heightAt(row, 0).toFixed(2)}`];
  let last = heightAt(row, 0);
  for (const [since, value] of inner) {
    const across = ((since / row.length) * 100).toFixed(3);
    const low = down(row, value);
    const from = heightAt(row, since - 1e-6);
    if (Math.abs(from - low) > 0.01) corners.push(`${across},${from.toFixed(2)}`);
    corners.push(`${across},${low.toFixed(2)}`);
    last = low;
  }
  corners.push(`100,${heightAt(row, row.length).toFixed(2) || last}`);
  for (const look of ["line-hit", "line-seen"]) {
    const path = document.createElementNS(SVG, "polyline");
    path.setAttribute("class", look);
    path.setAttribute("points", corners.join(" "));
    svg.append(path);
  }
  holder.append(svg);
  for (const [since, value] of row.line ?? []) {
    if (since < -1e-6 || since > row.length + 1e-6) continue;
    const dot = document.createElement("span");
    dot.className = "line-point";
    dot.dataset.since = String(since);
    dot.style.left = `${(since / row.length) * 100}%`;
    dot.style.top = `${down(row, value)}%`;
    dot.title = `${said(row, value)}: drag it; a double press takes it away`;
    holder.append(dot);
  }
  return [holder];
}

/** @param {PointerEvent} event */
function press(event) {
  const target = /** @type {Element} */ (event.target);
  const dot = /** @type {HTMLElement|null} */ (target.closest(".line-point"));
  if (event.button || (!dot && !target.closest(".line-hit"))) return;
  const box = /** @type {HTMLElement|null} */ (target.closest("#lanes .item.is-chosen"));
  const it = box && known.get(box.dataset.id ?? "");
  if (!box || !it || it.track?.locked) return;
  event.stopPropagation();
  event.preventDefault();
  const { row } = it;
  const area = box.getBoundingClientRect();
  const begin = dot ? Number(dot.dataset.since) : (event.clientX - area.left) / perSecond();
  const old = pointsOf(row).find((point) => point[0] === begin)?.[1];
  let since = begin;
  let value = old ?? valueAt(row, heightAt(row, begin));
  const first = value;
  const move = (/** @type {PointerEvent} */ pointer) => {
    // Up and down changes the value; along changes the time only of a point that was there, or with Alt held.
    value = valueAt(row, ((pointer.clientY - area.top) / area.height) * 100);
    if (dot && !pointer.shiftKey)
      since = Math.min(row.length, Math.max(0, begin + (pointer.clientX - event.clientX) / perSecond()));
    sayAt(pointer, said(row, value));
    if (dot) {
      dot.style.left = `${(since / row.length) * 100}%`;
      dot.style.top = `${down(row, value)}%`;
    }
  };
  const end = (/** @type {boolean} */ given, /** @type {boolean} */ went) => {
    hush();
    if (!given) return;
    const at = ticks(row.start + begin);
    // A press alone adds nothing: it is how one selects.
    if (!dot && went)
      send({ do: "add-point", item: row.id, name: named(row), at: gridTicks(row.start + begin), value });
    else if (dot && went && (value !== first || Math.abs(since - begin) * perSecond() > 2))
      send({ do: "move-point", item: row.id, name: named(row), at, to: gridTicks(row.start + since), value });
  };
  follow(event, { move, end });
}
document.addEventListener("pointerdown", press, true);
document.addEventListener("dblclick", (event) => {
  const target = /** @type {Element} */ (event.target);
  const box = /** @type {HTMLElement|null} */ (target.closest("#lanes .item.is-chosen"));
  const dot = /** @type {HTMLElement|null} */ (target.closest(".line-point"));
  const it = box && known.get(box.dataset.id ?? "");
  if (!it || it.track?.locked || (!dot && !target.closest(".line-hit"))) return;
  event.stopPropagation();
  const { row } = it;
  const name = named(row);
  if (dot) {
    send({ do: "remove-point", item: row.id, name, at: ticks(row.start + Number(dot.dataset.since)) });
    return;
  }
  const since = (event.clientX - box.getBoundingClientRect().left) / perSecond();
  const value = valueAt(row, heightAt(row, since));
  send({ do: "add-point", item: row.id, name, at: gridTicks(row.start + since), value });
});
