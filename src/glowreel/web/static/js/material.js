// @ts-check
/** The page of the Shelf: bringing in, marking, the file at hand, and footage that is scrubbed under the pointer. */

import { note } from "./page.js";
import { sendFiles, takeDrops } from "./sending.js";
import { drawWave, loadPeaks } from "./peaks.js";

const uploads = /** @type {HTMLElement} */ (document.getElementById("material-uploads"));
const filter = /** @type {HTMLFormElement} */ (document.getElementById("material-filter"));
const changed = () => document.body.dispatchEvent(new Event("material-changed"));

/** @param {File[]} files */
async function bringIn(files) {
  if (!files.length) return;
  await sendFiles(files, uploads, changed);
  changed();
}

for (const id of ["material-files", "material-folder"])
  document.getElementById(id)?.addEventListener("change", (event) => {
    const input = /** @type {HTMLInputElement} */ (event.target);
    bringIn([...(input.files ?? [])].filter((file) => !file.name.startsWith(".")));
    input.value = "";
  });
takeDrops("Drop to put them on the Shelf", ({ files }) => bringIn(files));
document.addEventListener("paste", (event) => {
  const files = [...(event.clipboardData?.files ?? [])];
  if (files.length) bringIn(files);
});

/** Shows what is known of a file. @param {string} media */
function show(media) {
  /** @type {any} */ (window).htmx.ajax("GET", `/shelf/${media}/facts`, {
    target: "#material-facts",
    swap: "outerHTML",
  });
}

const marks = () => /** @type {HTMLInputElement[]} */ ([...document.querySelectorAll(".material-mark")]);
let last = -1;

function count() {
  const marked = marks().filter((box) => box.checked).length;
  document.getElementById("material-many")?.toggleAttribute("hidden", !marked);
  const told = document.getElementById("material-count");
  if (told) told.textContent = String(marked);
}

document.addEventListener("click", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const item = /** @type {HTMLElement|null} */ (target.closest("[data-media]"));
  if (target.closest(".material-open, .material-name") && item) {
    for (const one of document.querySelectorAll(".material-files .is-shown"))
      one.classList.remove("is-shown");
    item.classList.add("is-shown");
    show(item.dataset.media ?? "");
  }
  if (target.matches(".material-mark")) {
    const all = marks();
    const at = all.indexOf(/** @type {HTMLInputElement} */ (target));
    // With Shift, everything between the last one and this one.
    if (/** @type {MouseEvent} */ (event).shiftKey && last >= 0)
      for (const box of all.slice(Math.min(last, at), Math.max(last, at) + 1))
        box.checked = /** @type {HTMLInputElement} */ (target).checked;
    last = at;
    count();
  }
  if (target.closest("[data-unmark]")) {
    for (const box of marks()) box.checked = false;
    count();
  }
  const like = target.closest("[data-like]")?.getAttribute("data-like");
  if (like) {
    /** @type {HTMLInputElement} */ (document.getElementById("material-like")).value = like;
    changed();
  }
  const group = /** @type {HTMLElement|null} */ (target.closest("[data-folder], [data-tag]"));
  if (group || target.closest("[data-everything]")) {
    if (!group) filter.reset();
    const set = (/** @type {string} */ id, /** @type {string} */ value) => {
      /** @type {HTMLInputElement} */ (document.getElementById(id)).value = value;
    };
    set("material-in-folder", group?.dataset.folder ?? "");
    set("material-with-tag", group?.dataset.tag ?? "");
    if (!group) set("material-find", "");
    set("material-like", "");
    changed();
  }
});

/** Scrubs through footage under the pointer, on its film strip. @param {PointerEvent} event */
function scrub(event) {
  const card = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-strip]")
  );
  const picture = /** @type {HTMLElement|null} */ (card?.querySelector(".material-pic") ?? null);
  if (!card || !picture) return;
  const strip = JSON.parse(card.dataset.strip ?? "{}");
  const box = picture.getBoundingClientRect();
  const share = Math.min(0.999, Math.max(0, (event.clientX - box.left) / box.width));
  const n = Math.floor(share * (strip.tiles ?? 1));
  let over = /** @type {HTMLElement|null} */ (picture.querySelector(".material-scrub"));
  if (!over) {
    over = document.createElement("span");
    over.className = "material-scrub";
    over.style.backgroundImage = `url(/shelf/${card.dataset.media}/strip.jpg)`;
    over.style.backgroundSize = `${(strip.tiles ?? 1) * 100}% 100%`;
    picture.append(over);
    card.addEventListener("pointerleave", () => over?.remove(), { once: true });
  }
  over.style.backgroundPosition = `${(strip.tiles ?? 1) > 1 ? (n / (strip.tiles - 1)) * 100 : 0}% 0`;
}
document.addEventListener("pointermove", scrub);

async function waves() {
  const place = document.querySelector(".material-wave:not([data-drawn])");
  const media = place?.closest("[data-media]")?.getAttribute("data-media");
  if (!place || !media) return;
  place.setAttribute("data-drawn", "1");
  const data = await loadPeaks(media);
  const canvas = /** @type {HTMLCanvasElement} */ (place.querySelector("canvas"));
  const paper = canvas.getContext("2d");
  if (data && paper)
    drawWave(
      paper,
      data,
      (x) => (x / canvas.width) * (data.length / 100),
      canvas.width,
      canvas.height,
      () => 1,
    );
}
document.body.addEventListener("htmx:afterSwap", () => {
  const said = document.getElementById("material-files-list")?.dataset.said;
  if (said) {
    note(said);
    delete (/** @type {HTMLElement} */ (document.getElementById("material-files-list")).dataset.said);
  }
  count();
  waves();
});
waves();
