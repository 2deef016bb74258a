// @ts-check
/** The lane of captions on the timeline: a box for each cue; a press leads to it in the list. */

import { showFace } from "./bench.js";
import { showView } from "./captions.js";
import { model, moveTo, on } from "./model.js";
import { perSecond, visibleSpan } from "./timeline.js";

/** @typedef {[string, number, number, string, boolean]} Cue */
/** @type {Cue[]} */
let cues = [];
let asked = 0;
let due = 0;

async function ask() {
  const mine = ++asked;
  const answer = await fetch(`${model.url}/cues`).catch(() => null);
  if (!answer?.ok || mine !== asked) return;
  cues = (await answer.json()).cues;
  paint();
}

/** Draws the cues that are in sight. */
function paint() {
  const row = document.getElementById("tl-captions");
  const lane = row?.querySelector(".tl-lane");
  if (!row || !lane) return;
  row.hidden = !cues.length;
  document.getElementById("export-captions")?.toggleAttribute("hidden", !cues.length);
  const [from, to] = visibleSpan(200);
  const boxes = cues
    .filter(([, start, end]) => end >= from && start <= to)
    .map(([name, start, end, text, unsure]) => {
      const box = document.createElement("button");
      box.type = "button";
      box.className = unsure ? "tl-cue is-unsure" : "tl-cue";
      box.dataset.cue = name;
      box.textContent = text;
      box.title = text;
      box.style.left = `${start * perSecond()}px`;
      box.style.width = `${Math.max(2, (end - start) * perSecond() - 1)}px`;
      return box;
    });
  lane.replaceChildren(...boxes);
}

document.getElementById("tl-body")?.addEventListener("click", (event) => {
  const box = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest?.(".tl-cue"));
  if (!box) return;
  const cue = cues.find(([name]) => name === box.dataset.cue);
  if (cue) moveTo(Math.ceil(cue[1] * model.fps - 0.01));
  showFace("transcript");
  showView("captions");
  setTimeout(() => {
    const line = document.querySelector(`.cue[data-cue="${CSS.escape(box.dataset.cue ?? "")}"] textarea`);
    if (line instanceof HTMLElement) line.focus();
  }, 400);
});

on("changed", () => {
  clearTimeout(due);
  due = setTimeout(ask, 150);
});
on("laid", paint);
document.getElementById("tl-scroll")?.addEventListener("scroll", () => requestAnimationFrame(paint), {
  passive: true,
});
ask();
