// @ts-check
/** The look of one thing, given to others. */

import { note } from "../page.js";
import { send } from "./commands.js";
import { known, model, on } from "./model.js";

/** Whose look was copied. */
let source = "";

/** Remembers whose look is to be given to others. @param {string} id */
export function copyLook(id) {
  source = id;
  note(`The look of ${known.get(id)?.row.label ?? "it"} is copied. Select others and give it to them.`);
  offer();
}

/** Whether there is a look to give to what is selected. */
export const canGiveLook = () =>
  known.has(source) && model.selected.size > 0 && !(model.selected.size === 1 && model.selected.has(source));

/** Gives the copied look to what is selected. */
export function giveLook() {
  if (canGiveLook()) send({ do: "copy-look", source, items: [...model.selected] });
}

/** Shows the button for it where it can be pressed. */
export function offer() {
  document.querySelector("[data-give-look]")?.toggleAttribute("hidden", !canGiveLook());
}

document.getElementById("bench-details")?.addEventListener("click", (event) => {
  const target = /** @type {Element} */ (event.target);
  const copy = /** @type {HTMLElement|null} */ (target.closest("[data-copy-look]"));
  if (copy) copyLook(copy.dataset.copyLook ?? "");
  if (target.closest("[data-give-look]")) giveLook();
});
on("changed", offer);
