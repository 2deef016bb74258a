// @ts-check
/** Lines from what is selected to the clips it is tied to, and from a selected clip to what is tied to it. */

import { known, model, on } from "./model.js";
import { headWidth, perSecond, scroll } from "./timeline.js";

const svg = /** @type {SVGSVGElement} */ (/** @type {unknown} */ (document.getElementById("tie-lines")));
const MOST = 60;

/** The middle of a lane, from the top of the scrolled body. @param {string} css */
function middleOf(css) {
  const lane = /** @type {HTMLElement|null} */ (document.querySelector(css));
  const row = lane?.parentElement;
  return lane && row
    ? {
        top: row.offsetTop,
        bottom: row.offsetTop + row.offsetHeight,
        middle: row.offsetTop + row.offsetHeight / 2,
      }
    : null;
}

function paint() {
  svg.replaceChildren();
  const main = middleOf('[data-lane="main"]');
  if (!model.selected.size || !main) return;
  let count = 0;
  for (const track of model.state.tracks)
    for (const row of track.rows) {
      const clip = row.tied === "clip" && known.get(row.to ?? "");
      if (!clip || !(model.selected.has(row.id) || model.selected.has(clip.row.id)) || (count += 1) > MOST)
        continue;
      const lane = middleOf(`[data-track="${CSS.escape(track.id)}"]`);
      if (!lane) continue;
      const x = headWidth() + row.start * perSecond() + 5;
      const [from, to] =
        lane.middle < main.middle ? [lane.bottom - 3, main.top + 4] : [lane.top + 3, main.bottom - 4];
      const line = document.createElementNS("http://www.w3.org/2000/svg", "path");
      line.setAttribute("d", `M${x} ${from} L${x} ${to}`);
      const dot = document.createElementNS("http://www.w3.org/2000/svg", "circle");
      for (const [name, value] of Object.entries({ cx: x, cy: to, r: 3.5 }))
        dot.setAttribute(name, String(value));
      svg.append(line, dot);
    }
  svg.setAttribute("width", String(scroll.scrollWidth));
  svg.setAttribute("height", String(scroll.scrollHeight));
}
on("selected", paint);
on("laid", paint);
