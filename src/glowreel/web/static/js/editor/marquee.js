// @ts-check
/** The empty parts of the lanes: a press puts the playhead there, a drag selects what it touches. */

import { drag } from "./drag.js";
import { endOf, model, moveTo, select } from "./model.js";
import { headWidth, perSecond, scroll, timeAt } from "./timeline.js";

const band = /** @type {HTMLElement} */ (document.getElementById("rubber-band"));

/** Rows on the lanes between two heights of the screen. @param {number} top @param {number} bottom */
function rowsBetween(top, bottom) {
  const rows = [];
  for (const lane of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("#lanes .tl-lane"))) {
    const box = lane.getBoundingClientRect();
    if (box.bottom < top || box.top > bottom) continue;
    if (lane.dataset.lane === "main") rows.push(...model.state.main);
    else rows.push(...(model.state.tracks.find((track) => track.id === lane.dataset.track)?.rows ?? []));
  }
  return rows;
}

scroll.addEventListener("pointerdown", (event) => {
  const target = /** @type {Element} */ (event.target);
  if (
    event.button ||
    target.closest(
      ".item, .cut, .cut-span, .scene, .gap, .note, .tl-head, .tl-ruler, .playhead, .range-tools",
    )
  )
    return;
  if (!target.closest(".tl-lane, .tl-body")) return;
  const kept = event.shiftKey || event.ctrlKey ? new Set(model.selected) : new Set();
  const from = timeAt(event.clientX);
  const top = event.clientY;
  let chosen = kept;
  let moved = false;
  drag(
    event,
    (pointer) => {
      moved = true;
      const [start, end] = [from, timeAt(pointer.clientX)].sort((a, b) => a - b);
      const [high, low] = [top, pointer.clientY].sort((a, b) => a - b);
      const frame = scroll.getBoundingClientRect();
      band.hidden = false;
      band.style.left = `${headWidth() + start * perSecond()}px`;
      band.style.width = `${(end - start) * perSecond()}px`;
      band.style.top = `${high - frame.top + scroll.scrollTop}px`;
      band.style.height = `${low - high}px`;
      chosen = new Set([
        ...kept,
        ...rowsBetween(high, low)
          .filter((row) => row.start < end && endOf(row) > start)
          .map((row) => row.id),
      ]);
      select(chosen, { alone: true });
    },
    (done) => {
      band.hidden = true;
      if (done) select(chosen);
      else if (!moved) {
        if (model.selected.size && !kept.size) select([]);
        moveTo(from * model.fps);
      }
    },
  );
});
