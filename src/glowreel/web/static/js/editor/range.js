// @ts-check
/** The marked range: a stretch of time that can be taken out of every track in one step. */

import { note } from "../page.js";
import { send } from "./commands.js";
import { clock, gridTicks, model, on, tell } from "./model.js";
import { headWidth, perSecond } from "./timeline.js";

const band = /** @type {HTMLElement} */ (document.getElementById("range-band"));
const words = /** @type {HTMLElement} */ (document.getElementById("range-words"));

/** @param {"start"|"end"} edge */
export function markRange(edge) {
  // The end mark lies after the frame on show, so that marking in and out on one frame is that frame.
  model.range[edge] =
    edge === "start"
      ? model.time
      : model.time + (model.frame + 1 >= model.state.length * model.fps - 0.5 ? 1 / model.fps : 0);
  const { start, end } = model.range;
  if (start !== null && end !== null && end <= start) model.range[edge === "start" ? "end" : "start"] = null;
  tell("range");
}

export function clearRange() {
  model.range = { start: null, end: null };
  tell("range");
}

/** @param {"cut"|"stays"} music */
export async function removeRange(music) {
  const { start, end } = model.range;
  if (start === null || end === null) {
    note("Mark where the range begins with , and where it ends with . first.");
    return;
  }
  if (await send({ do: "remove-range", start: gridTicks(start), end: gridTicks(end), music })) clearRange();
}

function paint() {
  const { start, end } = model.range;
  const open = start === null && end === null;
  band.hidden = open;
  if (open) return;
  const first = start ?? end ?? 0;
  const last = end ?? start ?? 0;
  band.style.left = `${headWidth() + first * perSecond()}px`;
  band.style.width = `${Math.max(2, (last - first) * perSecond())}px`;
  band.classList.toggle("is-open", start === null || end === null);
  words.textContent =
    start !== null && end !== null
      ? `${clock(end - start)} marked`
      : start !== null
        ? "mark its end with ."
        : "mark its start with ,";
}

document.getElementById("range-cut")?.addEventListener("click", () => removeRange("cut"));
document.getElementById("range-stays")?.addEventListener("click", () => removeRange("stays"));
document.getElementById("range-adjust")?.addEventListener("click", async () => {
  const { start, end } = model.range;
  if (start === null || end === null) return;
  if (await send({ do: "add-adjustment", at: gridTicks(start), length: gridTicks(end - start) }))
    clearRange();
});
document.getElementById("range-clear")?.addEventListener("click", clearRange);
on("range", paint);
on("laid", paint);
