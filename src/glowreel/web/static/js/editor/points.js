// @ts-check
/**
 * The lane of points: under the selected item, a line for each of its properties that changes over time. Points are
 * dragged along it; a press goes there; a double press, or Delete, takes one away.
 */

import { send } from "./commands.js";
import { endOf, gridTicks, known, model, moveTo, on, ticks } from "./model.js";
import { perSecond, snapTimes, snapTo } from "./timeline.js";

const lanes = /** @type {HTMLElement} */ (document.getElementById("lanes")?.parentElement);
/** @typedef {{name: string, label: string, format: string, points: [number, string][]}} Line */

/** The one thing selected that changes over time. */
function subject() {
  const id = [...model.selected][0] ?? "";
  const found = model.selected.size === 1 ? known.get(id) : undefined;
  return found?.row.curves?.length ? found : null;
}

/** @param {string} name @param {string} look @param {string} [words] */
function element(name, look, words = "") {
  const part = document.createElement(name);
  part.className = look;
  part.textContent = words;
  return part;
}

/** Draws the lane under the row of the selected item, or takes it away. */
function paint() {
  const focus = document.activeElement;
  const again = focus instanceof HTMLElement && focus.classList.contains("point") ? focus.dataset.key : "";
  document.querySelector(".tl-points")?.remove();
  const found = subject();
  if (!found) return;
  const lane = document.querySelector(
    found.lane === "main" ? '[data-lane="main"]' : `[data-track="${CSS.escape(found.track?.id ?? "")}"]`,
  );
  const under = lane?.closest(".tl-row");
  if (!under) return;
  const row = element("div", "tl-row tl-points");
  const head = element("div", "tl-head");
  const room = element("div", "tl-lane");
  const lines = /** @type {Line[]} */ (found.row.curves);
  row.style.setProperty("--lines", String(lines.length));
  lines.forEach((line, place) => {
    const where = model.state.formats.find((format) => format.id === line.format)?.name;
    head.append(element("span", "points-name", where ? `${line.label} in ${where}` : line.label));
    drawLine(room, found.row, line, place);
  });
  row.append(head, room);
  under.after(row);
  if (again)
    /** @type {HTMLElement|null} */ (row.querySelector(`[data-key="${CSS.escape(again)}"]`))?.focus();
}

/**
 * One property: its stretch and its points.
 * @param {HTMLElement} room
 * @param {import("./model.js").Row} row
 * @param {Line} line
 * @param {number} place
 */
function drawLine(room, row, line, place) {
  const stretch = element("span", "points-line");
  stretch.style.left = `${row.start * perSecond()}px`;
  stretch.style.width = `${row.length * perSecond()}px`;
  stretch.style.setProperty("--place", String(place));
  room.append(stretch);
  for (const [since, ease] of line.points) {
    if (since < -1e-6 || since > row.length + 1e-6) continue;
    const at = row.start + since;
    const point = element("button", `point is-${ease}`);
    point.setAttribute("type", "button");
    point.style.left = `${at * perSecond()}px`;
    point.style.setProperty("--place", String(place));
    point.dataset.key = `${line.name}|${line.format}|${since.toFixed(4)}`;
    point.setAttribute("aria-label", `${line.label}: point at ${at.toFixed(2)} s`);
    point.title = `${line.label} at ${at.toFixed(2)} s. Drag it, with Alt a copy of it; a double press takes it away.`;
    point.addEventListener("pointerdown", (event) => drag(event, point, row, line, at));
    point.addEventListener("dblclick", () => remove(row.id, line, at));
    point.addEventListener("keydown", (event) => keys(event, row, line, at));
    room.append(point);
  }
}

/** What all commands about a point say. @param {string} item @param {Line} line @param {number} at */
const of = (item, line, at) => ({ item, name: line.name, at: ticks(at), format: line.format || null });

/** @param {string} item @param {Line} line @param {number} at */
const remove = (item, line, at) => send({ do: "remove-point", ...of(item, line, at) });

/** @param {string} item @param {Line} line @param {number} at @param {number} to */
const shift = (item, line, at, to) =>
  send({ do: "move-point", ...of(item, line, at), to: gridTicks(Math.max(0, to)) });

/**
 * @param {KeyboardEvent} event
 * @param {import("./model.js").Row} row
 * @param {Line} line
 * @param {number} at
 */
function keys(event, row, line, at) {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (by) shift(row.id, line, at, at + (by * (event.shiftKey ? model.fps : 1)) / model.fps);
  else if (event.key === "Delete" || event.key === "Backspace") remove(row.id, line, at);
  else if (event.key === "Enter" || event.key === " ") moveTo(Math.round(at * model.fps));
  else return;
  event.preventDefault();
  event.stopPropagation();
}

/**
 * @param {PointerEvent} event
 * @param {HTMLElement} point
 * @param {import("./model.js").Row} row
 * @param {Line} line
 * @param {number} at
 */
function drag(event, point, row, line, at) {
  if (event.button) return;
  event.stopPropagation();
  point.setPointerCapture(event.pointerId);
  const times = snapTimes();
  let to = at;
  let copied = event.altKey;
  const move = (/** @type {PointerEvent} */ pointer) => {
    copied = pointer.altKey;
    const wanted = at + (pointer.clientX - event.clientX) / perSecond();
    const held = Math.min(endOf(row), Math.max(row.start, wanted));
    to = snapTo(held, times, pointer.ctrlKey).time;
    point.style.left = `${to * perSecond()}px`;
    point.title = `${line.label} at ${to.toFixed(2)} s`;
  };
  const escape = (/** @type {KeyboardEvent} */ key) => {
    if (key.key !== "Escape") return;
    key.stopPropagation();
    end(key);
  };
  const end = (/** @type {Event} */ ending) => {
    point.removeEventListener("pointermove", move);
    point.removeEventListener("pointerup", end);
    point.removeEventListener("pointercancel", end);
    document.removeEventListener("keydown", escape, true);
    const far = Math.abs(to - at) * perSecond() > 2;
    if (ending.type !== "pointerup") paint();
    else if (far && copied)
      send({ do: "move-point", ...of(row.id, line, at), to: gridTicks(to), copy_it: true });
    else if (far) shift(row.id, line, at, to);
    else moveTo(Math.round(at * model.fps));
  };
  point.addEventListener("pointermove", move);
  point.addEventListener("pointerup", end);
  point.addEventListener("pointercancel", end);
  document.addEventListener("keydown", escape, true);
}

on("changed", paint);
on("selected", paint);
on("laid", paint);
if (lanes) paint();
