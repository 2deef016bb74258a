// @ts-check
/** The way of the view over a cropped picture: drawn on it, and corrected by dragging one of its points. */

import { send } from "./commands.js";
import { gridTicks, model } from "./model.js";
import { draw, paintOver, scope, stageSize } from "./stage.js";

/** The way, as the server said with the details of the clip. @returns {[number, number, number][]} */
function points() {
  const text = /** @type {HTMLElement|null} */ (document.querySelector("#bench-details [data-path]"))?.dataset
    .path;
  return text ? JSON.parse(text) : [];
}

/** @type {{clip: string, box: import("./stage.js").Box, short: number}|null} */
let lies = null;

paintOver.path = (clip, box, short) => {
  const way = points();
  lies = { clip, box, short };
  const { width, height } = stageSize();
  const larger = box.w * short > width + 2 || box.h * short > height + 2;
  if (!way.length || !larger) return;
  const spots = way.map(([, x, y]) => [(box.x + x * box.w) * short, (box.y + y * box.h) * short]);
  // At a cut inside of it the view jumps: no line leads over.
  let line = "";
  spots.forEach((spot, at) => {
    const jumps = at > 0 && way[at][0] - way[at - 1][0] < 0.5 / model.fps;
    line += `${at === 0 || jumps ? "M" : "L"}${spot[0]} ${spot[1]}`;
  });
  draw("path", { class: "h-way", d: line });
  way.forEach(([time], place) => {
    const near = Math.abs(time - model.time) < 0.5 / model.fps + 0.25;
    draw("circle", {
      class: `h-way-point${near ? " is-now" : ""}`,
      "data-way": String(place),
      cx: spots[place][0],
      cy: spots[place][1],
      r: near ? 7 : 4.5,
    });
  });
};

document.getElementById("handles")?.addEventListener(
  "pointerdown",
  (event) => {
    const dot = /** @type {SVGCircleElement|null} */ (
      /** @type {Element} */ (event.target).closest("[data-way]")
    );
    if (!dot || !lies) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    const { clip, box, short } = lies;
    const [time, x, y] = points()[Number(dot.dataset.way)];
    const begin = { x: event.clientX, y: event.clientY };
    let focus = [x, y];
    /** @param {PointerEvent} move */
    const moved = (move) => {
      const held = (/** @type {number} */ value) => Math.min(1, Math.max(0, value));
      focus = [
        held(x + (move.clientX - begin.x) / (box.w * short)),
        held(y + (move.clientY - begin.y) / (box.h * short)),
      ];
      dot.setAttribute("cx", String((box.x + focus[0] * box.w) * short));
      dot.setAttribute("cy", String((box.y + focus[1] * box.h) * short));
    };
    const done = () => {
      window.removeEventListener("pointermove", moved);
      if (focus[0] === x && focus[1] === y) return;
      // What stands still has one point: it is aimed at where the playhead is.
      const at = gridTicks(points().length > 1 ? time : model.time);
      send({ do: "aim-view", item: clip, format: model.format, at, focus, only: scope.only });
    };
    window.addEventListener("pointermove", moved);
    window.addEventListener("pointerup", done, { once: true });
  },
  true,
);
