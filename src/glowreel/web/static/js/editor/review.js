// @ts-check
/** Notes that people left at moments of the promo: a list beside the work, marks on the notes lane, the way to each. */

import { showLines } from "../drawnlines.js";
import { note } from "../page.js";
import { model, moveTo, on, tell } from "./model.js";
import { work } from "./wall.js";

const panel = /** @type {HTMLElement} */ (document.getElementById("review-panel"));
const opener = /** @type {HTMLElement} */ (document.getElementById("open-review"));
const list = () => /** @type {HTMLElement|null} */ (document.getElementById("review"));

/** Fetches the notes as they are now. */
const fetchNotes = () =>
  /** @type {any} */ (window).htmx.ajax("GET", `${model.url}/notes`, {
    target: "#review",
    swap: "outerHTML",
  });

/** Takes over what the list says: the marks for the lane, and how many are open. */
function read() {
  const shown = list();
  if (!shown) return;
  model.review = JSON.parse(shown.dataset.marks ?? "[]");
  const open = Number(shown.dataset.stillOpen ?? 0);
  const count = /** @type {HTMLElement} */ (document.getElementById("open-notes"));
  count.textContent = open ? String(open) : "";
  opener.setAttribute("aria-label", open ? `Screenings and notes: ${open} open` : "Screenings and notes");
  opener.classList.toggle("has-open", open > 0);
  tell("laid");
}
document.body.addEventListener("htmx:afterSettle", (event) => {
  if (/** @type {CustomEvent} */ (event).detail.elt?.id === "review") read();
});

const sheet = /** @type {Element} */ (document.getElementById("review-strokes"));

/** What was drawn on this very frame, while it is at rest. */
function showStrokes() {
  const here = model.playing
    ? []
    : model.review.filter(
        (one) =>
          !one.done &&
          one.format === model.format &&
          Math.abs(one.at - model.time) < Math.max(one.lasts, 0.51 / model.fps),
      );
  showLines(
    sheet,
    here.flatMap((one) => one.strokes),
  );
}
on("moved", showStrokes);
on("format", showStrokes);
on("laid", showStrokes);

/** Goes to a note, in the format in which it was written, and shows it in the list. @param {string} id */
function goTo(id) {
  const mark = model.review.find((one) => one.id === id);
  if (!mark) return;
  work(mark.format);
  moveTo(mark.at * model.fps);
  if (!panel.matches(":popover-open")) panel.showPopover();
  for (const row of panel.querySelectorAll("[data-note]")) {
    const here = row.getAttribute("data-note") === id;
    row.classList.toggle("is-here", here);
    if (here) row.scrollIntoView({ block: "nearest" });
  }
}

/** Goes to the next open note after the playhead, or to the one before it; round and round. @param {1|-1} way */
export function nextNote(way) {
  const open = model.review.filter((one) => !one.done);
  if (!open.length) return note("No note is open.");
  const beyond = open.filter((one) => way * (one.at - model.time) > 0.5 / model.fps);
  const found = way > 0 ? (beyond[0] ?? open[0]) : (beyond.at(-1) ?? open[open.length - 1]);
  goTo(found.id);
}

panel.addEventListener("click", async (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const go = target.closest("[data-go]")?.closest("[data-note]");
  if (go) goTo(go.getAttribute("data-note") ?? "");
  if (!target.closest("#copy-notes")) return;
  const text = list()?.dataset.told ?? "";
  try {
    await navigator.clipboard.writeText(text);
    note("All open notes are copied.");
  } catch {
    window.prompt("Copy these notes", text);
  }
});
document.addEventListener("click", (event) => {
  const mark = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest(".note.is-review")
  );
  if (mark) goTo(mark.dataset.review ?? "");
});

/** @type {number|undefined} */
let soon;
/** Fetches them in a moment: several words of a change are one. */
export function notesChanged() {
  clearTimeout(soon);
  soon = window.setTimeout(fetchNotes, 250);
}
// After an edit they may be elsewhere, or their place gone.
on("changed", () => {
  if (model.review.length) notesChanged();
});

document.getElementById("open-screenings")?.addEventListener("click", () => {
  const sheet = /** @type {HTMLDialogElement} */ (document.getElementById("screenings-sheet"));
  panel.hidePopover();
  sheet.showModal();
  /** @type {any} */ (window).htmx.ajax("GET", `${model.url}/screenings`, {
    target: "#screenings-list",
    swap: "outerHTML",
  });
});
fetchNotes();
