// @ts-check
/** Dragging from the Shelf: what dropping would do is said while the pointer is there. */

import { note } from "../page.js";
import { have } from "../sources.js";
import { send } from "./commands.js";
import { addCollage, cellAt, fill } from "./cells.js";
import { aim, hush, sayAt, showMark } from "./drag.js";
import { mainPlace } from "./gestures.js";
import { clipAt, endOf, gridTicks, model, ticks } from "./model.js";
import { replaceWith } from "./replace.js";
import { add, facts, stickerOf, toAdded } from "./shelf.js";
import { timeAt } from "./timeline.js";

/** @param {PointerEvent} event @param {HTMLElement} item */
export function dragFile(event, item) {
  const from = { x: event.clientX, y: event.clientY };
  const kind = item.dataset.kind;
  let moved = false;
  /** @type {(() => void)|null} */
  let drop = null;
  const move = (/** @type {PointerEvent} */ event) => {
    if (!moved && Math.hypot(event.clientX - from.x, event.clientY - from.y) < 5) return;
    moved = true;
    const aimed = target(event, item, kind ?? "");
    drop = aimed?.drop ?? null;
    sayAt(event, aimed?.words ? `${item.dataset.name}: ${aimed.words}` : (item.dataset.name ?? ""));
  };
  const end = (/** @type {Event} */ event) => {
    window.removeEventListener("pointermove", move);
    window.removeEventListener("pointerup", end);
    window.removeEventListener("pointercancel", end);
    document.removeEventListener("keydown", escape, true);
    hush();
    showMark(null);
    aim(null);
    if (event.type !== "pointerup") return;
    if (!moved) add(item);
    else if (drop) land(item, drop);
    else
      note(
        kind === "transition"
          ? "Drop it on a cut of the main track."
          : "Drop it on the main track, a layer, a sound track or the stage.",
      );
  };
  const escape = (/** @type {KeyboardEvent} */ event) => {
    if (event.key === "Escape") {
      event.stopPropagation();
      end(event);
    }
  };
  window.addEventListener("pointermove", move);
  window.addEventListener("pointerup", end);
  window.addEventListener("pointercancel", end);
  document.addEventListener("keydown", escape, true);
}

/** Puts a file where it was dropped; what is not on the Shelf yet comes first. @param {HTMLElement} item @param {() => void} drop */
async function land(item, drop) {
  if (!item.dataset.offer || (await have(item))) drop();
}

/**
 * What dropping here would do, in words; marks the place. Which file it is may become known later only: it is read from
 * the item when it is dropped.
 * @param {PointerEvent|DragEvent} event
 * @param {HTMLElement} item
 * @param {string} kind
 * @returns {{words: string, drop: () => void}|null}
 */
export function target(event, item, kind) {
  aim(null);
  showMark(null);
  const media = () => item.dataset.media;
  const under = document.elementsFromPoint(event.clientX, event.clientY);
  if (kind === "transition") return onCut(event, item, under);
  if (kind === "look") {
    const box = /** @type {HTMLElement|undefined} */ (
      under.find((part) => part.matches("#lanes .item:not(.is-sound)"))
    );
    if (!box) return null;
    aim(box);
    return {
      words: "its look",
      drop: () => send({ do: "fill-picture", item: box.dataset.id, name: "filter", media: media() }),
    };
  }
  /** @param {number} at @param {string|null|undefined} [track] */
  const layer = (at, track = null) =>
    kind === "design"
      ? send({ do: "add-design", design: item.dataset.design, at: gridTicks(at), track })
      : kind === "shape"
        ? send({ do: "add-shape", form: item.dataset.form, at: gridTicks(at), track })
        : kind === "sticker"
          ? send({ do: "add-sticker", ...stickerOf(item), at: gridTicks(at), track })
          : send({ do: "add-picture", media: media(), at: gridTicks(at), track });
  const cell = kind === "footage" || kind === "photo" ? cellAt(event) : null;
  if (cell && under.some((part) => part.id === "stage"))
    return {
      words: `in ${cell.label === "empty" ? "the" : "the place of this"} cell`,
      drop: () => fill(cell.id, media() ?? ""),
    };
  if (kind === "collage") {
    const lane = under.find((part) => part.matches('[data-lane="main"]'));
    if (!lane && !under.some((part) => part.id === "stage")) return null;
    const place = mainPlace(Math.max(0, lane ? timeAt(event.clientX) : model.time));
    if (lane) showMark(place.at);
    return { words: "a collage", drop: () => addCollage(item.dataset.grid ?? "", place.before) };
  }
  if (under.some((part) => part.id === "stage") && kind !== "sound")
    return { words: "a layer", drop: () => layer(model.time) };
  const lane = /** @type {HTMLElement|undefined} */ (
    under.find((part) => part.classList.contains("tl-lane"))
  );
  if (!lane) return null;
  const time = Math.max(0, timeAt(event.clientX));
  const track = lane.dataset.track === "new" ? null : lane.dataset.track;
  if (kind === "sound") {
    if (lane.dataset.lane === "sound") aim(lane);
    showMark(time);
    return {
      words: "",
      drop: () =>
        send({
          do: "add-sound",
          media: media(),
          at: ticks(time),
          track: lane.dataset.lane === "sound" ? track : null,
        }),
    };
  }
  if (lane.dataset.lane === "layer") {
    aim(lane);
    showMark(time);
    return {
      words: "a layer",
      drop: () => layer(time, track),
    };
  }
  return lane.dataset.lane === "main" && !["design", "shape", "sticker"].includes(kind)
    ? onMain(event, item, time)
    : null;
}

/**
 * A transition goes on the cut nearest to where it is dropped.
 * @param {PointerEvent|DragEvent} event
 * @param {HTMLElement} item
 * @param {Element[]} under
 */
function onCut(event, item, under) {
  const time = timeAt(event.clientX);
  const rows = model.state.main.slice(0, -1);
  if (!rows.length || !under.some((part) => part.matches('[data-lane="main"]'))) return null;
  const near = rows.reduce((best, row) =>
    Math.abs(endOf(row) - time) < Math.abs(endOf(best) - time) ? row : best,
  );
  showMark(endOf(near));
  return {
    words: `on the cut after ${near.label}`,
    drop: () => send({ do: "set-transition", after: near.id, kind: item.dataset.transition }),
  };
}

/**
 * On the main track: in between; over what is there (Alt); in a filler's or a clip's place (Shift).
 * @param {PointerEvent|DragEvent} event
 * @param {HTMLElement} item
 * @param {number} time
 */
function onMain(event, item, time) {
  const media = () => item.dataset.media;
  const clip = clipAt(time);
  const place = mainPlace(time);
  if (clip && (clip.kind === "filler" || event.shiftKey)) {
    aim(document.querySelector(`#lanes [data-id="${CSS.escape(clip.id)}"]`));
    return { words: `in the place of ${clip.label}`, drop: () => replaceWith(clip.id, facts(item)) };
  }
  if (event.altKey) {
    showMark(time);
    return {
      words: "over what is there",
      drop: () => send({ do: "overwrite", media: media(), at: gridTicks(time) }),
    };
  }
  showMark(place.at);
  return {
    words: model.state.main.length ? "in between (Alt: over it, Shift: in its place)" : "",
    drop: () => send({ do: "insert-clips", media: [media()], before: place.before }, toAdded),
  };
}
