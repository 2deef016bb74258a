// @ts-check
/** Dragging on the timeline: order and trim clips, move and trim layers and sounds. Each drag ends in one command. */

import { send } from "./commands.js";
import { clock, fps, gridTicks, model, moveTo, select, ticks } from "./model.js";
import { layOut, perSecond, snapTimes, snapTo, timeAt, scroll, headWidth } from "./timeline.js";

const mark = /** @type {HTMLElement} */ (document.getElementById("drop-mark"));
const number = /** @type {HTMLElement} */ (document.getElementById("drag-ghost"));

/** The clip boxes of the main track, in order. @returns {HTMLElement[]} */
const clips = () => [...document.querySelectorAll(".tl-main .item")].map((c) => /** @type {HTMLElement} */ (c));

/** Shows a line at a time of the timeline. @param {number|null} time */
export function showMark(time) {
  mark.hidden = time === null;
  if (time !== null) mark.style.left = `${headWidth() + time * perSecond()}px`;
}

/** @param {PointerEvent} event @param {string} text */
export function sayAt(event, text) {
  number.hidden = false;
  number.textContent = text;
  number.style.transform = `translate(${event.clientX + 14}px, ${event.clientY - 30}px)`;
}
export const hush = () => { number.hidden = true; };

/** The main-track clip before which something at a time would go, and where that is. @param {number} time @param {Set<string>} [without] */
export function mainPlace(time, without = new Set()) {
  let at = 0;
  for (const clip of clips()) {
    const start = Number(clip.dataset.start);
    const length = Number(clip.dataset.length);
    if (!without.has(clip.dataset.id ?? "") && time < start + length / 2) return { before: clip.dataset.id ?? null, at: start };
    at = start + length;
  }
  return { before: null, at };
}

/** Runs a drag: `move` for each step, `done` at the end unless it was escaped. @param {PointerEvent} event @param {(e: PointerEvent, dx: number) => void} move @param {(moved: boolean) => void} done */
function drag(event, move, done) {
  const from = event.clientX;
  const high = event.clientY;
  let moved = false;
  const step = (/** @type {PointerEvent} */ e) => {
    if (!moved && Math.hypot(e.clientX - from, e.clientY - high) < 4) return;
    moved = true;
    const box = scroll.getBoundingClientRect();
    if (e.clientX > box.right - 24) scroll.scrollLeft += 12;
    if (e.clientX < box.left + headWidth() + 12) scroll.scrollLeft -= 12;
    move(e, (e.clientX - from) / perSecond());
  };
  const end = (/** @type {Event} */ e) => {
    window.removeEventListener("pointermove", step);
    window.removeEventListener("pointerup", end);
    window.removeEventListener("pointercancel", end);
    document.removeEventListener("keydown", escape, true);
    hush();
    showMark(null);
    for (const lane of document.querySelectorAll(".is-target")) lane.classList.remove("is-target");
    const kept = moved && e.type === "pointerup";
    done(kept);
    if (!kept) layOut();
  };
  const escape = (/** @type {KeyboardEvent} */ e) => { if (e.key === "Escape") { e.stopPropagation(); end(e); } };
  window.addEventListener("pointermove", step);
  window.addEventListener("pointerup", end);
  window.addEventListener("pointercancel", end);
  document.addEventListener("keydown", escape, true);
}

/** @param {PointerEvent} event @param {HTMLElement} box */
function trim(event, box) {
  const edge = /** @type {"start"|"end"} */ (/** @type {HTMLElement} */ (event.target).dataset.grip);
  const start = Number(box.dataset.start);
  const length = Number(box.dataset.length);
  const id = box.dataset.id ?? "";
  const main = box.closest(".tl-main") !== null;
  const sound = box.dataset.kind === "sound";
  const timed = box.dataset.kind === "footage" || sound || (box.dataset.kind === "picture" && Number(box.dataset.limit) < 600);
  const most = edge === "end" ? Number(box.dataset.limit) : length + (timed ? Number(box.dataset.source) : main ? 600 : start);
  const times = snapTimes(new Set([id]));
  let wanted = length;
  drag(event, (e, dx) => {
    const near = snapTo(edge === "end" ? start + length + dx : start + dx, times, e.ctrlKey);
    wanted = edge === "end" ? near.time - start : start + length - near.time;
    wanted = Math.min(most, Math.max(1 / fps(), wanted));
    if (!sound) wanted = Math.round(wanted * fps()) / fps();
    box.style.width = `${wanted * perSecond() - 1.5}px`;
    if (edge === "start") box.style.left = `${(start + length - wanted) * perSecond()}px`;
    const limit = Math.abs(wanted - most) < 1e-6 ? " · no more there" : "";
    sayAt(e, `${clock(wanted)} (${wanted >= length ? "+" : "−"}${clock(Math.abs(wanted - length))})${limit}`);
    showMark(near.hit ? near.time : null);
    if (main && box.dataset.kind === "footage" && edge === "end" && start + wanted <= model.state.length) moveTo((start + wanted) * fps() - 1);
  }, (kept) => {
    if (kept && Math.abs(wanted - length) > 1e-6) send({ do: "trim", item: id, edge, length: sound ? ticks(wanted) : gridTicks(wanted) });
    else layOut();
  });
}

/** @param {PointerEvent} event @param {HTMLElement} box */
function moveClip(event, box) {
  const id = box.dataset.id ?? "";
  const chosen = model.selected.has(id) ? clips().map((c) => c.dataset.id ?? "").filter((c) => model.selected.has(c)) : [id];
  const without = new Set(chosen);
  let place = mainPlace(Number(box.dataset.start));
  const start = Number(box.dataset.start);
  drag(event, (e, dx) => {
    box.classList.add("is-ghost");
    box.style.left = `${(start + dx) * perSecond()}px`;
    place = mainPlace(timeAt(e.clientX), without);
    showMark(place.at);
    sayAt(e, chosen.length > 1 ? `${chosen.length} clips` : box.getAttribute("aria-label")?.split(",")[0] ?? "");
  }, (kept) => {
    box.classList.remove("is-ghost");
    if (kept) send({ do: "move-clips", clips: chosen, before: place.before });
    layOut();
  });
}

/** The lane under the pointer that takes this kind of item. @param {PointerEvent} event @param {string} lane */
function laneAt(event, lane) {
  const under = document.elementsFromPoint(event.clientX, event.clientY).find((e) => e.classList.contains("tl-lane"));
  return under instanceof HTMLElement && under.dataset.lane === lane ? under : null;
}

/** @param {PointerEvent} event @param {HTMLElement} box */
function moveItem(event, box) {
  const id = box.dataset.id ?? "";
  const sound = box.dataset.kind === "sound";
  const start = Number(box.dataset.start);
  const length = Number(box.dataset.length);
  const times = snapTimes(new Set([id]));
  let at = start;
  let track = box.dataset.track ?? "";
  drag(event, (e, dx) => {
    box.classList.add("is-ghost");
    const head = snapTo(start + dx, times, e.ctrlKey);
    const tail = snapTo(start + dx + length, times, e.ctrlKey);
    at = Math.max(0, head.hit ? head.time : tail.hit ? tail.time - length : start + dx);
    if (!sound) at = Math.round(at * fps()) / fps();
    box.style.left = `${at * perSecond()}px`;
    showMark(head.hit ? head.time : tail.hit ? tail.time : null);
    const lane = laneAt(e, sound ? "sound" : "layer");
    for (const other of document.querySelectorAll(".is-target")) other.classList.remove("is-target");
    lane?.classList.add("is-target");
    track = lane?.dataset.track ?? box.dataset.track ?? "";
    sayAt(e, `${clock(at)} (${at >= start ? "+" : "−"}${clock(Math.abs(at - start))})`);
  }, (kept) => {
    box.classList.remove("is-ghost");
    if (kept && (Math.abs(at - start) > 1e-6 || track !== box.dataset.track))
      send({ do: "move-item", item: id, at: sound ? ticks(at) : gridTicks(at), track: track === box.dataset.track ? null : track });
    layOut();
  });
}

document.addEventListener("pointerdown", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const box = /** @type {HTMLElement|null} */ (target.closest("#lanes .item"));
  if (!box || event.button) return;
  const id = box.dataset.id ?? "";
  if (event.ctrlKey || event.metaKey || event.shiftKey) {
    const chosen = new Set(model.selected);
    if (chosen.has(id)) chosen.delete(id); else chosen.add(id);
    select(chosen);
    return;
  }
  if (!model.selected.has(id)) select([id]);
  if (target.dataset.grip) trim(event, box);
  else if (box.closest(".tl-main")) moveClip(event, box);
  else moveItem(event, box);
});
document.addEventListener("keydown", (event) => {
  const box = /** @type {HTMLElement} */ (event.target);
  if (box.matches?.("#lanes .item") && event.key === "Enter") { event.preventDefault(); select([box.dataset.id ?? ""]); }
});
document.addEventListener("click", (event) => {
  const cut = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest(".cut"));
  if (!cut) return;
  if (cut.classList.contains("has-transition")) select([cut.dataset.cut ?? ""]);
  else send({ do: "set-transition", after: cut.dataset.cut });
});
