// @ts-check
/** The Shelf: putting files into the promo by press, by menu, by dragging. */

import { addShape } from "./drawing.js";
import { putOn } from "./designs.js";
import { addCollage, chosenCell, fillChosen } from "./cells.js";
import { editWords } from "./stagewords.js";
import { headers, note } from "../page.js";
import { drawWave, loadPeaks } from "../peaks.js";
import { have } from "../sources.js";
import { showFace } from "./bench.js";
import { send } from "./commands.js";
import { openMenu } from "./menu.js";
import { here, layOver, soundTime } from "./laying.js";
import { clipAt, endOf, gridTicks, known, model, moveTo, remember } from "./model.js";
import { replaceWith } from "./replace.js";
import { dragFile } from "./shelfdrag.js";
import { trimFirst } from "./parttrim.js";
import { reload } from "./uploads.js";

/** Puts the playhead on the last frame of what was just added: it is seen, and what is added next comes after it. */
export function toAdded() {
  const ends = [...model.selected].flatMap((id) => {
    const it = known.get(id);
    return it?.lane === "main" ? [endOf(it.row)] : [];
  });
  if (ends.length) moveTo(Math.round(Math.max(...ends) * model.fps) - 1, { follow: true });
}

/** Adds a file where the playhead is: a picture at the nearest cut, a sound at its time. @param {HTMLElement} item */
export async function add(item) {
  if (item.dataset.offer && !(await have(item))) return;
  const media = item.dataset.media;
  if (item.dataset.kind === "transition") {
    remember({ transition: item.dataset.transition });
    send({ do: "set-transition", at: gridTicks(model.time), kind: item.dataset.transition });
  } else if (item.dataset.kind === "design") putOn(item);
  else if (item.dataset.kind === "shape") addShape(item);
  else if (item.dataset.kind === "collage") addCollage(item.dataset.grid ?? "");
  else if (item.dataset.kind === "sticker") layOver(() => ({ do: "add-sticker", ...stickerOf(item) }));
  else if (item.dataset.kind === "look") {
    const [first] = model.selected;
    if (first) send({ do: "fill-picture", item: first, name: "filter", media });
    else note("Select the clip or layer first that the look is for.");
  } else if (item.dataset.kind === "sound") send(() => ({ do: "add-sound", media, at: soundTime() }));
  else if (chosenCell()) fillChosen(media ?? "");
  // A logo of the brand goes to the brand's corner, over the whole promo.
  else if (item.dataset.brand === "logo" && model.state.main.length)
    send({ do: "add-picture", media, at: gridTicks(model.time) });
  else
    send(
      () => {
        const collage = waiting();
        return collage?.empty
          ? { do: "fill-cell", item: collage.id, cell: collage.empty[0], media }
          : { do: "insert-clips", media: [media], at: here() };
      },
      () => {
        const [id] = model.selected;
        if (known.get(id)?.row.kind !== "collage") toAdded();
      },
    );
}

/** The collage here whose cells wait to be filled: the one selected, or the one at the playhead. */
function waiting() {
  const [id] = model.selected;
  const row = known.get(id)?.row ?? clipAt(model.time + 1e-4);
  return row?.empty?.length ? row : null;
}

/** What a sticker is called, and in which colour it comes. @param {HTMLElement} item */
export const stickerOf = ({ dataset: { sticker, colour } }) => ({ sticker, ...(colour && { colour }) });

/** @param {HTMLElement} item */
export const facts = (item) => ({
  id: item.dataset.media ?? "",
  kind: item.dataset.kind ?? "",
  seconds: Number(item.dataset.seconds),
  name: item.dataset.name ?? "",
});

/** Shows what there is to set of what was put in front. */
const seen = () => showFace("details");

/** Puts the pictures of a folder on the main track, one after another. @param {string} folder @param {boolean} byNotes */
async function layPages(folder, byNotes) {
  const answer = await fetch("/shelf/decks", { headers });
  /** @type {{name: string, pages: {id: string}[]}[]} */
  const decks = answer.ok ? await answer.json() : [];
  const pages = decks.find((deck) => deck.name === folder)?.pages ?? [];
  const turns = pages.map(({ id }) => ({ media: id, at: 0 }));
  await send({ do: "lay-pages", turns, at: here() ?? 0, by_notes: byNotes }, byNotes ? undefined : toAdded);
}

/**
 * Everything that can be done with a file of the Shelf.
 * @param {HTMLElement} item
 * @param {{x: number, y: number}} [point]
 */
function itemMenu(item, point) {
  const media = item.dataset.media;
  const sound = item.dataset.kind === "sound";
  const clip =
    [...model.selected].find((id) => known.get(id)?.lane === "main") ?? clipAt(model.time + 1e-4)?.id;
  openMenu(
    /** @type {HTMLElement} */ (item.querySelector(".shelf-pick") ?? item),
    item.dataset.name ?? "",
    sound
      ? [
          { title: item.dataset.name },
          { label: "At the playhead", icon: "music-note", run: () => add(item) },
          {
            label: "Under the whole promo",
            icon: "arrows",
            run: () => send({ do: "add-sound", media, whole: true }),
          },
        ]
      : [
          { title: item.dataset.name },
          { label: "In at the nearest cut", icon: "box-arrow-in-down", run: () => add(item) },
          ...(item.dataset.kind === "footage"
            ? [{ label: "A part of it …", icon: "scissors", run: () => trimFirst(item) }]
            : []),
          {
            label: "At the end",
            icon: "arrow-bar-right",
            run: () => send({ do: "insert-clips", media: [media] }, toAdded),
          },
          {
            label: "Over what is at the playhead",
            icon: "layers-half",
            run: () => send({ do: "overwrite", media, at: gridTicks(model.time) }),
          },
          {
            label: "In the place of the clip",
            icon: "arrow-left-right",
            off: !clip,
            run: () => {
              if (clip) replaceWith(clip, facts(item));
            },
          },
          {
            label: "As a layer at the playhead",
            icon: "layers",
            run: () => layOver(() => ({ do: "add-picture", media }), seen),
          },
          {
            label: "As a layer over the whole promo",
            icon: "arrows",
            run: () => send({ do: "add-picture", media, whole: true }, seen),
          },
          ...(item.dataset.folder
            ? [
                {
                  label: `All pages of “${item.dataset.folder}”`,
                  icon: "files",
                  run: () => layPages(item.dataset.folder ?? "", false),
                },
                {
                  label: "Its pages, turned at the notes",
                  icon: "signpost-split",
                  off: !model.state.notes.length,
                  run: () => layPages(item.dataset.folder ?? "", true),
                },
              ]
            : []),
        ],
    point,
  );
}
document.addEventListener("contextmenu", (event) => {
  const item = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest(".shelf-item.is-ready:not(.offer)")
  );
  if (
    !item ||
    ["transition", "design", "shape", "sticker", "look", "collage"].includes(item.dataset.kind ?? "")
  )
    return;
  event.preventDefault();
  itemMenu(item, event.clientX || event.clientY ? { x: event.clientX, y: event.clientY } : undefined);
});
document.addEventListener("click", (event) => {
  const more = /** @type {Element} */ (event.target).closest(".shelf-more");
  const item = /** @type {HTMLElement|null} */ (more?.closest(".shelf-item") ?? null);
  if (item?.dataset.kind === "look") add(item);
  else if (item) itemMenu(item);
});

document.addEventListener("pointerdown", (event) => {
  const item = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest(".shelf-item.is-ready")
  );
  if (!item || event.button || /** @type {Element} */ (event.target).closest("button")) return;
  event.preventDefault();
  /** @type {HTMLElement} */ (item.querySelector(".shelf-pick")).focus({ preventScroll: true });
  dragFile(event, item);
});
document.addEventListener(
  "keydown",
  (event) => {
    const item = /** @type {HTMLElement|null} */ (
      /** @type {Element} */ (event.target).closest?.(".shelf-pick[role=button]")?.parentElement
    );
    if (item && (event.key === "Enter" || event.key === " ")) {
      event.preventDefault();
      event.stopPropagation();
      add(item);
    }
  },
  true,
);
document.addEventListener("click", async (event) => {
  const button = /** @type {Element} */ (event.target).closest("[data-remove-media]");
  if (!button) return;
  await fetch(button.getAttribute("data-remove-media") ?? "", { method: "POST", headers });
  reload();
  note("It is off the Shelf. Promos that use it keep it.");
});
document.getElementById("add-words")?.addEventListener("click", addWords);
export async function addWords() {
  if (await layOver(() => ({ do: "add-words" }))) {
    showFace("details");
    // What is added is written where it stands.
    await editWords([...model.selected][0] ?? "");
  }
}
document
  .getElementById("add-adjustment")
  ?.addEventListener("click", () => layOver(() => ({ do: "add-adjustment" }), seen));
document
  .getElementById("add-filler")
  ?.addEventListener("click", () => send(() => ({ do: "insert-filler", at: here() }), toAdded));

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
    drawWave(
      paper,
      data,
      (x) => (x / canvas.width) * (data.length / 100),
      canvas.width,
      canvas.height,
      () => 1,
    );
  }
}
document.body.addEventListener("htmx:afterSwap", waves);
waves();
