// @ts-check
/** Keys: one table that works them and fills the sheet that `?` opens. */

import { copy, cut, duplicate, paste } from "./clipboard.js";
import { redo, send, undo } from "./commands.js";
import { lastKind } from "./cuts.js";
import { tool } from "./gestures.js";
import { openHistory } from "./history.js";
import { toggleSound } from "./menus.js";
import { clipAt, endOf, fps, frames, gridTicks, here, known, model, moveTo, select, ticks } from "./model.js";
import { play, stop, toggle } from "./player.js";
import { clearRange, markRange, removeRange } from "./range.js";
import { replaceFrom } from "./replace.js";
import { folded, setFolded } from "./ribbon.js";
import { addWords, showFace } from "./shelf.js";
import { nudge } from "./stage.js";
import { toggleSnap, zoom, zoomFit, zoomSelected } from "./timeline.js";
import { work } from "./wall.js";

const go = (/** @type {number} */ frame) => moveTo(frame, { follow: true });
const chosen = () => [...model.selected];
const playhead = () => gridTicks(here());

/** The selected item, or the main clip under the playhead. */
function subject() {
  const one = known.get(chosen()[0]);
  if (one) return one;
  const clip = clipAt(here() + 1e-4);
  return clip ? known.get(clip.id) ?? null : null;
}

/** Runs a command on the subject, if there is one. @param {(it: import("./model.js").Known) => Record<string, unknown>|null} command */
function on_(command) {
  const it = subject();
  const made = it && command(it);
  if (made) send(made);
}

/** Trims an end of the subject to the playhead. @param {"start"|"end"} edge */
function trimTo(edge) {
  on_(({ row, lane }) => {
    const length = edge === "start" ? endOf(row) - here() : here() - row.start;
    if (length <= 0) return null;
    return { do: "trim", item: row.id, edge, length: Math.max(1, lane === "sound" ? ticks(length) : gridTicks(length)) };
  });
}

/** Splits at the playhead. @param {boolean} all */
function split(all) {
  if (all) send({ do: "split-at", at: playhead() });
  else on_(({ row, lane }) => ({ do: "split-at", at: lane === "sound" ? ticks(here()) : playhead(), item: row.id }));
}

/** Rolls the cut nearest to the playhead to the playhead. */
function rollHere() {
  const rows = model.state.main.slice(0, -1);
  if (!rows.length) return;
  const near = rows.reduce((best, row) => (Math.abs(endOf(row) - here()) < Math.abs(endOf(best) - here()) ? row : best));
  const by = here() - endOf(near);
  send({ do: "roll-cut", after: near.id, by: Math.sign(by) * gridTicks(Math.abs(by)) });
}

/** Slips the subject by frames. @param {number} count */
const slip = (count) => on_(({ row }) => ({ do: "slip", item: row.id, by: count * gridTicks(1 / fps()) }));

/** Moves the selected clip one place along the main track; layers and sounds by a frame. @param {number} way */
function shift(way) {
  const it = known.get(chosen()[0]);
  if (!it) return;
  if (it.lane !== "main") { send({ do: "move-items", items: chosen().filter((id) => known.get(id)?.track), by: way * gridTicks(1 / fps()) }); return; }
  const ids = model.state.main.map((row) => row.id);
  const spot = it.place;
  if (way < 0 ? spot === 0 : spot === ids.length - 1) return;
  send({ do: "move-clips", clips: [it.row.id], before: way < 0 ? ids[spot - 1] : ids[spot + 2] ?? null });
}

/** Selects what lies under the playhead, one after another: the clip, then layers from the front, then sounds. */
function selectNext() {
  const at = here() + 1e-4;
  const under = [model.state.main, ...model.state.tracks.map((t) => t.rows)].flatMap((rows) => rows.filter((r) => at >= r.start && at < endOf(r)));
  if (!under.length) return;
  const spot = under.findIndex((row) => row.id === chosen()[0]);
  select([under[(spot + 1) % under.length].id]);
}

/** Puts the playhead on the next cut, or end of anything selected. @param {number} way */
function toCut(way) {
  const times = [0, model.state.length, ...model.state.main.map(endOf)];
  const frame = model.frame;
  const stops = [...new Set(times.map((t) => Math.round(t * fps())))].sort((a, b) => a - b);
  const next = way > 0 ? stops.find((f) => f > frame) : stops.reverse().find((f) => f < frame);
  if (next !== undefined) go(next);
}

/** @param {number} way */
function toScene(way) {
  const starts = model.state.scenes.map((s) => Math.round(s.start * fps()));
  const next = way > 0 ? starts.find((f) => f > model.frame) : starts.reverse().find((f) => f < model.frame);
  if (next !== undefined) go(next);
}

/** @param {number} by */
const step = (by) => on_(({ row, track }) => (track ? { do: "step-track", item: row.id, by } : null));

async function addNote() {
  if (await send({ do: "add-note", at: playhead() })) { showFace("details"); document.getElementById("note-text")?.focus(); }
}

/** Removes what is selected. @param {boolean} close */
function remove(close) {
  if (chosen().length) send({ do: "remove", items: chosen(), close });
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
  { keys: ["ArrowUp", "ArrowDown"], shown: "↑ ↓", words: "To the cut before, after", run: (e) => toCut(e.key === "ArrowUp" ? -1 : 1) },
  { keys: ["PageUp", "PageDown"], shown: "Page ↑ ↓", words: "To the scene before, after", run: (e) => toScene(e.key === "PageUp" ? -1 : 1) },
  { keys: ["a"], shown: "A", words: "Select what is under the playhead, one after another", run: selectNext },
  { keys: ["["], shown: "[", words: "Trim the start to the playhead", run: () => trimTo("start") },
  { keys: ["]"], shown: "]", words: "Trim the end to the playhead", run: () => trimTo("end") },
  { keys: ["b"], shown: "B", words: "Bring the nearest cut to the playhead", run: rollHere },
  { keys: ["alt+[", "alt+]"], shown: "Alt [ ]", words: "Slip the material by a frame", run: (e) => slip(e.key === "[" ? -1 : 1) },
  { keys: ["/"], shown: "/", words: "Split what is selected, or the clip here", run: () => split(false) },
  { keys: ["alt+/"], shown: "Alt /", words: "Split every track here", run: () => split(true) },
  { keys: ["\\"], shown: "\\", words: "Join with the one that goes on after it", run: () => on_(({ row }) => ({ do: "join", item: row.id })) },
  { keys: [","], shown: ",", words: "Mark where a range begins", run: () => markRange("start") },
  { keys: ["."], shown: ".", words: "Mark where it ends", run: () => markRange("end") },
  { keys: ["x"], shown: "X", words: "Take the range out of every track", run: () => { removeRange("cut"); } },
  { keys: ["shift+x"], shown: "Shift X", words: "… but leave the music alone", run: () => { removeRange("stays"); } },
  { keys: ["Delete", "Backspace"], shown: "Delete", words: "Remove what is selected", run: () => remove(false) },
  { keys: ["shift+Delete", "shift+Backspace"], shown: "Shift Delete", words: "Remove it and close the gap", run: () => remove(true) },
  { keys: ["q"], shown: "Q", words: "Replace the clip", run: () => { const it = subject(); if (it) replaceFrom(it.row.id); } },
  { keys: ["c"], shown: "C", words: "A transition at the nearest cut", run: () => { send({ do: "set-transition", at: playhead(), kind: lastKind() }); } },
  { keys: ["h"], shown: "H", words: "Hold the frame here", run: () => { send({ do: "freeze", at: playhead() }); } },
  { keys: ["r"], shown: "R", words: "Backwards, forwards again", run: () => on_(({ row }) => ({ do: "set-speed", item: row.id, backwards: !row.fast?.startsWith("−") })) },
  { keys: ["d"], shown: "D", words: "Detach the sound, attach it", run: () => { const it = subject(); if (it?.lane === "main") toggleSound(it.row.id); } },
  { keys: ["alt+m"], shown: "Alt M", words: "Mute it", run: () => on_(({ row }) => ({ do: "set-gain", item: row.id, muted: !row.muted })) },
  { keys: ["alt+ArrowUp", "alt+ArrowDown"], shown: "Alt ↑ ↓", words: "To the next track", run: (e) => step(e.key === "ArrowUp" ? -1 : 1) },
  { keys: ["alt+ArrowLeft", "alt+ArrowRight"], shown: "Alt ← →", words: "The clip one place; a layer one frame", run: (e) => shift(e.key === "ArrowLeft" ? -1 : 1) },
  { keys: ["alt+shift+ArrowLeft", "alt+shift+ArrowRight", "alt+shift+ArrowUp", "alt+shift+ArrowDown"], shown: "Alt Shift arrows", words: "Nudge the layer on the stage", run: (e) => nudge(e.key === "ArrowLeft" ? -0.01 : e.key === "ArrowRight" ? 0.01 : 0, e.key === "ArrowUp" ? -0.01 : e.key === "ArrowDown" ? 0.01 : 0) },
  { keys: ["t"], shown: "T", words: "Tie to the clip, or free", run: () => on_(({ row, track }) => (track ? { do: "tie-item", item: row.id, to: row.tied === "clip" ? "time" : "clip" } : null)) },
  { keys: ["m"], shown: "M", words: "Start a scene with this clip", run: () => on_(({ row, lane }) => (lane === "main" ? { do: "break-scene", clip: row.id } : null)) },
  { keys: ["shift+m"], shown: "Shift M", words: "Break the scene here", run: () => { send({ do: "break-scene", at: playhead() }); } },
  { keys: ["n"], shown: "N", words: "A note here", run: () => { addNote(); } },
  { keys: ["w"], shown: "W", words: "Add words at the playhead", run: () => { addWords(); } },
  { keys: ["g"], shown: "G", words: "Snapping on, off (Ctrl suspends it)", run: toggleSnap },
  { keys: ["s"], shown: "S (held)", words: "Split cursor: press where to cut", run: () => splitCursor(true) },
  { keys: ["ctrl+a"], shown: "Ctrl A", words: "Select everything", run: () => select(known.keys()) },
  { keys: ["ctrl+c"], shown: "Ctrl C", words: "Copy", run: () => { copy(); } },
  { keys: ["ctrl+x"], shown: "Ctrl X", words: "Cut out", run: () => { cut(); } },
  { keys: ["ctrl+v"], shown: "Ctrl V", words: "Paste at the playhead", run: paste },
  { keys: ["ctrl+d"], shown: "Ctrl D", words: "Duplicate", run: duplicate },
  { keys: ["ctrl+g"], shown: "Ctrl G", words: "Group", run: () => { send({ do: "group", items: chosen() }); } },
  { keys: ["ctrl+shift+g"], shown: "Ctrl Shift G", words: "Take the group apart", run: () => { send({ do: "group", items: chosen(), apart: true }); } },
  { keys: ["ctrl+z"], shown: "Ctrl Z", words: "Undo", run: () => { undo(); } },
  { keys: ["ctrl+shift+z"], shown: "Ctrl Shift Z", words: "Redo", run: () => { redo(); } },
  { keys: ["+", "=", "shift++"], shown: "+", words: "Zoom in (Ctrl and wheel too)", run: () => zoom(1.5) },
  { keys: ["-"], shown: "−", words: "Zoom out", run: () => zoom(1 / 1.5) },
  { keys: ["0"], shown: "0", words: "Fit the whole promo", run: zoomFit },
  { keys: ["z"], shown: "Z", words: "Fit what is selected", run: zoomSelected },
  { keys: ["u"], shown: "U", words: "Fold to scenes, unfold to tracks", run: () => setFolded(!folded()) },
  { keys: ["v"], shown: "V", words: "History and versions", run: openHistory },
  { keys: ["f"], shown: "F", words: "Find on the Shelf", run: () => { showFace("shelf"); document.getElementById("shelf-find")?.focus(); } },
  { keys: ["1", "2", "3", "4", "5", "6", "7", "8", "9"], shown: "1 … 9", words: "Work in that format", run: (e) => work(model.state.formats[Number(e.key) - 1]?.id ?? "") },
  { keys: ["Escape"], shown: "Esc", words: "Give up a gesture, select nothing", run: () => { select([]); clearRange(); splitCursor(false); } },
  { keys: ["?", "shift+?"], shown: "?", words: "This sheet", run: () => /** @type {HTMLDialogElement} */ (document.getElementById("keys-sheet")).showModal() },
];

/** @param {boolean} up */
function splitCursor(up) {
  tool.split = up;
  document.querySelector(".timeline")?.classList.toggle("is-splitting", up);
  splitTool?.setAttribute("aria-pressed", String(up));
}
const splitTool = document.getElementById("split-tool");
splitTool?.addEventListener("click", () => splitCursor(!tool.split));
document.addEventListener("keyup", (event) => { if (event.key.toLowerCase() === "s") splitCursor(false); });
window.addEventListener("blur", () => splitCursor(false));

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
