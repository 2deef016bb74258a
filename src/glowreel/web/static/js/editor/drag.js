// @ts-check
/** What every drag on the timeline shares: the threshold, scrolling at the edges, the number beside the pointer, Esc. */

import { headWidth, layOut, perSecond, scroll } from "./timeline.js";

const mark = /** @type {HTMLElement} */ (document.getElementById("drop-mark"));
const number = /** @type {HTMLElement} */ (document.getElementById("drag-ghost"));

/** Shows a line at a time of the timeline. @param {number|null} time */
export function showMark(time) {
  mark.hidden = time === null;
  if (time !== null) mark.style.left = `${headWidth() + time * perSecond()}px`;
}

/** @param {{clientX: number, clientY: number}} event @param {string} text */
export function sayAt(event, text) {
  number.hidden = false;
  number.textContent = text;
  const left = Math.min(event.clientX + 14, window.innerWidth - number.offsetWidth - 8);
  number.style.transform = `translate(${left}px, ${event.clientY - 30}px)`;
}
export const hush = () => {
  number.hidden = true;
};

/** Marks the lane under the pointer. @param {Element|null} lane */
export function aim(lane) {
  for (const other of document.querySelectorAll(".is-target"))
    if (other !== lane) other.classList.remove("is-target");
  lane?.classList.add("is-target");
}

/**
 * Runs a drag: `move` for each step, `done` at the end with whether it is to be kept: it was moved and not escaped.
 * @param {PointerEvent} event @param {(e: PointerEvent, dx: number) => void} move @param {(kept: boolean) => void} done
 */
export function drag(event, move, done) {
  const from = event.clientX + scroll.scrollLeft;
  const start = { x: event.clientX, y: event.clientY };
  let moved = false;
  const step = (/** @type {PointerEvent} */ pointer) => {
    if (!moved && Math.hypot(pointer.clientX - start.x, pointer.clientY - start.y) < 4) return;
    moved = true;
    const box = scroll.getBoundingClientRect();
    if (pointer.clientX > box.right - 24) scroll.scrollLeft += 12;
    if (pointer.clientX < box.left + headWidth() + 12) scroll.scrollLeft -= 12;
    move(pointer, (pointer.clientX + scroll.scrollLeft - from) / perSecond());
  };
  const end = (/** @type {Event} */ pointer) => {
    for (const [name, run] of runs) window.removeEventListener(name, run);
    document.removeEventListener("keydown", escape, true);
    hush();
    showMark(null);
    aim(null);
    const kept = moved && pointer.type === "pointerup";
    done(kept);
    if (!kept) layOut();
  };
  const escape = (/** @type {KeyboardEvent} */ pointer) => {
    if (pointer.key === "Escape") {
      pointer.stopPropagation();
      end(pointer);
    }
  };
  const runs = /** @type {[string, any][]} */ ([
    ["pointermove", step],
    ["pointerup", end],
    ["pointercancel", end],
  ]);
  for (const [name, run] of runs) window.addEventListener(name, run);
  document.addEventListener("keydown", escape, true);
}
