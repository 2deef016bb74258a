// @ts-check
/** How long an item comes and goes: the edge of the wedge on it is dragged. */

import { send } from "./commands.js";
import { drag, sayAt } from "./drag.js";
import { gridTicks, known, model } from "./model.js";
import { perSecond } from "./timeline.js";

document.addEventListener(
  "pointerdown",
  (event) => {
    const wedge = /** @type {HTMLElement|null} */ (
      /** @type {Element} */ (event.target).closest("#lanes .item.is-chosen .item-way")
    );
    const row = wedge && known.get(/** @type {HTMLElement} */ (wedge.closest(".item")).dataset.id ?? "")?.row;
    if (!wedge || !row || event.button) return;
    event.stopPropagation();
    event.preventDefault();
    const coming = wedge.dataset.way === "arrive";
    const lasted = Number(wedge.dataset.lasts);
    let lasts = lasted;
    drag(
      event,
      (pointer, dx) => {
        const most = row.length - (coming ? (row.wait ?? 0) : 0);
        const wanted = Math.min(most, Math.max(1 / model.fps, lasted + (coming ? dx : -dx)));
        lasts = Math.round(wanted * model.fps) / model.fps;
        wedge.style.width = `${lasts * perSecond()}px`;
        sayAt(pointer, `${coming ? "comes" : "goes"} in ${lasts.toFixed(2)} s`);
      },
      (kept) => {
        if (kept && lasts !== lasted)
          send({
            do: "set",
            items: [row.id],
            values: { [coming ? "arrive_length" : "leave_length"]: gridTicks(lasts) },
          });
      },
    );
  },
  true,
);
