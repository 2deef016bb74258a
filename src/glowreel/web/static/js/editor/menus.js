// @ts-check
/** What there is to do with a clip, a layer, a sound, a track, a scene: by right click, by a press on “more”, by key. */

import { send } from "./commands.js";
import { copy, copyScene, cut, duplicate, paste, somethingCopied } from "./clipboard.js";
import { openMenu } from "./menu.js";
import { clock, fps, gridTicks, here, known, model, moveTo, select, ticks, typed } from "./model.js";
import { playFrom } from "./player.js";
import { chooseScene } from "./scenesheet.js";
import { markRange } from "./range.js";
import { replaceFrom } from "./replace.js";
import { setReach, timeAt, view, zoomSelected, zoomSpan } from "./timeline.js";

/** @typedef {import("./menu.js").Entry} Entry */

const chosen = () => [...model.selected];

/** What can be done with anything that is selected. @returns {Entry[]} */
function common() {
  return [
    { line: true },
    { words: "Copy", icon: "copy", keys: "Ctrl C", run: () => { copy(); } },
    { words: "Cut out", icon: "scissors", keys: "Ctrl X", run: () => { cut(); } },
    { words: "Duplicate", icon: "plus-square", keys: "Ctrl D", run: duplicate },
    chosen().length > 1 && !known.get(chosen()[0])?.row.group
      ? { words: "Group", icon: "collection", keys: "Ctrl G", run: () => { send({ do: "group", items: chosen() }); } }
      : { words: "Take the group apart", icon: "collection", keys: "Ctrl Shift G", off: !known.get(chosen()[0])?.row.group, run: () => { send({ do: "group", items: chosen(), apart: true }); } },
    { words: "Fit it in sight", icon: "arrows-angle-expand", keys: "Z", run: zoomSelected },
    { words: "Remove", icon: "trash3", keys: "Del", run: () => { send({ do: "remove", items: chosen() }); } },
  ];
}

/** @param {import("./model.js").Known} it @returns {Entry[]} */
function clipEntries(it) {
  const { row } = it;
  const timed = Boolean(row.of);
  return [
    { title: row.label },
    { words: "Split at the playhead", icon: "vr", keys: "/", run: () => { send({ do: "split-at", item: row.id, at: gridTicks(here()) }); } },
    { words: row.kind === "filler" ? "Fill it with …" : "Replace with …", icon: "arrow-left-right", keys: "Q", run: () => replaceFrom(row.id) },
    { words: "Hold the frame at the playhead", icon: "pause-btn", keys: "H", off: row.kind !== "footage", run: () => { send({ do: "freeze", at: gridTicks(here()) }); } },
    { words: "Run it backwards", icon: "arrow-repeat", keys: "R", off: !timed, run: () => { send({ do: "set-speed", item: row.id, backwards: !row.fast?.startsWith("−") }); } },
    { words: "Detach its sound, or attach it", icon: "music-note-list", keys: "D", off: !row.sounding, run: () => toggleSound(row.id) },
    { words: "Start a scene with it", icon: "signpost-2", keys: "M", run: () => { send({ do: "break-scene", clip: row.id }); } },
    ...common(),
    { words: "Select the whole scene", icon: "bounding-box", run: () => {
      const scene = model.state.scenes.find((s) => row.start >= s.start - 1e-6 && row.start < s.start + s.length);
      if (scene) select(model.state.main.filter((r) => r.start >= scene.start - 1e-6 && r.start < scene.start + scene.length - 1e-6).map((r) => r.id));
    } },
  ];
}

/** Detaches the sound of a clip; attaches it again where it has been. @param {string} id */
export async function toggleSound(id) {
  const row = known.get(id)?.row;
  if (!row) return;
  if (row.muted && await send({ do: "attach-sound", clip: id })) return;
  if (!row.muted) send({ do: "detach-sound", clip: id });
}

/** @param {import("./model.js").Known} it @returns {Entry[]} */
function itemEntries(it) {
  const { row, lane, track } = it;
  const off = Boolean(track?.locked);
  return [
    { title: row.label },
    { words: "Split at the playhead", icon: "vr", keys: "/", off, run: () => { send({ do: "split-at", item: row.id, at: lane === "sound" ? ticks(here()) : gridTicks(here()) }); } },
    { words: row.tied === "clip" ? "Let it hold to its time" : "Tie it to the clip under it", icon: "link-45deg", keys: "T", off, run: () => { send({ do: "tie-item", item: row.id, to: row.tied === "clip" ? "time" : "clip" }); } },
    { words: "Stretch it over the whole promo", icon: "arrows", off: off || row.tied === "whole", run: () => { send({ do: "tie-item", item: row.id, to: "whole" }); } },
    { words: "To the next track up", icon: "arrow-up", keys: "Alt ↑", off, run: () => { send({ do: "step-track", item: row.id, by: -1 }); } },
    { words: "To the next track down", icon: "arrow-down", keys: "Alt ↓", off, run: () => { send({ do: "step-track", item: row.id, by: 1 }); } },
    ...(lane === "sound" ? [{ words: row.muted ? "Let it be heard" : "Mute it", icon: "volume-mute", keys: "Alt M", off, run: () => { send({ do: "set-gain", item: row.id, muted: !row.muted }); } }] : []),
    ...common(),
    { words: "Remove and close the gap", icon: "arrows-collapse-vertical", keys: "Shift Del", off, run: () => { send({ do: "remove", items: chosen(), close: true }); } },
  ];
}

/** @param {HTMLElement} beside @param {string} id @param {{x: number, y: number}} [point] */
function thingMenu(beside, id, point) {
  const it = known.get(id);
  if (!it) return;
  if (!model.selected.has(id)) select([id]);
  const many = model.selected.size > 1 ? [{ title: `${model.selected.size} selected` }, ...common()] : null;
  openMenu(beside, it.row.label, many ?? (it.lane === "main" ? clipEntries(it) : itemEntries(it)), point);
}

/** @param {HTMLElement} beside @param {import("./model.js").Scene} scene @param {{x: number, y: number}} [point] */
export function sceneMenu(beside, scene, point) {
  const spot = model.state.scenes.indexOf(scene);
  const frame = scene.start * fps() + 0.01;
  openMenu(beside, scene.name, [
    { title: scene.name },
    { words: "Play from here", icon: "play", run: () => { moveTo(frame); playFrom("all"); } },
    { words: "Play only this scene", icon: "play-btn", run: () => { moveTo(frame); playFrom("scene"); } },
    { words: "Fit it in sight", icon: "arrows-angle-expand", run: () => zoomSpan(scene.start, scene.start + scene.length) },
    { words: "Lasts", field: scene.length.toFixed(2), said: "Length of the scene, seconds", set: (text) => { const value = typed(text); if (value > 0) send({ do: "set-scene-length", scene: scene.id, length: ticks(value) }); } },
    { line: true },
    { words: "Duplicate", icon: "plus-square", run: () => { send({ do: "duplicate", scene: scene.id }); } },
    { words: "Copy", icon: "copy", run: () => { copyScene(scene.id); } },
    { words: "Break it at the playhead", icon: "signpost-split", keys: "Shift M", run: () => { send({ do: "break-scene", at: gridTicks(here()) }); } },
    { words: "Merge it with the next", icon: "union", off: spot === model.state.scenes.length - 1, run: () => { send({ do: "join-scene", scene: scene.id }); } },
    { words: "A new scene before it", icon: "arrow-bar-left", run: () => { send({ do: "insert-scene", beside: scene.id, side: "before" }); } },
    { words: "A new scene after it", icon: "arrow-bar-right", run: () => { send({ do: "insert-scene", beside: scene.id, side: "after" }); } },
    { words: "A scene of another promo after it …", icon: "box-arrow-in-down", run: () => chooseScene(model.state.scenes[spot + 1]?.id ?? null) },
    { line: true },
    { words: "Earlier", icon: "arrow-left", off: spot === 0, run: () => { send({ do: "move-scene", scene: scene.id, before: model.state.scenes[spot - 1].id }); } },
    { words: "Later", icon: "arrow-right", off: spot === model.state.scenes.length - 1, run: () => { send({ do: "move-scene", scene: scene.id, before: model.state.scenes[spot + 2]?.id ?? null }); } },
    { words: "Remove", icon: "trash3", run: () => { send({ do: "remove-scene", scene: scene.id }); } },
  ], point);
}

/** @param {HTMLElement} beside @param {string} id @param {string} gain @param {{x: number, y: number}} [point] */
function trackMenu(beside, id, gain, point) {
  const track = model.state.tracks.find((t) => t.id === id);
  if (!track) return;
  const name = /** @type {HTMLInputElement|null} */ (document.querySelector(`[data-name-track="${CSS.escape(id)}"]`));
  openMenu(beside, "Track", [
    { title: name?.value ?? "Track" },
    ...(track.kind === "sound" ? [{ words: "Gain, dB", field: Number(gain).toFixed(1), said: "Gain of the track, decibels", set: (/** @type {string} */ text) => { const value = Number(text.replace(",", ".")); if (Number.isFinite(value)) send({ do: "set-track", track: id, gain: Math.max(-60, Math.min(12, value)) }); } }] : []),
    { words: "Select all on it", icon: "check2-square", run: () => select(track.rows.map((row) => row.id)) },
    { words: "Close all its gaps", icon: "arrows-collapse-vertical", off: track.locked, run: () => { send({ do: "close-gap", track: id }); } },
    { words: track.kind === "layer" ? "Further to the front" : "Up", icon: "arrow-up", run: () => { send({ do: "move-track", track: id, by: -1 }); } },
    { words: track.kind === "layer" ? "Further to the back" : "Down", icon: "arrow-down", run: () => { send({ do: "move-track", track: id, by: 1 }); } },
    { line: true },
    { words: "Remove the track", icon: "trash3", off: track.locked, run: () => { send({ do: "remove-track", track: id }); } },
  ], point);
}

/** @param {HTMLElement} beside @param {string} which */
function headMenu(beside, which) {
  if (which === "scenes") {
    openMenu(beside, "Scenes", [
      { words: "A new scene at the end", icon: "plus-lg", run: () => { send({ do: "insert-scene" }); } },
      { words: "A scene of another promo …", icon: "box-arrow-in-down", run: () => chooseScene(null) },
      { words: "Break at the playhead", icon: "signpost-split", keys: "Shift M", run: () => { send({ do: "break-scene", at: gridTicks(here()) }); } },
      { words: "Paste", icon: "clipboard", keys: "Ctrl V", off: !somethingCopied(), run: paste },
    ]);
  } else {
    openMenu(beside, "Main track", [
      { words: "Select all clips", icon: "check2-square", run: () => select(model.state.main.map((row) => row.id)) },
      { words: "A filler at the nearest cut", icon: "square", run: () => { send({ do: "insert-filler", at: gridTicks(here()) }); } },
      { words: "Paste at the nearest cut", icon: "clipboard", keys: "Ctrl V", off: !somethingCopied(), run: paste },
      { line: true },
      { words: "Snapping reaches, pixels", field: String(view.reach), said: "How near something must be to snap, pixels", set: (text) => { const value = Number(text); if (value > 0) setReach(value); } },
    ]);
  }
}

document.addEventListener("click", (event) => {
  const more = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest("[data-menu]"));
  if (!more) return;
  if (more.dataset.menu === "track") trackMenu(more, more.dataset.trackId ?? "", more.dataset.gain ?? "0");
  else headMenu(more, more.dataset.menu ?? "");
});
document.addEventListener("contextmenu", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const box = /** @type {HTMLElement|null} */ (target.closest("#lanes .item"));
  const scene = /** @type {HTMLElement|null} */ (target.closest(".scene, .scene-card"));
  const head = /** @type {HTMLElement|null} */ (target.closest("[data-head]"));
  const lane = target.closest("#lanes .tl-lane, #ruler");
  if (!box && !scene && !head && !lane) return;
  if (target.matches("input")) return;
  event.preventDefault();
  // By key there is no place of the pointer: the menu then opens beside what has the focus.
  const point = event.clientX || event.clientY ? { x: event.clientX, y: event.clientY } : undefined;
  if (box) thingMenu(box, box.dataset.id ?? "", point);
  else if (scene) { const it = model.state.scenes.find((s) => s.id === scene.dataset.scene); if (it) sceneMenu(scene, it, point); }
  else if (head) trackMenu(head, head.dataset.head ?? "", head.querySelector("[data-gain]")?.getAttribute("data-gain") ?? "0", point);
  else emptyMenu(timeAt(event.clientX), point);
});

/** What there is to do at a time where nothing lies. @param {number} time @param {{x: number, y: number}} [point] */
function emptyMenu(time, point) {
  const at = () => moveTo(time * fps());
  openMenu(/** @type {HTMLElement} */ (document.getElementById("tl-scroll")), "Timeline", [
    { title: clock(time) },
    { words: "A range begins here", icon: "chevron-bar-left", keys: ",", run: () => { at(); markRange("start"); } },
    { words: "The range ends here", icon: "chevron-bar-right", keys: ".", run: () => { at(); markRange("end"); } },
    { words: "Put a note here", icon: "flag", keys: "N", run: () => { send({ do: "add-note", at: gridTicks(time) }); } },
    { words: "Paste here", icon: "clipboard", keys: "Ctrl V", off: !somethingCopied(), run: () => { at(); paste(); } },
    { words: "Split every track here", icon: "vr", keys: "Alt /", run: () => { send({ do: "split-at", at: gridTicks(time) }); } },
  ], point);
}
document.addEventListener("click", (event) => {
  const press = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest("[data-switch]"));
  if (press) send({ do: "set-track", track: press.dataset.trackId, [press.dataset.switch ?? ""]: press.getAttribute("aria-pressed") !== "true" });
});
document.addEventListener("change", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  if (field.dataset.nameTrack) send({ do: "set-track", track: field.dataset.nameTrack, name: field.value });
});
