// @ts-check
/** Puts boxes on the lanes: only those in sight are in the page, and small ones are plain. */

import { paintArt } from "./art.js";
import { boxOf, inSight } from "./itembox.js";
import { cutsOn, gapsOn, joinsOn } from "./lanecuts.js";
import { notesOn, reviewOn, scenesOn } from "./lanemarks.js";
import { clear, firstAfter, lay, made, put, sweep } from "./laneparts.js";
import { model, on } from "./model.js";
import { perSecond, scroll, visibleSpan } from "./timeline.js";

/** @param {HTMLElement} lane @param {import("./model.js").Row[]} rows @param {number} from @param {number} to */
function rowsOn(lane, rows, from, to) {
  for (let n = firstAfter(rows, from); n < rows.length && rows[n].start < to; n += 1) {
    const row = rows[n];
    const box = boxOf(row, row.length * perSecond());
    const chosen = model.selected.has(row.id);
    box.classList.toggle("is-chosen", chosen);
    box.setAttribute("aria-pressed", String(chosen));
    if (!box.classList.contains("is-ghost")) lay(box, row.start, row.length);
    if (box.firstElementChild) inSight(box, row, from);
    put(lane, row.id, box);
  }
}

/** Brings every lane up to date with the state, the zoom and the scroll. */
function paintLanes() {
  const [from, to] = visibleSpan(300);
  clear();
  const focus = document.activeElement;
  for (const lane of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("#lanes .tl-lane"))) {
    const kind = lane.dataset.lane;
    if (kind === "main") {
      rowsOn(lane, model.state.main, from, to);
      cutsOn(lane, from, to);
    } else if (kind === "scenes") scenesOn(lane, from, to);
    else if (kind === "notes") {
      notesOn(lane, from, to);
      reviewOn(lane, from, to);
    } else {
      const track = model.state.tracks.find((track) => track.id === lane.dataset.track);
      if (track) {
        rowsOn(lane, track.rows, from, to);
        gapsOn(lane, track, from, to);
        if (kind === "layer") joinsOn(lane, track, from, to);
      }
    }
  }
  sweep();
  // Putting things in another order takes the focus away from what is moved.
  if (
    focus instanceof HTMLElement &&
    focus !== document.activeElement &&
    focus.isConnected &&
    document.activeElement === document.body
  )
    focus.focus({ preventScroll: true });
  paintArt();
}

/** Marks what is selected and the scene under the playhead, without laying anything out. */
function markChosen() {
  for (const [key, part] of made) {
    if (!part.dataset.id && !part.dataset.note) continue;
    const id = part.dataset.id ?? part.dataset.note ?? key;
    const chosen = model.selected.has(id);
    part.classList.toggle("is-chosen", chosen);
    if (part.dataset.id) part.setAttribute("aria-pressed", String(chosen));
  }
}

/** Marks the scene under the playhead. */
function markHere() {
  const now = model.time + 1e-4;
  for (const scene of model.state.scenes)
    made
      .get(`scene:${scene.id}`)
      ?.classList.toggle("is-here", now >= scene.start && now < scene.start + scene.length);
}

let due = 0;
/** Paints in the next frame, once however often it is asked for. */
function paintSoon() {
  if (!due)
    due = requestAnimationFrame(() => {
      due = 0;
      paintLanes();
    });
}
scroll.addEventListener("scroll", paintSoon, { passive: true });
on("laid", paintLanes);
on("selected", markChosen);
on("moved", markHere);
