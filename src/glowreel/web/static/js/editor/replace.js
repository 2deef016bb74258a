// @ts-check
/** Putting other material in a clip's place: choose it, and, where its length differs, how it is made to fit. */

import { note } from "../page.js";
import { send } from "./commands.js";
import { clock, known, model, ticks } from "./model.js";

const sheet = /** @type {HTMLDialogElement} */ (document.getElementById("replace-sheet"));
const fit = /** @type {HTMLElement} */ (document.getElementById("fit"));
const film = /** @type {HTMLVideoElement} */ (document.getElementById("fit-film"));
const strip = /** @type {HTMLElement} */ (document.getElementById("fit-strip"));
const frame = /** @type {HTMLElement} */ (document.getElementById("fit-range"));
const words = /** @type {HTMLElement} */ (document.getElementById("fit-words"));
const shorter = /** @type {HTMLElement} */ (document.getElementById("fit-shorter"));

let clip = "";
/** @type {{id: string, kind: string, seconds: number, name: string}|null} */
let material = null;
let start = 0;

const wanted = () => known.get(clip)?.row.length ?? 0;

/** The command that puts material somewhere else than in a part's place. @type {Record<string, unknown>|null} */
let filling = null;

/** Opens the sheet for a picture of a design. @param {Record<string, unknown>} command */
export function fillIn(command) {
  filling = command;
  openSheet(command.name === "filter" ? "look" : "picture");
}

/** Opens the sheet for a clip, layer or sound. @param {string} id */
export function replaceFrom(id) {
  filling = null;
  const row = known.get(id)?.row;
  if (!row || (!row.media && row.kind !== "filler")) {
    note("Select something that holds footage, a photo or a sound first.");
    return;
  }
  clip = id;
  openSheet(row.kind);
}

/** @param {string} kind what the material is for */
function openSheet(kind) {
  material = null;
  fit.hidden = true;
  sheet.showModal();
  /** @type {any} */ (window).htmx.ajax("GET", `${model.url}/material?for=${kind}`, {
    target: "#material",
    swap: "outerHTML",
  });
}

/**
 * Puts this in a clip's place; asks how where that is not plain.
 * @param {string} id
 * @param {{id: string, kind: string, seconds: number, name: string}} found
 */
export function replaceWith(id, found) {
  filling = null;
  putIn(id, found);
}

/** @param {string} id @param {{id: string, kind: string, seconds: number, name: string}} found */
function putIn(id, found) {
  clip = id;
  material = found;
  if (filling) {
    sheet.close();
    send({ ...filling, media: found.id });
    return;
  }
  const still = found.kind === "photo" || !found.seconds;
  if (still || Math.abs(found.seconds - wanted()) < 0.05) {
    finish();
    return;
  }
  if (!sheet.open) {
    document.getElementById("material")?.replaceChildren();
    sheet.showModal();
  }
  openFit();
}

function openFit() {
  if (!material) return;
  const long = material.seconds > wanted();
  fit.hidden = false;
  shorter.hidden = long;
  strip.hidden = !long;
  start = 0;
  film.src = `/shelf/${material.id}/stand-in.mp4`;
  film.muted = true;
  film.play().catch(() => undefined);
  const picture = /** @type {HTMLImageElement} */ (strip.querySelector("img"));
  picture.src = `/shelf/${material.id}/strip.jpg`;
  document
    .getElementById("fit-title")
    ?.replaceChildren(
      long
        ? `Which ${wanted().toFixed(2)} s of ${material.name}?`
        : `${material.name} is ${(wanted() - material.seconds).toFixed(2)} s too short`,
    );
  showRange();
  /** @type {HTMLElement} */ (long ? frame : shorter.querySelector("input"))?.focus();
}

function showRange() {
  if (!material) return;
  const length = Math.min(wanted(), material.seconds);
  start = Math.max(0, Math.min(material.seconds - length, start));
  frame.style.left = `${(100 * start) / material.seconds}%`;
  frame.style.width = `${(100 * length) / material.seconds}%`;
  words.textContent = `${clock(start)} to ${clock(start + length)} of ${clock(material.seconds)}`;
  frame.setAttribute("aria-valuenow", start.toFixed(2));
  frame.setAttribute("aria-valuemax", (material.seconds - length).toFixed(2));
  frame.setAttribute("aria-valuetext", words.textContent);
}

function finish() {
  if (!material) return;
  const how = /** @type {HTMLInputElement|null} */ (shorter.querySelector("input:checked"))?.value ?? "slow";
  sheet.close();
  send({
    do: "replace",
    item: clip,
    media: material.id,
    source_in: material.seconds > wanted() ? ticks(start) : 0,
    shorter: how,
  });
}

// The range plays round and round, so that what is chosen is what is seen.
film?.addEventListener("timeupdate", () => {
  const length = Math.min(wanted(), material?.seconds ?? 0);
  if (film.currentTime < start - 0.1 || film.currentTime >= start + length) film.currentTime = start;
});
frame?.addEventListener("pointerdown", (event) => {
  frame.setPointerCapture(event.pointerId);
  const from = event.clientX;
  const old = start;
  const move = (/** @type {PointerEvent} */ event) => {
    start = old + ((event.clientX - from) / strip.clientWidth) * (material?.seconds ?? 0);
    showRange();
    film.currentTime = start;
  };
  const end = () => {
    frame.removeEventListener("pointermove", move);
    frame.removeEventListener("pointerup", end);
  };
  frame.addEventListener("pointermove", move);
  frame.addEventListener("pointerup", end);
});
frame?.addEventListener("keydown", (event) => {
  const by = { ArrowLeft: -1, ArrowRight: 1, PageUp: -30, PageDown: 30 }[event.key];
  if (!by) return;
  event.preventDefault();
  start += (by * (event.shiftKey ? 30 : 1)) / (model.state.rate[0] / model.state.rate[1]);
  showRange();
  film.currentTime = start;
});
sheet?.addEventListener("click", (event) => {
  const pick = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-material]")
  );
  if (!pick) return;
  for (const other of sheet.querySelectorAll("[data-material]"))
    other.setAttribute("aria-pressed", String(other === pick));
  putIn(clip, {
    id: pick.dataset.material ?? "",
    kind: pick.dataset.kind ?? "",
    seconds: Number(pick.dataset.seconds),
    name: pick.dataset.name ?? "",
  });
});
sheet?.addEventListener("close", () => {
  film.pause();
  film.removeAttribute("src");
  film.load();
});
document.getElementById("fit-done")?.addEventListener("click", finish);
