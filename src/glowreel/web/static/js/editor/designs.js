// @ts-check
/** Designs on the Shelf: tried on the stage with the promo's own words where the pointer rests, put on by a press. */

import { send } from "./commands.js";
import { layOver } from "./laying.js";
import { showFace } from "./bench.js";
import { endOf, gridTicks, known, model, on } from "./model.js";
import { playTrial, stopTrial } from "./trial.js";

const bench = /** @type {HTMLElement} */ (document.getElementById("bench-shelf"));

/** Whether the playhead was moved since something was selected. */
let away = false;
on("moved", () => (away = true));
on("selected", () => (away = false));

/** Words or a design, where just one thing is selected, and nobody went elsewhere since. */
function speaking() {
  const row = model.selected.size === 1 ? known.get([...model.selected][0])?.row : undefined;
  if (!row || !["words", "design"].includes(row.kind)) return undefined;
  const seen = model.time > row.start - 1 / model.fps && model.time < endOf(row);
  return seen || !away ? row : undefined;
}

/** The nearest words to the playhead, which a design is tried with. */
function nearest() {
  const rows = model.state.tracks.flatMap((/** @type {any} */ track) => track.rows);
  const words = rows.filter((/** @type {any} */ row) => row.kind === "words" || row.kind === "design");
  const far = (/** @type {any} */ row) =>
    model.time < row.start ? row.start - model.time : Math.max(0, model.time - endOf(row));
  return words.sort((/** @type {any} */ a, /** @type {any} */ b) => far(a) - far(b))[0];
}

/** What a press on a design does: what is selected gets it, else it comes at the playhead. @param {HTMLElement} item @param {boolean} [trying] */
function commandOf(item, trying = false) {
  const design = item.dataset.design;
  const chosen = speaking();
  if (chosen) return { do: "switch-design", item: chosen.id, design };
  const like = trying ? nearest()?.id : undefined;
  return { do: "add-design", design, at: gridTicks(model.time), ...(like && { like }) };
}

/** @param {HTMLElement} item */
export function putOn(item) {
  const shown = () => showFace("details");
  if (speaking()) send(() => commandOf(item), shown);
  else layOver(() => ({ do: "add-design", design: item.dataset.design }), shown);
}

/** @type {HTMLElement|null} */
let shown = null;
function leave() {
  if (shown) stopTrial();
  shown = null;
}
for (const kind of ["pointerover", "focusin"])
  bench.addEventListener(kind, (event) => {
    const item = /** @type {HTMLElement|null} */ (
      /** @type {Element} */ (event.target).closest('.shelf-item[data-kind="design"]')
    );
    if (item === shown) return;
    leave();
    if (!item || model.playing || (kind === "focusin" && !item.querySelector(":focus-visible"))) return;
    shown = item;
    const chosen = speaking();
    const lasts = Number(item.dataset.lasts);
    if (chosen) playTrial(commandOf(item, true), chosen.start, Math.min(chosen.length, lasts));
    else playTrial(commandOf(item, true), model.time, lasts);
  });
bench.addEventListener("pointerleave", leave);
bench.addEventListener("focusout", leave);
on("changed", () => {
  shown = null;
});

/* ---- cards that play ---- */

const calm = matchMedia("(prefers-reduced-motion: reduce)");
/** Cards in sight play, once what they show is there; until then, and for who wants no motion, they stand still. */
const playing = new IntersectionObserver((entries) => {
  for (const { isIntersecting, target } of entries) {
    const card = /** @type {HTMLImageElement} */ (target);
    const { loop, still } = card.dataset;
    if (!isIntersecting || calm.matches) {
      if (still) card.src = still;
      continue;
    }
    card.dataset.still ??= card.src;
    const film = new Image();
    film.onload = () => {
      if (card.isConnected) card.src = film.src;
    };
    film.src = loop ?? "";
  }
});
document.body.addEventListener("htmx:afterSwap", () => {
  playing.disconnect();
  for (const card of bench.querySelectorAll("img[data-loop]")) playing.observe(card);
});
