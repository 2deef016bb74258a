// @ts-check
/** Picking a colour from the stage: a press on a control's dropper, then one on the picture. Escape leaves it. */

import { note } from "../page.js";

const bench = /** @type {HTMLElement} */ (document.getElementById("bench-details"));
const stage = /** @type {HTMLElement} */ (document.getElementById("stage"));
const frame = /** @type {HTMLCanvasElement} */ (document.getElementById("frame"));

/** The field that takes the colour. @type {HTMLInputElement|null} */
let wanting = null;

function leave() {
  wanting = null;
  stage.classList.remove("is-picking");
}

bench.addEventListener("click", (event) => {
  const press = /** @type {Element} */ (event.target).closest("[data-pick-stage]");
  if (!press) return;
  wanting = press.parentElement?.querySelector("input.colour") ?? null;
  stage.classList.add("is-picking");
  note("Press the colour on the stage. Esc leaves it as it is.");
});

/** The colour of the frame under the pointer. @param {PointerEvent} event @returns {string|null} */
function under(event) {
  const box = frame.getBoundingClientRect();
  const x = Math.floor(((event.clientX - box.left) / box.width) * frame.width);
  const y = Math.floor(((event.clientY - box.top) / box.height) * frame.height);
  if (x < 0 || y < 0 || x >= frame.width || y >= frame.height) return null;
  const data = frame.getContext("2d")?.getImageData(x, y, 1, 1).data;
  if (!data) return null;
  return `#${[...data]
    .slice(0, 3)
    .map((value) => value.toString(16).padStart(2, "0"))
    .join("")}`;
}

stage.addEventListener(
  "pointerdown",
  (event) => {
    const field = wanting;
    if (!field) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    const colour = under(event);
    leave();
    if (!colour) return;
    field.value = colour;
    field.dispatchEvent(new Event("change", { bubbles: true }));
  },
  { capture: true },
);
document.addEventListener(
  "keydown",
  (event) => {
    if (!wanting || event.key !== "Escape") return;
    event.stopImmediatePropagation();
    leave();
  },
  { capture: true },
);
