// @ts-check
/** What keys and buttons do at the playhead and to what is selected. */

import { send } from "./commands.js";
import { clipAt, endOf, gridTicks, known, model, moveTo, select, ticks } from "./model.js";
import { play, stop, toggle } from "./player.js";
import { showFace } from "./bench.js";

export const go = (/** @type {number} */ frame) => moveTo(frame, { follow: true });
export const chosen = () => [...model.selected];
export const playhead = () => gridTicks(model.time);

/** The selected item, or the main clip under the playhead. */
export function subject() {
  const one = known.get(chosen()[0]);
  if (one) return one;
  const clip = clipAt(model.time + 1e-4);
  return clip ? (known.get(clip.id) ?? null) : null;
}

/**
 * Runs a command on the subject, if there is one.
 * @param {(it: import("./model.js").Known) => Record<string, unknown>|null} command
 */
export function withSubject(command) {
  const it = subject();
  const made = it && command(it);
  if (made) send(made);
}

/** Trims an end of the subject to the playhead. @param {"start"|"end"} edge */
export function trimTo(edge) {
  withSubject(({ row, lane }) => {
    const length = edge === "start" ? endOf(row) - model.time : model.time - row.start;
    if (length <= 0) return null;
    return {
      do: "trim",
      item: row.id,
      edge,
      length: Math.max(1, lane === "sound" ? ticks(length) : gridTicks(length)),
    };
  });
}

/** Splits at the playhead. @param {boolean} all */
export function split(all) {
  if (all) send({ do: "split-at", at: playhead() });
  else
    withSubject(({ row, lane }) => ({
      do: "split-at",
      at: lane === "sound" ? ticks(model.time) : playhead(),
      item: row.id,
    }));
}

/** Rolls the cut nearest to the playhead to the playhead. */
export function rollHere() {
  const rows = model.state.main.slice(0, -1);
  if (!rows.length) return;
  const near = rows.reduce((best, row) =>
    Math.abs(endOf(row) - model.time) < Math.abs(endOf(best) - model.time) ? row : best,
  );
  const by = model.time - endOf(near);
  send({ do: "roll-cut", after: near.id, by: Math.sign(by) * gridTicks(Math.abs(by)) });
}

/** Slips the subject by frames. @param {number} count */
export const slip = (count) =>
  withSubject(({ row }) => ({ do: "slip", item: row.id, by: count * gridTicks(1 / model.fps) }));

/** Moves the selected clip one place along the main track; layers and sounds by a frame. @param {number} way */
export function shift(way) {
  const it = known.get(chosen()[0]);
  if (!it) return;
  if (it.lane !== "main") {
    send({
      do: "move-items",
      items: chosen().filter((id) => known.get(id)?.track),
      by: way * gridTicks(1 / model.fps),
    });
    return;
  }
  const ids = model.state.main.map((row) => row.id);
  const spot = it.place;
  if (way < 0 ? spot === 0 : spot === ids.length - 1) return;
  send({ do: "move-clips", clips: [it.row.id], before: way < 0 ? ids[spot - 1] : (ids[spot + 2] ?? null) });
}

/** Selects what lies under the playhead, one after another: the clip, then layers from the front, then sounds. */
export function selectNext() {
  const at = model.time + 1e-4;
  const under = [model.state.main, ...model.state.tracks.map((track) => track.rows)].flatMap((rows) =>
    rows.filter((row) => at >= row.start && at < endOf(row)),
  );
  if (!under.length) return;
  const spot = under.findIndex((row) => row.id === chosen()[0]);
  select([under[(spot + 1) % under.length].id]);
}

/** Puts the playhead on the next cut, or end of anything selected. @param {number} way */
export function toCut(way) {
  const times = [0, model.state.length, ...model.state.main.map(endOf)];
  const frame = model.frame;
  const stops = [...new Set(times.map((time) => Math.round(time * model.fps)))].sort((a, b) => a - b);
  const next = way > 0 ? stops.find((stop) => stop > frame) : stops.reverse().find((stop) => stop < frame);
  if (next !== undefined) go(next);
}

/** @param {number} way */
export function toScene(way) {
  const starts = model.state.scenes.map((scene) => Math.round(scene.start * model.fps));
  const next =
    way > 0
      ? starts.find((start) => start > model.frame)
      : starts.reverse().find((start) => start < model.frame);
  if (next !== undefined) go(next);
}

/** @param {number} by */
export const step = (by) =>
  withSubject(({ row, track }) => (track ? { do: "step-track", item: row.id, by } : null));

export async function addNote() {
  if (await send({ do: "add-note", at: playhead() })) {
    showFace("details");
    document.getElementById("note-text")?.focus();
  }
}

/** Removes what is selected. @param {boolean} close */
export function remove(close) {
  if (chosen().length) send({ do: "remove", items: chosen(), close });
}

let speed = 0;
let shuttle = 0;
/** Plays, or stops whatever moves. */
export function playOrPause() {
  clearInterval(shuttle);
  speed = 0;
  toggle();
}

/** J and L step faster each time; K stops. @param {number} way */
export function shuttling(way) {
  clearInterval(shuttle);
  if (!way) {
    speed = 0;
    stop();
    return;
  }
  speed = Math.sign(speed) === way ? Math.max(-8, Math.min(8, speed * 2)) : way;
  if (speed === 1) {
    play();
    return;
  }
  stop();
  const by = speed;
  shuttle = setInterval(() => {
    const next = model.frame + Math.round((by * model.fps) / 10);
    go(next);
    if (next <= 0 || next >= model.frameCount) {
      clearInterval(shuttle);
      speed = 0;
    }
  }, 100);
}
