// @ts-check
/** Bringing files in: chosen, or dropped anywhere in the window. An empty promo then offers to lay them all in. */

import { looked, sendFiles, takeDrops } from "../sending.js";
import { showFace } from "./bench.js";
import { takePasted } from "./clipboard.js";
import { send } from "./commands.js";
import { aim, showMark } from "./drag.js";
import { model, on } from "./model.js";
import { target } from "./shelfdrag.js";

const uploads = /** @type {HTMLElement} */ (document.getElementById("uploads"));
const input = /** @type {HTMLInputElement} */ (document.getElementById("file-input"));
const offer = /** @type {HTMLElement} */ (document.getElementById("stage-offer"));
const button = /** @type {HTMLButtonElement} */ (document.getElementById("put-all"));

/** What was dropped on the Desk for this promo. @type {import("../sending.js").Sent[]} */
const fromDesk = JSON.parse(sessionStorage.getItem(`arrived:${model.url}`) ?? "[]");
/** What came in while there was nothing to be seen, in order: from here, or from the Desk. @type {string[]} */
let arrived = fromDesk.map((file) => file.id);
/** What of it was called how: a document is not on the Shelf, its pages are, in a folder of its name. */
const called = new Map(fromDesk.map((file) => [file.id, file.name]));

/** @param {File[]} files */
async function bringIn(files) {
  showFace("shelf");
  const before = [...arrived];
  const sent = await sendFiles(files, uploads, (_, inOrder) => {
    arrived = [...new Set([...before, ...inOrder.map((file) => file.id)])];
    for (const { id, name } of inOrder) called.set(id, name);
    reload();
  });
  reload();
  return sent;
}

/** A file came in for this promo from elsewhere, such as a telephone. @param {string} id */
export function came(id) {
  if (!arrived.includes(id)) arrived.push(id);
  reload();
}

/** What a file will be, as far as its type says. @param {string} type */
const kindOf = (type) => ({ video: "footage", audio: "sound" })[type.split("/")[0]] ?? "photo";

/** A file that is not on the Shelf yet, as dragging knows those that are. @param {string} name @param {string} type */
function stranger(name, type) {
  const item = document.createElement("div");
  Object.assign(item.dataset, { name, kind: kindOf(type), seconds: "0" });
  return item;
}

/** Says what dropping files here would do. @param {DragEvent} event */
function aimed(event) {
  const types = [...(event.dataTransfer?.items ?? [])].map((item) => item.type);
  const found = target(event, stranger("", types[0] ?? ""), kindOf(types[0] ?? ""));
  if (!found) return "";
  return found.words ? `Drop: ${found.words}` : "Drop it here";
}

/** Brings files in, and puts them where they were dropped as soon as they can be used. @param {File[]} files @param {DragEvent} event */
async function dropped(files, event) {
  const places = files.map((file) => {
    const item = stranger(file.name, file.type);
    return { item, found: target(event, item, item.dataset.kind ?? "") };
  });
  aim(null);
  showMark(null);
  const placed = places.some((place) => place.found);
  const sent = await bringIn(files);
  if (!placed) return;
  for (const [n, place] of places.entries()) {
    const mine = sent.find((one) => one.name === files[n].name);
    if (!mine || !place.found || !(await looked(mine.id, PATIENT))) continue;
    place.item.dataset.media = mine.id;
    await place.found.drop();
  }
}

export function reload() {
  /** @type {any} */ (window).htmx.ajax("GET", "/shelf/list", {
    target: "#shelf-list",
    swap: "outerHTML",
    source: "#shelf-filter",
  });
}

/** Looks at a file that was dropped on a place until it can be put there: footage takes a while. */
const PATIENT = 1500;

const shown = (/** @type {string} */ what) =>
  /** @type {HTMLElement[]} */ ([...document.querySelectorAll(`#shelf-list .shelf-item${what}`)]);

/** What the Shelf shows of a file: itself, or the pages that were made of it. @param {string} id */
function onShelf(id) {
  const [item] = shown(`[data-media="${CSS.escape(id)}"]`);
  const folder = (called.get(id) ?? "").replace(/\.[^.]*$/, "").slice(0, 80);
  if (item || !folder) return item ? [item] : [];
  const name = (/** @type {HTMLElement} */ page) => page.dataset.name ?? "";
  return shown(`[data-folder="${CSS.escape(folder)}"]`).sort((one, other) =>
    name(one) < name(other) ? -1 : 1,
  );
}

/** Everything that stands on the timeline. */
const standing = () => [...model.state.main, ...model.state.tracks.flatMap((track) => track.rows)];

/** What can stand on the timeline of all that came in, and does not yet; looks are put on what stands there. */
function layable() {
  const used = new Set(standing().map((row) => row.media));
  const items = new Set(arrived.flatMap(onShelf));
  return [...items].filter((item) => item.dataset.kind !== "look" && !used.has(item.dataset.media));
}

/** Whether there is nothing to be seen: a voice alone is heard. */
function unseen() {
  const { main, tracks } = model.state;
  return !main.length && tracks.every((track) => track.kind === "sound" || !track.rows.length);
}

/** Says on a stage that shows nothing what to do next. */
function offerAll() {
  const items = layable();
  const ready = items.filter((item) => item.classList.contains("is-ready"));
  const waiting = items.filter(
    (item) => item.classList.contains("is-queued") || item.classList.contains("is-running"),
  );
  const names = document.getElementById("offer-names");
  if (names) names.textContent = items.map((item) => item.dataset.name).join(" · ");
  offer.hidden = !unseen() || !items.length;
  document
    .getElementById("stage-empty")
    ?.toggleAttribute("hidden", model.state.length > 0 || items.length > 0);
  const many = ready.length === 1 ? "it" : `all ${ready.length}`;
  button.disabled = !ready.length || waiting.length > 0;
  button.textContent = waiting.length
    ? `${ready.length} of ${ready.length + waiting.length} ready …`
    : `Put ${many} on the timeline in this order`;
}

button.addEventListener("click", () => {
  const items = layable().filter((item) => item.classList.contains("is-ready"));
  const sounds = items.filter((item) => item.dataset.kind === "sound");
  const media = items.filter((item) => item.dataset.kind !== "sound").map((item) => item.dataset.media);
  if (media.length) send({ do: "insert-clips", media });
  for (const sound of sounds) send({ do: "add-sound", media: sound.dataset.media, whole: media.length > 0 });
  arrived = [];
});

document.getElementById("add-files")?.addEventListener("click", () => input.click());
input.addEventListener("change", () => {
  bringIn([...(input.files ?? [])]);
  input.value = "";
});
takeDrops("Drop to put them on the Shelf", ({ files }, event) => dropped(files, event), aimed);
takePasted(bringIn);
document.body.addEventListener("htmx:afterSwap", offerAll);
on("changed", offerAll);
