// @ts-check
/** Keys: one table that works them and fills the sheet that `?` opens. */

import { redo, send, undo } from "./commands.js";
import { fps, frames, gridTicks, model, moveTo, seconds, select } from "./model.js";
import { play, stop, toggle } from "./player.js";
import { addWords, showFace } from "./shelf.js";
import { nudge } from "./stage.js";
import { toggleSnap, zoom, zoomFit } from "./timeline.js";
import { work } from "./wall.js";

const go = (/** @type {number} */ frame) => moveTo(frame, /** @type {any} */ ({ follow: true }));
const chosen = () => [...model.selected];
const box = (/** @type {string} */ id) => /** @type {HTMLElement|null} */ (document.querySelector(`#lanes [data-id="${CSS.escape(id)}"]`));

/** The selected item, or the main clip under the playhead. */
function subject() {
  const one = chosen()[0];
  if (one) return box(one);
  const at = seconds(model.frame) + 1e-4;
  return /** @type {HTMLElement|undefined} */ ([...document.querySelectorAll(".tl-main .item")].find((c) => {
    const { start, length } = /** @type {HTMLElement} */ (c).dataset;
    return at >= Number(start) && at < Number(start) + Number(length);
  })) ?? null;
}

/** Trims an end of the subject to the playhead. @param {"start"|"end"} edge */
function trimTo(edge) {
  const item = subject();
  if (!item) return;
  const start = Number(item.dataset.start);
  const end = start + Number(item.dataset.length);
  const at = seconds(model.frame);
  const length = edge === "start" ? end - at : at - start;
  if (length > 0) send({ do: "trim", item: item.dataset.id, edge, length: Math.max(1, gridTicks(length)) });
}

/** Splits at the playhead. @param {boolean} all */
function split(all) {
  const at = gridTicks(seconds(model.frame));
  const item = subject();
  if (all) send({ do: "split-at", at });
  else if (item) send({ do: "split-at", at, item: item.dataset.id });
}

function tie() {
  const item = chosen().length === 1 ? box(chosen()[0]) : null;
  if (item && !item.closest(".tl-main")) send({ do: "tie-item", item: item.dataset.id, to: item.dataset.tied === "clip" ? "time" : "clip" });
}

/** Moves the selected clip one place along the main track. @param {number} way */
function shift(way) {
  const clips = [...document.querySelectorAll(".tl-main .item")].map((c) => c.getAttribute("data-id"));
  const spot = clips.indexOf(chosen()[0]);
  if (spot < 0) return;
  const before = way < 0 ? clips[spot - 1] : clips[spot + 2] ?? null;
  if (way < 0 && spot === 0) return;
  if (way > 0 && spot === clips.length - 1) return;
  send({ do: "move-clips", clips: [chosen()[0]], before });
}

let speed = 0;
let shuttle = 0;
/** J and L step faster each time; K stops. @param {number} way */
function shuttling(way) {
  clearInterval(shuttle);
  if (!way) { speed = 0; stop(); return; }
  speed = Math.sign(speed) === way ? Math.max(-8, Math.min(8, speed * 2)) : way;
  if (speed === 1) { play(); return; }
  stop();
  const by = speed;
  shuttle = setInterval(() => {
    const next = model.frame + Math.round((by * fps()) / 10);
    go(next);
    if (next <= 0 || next >= frames()) { clearInterval(shuttle); speed = 0; }
  }, 100);
}

/** @type {{keys: string[], shown: string, words: string, run: (event: KeyboardEvent) => void}[]} */
const table = [
  { keys: [" "], shown: "Space", words: "Play, pause", run: () => { clearInterval(shuttle); speed = 0; toggle(); } },
  { keys: ["j"], shown: "J", words: "Backwards, faster each time", run: () => shuttling(-1) },
  { keys: ["k"], shown: "K", words: "Stop", run: () => shuttling(0) },
  { keys: ["l"], shown: "L", words: "Forwards, faster each time", run: () => shuttling(1) },
  { keys: ["ArrowLeft", "ArrowRight"], shown: "← →", words: "One frame", run: (e) => go(model.frame + (e.key === "ArrowLeft" ? -1 : 1)) },
  { keys: ["shift+ArrowLeft", "shift+ArrowRight"], shown: "Shift ← →", words: "One second", run: (e) => go(model.frame + (e.key === "ArrowLeft" ? -1 : 1) * Math.round(fps())) },
  { keys: ["Home"], shown: "Home", words: "To the start", run: () => go(0) },
  { keys: ["End"], shown: "End", words: "To the end", run: () => go(frames()) },
  { keys: ["["], shown: "[", words: "Trim the start to the playhead", run: () => trimTo("start") },
  { keys: ["]"], shown: "]", words: "Trim the end to the playhead", run: () => trimTo("end") },
  { keys: ["/"], shown: "/", words: "Split what is selected, or the clip here", run: () => split(false) },
  { keys: ["alt+/"], shown: "Alt /", words: "Split every track here", run: () => split(true) },
  { keys: ["\\"], shown: "\\", words: "Join with the one that goes on after it", run: () => { const item = subject(); if (item) send({ do: "join", item: item.dataset.id }); } },
  { keys: ["Delete", "Backspace"], shown: "Delete", words: "Remove what is selected", run: () => { if (chosen().length) send({ do: "remove", items: chosen() }); } },
  { keys: ["alt+ArrowLeft", "alt+ArrowRight"], shown: "Alt ← →", words: "Move the clip one place", run: (e) => shift(e.key === "ArrowLeft" ? -1 : 1) },
  { keys: ["alt+shift+ArrowLeft", "alt+shift+ArrowRight", "alt+shift+ArrowUp", "alt+shift+ArrowDown"], shown: "Alt Shift arrows", words: "Nudge the layer on the stage", run: (e) => nudge(e.key === "ArrowLeft" ? -0.01 : e.key === "ArrowRight" ? 0.01 : 0, e.key === "ArrowUp" ? -0.01 : e.key === "ArrowDown" ? 0.01 : 0) },
  { keys: ["t"], shown: "T", words: "Tie to the clip, or free", run: tie },
  { keys: ["m"], shown: "M", words: "Start a scene with this clip", run: () => { const clip = subject(); if (clip?.closest(".tl-main")) send({ do: "break-scene", clip: clip.dataset.id }); } },
  { keys: ["w"], shown: "W", words: "Add words at the playhead", run: () => { addWords(); } },
  { keys: ["g"], shown: "G", words: "Snapping on, off (Ctrl suspends it)", run: toggleSnap },
  { keys: ["ctrl+z"], shown: "Ctrl Z", words: "Undo", run: () => { undo(); } },
  { keys: ["ctrl+shift+z", "ctrl+shift+Z"], shown: "Ctrl Shift Z", words: "Redo", run: () => { redo(); } },
  { keys: ["+", "=", "shift++"], shown: "+", words: "Zoom in (Ctrl and wheel too)", run: () => zoom(1.5) },
  { keys: ["-"], shown: "−", words: "Zoom out", run: () => zoom(1 / 1.5) },
  { keys: ["0"], shown: "0", words: "Fit the whole promo", run: zoomFit },
  { keys: ["f"], shown: "F", words: "Find on the Shelf", run: () => { showFace("shelf"); document.getElementById("shelf-find")?.focus(); } },
  { keys: ["1", "2", "3", "4", "5", "6", "7", "8", "9"], shown: "1 … 9", words: "Work in that format", run: (e) => work(model.state.formats[Number(e.key) - 1]?.id ?? "") },
  { keys: ["Escape"], shown: "Esc", words: "Give up a gesture, select nothing", run: () => select([]) },
  { keys: ["?", "shift+?"], shown: "?", words: "This sheet", run: () => /** @type {HTMLDialogElement} */ (document.getElementById("keys-sheet")).showModal() },
];

/** @type {Map<string, (event: KeyboardEvent) => void>} */
const works = new Map(table.flatMap((row) => row.keys.map((key) => /** @type {[string, any]} */ ([key, row.run]))));

document.addEventListener("keydown", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  if (document.querySelector("dialog[open]")) return;
  if (target.matches?.("input:not([type=range]):not([type=checkbox]), textarea, select")) {
    if (event.key === "Escape") target.blur();
    return;
  }
  const letter = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const parts = [event.ctrlKey || event.metaKey ? "ctrl" : "", event.altKey ? "alt" : "", event.shiftKey ? "shift" : "", letter];
  const name = parts.filter(Boolean).join("+");
  const run = works.get(name) ?? (event.shiftKey && !event.ctrlKey && !event.altKey ? works.get(event.key) : undefined);
  if (!run) return;
  if ((event.key === " " || event.key === "Enter") && target.matches?.("button:not(.item), summary, a")) return;
  event.preventDefault();
  run(event);
});

const list = document.getElementById("keys-list");
for (const row of table) {
  const line = document.createElement("p");
  const words = document.createElement("span");
  const key = document.createElement("kbd");
  words.textContent = row.words;
  key.textContent = row.shown;
  line.append(words, key);
  list?.append(line);
}
