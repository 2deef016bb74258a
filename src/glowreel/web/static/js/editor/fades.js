// @ts-check
/** Fades of a sound by hand: the handles at its upper corners are dragged inwards. */

import { send } from "./commands.js";
import { drag, sayAt } from "./drag.js";
import { known, ticks } from "./model.js";
import { perSecond } from "./timeline.js";

/** @typedef {import("./model.js").Row} Row */

const SIDES = /** @type {const} */ (["in", "out"]);
const lasts = (/** @type {Row} */ row, /** @type {string} */ side) =>
  (side === "in" ? row.fadeIn : row.fadeOut) ?? 0;

/** The handles of a sound, to be put in its box. @param {Row} row @returns {HTMLElement[]} */
export function fadeGrips(row) {
  if (row.kind !== "sound") return [];
  return SIDES.map((side) => {
    const grip = document.createElement("span");
    grip.className = `fade-grip is-${side}`;
    grip.dataset.fade = side;
    grip.title = side === "in" ? "Fades in: drag it" : "Fades out: drag it";
    return grip;
  });
}

/** @param {HTMLElement} box @param {Row} row */
export function placeFades(box, row) {
  for (const grip of /** @type {NodeListOf<HTMLElement>} */ (box.querySelectorAll(".fade-grip"))) {
    const far = Math.min(lasts(row, grip.dataset.fade ?? ""), row.length) * perSecond();
    grip.style[grip.dataset.fade === "in" ? "left" : "right"] = `${Math.max(2, far - 5)}px`;
  }
}

document.addEventListener(
  "pointerdown",
  (event) => {
    const grip = /** @type {HTMLElement|null} */ (
      /** @type {Element} */ (event.target).closest("#lanes .item.is-chosen .fade-grip")
    );
    const it = grip && known.get(/** @type {HTMLElement} */ (grip.closest(".item")).dataset.id ?? "");
    if (!grip || !it || event.button || it.track?.locked) return;
    event.stopPropagation();
    event.preventDefault();
    const { row } = it;
    const side = grip.dataset.fade ?? "in";
    const first = lasts(row, side);
    let now = first;
    drag(
      event,
      (pointer, dx) => {
        now = Math.min(row.length, Math.max(0, first + (side === "in" ? dx : -dx)));
        grip.style[side === "in" ? "left" : "right"] = `${Math.max(2, now * perSecond() - 5)}px`;
        sayAt(pointer, `fades ${side} over ${now.toFixed(2)} s`);
      },
      (kept) => {
        if (kept && now !== first)
          send({ do: "set", items: [row.id], values: { [`fade_${side}`]: ticks(now) } });
      },
    );
  },
  true,
);
document.addEventListener("click", (event) => {
  const tone = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest(".gap-tone"));
  if (tone) send({ do: "lay-room-tone", item: tone.dataset.tone, at: ticks(Number(tone.dataset.at)) });
});
