// @ts-check
/** The Shelf: bringing files in, and putting them into the promo by click or by dragging. */

import { headers, note, sentenceOf } from "../page.js";
import { drawWave, loadPeaks } from "./art.js";
import { send } from "./commands.js";
import { aim, hush, sayAt, showMark } from "./drag.js";
import { mainPlace } from "./gestures.js";
import { openMenu } from "./menu.js";
import { clipAt, endOf, gridTicks, here, known, model, remember, ticks } from "./model.js";
import { replaceWith } from "./replace.js";
import { timeAt } from "./timeline.js";

const uploads = /** @type {HTMLElement} */ (document.getElementById("uploads"));
const input = /** @type {HTMLInputElement} */ (document.getElementById("file-input"));
const MOST = 2 * 1024 ** 3;

/* ---- bringing in ---- */

/** Sends files one after another; one that is refused does not hold up the others. @param {File[]} files */
async function bringIn(files) {
  showFace("shelf");
  const rows = files.map((file) => {
    const row = document.createElement("div");
    row.className = "upload";
    const name = document.createElement("span");
    name.textContent = file.name;
    const bar = document.createElement("progress");
    bar.max = 1;
    bar.value = 0;
    bar.setAttribute("aria-label", `Sending ${file.name}`);
    row.append(name, bar);
    uploads.append(row);
    return { row, bar, name };
  });
  for (const [n, file] of files.entries()) {
    try {
      if (file.size > MOST) throw new Error(`${file.name} is larger than 2 GB. Export a smaller copy first.`);
      await sendFile(file, (share) => { rows[n].bar.value = share; });
      rows[n].row.remove();
    } catch (error) {
      rows[n].bar.remove();
      rows[n].name.textContent = /** @type {Error} */ (error).message;
      rows[n].row.classList.add("refusal");
      setTimeout(() => rows[n].row.remove(), 12000);
    }
    reload();
  }
}

/** @param {File} file @param {(share: number) => void} progress */
function sendFile(file, progress) {
  return new Promise((done, failed) => {
    const request = new XMLHttpRequest();
    request.open("POST", "/shelf/uploads");
    for (const [name, value] of Object.entries(headers)) request.setRequestHeader(name, value);
    request.setRequestHeader("X-File-Name", encodeURIComponent(file.name));
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.upload.onprogress = (event) => progress(event.loaded / Math.max(1, event.total));
    request.onload = () => (request.status < 300 ? done(undefined) : failed(new Error(sentenceOf(request.responseText))));
    request.onerror = () => failed(new Error(`${file.name} could not be sent. Check the connection and try again.`));
    request.send(file);
  });
}

function reload() {
  /** @type {any} */ (window).htmx.ajax("GET", "/shelf/list", { target: "#shelf-list", swap: "outerHTML", source: "#shelf-filter" });
}

document.getElementById("add-files")?.addEventListener("click", () => input.click());
input.addEventListener("change", () => { bringIn([...(input.files ?? [])]); input.value = ""; });

let veil = /** @type {HTMLElement|null} */ (null);
const bringsFiles = (/** @type {DragEvent} */ event) => [...(event.dataTransfer?.types ?? [])].includes("Files");
window.addEventListener("dragover", (event) => {
  if (!bringsFiles(event)) return;
  event.preventDefault();
  if (!veil) {
    veil = document.createElement("div");
    veil.className = "drop-veil";
    veil.textContent = "Drop to put them on the Shelf";
    document.body.append(veil);
  }
});
const unveil = () => { veil?.remove(); veil = null; };
window.addEventListener("dragleave", (event) => { if (!event.relatedTarget) unveil(); });
window.addEventListener("drop", (event) => {
  if (!bringsFiles(event)) return;
  event.preventDefault();
  unveil();
  bringIn([...(event.dataTransfer?.files ?? [])]);
});

/* ---- putting into the promo ---- */

/** Adds a file where the playhead is: a picture at the nearest cut, a sound at its time. @param {HTMLElement} item */
function add(item) {
  const media = item.dataset.media;
  if (item.dataset.kind === "transition") { remember({ transition: item.dataset.transition }); send({ do: "set-transition", at: gridTicks(here()), kind: item.dataset.transition }); }
  else if (item.dataset.kind === "sound") send({ do: "add-sound", media, at: ticks(here()) });
  else send({ do: "insert-clips", media: [media], at: model.state.length ? gridTicks(here()) : null });
}

/** @param {HTMLElement} item */
const facts = (item) => ({ id: item.dataset.media ?? "", kind: item.dataset.kind ?? "", seconds: Number(item.dataset.seconds), name: item.dataset.name ?? "" });

/** Everything that can be done with a file of the Shelf. @param {HTMLElement} item @param {{x: number, y: number}} [point] */
function itemMenu(item, point) {
  const media = item.dataset.media;
  const sound = item.dataset.kind === "sound";
  const clip = [...model.selected].find((id) => known.get(id)?.lane === "main") ?? clipAt(here() + 1e-4)?.id;
  openMenu(/** @type {HTMLElement} */ (item.querySelector(".shelf-pick") ?? item), item.dataset.name ?? "", sound ? [
    { title: item.dataset.name },
    { words: "At the playhead", icon: "music-note", run: () => add(item) },
    { words: "Under the whole promo", icon: "arrows", run: () => { send({ do: "add-sound", media, whole: true }); } },
  ] : [
    { title: item.dataset.name },
    { words: "In at the nearest cut", icon: "box-arrow-in-down", run: () => add(item) },
    { words: "At the end", icon: "arrow-bar-right", run: () => { send({ do: "insert-clips", media: [media] }); } },
    { words: "Over what is at the playhead", icon: "layers-half", run: () => { send({ do: "overwrite", media, at: gridTicks(here()) }); } },
    { words: "In the place of the clip", icon: "arrow-left-right", off: !clip, run: () => { if (clip) replaceWith(clip, facts(item)); } },
    { words: "As a layer at the playhead", icon: "layers", run: () => { send({ do: "add-picture", media, at: gridTicks(here()) }); } },
    { words: "As a layer over the whole promo", icon: "arrows", run: () => { send({ do: "add-picture", media, whole: true }); } },
  ], point);
}
document.addEventListener("contextmenu", (event) => {
  const item = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest(".shelf-item.is-ready"));
  if (!item || item.dataset.kind === "transition") return;
  event.preventDefault();
  itemMenu(item, event.clientX || event.clientY ? { x: event.clientX, y: event.clientY } : undefined);
});
document.addEventListener("click", (event) => {
  const more = /** @type {Element} */ (event.target).closest(".shelf-more");
  if (more) itemMenu(/** @type {HTMLElement} */ (more.closest(".shelf-item")));
});

/** @param {PointerEvent} event @param {HTMLElement} item */
function drag(event, item) {
  const from = { x: event.clientX, y: event.clientY };
  const kind = item.dataset.kind;
  let moved = false;
  /** @type {(() => void)|null} */
  let drop = null;
  const move = (/** @type {PointerEvent} */ e) => {
    if (!moved && Math.hypot(e.clientX - from.x, e.clientY - from.y) < 5) return;
    moved = true;
    const aimed = target(e, item, kind ?? "");
    drop = aimed?.drop ?? null;
    sayAt(e, aimed?.words ? `${item.dataset.name}: ${aimed.words}` : item.dataset.name ?? "");
  };
  const end = (/** @type {Event} */ e) => {
    window.removeEventListener("pointermove", move);
    window.removeEventListener("pointerup", end);
    window.removeEventListener("pointercancel", end);
    document.removeEventListener("keydown", escape, true);
    hush();
    showMark(null);
    aim(null);
    if (e.type !== "pointerup") return;
    if (!moved) add(item);
    else if (drop) drop();
    else note(kind === "transition" ? "Drop it on a cut of the main track." : "Drop it on the main track, a layer, a sound track or the stage.");
  };
  const escape = (/** @type {KeyboardEvent} */ e) => { if (e.key === "Escape") { e.stopPropagation(); end(e); } };
  window.addEventListener("pointermove", move);
  window.addEventListener("pointerup", end);
  window.addEventListener("pointercancel", end);
  document.addEventListener("keydown", escape, true);
}

/** What dropping here would do, in words; marks the place. @param {PointerEvent} event @param {HTMLElement} item @param {string} kind */
function target(event, item, kind) {
  aim(null);
  showMark(null);
  const media = item.dataset.media;
  const under = document.elementsFromPoint(event.clientX, event.clientY);
  if (kind === "transition") return onCut(event, item, under);
  if (under.some((e) => e.id === "stage") && kind !== "sound")
    return { words: "a layer", drop: () => { send({ do: "add-picture", media, at: gridTicks(here()) }); } };
  const lane = /** @type {HTMLElement|undefined} */ (under.find((e) => e.classList.contains("tl-lane")));
  if (!lane) return null;
  const time = Math.max(0, timeAt(event.clientX));
  const track = lane.dataset.track === "new" ? null : lane.dataset.track;
  if (kind === "sound") {
    if (lane.dataset.lane === "sound") aim(lane);
    showMark(time);
    return { words: "", drop: () => { send({ do: "add-sound", media, at: ticks(time), track: lane.dataset.lane === "sound" ? track : null }); } };
  }
  if (lane.dataset.lane === "layer") {
    aim(lane);
    showMark(time);
    return { words: "a layer", drop: () => { send({ do: "add-picture", media, at: gridTicks(time), track }); } };
  }
  return lane.dataset.lane === "main" ? onMain(event, item, time) : null;
}

/** A transition goes on the cut nearest to where it is dropped. @param {PointerEvent} event @param {HTMLElement} item @param {Element[]} under */
function onCut(event, item, under) {
  const time = timeAt(event.clientX);
  const rows = model.state.main.slice(0, -1);
  if (!rows.length || !under.some((e) => e.matches('[data-lane="main"]'))) return null;
  const near = rows.reduce((best, row) => (Math.abs(endOf(row) - time) < Math.abs(endOf(best) - time) ? row : best));
  showMark(endOf(near));
  return { words: `on the cut after ${near.label}`, drop: () => { send({ do: "set-transition", after: near.id, kind: item.dataset.transition }); } };
}

/** On the main track: in between; over what is there (Alt); in a filler's or a clip's place (Shift). @param {PointerEvent} event @param {HTMLElement} item @param {number} time */
function onMain(event, item, time) {
  const media = item.dataset.media;
  const clip = clipAt(time);
  const place = mainPlace(time);
  if (clip && (clip.kind === "filler" || event.shiftKey)) {
    aim(document.querySelector(`#lanes [data-id="${CSS.escape(clip.id)}"]`));
    return { words: `in the place of ${clip.label}`, drop: () => replaceWith(clip.id, facts(item)) };
  }
  if (event.altKey) {
    showMark(time);
    return { words: "over what is there", drop: () => { send({ do: "overwrite", media, at: gridTicks(time) }); } };
  }
  showMark(place.at);
  return { words: model.state.main.length ? "in between (Alt: over it, Shift: in its place)" : "", drop: () => { send({ do: "insert-clips", media: [media], before: place.before }); } };
}

document.addEventListener("pointerdown", (event) => {
  const item = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest(".shelf-item.is-ready"));
  if (!item || event.button || /** @type {Element} */ (event.target).closest("button")) return;
  event.preventDefault();
  /** @type {HTMLElement} */ (item.querySelector(".shelf-pick")).focus({ preventScroll: true });
  drag(event, item);
});
document.addEventListener("keydown", (event) => {
  const item = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest?.(".shelf-pick[role=button]")?.parentElement);
  if (item && (event.key === "Enter" || event.key === " ")) { event.preventDefault(); event.stopPropagation(); add(item); }
}, true);
document.addEventListener("click", async (event) => {
  const button = /** @type {Element} */ (event.target).closest("[data-remove-media]");
  if (!button) return;
  await fetch(button.getAttribute("data-remove-media") ?? "", { method: "POST", headers });
  reload();
  note("It is off the Shelf. Promos that use it keep it.");
});
document.getElementById("add-words")?.addEventListener("click", addWords);
export async function addWords() {
  if (await send({ do: "add-words", at: gridTicks(here()) })) {
    showFace("details");
    const text = /** @type {HTMLTextAreaElement|null} */ (document.getElementById("words-text"));
    text?.focus();
    text?.select();
  }
}
document.getElementById("add-filler")?.addEventListener("click", () => send({ do: "insert-filler", at: gridTicks(here()) }));

/** Draws the little waveforms of sounds in the list. */
async function waves() {
  for (const place of document.querySelectorAll(".shelf-wave:not([data-drawn])")) {
    place.setAttribute("data-drawn", "1");
    const media = place.closest("[data-media]")?.getAttribute("data-media") ?? "";
    const data = await loadPeaks(media);
    const canvas = /** @type {HTMLCanvasElement} */ (place.querySelector("canvas"));
    const paper = canvas.getContext("2d");
    if (!data || !paper) continue;
    paper.fillStyle = "#4F7A57";
    drawWave(paper, data, (x) => (x / canvas.width) * (data.length / 100), canvas.width, canvas.height, () => 1);
  }
}
document.body.addEventListener("htmx:afterSwap", waves);
waves();

/* ---- the bench's two faces ---- */

/** @param {"shelf"|"details"} face */
export function showFace(face) {
  for (const name of ["shelf", "details"]) {
    const on = name === face;
    document.getElementById(`bench-${name}`)?.toggleAttribute("hidden", !on);
    const tab = document.getElementById(`tab-${name}`);
    tab?.setAttribute("aria-selected", String(on));
    tab?.setAttribute("tabindex", on ? "0" : "-1");
  }
}
for (const face of /** @type {const} */ (["shelf", "details"])) {
  const tab = document.getElementById(`tab-${face}`);
  tab?.addEventListener("click", () => showFace(face));
  tab?.addEventListener("keydown", (event) => {
    if (event.key !== "ArrowLeft" && event.key !== "ArrowRight") return;
    const other = face === "shelf" ? "details" : "shelf";
    event.stopPropagation();
    showFace(other);
    document.getElementById(`tab-${other}`)?.focus();
  });
}
