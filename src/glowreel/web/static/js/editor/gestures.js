// @ts-check
/** Dragging clips, layers and sounds: order, time, track, trim, slip. Each drag ends in one command. */

import { send } from "./commands.js";
import { aim, drag, sayAt, showMark } from "./drag.js";
import { lastKind } from "./cuts.js";
import { spoken } from "./lanecuts.js";
import { boxFor } from "./laneparts.js";
import { clock, endOf, gridTicks, known, model, select, ticks } from "./model.js";
import { layOut, perSecond, snapTimes, snapTo, timeAt } from "./timeline.js";
import { hideTwoUp, tryOut } from "./twoup.js";

/** Held while the split cursor is up. */
export const tool = { split: false };

/**
 * The main-track clip before which something at a time would go, and where that is.
 * @param {number} time
 * @param {Set<string>} [without]
 */
export function mainPlace(time, without = new Set()) {
  let at = 0;
  for (const row of model.state.main) {
    if (!without.has(row.id) && time < row.start + row.length / 2) return { before: row.id, at: row.start };
    at = endOf(row);
  }
  return { before: null, at };
}

/** Signed time as a person reads it. @param {number} by */
const signed = (by) => `${by >= 0 ? "+" : "−"}${clock(Math.abs(by))}`;
const onGrid = (/** @type {number} */ time) => Math.round(time * model.fps) / model.fps;

/**
 * Trims an end; several selected ones together.
 * @param {PointerEvent} event
 * @param {import("./model.js").Known} it
 * @param {"start"|"end"} edge
 */
function trim(event, it, edge) {
  const { row, lane } = it;
  const sound = lane === "sound";
  const before = lane === "main" ? (row.before ?? 0) : Math.min(row.before ?? 0, row.start);
  const most = row.length + (edge === "end" ? (row.after ?? 0) : before);
  const times = snapTimes(new Set([row.id]));
  const together = model.selected.has(row.id) && model.selected.size > 1 ? [...model.selected] : null;
  const end = endOf(row);
  const box = boxFor(row.id);
  let wanted = row.length;
  /** @returns {Record<string, unknown>} */
  const command = () =>
    together
      ? { do: "trim-by", items: together, edge, by: gridTicks(wanted - row.length) }
      : { do: "trim", item: row.id, edge, length: Math.max(1, sound ? ticks(wanted) : gridTicks(wanted)) };
  box?.classList.add("is-ghost");
  drag(
    event,
    (pointer, dx) => {
      const near = snapTo(edge === "end" ? end + dx : row.start + dx, times, pointer.ctrlKey);
      wanted = edge === "end" ? near.time - row.start : end - near.time;
      wanted = Math.min(most, Math.max(1 / model.fps, sound ? wanted : onGrid(wanted)));
      if (box) {
        box.style.width = `${wanted * perSecond() - 1.5}px`;
        if (edge === "start") box.style.left = `${(end - wanted) * perSecond()}px`;
      }
      const limit = Math.abs(wanted - most) < 1e-6 ? " · no more there" : "";
      sayAt(pointer, `${clock(wanted)} (${signed(wanted - row.length)})${limit}`);
      showMark(near.hit ? near.time : null);
      if (lane === "main" && row.kind !== "filler") tryOut(command(), row.id, edge, "outgoing", "incoming");
    },
    (kept) => {
      box?.classList.remove("is-ghost");
      hideTwoUp();
      if (kept && Math.abs(wanted - row.length) > 1e-7) send(command());
      else layOut();
    },
  );
}

/**
 * Shows another part of the material in the same place.
 * @param {PointerEvent} event
 * @param {import("./model.js").Row} row
 */
function slip(event, row) {
  let by = 0;
  drag(
    event,
    (pointer, dx) => {
      // Dragging to the right brings what is earlier in the material.
      by = Math.max(-(row.before ?? 0), Math.min(row.after ?? 0, -onGrid(dx)));
      const limit = by && (by === -(row.before ?? 0) || by === (row.after ?? 0)) ? " · no more there" : "";
      sayAt(pointer, `material ${signed(by)}${limit}`);
      tryOut(
        { do: "slip", item: row.id, by: gridTicks(by) || 1 },
        row.id,
        "both",
        "first frame",
        "last frame",
      );
    },
    (kept) => {
      hideTwoUp();
      if (kept && by) send({ do: "slip", item: row.id, by: Math.sign(by) * gridTicks(Math.abs(by)) });
    },
  );
}

/** @param {PointerEvent} event @param {import("./model.js").Row} row */
function moveClip(event, row) {
  const chosen = model.selected.has(row.id)
    ? model.state.main.map((clip) => clip.id).filter((id) => model.selected.has(id))
    : [row.id];
  const without = new Set(chosen);
  const box = boxFor(row.id);
  const spot = known.get(row.id)?.place ?? 0;
  const next = model.state.main[spot + 1]?.id ?? null;
  let place = mainPlace(row.start);
  let at = row.start;
  /** @type {HTMLElement|null} */
  let front = null;
  /** @type {Record<string, unknown>|null} */
  let passing = null;
  drag(
    event,
    (pointer, dx) => {
      box?.classList.add("is-ghost");
      at = row.start + dx;
      if (box) box.style.left = `${at * perSecond()}px`;
      front = chosen.length === 1 && row.kind !== "filler" ? laneAt(pointer, "layer") : null;
      aim(front);
      place = mainPlace(timeAt(pointer.clientX), without);
      passing = front || chosen.length > 1 || place.before !== next ? null : overNeighbour(spot, dx);
      showMark(front ? Math.max(0, at) : passing ? null : place.at);
      sayAt(
        pointer,
        front
          ? `in front, at ${clock(Math.max(0, at))}`
          : passing
            ? `${spoken(String(passing.kind))}, ${clock(Math.abs(dx))}`
            : chosen.length > 1
              ? `${chosen.length} clips`
              : row.label,
      );
    },
    (kept) => {
      box?.classList.remove("is-ghost");
      if (kept && front) {
        const track = front.dataset.track === "new" ? null : front.dataset.track;
        send({
          do: "to-layer",
          clip: row.id,
          format: model.format,
          at: gridTicks(Math.max(0, at)),
          track,
        });
      } else if (kept && passing) send(passing);
      else if (kept && place.before !== next) send({ do: "move-clips", clips: chosen, before: place.before });
      layOut();
    },
  );
}

/**
 * What pushing a clip over its neighbour makes: a transition on their cut, as long as it was pushed.
 * @param {number} spot which clip of the main track
 * @param {number} dx how far, in seconds
 */
function overNeighbour(spot, dx) {
  const { main, cuts } = model.state;
  const [before, behind] = dx < 0 ? [main[spot - 1], main[spot]] : [main[spot], main[spot + 1]];
  const length = Math.min(Math.abs(dx), before?.length ?? 0, behind?.length ?? 0);
  if (!before || !behind || length < 2 / model.fps) return null;
  const kind = cuts.find((cut) => cut.after === before.id)?.kind ?? lastKind();
  return { do: "set-transition", after: before.id, kind, length: gridTicks(length) };
}

/**
 * What pushing a layer over its neighbour on the track makes, where it lies over a part of one: a transition.
 * @param {import("./model.js").Known} it
 * @param {number} at where it would begin
 */
function overLayer({ row, track }, at) {
  const end = at + row.length;
  const met = (track?.rows ?? []).filter(
    (other) => other.id !== row.id && other.start < end - 1e-6 && endOf(other) > at + 1e-6,
  );
  if (met.length !== 1 || row.tied === "whole") return null;
  const [other] = met;
  const common = Math.min(end, endOf(other)) - Math.max(at, other.start);
  const covers = common > Math.min(row.length, other.length) - 2 / model.fps;
  return covers || common < 2 / model.fps ? null : { kind: lastKind(), common };
}

/** The lane under the pointer that takes this kind of item. @param {PointerEvent} event @param {string} lane */
function laneAt(event, lane) {
  const under = document
    .elementsFromPoint(event.clientX, event.clientY)
    .find((pointer) => pointer.classList.contains("tl-lane"));
  return under instanceof HTMLElement && under.dataset.lane === lane ? under : null;
}

/** @param {PointerEvent} event @param {import("./model.js").Known} it */
function moveItem(event, it) {
  const { row, track, lane } = it;
  const sound = lane === "sound";
  const together = model.selected.has(row.id)
    ? [...model.selected].filter((id) => known.get(id)?.track)
    : [row.id];
  const boxes = together.flatMap((id) => {
    const box = boxFor(id);
    const of = known.get(id)?.row;
    return box && of ? [{ box, of }] : [];
  });
  const earliest = Math.min(...together.map((id) => known.get(id)?.row.start ?? 0));
  const times = snapTimes(new Set(together));
  let at = row.start;
  let home = track?.id ?? "";
  let down = false;
  /** @type {{kind: string, common: number}|null} */
  let passing = null;
  drag(
    event,
    (pointer, dx) => {
      const head = snapTo(row.start + dx, times, pointer.ctrlKey);
      const tail = snapTo(endOf(row) + dx, times, pointer.ctrlKey);
      at = Math.max(
        row.start - earliest,
        head.hit ? head.time : tail.hit ? tail.time - row.length : row.start + dx,
      );
      if (!sound) at = onGrid(at);
      for (const { box, of } of boxes) {
        box.classList.add("is-ghost");
        box.style.left = `${(of.start + at - row.start) * perSecond()}px`;
      }
      showMark(head.hit ? head.time : tail.hit ? tail.time : null);
      const target = together.length === 1 ? laneAt(pointer, lane) : null;
      aim(target);
      home = target?.dataset.track ?? track?.id ?? "";
      const main = together.length === 1 && row.kind === "picture" ? laneAt(pointer, "main") : null;
      down = main !== null;
      if (main) {
        aim(main);
        showMark(mainPlace(at).at);
      }
      passing = !sound && !down && together.length === 1 && home === track?.id ? overLayer(it, at) : null;
      sayAt(
        pointer,
        down
          ? "on the main track"
          : passing
            ? `${spoken(passing.kind)}, ${clock(passing.common)}`
            : `${clock(at)} (${signed(at - row.start)})`,
      );
    },
    (kept) => {
      for (const { box } of boxes) box.classList.remove("is-ghost");
      const by = at - row.start;
      if (kept && down) send({ do: "to-main", item: row.id, at: ticks(Math.max(0, at)) });
      else if (kept && passing)
        send({ do: "push-over", item: row.id, at: gridTicks(at), kind: passing.kind });
      else if (kept && together.length > 1 && Math.abs(by) > 1e-6)
        send({
          do: "move-items",
          items: together,
          by: Math.sign(by) * (sound ? ticks(Math.abs(by)) : gridTicks(Math.abs(by))),
        });
      else if (kept && together.length === 1 && (Math.abs(by) > 1e-6 || home !== track?.id))
        send({
          do: "move-item",
          item: row.id,
          at: sound ? ticks(at) : gridTicks(at),
          track: home === track?.id ? null : home,
        });
      layOut();
    },
  );
}

/** @param {PointerEvent} event @param {HTMLElement} flag */
function moveNote(event, flag) {
  const note = model.state.notes.find((n) => n.id === flag.dataset.note);
  if (!note) return;
  const times = snapTimes();
  let at = note.at;
  drag(
    event,
    (pointer, dx) => {
      const near = snapTo(note.at + dx, times, pointer.ctrlKey);
      at = onGrid(Math.min(model.state.length, Math.max(0, near.time)));
      flag.style.left = `${at * perSecond()}px`;
      showMark(near.hit ? near.time : null);
      sayAt(pointer, clock(at));
    },
    (kept) => {
      if (kept && at !== note.at) send({ do: "set-note", note: note.id, at: gridTicks(at) });
      else select([note.id]);
    },
  );
}

/**
 * Of several selected, one that is pressed and not dragged is selected by itself.
 * @param {PointerEvent} event
 * @param {string} id
 */
function chooseIfPressed(event, id) {
  const end = (/** @type {PointerEvent} */ up) => {
    if (Math.hypot(up.clientX - event.clientX, up.clientY - event.clientY) < 4)
      select([id], { alone: event.altKey });
  };
  window.addEventListener("pointerup", end, { once: true });
}

document.addEventListener("pointerdown", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const flag = /** @type {HTMLElement|null} */ (target.closest(".note[data-note]"));
  if (flag && !event.button) {
    moveNote(event, flag);
    return;
  }
  const box = /** @type {HTMLElement|null} */ (target.closest("#lanes .item"));
  const it = box && known.get(box.dataset.id ?? "");
  if (!box || !it || event.button) return;
  if (tool.split) {
    const at = timeAt(event.clientX);
    send({ do: "split-at", item: it.row.id, at: it.lane === "sound" ? ticks(at) : gridTicks(at) });
    return;
  }
  const id = it.row.id;
  if (event.ctrlKey || event.metaKey || event.shiftKey) {
    const chosen = new Set(model.selected);
    if (chosen.has(id)) chosen.delete(id);
    else chosen.add(id);
    select(chosen, { alone: chosen.size < model.selected.size });
    return;
  }
  if (!model.selected.has(id)) select([id], { alone: event.altKey });
  else if (model.selected.size > 1) chooseIfPressed(event, id);
  if (it.track?.locked) return;
  const grip = target.dataset.grip;
  if (grip) trim(event, it, /** @type {"start"|"end"} */ (grip));
  else if (event.altKey && it.row.of) slip(event, it.row);
  else if (it.lane === "main") moveClip(event, it.row);
  else moveItem(event, it);
});
document.addEventListener("keydown", (event) => {
  const box = /** @type {HTMLElement} */ (event.target);
  if (box.matches?.("#lanes .item") && event.key === "Enter") {
    event.preventDefault();
    select([box.dataset.id ?? ""]);
  }
});
document.addEventListener("click", (event) => {
  const gap = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest(".gap"));
  if (gap) send({ do: "close-gap", track: gap.dataset.gap, at: ticks(Number(gap.dataset.at)) });
  const note = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest(".note[data-note]")
  );
  if (note && event.detail === 0) select([note.dataset.note ?? ""]);
});
