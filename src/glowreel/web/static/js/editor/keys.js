// @ts-check
/** Keys: one table that works them and fills the sheet that `?` opens. */

import {
  go,
  chosen,
  playhead,
  subject,
  withSubject,
  trimTo,
  split,
  rollHere,
  slip,
  shift,
  selectNext,
  toCut,
  toScene,
  step,
  addNote,
  remove,
  playOrPause,
  shuttling,
} from "./actions.js";
import { commands } from "../commandlist.js";
import { copy, cut, duplicate, pasteByKeys } from "./clipboard.js";
import { redo, send, undo } from "./commands.js";
import { lastKind } from "./cuts.js";
import { tool } from "./gestures.js";
import { openHistory } from "./history.js";
import { toggleSound } from "./menus.js";
import { toggleMixer } from "./mixer.js";
import { known, model, select } from "./model.js";
import { clearRange, markRange, removeRange } from "./range.js";
import { nextNote } from "./review.js";
import { openRecorder } from "./recorder.js";
import { replaceFrom } from "./replace.js";
import { folded, setFolded } from "./ribbon.js";
import { showFace } from "./bench.js";
import { addWords } from "./shelf.js";
import { nudge } from "./stage.js";
import { toggleSnap, zoom, zoomFit, zoomSelected } from "./timeline.js";
import { work } from "./wall.js";

/** @type {{keys: string[], shown: string, label: string, run: (event: KeyboardEvent) => unknown}[]} */
const table = [
  {
    keys: [" "],
    shown: "Space",
    label: "Play, pause",
    run: playOrPause,
  },
  { keys: ["j"], shown: "J", label: "Backwards, faster each time", run: () => shuttling(-1) },
  { keys: ["i"], shown: "I", label: "Mixer", run: toggleMixer },
  {
    keys: ["o"],
    shown: "O held",
    label: "Hear voices as they came, for as long as it is held",
    run: () => {},
  },
  { keys: ["k"], shown: "K", label: "Stop", run: () => shuttling(0) },
  { keys: ["l"], shown: "L", label: "Forwards, faster each time", run: () => shuttling(1) },
  {
    keys: ["ArrowLeft", "ArrowRight"],
    shown: "← →",
    label: "One frame",
    run: (event) => go(model.frame + (event.key === "ArrowLeft" ? -1 : 1)),
  },
  {
    keys: ["shift+ArrowLeft", "shift+ArrowRight"],
    shown: "Shift ← →",
    label: "One second",
    run: (event) => go(model.frame + (event.key === "ArrowLeft" ? -1 : 1) * Math.round(model.fps)),
  },
  { keys: ["Home"], shown: "Home", label: "To the start", run: () => go(0) },
  { keys: ["End"], shown: "End", label: "To the end", run: () => go(model.frameCount) },
  {
    keys: ["ArrowUp", "ArrowDown"],
    shown: "↑ ↓",
    label: "To the cut before, after",
    run: (event) => toCut(event.key === "ArrowUp" ? -1 : 1),
  },
  {
    keys: ["PageUp", "PageDown"],
    shown: "Page ↑ ↓",
    label: "To the scene before, after",
    run: (event) => toScene(event.key === "PageUp" ? -1 : 1),
  },
  { keys: ["a"], shown: "A", label: "Select what is under the playhead, one after another", run: selectNext },
  { keys: ["["], shown: "[", label: "Trim the start to the playhead", run: () => trimTo("start") },
  { keys: ["]"], shown: "]", label: "Trim the end to the playhead", run: () => trimTo("end") },
  {
    keys: ["shift+b"],
    shown: "Shift B",
    label: "All formats side by side",
    run: () => document.getElementById("side-by-side")?.click(),
  },
  { keys: ["b"], shown: "B", label: "Bring the nearest cut to the playhead", run: rollHere },
  {
    keys: ["alt+[", "alt+]"],
    shown: "Alt [ ]",
    label: "Slip the material by a frame",
    run: (event) => slip(event.key === "[" ? -1 : 1),
  },
  { keys: ["/"], shown: "/", label: "Split what is selected, or the clip here", run: () => split(false) },
  { keys: ["alt+/"], shown: "Alt /", label: "Split every track here", run: () => split(true) },
  {
    keys: ["\\"],
    shown: "\\",
    label: "Join with the one that goes on after it",
    run: () => withSubject(({ row }) => ({ do: "join", item: row.id })),
  },
  { keys: [","], shown: ",", label: "Mark where a range begins", run: () => markRange("start") },
  { keys: ["."], shown: ".", label: "Mark where it ends", run: () => markRange("end") },
  {
    keys: ["x"],
    shown: "X",
    label: "Take the range out of every track",
    run: () => removeRange("cut"),
  },
  {
    keys: ["shift+x"],
    shown: "Shift X",
    label: "… but leave the music alone",
    run: () => removeRange("stays"),
  },
  {
    keys: ["Delete", "Backspace"],
    shown: "Delete",
    label: "Remove what is selected",
    run: () => remove(false),
  },
  {
    keys: ["shift+Delete", "shift+Backspace"],
    shown: "Shift Delete",
    label: "Remove it and close the gap",
    run: () => remove(true),
  },
  {
    keys: ["q"],
    shown: "Q",
    label: "Replace the clip",
    run: () => {
      const it = subject();
      if (it) replaceFrom(it.row.id);
    },
  },
  {
    keys: ["c"],
    shown: "C",
    label: "A transition at the nearest cut",
    run: () => send({ do: "set-transition", at: playhead(), kind: lastKind() }),
  },
  {
    keys: ["h"],
    shown: "H",
    label: "Hold the frame here",
    run: () => send({ do: "freeze", at: playhead() }),
  },
  {
    keys: ["r"],
    shown: "R",
    label: "Backwards, forwards again",
    run: () =>
      withSubject(({ row }) => ({ do: "set-speed", item: row.id, backwards: !row.fast?.startsWith("−") })),
  },
  {
    keys: ["d"],
    shown: "D",
    label: "Detach the sound, attach it",
    run: () => {
      const it = subject();
      if (it?.lane === "main") toggleSound(it.row.id);
    },
  },
  {
    keys: ["alt+m"],
    shown: "Alt M",
    label: "Mute it",
    run: () => withSubject(({ row }) => ({ do: "set", items: [row.id], values: { muted: !row.muted } })),
  },
  {
    keys: ["alt+ArrowUp", "alt+ArrowDown"],
    shown: "Alt ↑ ↓",
    label: "To the next track",
    run: (event) => step(event.key === "ArrowUp" ? -1 : 1),
  },
  {
    keys: ["alt+ArrowLeft", "alt+ArrowRight"],
    shown: "Alt ← →",
    label: "The clip one place; a layer one frame",
    run: (event) => shift(event.key === "ArrowLeft" ? -1 : 1),
  },
  {
    keys: ["alt+shift+ArrowLeft", "alt+shift+ArrowRight", "alt+shift+ArrowUp", "alt+shift+ArrowDown"],
    shown: "Alt Shift arrows",
    label: "Nudge the layer on the stage",
    run: (event) =>
      nudge(
        event.key === "ArrowLeft" ? -0.01 : event.key === "ArrowRight" ? 0.01 : 0,
        event.key === "ArrowUp" ? -0.01 : event.key === "ArrowDown" ? 0.01 : 0,
      ),
  },
  {
    keys: ["p"],
    shown: "P",
    label: "Come nearer from here on, or go back",
    run: () =>
      withSubject(({ row, lane }) =>
        lane === "main" ? { do: "punch-in", clip: row.id, at: playhead() } : null,
      ),
  },
  {
    keys: ["ctrl+ArrowUp", "ctrl+ArrowDown"],
    shown: "Ctrl ↑ ↓",
    label: "To the very front, to the very back",
    run: (event) =>
      send({ do: "order-items", items: chosen(), to: event.key === "ArrowUp" ? "front" : "back" }),
  },
  {
    keys: ["t"],
    shown: "T",
    label: "Tie to the clip, or free",
    run: () =>
      withSubject(({ row, track }) =>
        track ? { do: "tie-item", item: row.id, to: row.tied === "clip" ? "time" : "clip" } : null,
      ),
  },
  {
    keys: ["m"],
    shown: "M",
    label: "Start a scene with this clip",
    run: () => withSubject(({ row, lane }) => (lane === "main" ? { do: "break-scene", clip: row.id } : null)),
  },
  {
    keys: ["shift+m"],
    shown: "Shift M",
    label: "Break the scene here",
    run: () => send({ do: "break-scene", at: playhead() }),
  },
  {
    keys: ["n"],
    shown: "N",
    label: "A note here",
    run: () => addNote(),
  },
  { keys: ["shift+n"], shown: "Shift N", label: "To the next open note", run: () => nextNote(1) },
  { keys: ["alt+n"], shown: "Alt N", label: "To the open note before", run: () => nextNote(-1) },
  {
    keys: ["w"],
    shown: "W",
    label: "Add words at the playhead",
    run: () => addWords(),
  },
  { keys: ["g"], shown: "G", label: "Snapping on, off (Ctrl suspends it)", run: toggleSnap },
  { keys: ["s"], shown: "S (held)", label: "Split cursor: press where to cut", run: () => splitCursor(true) },
  { keys: ["ctrl+a"], shown: "Ctrl A", label: "Select everything", run: () => select(known.keys()) },
  {
    keys: ["ctrl+c"],
    shown: "Ctrl C",
    label: "Copy",
    run: () => copy(),
  },
  {
    keys: ["ctrl+x"],
    shown: "Ctrl X",
    label: "Cut out",
    run: () => cut(),
  },
  {
    keys: ["ctrl+v"],
    shown: "Ctrl V",
    label: "Paste at the playhead; pictures from elsewhere come on the Shelf",
    run: pasteByKeys,
  },
  { keys: ["ctrl+d"], shown: "Ctrl D", label: "Duplicate", run: duplicate },
  {
    keys: ["ctrl+g"],
    shown: "Ctrl G",
    label: "Group",
    run: () => send({ do: "group", items: chosen() }),
  },
  {
    keys: ["ctrl+shift+g"],
    shown: "Ctrl Shift G",
    label: "Take the group apart",
    run: () => send({ do: "group", items: chosen(), apart: true }),
  },
  {
    keys: ["ctrl+z"],
    shown: "Ctrl Z",
    label: "Undo",
    run: () => undo(),
  },
  {
    keys: ["ctrl+shift+z"],
    shown: "Ctrl Shift Z",
    label: "Redo",
    run: () => redo(),
  },
  { keys: ["+", "=", "shift++"], shown: "+", label: "Zoom in (Ctrl and wheel too)", run: () => zoom(1.5) },
  { keys: ["-"], shown: "−", label: "Zoom out", run: () => zoom(1 / 1.5) },
  { keys: ["0"], shown: "0", label: "Fit the whole promo", run: zoomFit },
  { keys: ["z"], shown: "Z", label: "Fit what is selected", run: zoomSelected },
  { keys: ["u"], shown: "U", label: "Fold to scenes, unfold to tracks", run: () => setFolded(!folded()) },
  { keys: ["v"], shown: "V", label: "History and versions", run: openHistory },
  { keys: ["shift+r"], shown: "Shift R", label: "Record your voice", run: openRecorder },
  {
    keys: ["f"],
    shown: "F",
    label: "Find on the Shelf",
    run: () => {
      showFace("shelf");
      document.getElementById("shelf-find")?.focus();
    },
  },
  {
    keys: ["1", "2", "3", "4", "5", "6", "7", "8", "9"],
    shown: "1 … 9",
    label: "Work in that format",
    run: (event) => work(model.state.formats[Number(event.key) - 1]?.id ?? ""),
  },
  {
    keys: ["Escape"],
    shown: "Esc",
    label: "Give up a gesture, select nothing",
    run: () => {
      select([]);
      clearRange();
      splitCursor(false);
    },
  },
  {
    keys: ["?", "shift+?"],
    shown: "?",
    label: "This sheet",
    run: () => /** @type {HTMLDialogElement} */ (document.getElementById("keys-sheet")).showModal(),
  },
];

/** @param {boolean} up */
function splitCursor(up) {
  tool.split = up;
  document.querySelector(".timeline")?.classList.toggle("is-splitting", up);
  splitTool?.setAttribute("aria-pressed", String(up));
}
const splitTool = document.getElementById("split-tool");
splitTool?.addEventListener("click", () => splitCursor(!tool.split));
document.addEventListener("keyup", (event) => {
  if (event.key.toLowerCase() === "s") splitCursor(false);
});
window.addEventListener("blur", () => splitCursor(false));

/** @type {Map<string, (event: KeyboardEvent) => void>} */
const works = new Map(
  table.flatMap((row) => row.keys.map((key) => /** @type {[string, any]} */ ([key, row.run]))),
);

document.addEventListener("keydown", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  if (document.querySelector("dialog[open]")) return;
  const written = target.matches?.("input:not([type=range]):not([type=checkbox]), textarea");
  // A list takes letters and arrows; what is held with Ctrl is nothing to it.
  if (written || (target.matches?.("select") && !event.ctrlKey && !event.metaKey)) {
    if (event.key === "Escape") target.blur();
    return;
  }
  const letter = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const parts = [
    event.ctrlKey || event.metaKey ? "ctrl" : "",
    event.altKey ? "alt" : "",
    event.shiftKey ? "shift" : "",
    letter,
  ];
  const name = parts.filter(Boolean).join("+");
  const run =
    works.get(name) ?? (event.shiftKey && !event.ctrlKey && !event.altKey ? works.get(event.key) : undefined);
  if (!run) return;
  if ((event.key === " " || event.key === "Enter") && target.matches?.("button:not(.item), summary, a"))
    return;
  // Only so does the browser say what is on its clipboard.
  if (run !== pasteByKeys) event.preventDefault();
  run(event);
});

commands.push(...table);

const list = document.getElementById("keys-list");
for (const row of [{ shown: "Ctrl K", label: "Find anything" }, ...table]) {
  const line = document.createElement("p");
  const words = document.createElement("span");
  const key = document.createElement("kbd");
  words.textContent = row.label;
  key.textContent = row.shown;
  line.append(words, key);
  list?.append(line);
}
