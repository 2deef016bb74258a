// @ts-check
/**
 * Choices as pictures of this very frame. Where the pointer rests on one, the stage shows what it would do: the frame,
 * or, for what moves, the stretch of it.
 */

import { commandWith, controlOf } from "./details.js";
import { endOf, known, model, on } from "./model.js";
import { showTrial } from "./player.js";
import { playTrial, stopTrial } from "./trial.js";

const bench = /** @type {HTMLElement} */ (document.getElementById("bench-details"));
const HERE = 1.6;
const EDGE = 0.25;

/** @param {HTMLElement} choice */
function commandOf(choice) {
  const found = controlOf(choice);
  return found && commandWith(found.control, JSON.parse(choice.dataset.value ?? "null"));
}

/** The frame of which small pictures are made: at the playhead, where what is selected is on show. */
function frameOfIt() {
  const rows = [...model.selected].flatMap((id) => known.get(id)?.row ?? []);
  if (!rows.length || rows.some((row) => model.time >= row.start && model.time < endOf(row) - 1e-6))
    return model.frame;
  return Math.round((rows[0].start + rows[0].length / 2) * model.fps);
}

const seen = new IntersectionObserver((entries) => {
  for (const { isIntersecting, target } of entries) {
    if (!isIntersecting) continue;
    seen.unobserve(target);
    const command = commandOf(/** @type {HTMLElement} */ (target));
    const picture = target.querySelector("img");
    if (!command || !picture) continue;
    const ask = new URLSearchParams({
      command: JSON.stringify(command),
      format: model.format,
      frame: String(frameOfIt()),
      short: "72",
      rev: String(model.state.rev),
      rest: [...model.selected].slice(0, 20).join(","),
    });
    picture.src = `${model.url}/trial.jpg?${ask}`;
  }
});
on("dressed", () => {
  seen.disconnect();
  const format = model.state.formats.find((one) => one.id === model.format);
  for (const gallery of /** @type {NodeListOf<HTMLElement>} */ (
    bench.querySelectorAll(".gallery.is-gallery")
  )) {
    if (format) gallery.style.setProperty("--ratio", String(format.wide / format.high));
    for (const choice of gallery.querySelectorAll(".choice")) seen.observe(choice);
    const chosen = /** @type {HTMLElement|null} */ (gallery.querySelector('[aria-pressed="true"]'));
    if (chosen) gallery.scrollTop = chosen.offsetTop - gallery.offsetTop - 40;
  }
});

/** @param {HTMLElement} choice */
function show(choice) {
  const command = commandOf(choice);
  const plays = controlOf(choice)?.control.plays;
  if (!command || model.playing) return;
  const row = known.get([...model.selected][0] ?? "")?.row;
  if (!plays || !row) {
    const frame = frameOfIt();
    if (frame === model.frame) showTrial(command);
    else playTrial(command, frame / model.fps, 1 / model.fps);
    return;
  }
  const lasts = { start: row.arrive, end: row.leave }[plays] || 0.5;
  if (plays === "start") playTrial(command, row.start, (row.wait ?? 0) + lasts + EDGE);
  else if (plays === "end") playTrial(command, endOf(row) - lasts - EDGE, lasts + EDGE);
  else if (plays === "whole") playTrial(command, row.start, row.length);
  else {
    const inside = model.time >= row.start && model.time < endOf(row) - EDGE;
    const from = inside ? model.time : row.start;
    playTrial(command, from, Math.min(HERE, endOf(row) - from));
  }
}

/** @type {HTMLElement|null} */
let shown = null;
function leave() {
  if (!shown) return;
  shown = null;
  stopTrial();
  showTrial(null);
}
for (const kind of ["pointerover", "focusin"])
  bench.addEventListener(kind, (event) => {
    const choice = /** @type {HTMLElement|null} */ (
      /** @type {Element} */ (event.target).closest(".gallery .choice")
    );
    if (choice === shown) return;
    leave();
    if (!choice || (kind === "focusin" && !choice.matches(":focus-visible"))) return;
    shown = choice;
    show(choice);
  });
bench.addEventListener("pointerleave", leave);
bench.addEventListener("focusout", leave);
on("changed", () => {
  shown = null;
});
