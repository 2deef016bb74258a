// @ts-check
/** Shapes: put in the middle by a press, or drawn on the stage by dragging, as many as one likes until that is ended. */

import { note } from "../page.js";
import { showFace } from "./bench.js";
import { send } from "./commands.js";
import { layOver } from "./laying.js";
import { drag } from "./drag.js";
import { gridTicks, model } from "./model.js";
import { draw, handles, stageSize } from "./stage.js";

const svg = /** @type {SVGSVGElement} */ (/** @type {unknown} */ (document.getElementById("handles")));
const LEAST = 0.02;
/** The form that is drawn next; none where dragging is as usual. */
let form = "";
let armed = false;

/** @param {boolean} on */
function arm(on) {
  armed = on;
  document.getElementById("draw-shape")?.setAttribute("aria-pressed", String(on));
  svg.classList.toggle("is-drawing", on && form !== "");
  if (!on) form = "";
}

/** A press on a form: it comes in the middle, or is what is drawn next. @param {HTMLElement} item */
export function addShape(item) {
  if (!armed) {
    return layOver(
      () => ({ do: "add-shape", form: item.dataset.form }),
      () => showFace("details"),
    );
  }
  form = item.dataset.form ?? "";
  arm(true);
  note(`Drag on the stage: ${item.dataset.name?.toLowerCase()}.`);
}

document.addEventListener("click", (event) => {
  const press = /** @type {Element} */ (event.target).closest("#draw-shape");
  if (!press) return;
  arm(!armed);
  if (armed) note("Press a shape, then drag on the stage where it should be.");
});
document.addEventListener("keydown", (event) => {
  if (event.key === "Escape" && armed) arm(false);
});

svg.addEventListener(
  "pointerdown",
  (event) => {
    if (!armed || !form || event.button || model.playing) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    const edges = svg.getBoundingClientRect();
    const { short } = stageSize();
    const at = (/** @type {PointerEvent} */ pointer) => ({
      x: (pointer.clientX - edges.left) / short,
      y: (pointer.clientY - edges.top) / short,
    });
    const from = at(event);
    let box = { x: from.x, y: from.y, w: 0, h: 0 };
    drag(
      event,
      (pointer) => {
        const to = at(pointer);
        let [w, h] = [Math.abs(to.x - from.x), Math.abs(to.y - from.y)];
        // With Shift as wide as high.
        if (pointer.shiftKey) w = h = Math.max(w, h);
        box = { x: to.x < from.x ? from.x - w : from.x, y: to.y < from.y ? from.y - h : from.y, w, h };
        handles();
        draw("rect", {
          class: "h-band",
          x: box.x * short,
          y: box.y * short,
          width: w * short,
          height: h * short,
        });
      },
      (done) => {
        handles();
        if (!done || Math.max(box.w, box.h) < LEAST) return;
        send({
          do: "add-shape",
          form,
          at: gridTicks(model.time),
          format: model.format,
          box: [box.x, box.y, Math.max(LEAST, box.w), Math.max(LEAST, box.h)],
        });
      },
    );
  },
  { capture: true },
);
