// @ts-check
/**
 * Where something begins that is laid over the picture. After adding clips the playhead stands on the last frame: what
 * began there would hardly be seen. It comes with the last clip instead, and the playhead goes to where it is seen;
 * clips that are added next still come at the end.
 */

import { send } from "./commands.js";
import { gridTicks, known, model, moveTo, ticks } from "./model.js";

/** So long after its beginning something is seen whole, in seconds, where it lasts that long. */
const COME = 0.7;
/** The frame to which the playhead was taken from the end of the promo. */
let taken = -1;

const atEnd = () => model.frame > 0 && (model.frame >= model.frameCount - 1 || model.frame === taken);

/** Where the next clip goes: to the cut nearest to the playhead; to the end, where nobody moved it since the last. */
export const here = () => (model.state.length && model.frame !== taken ? gridTicks(model.time) : null);

/** Where a sound begins: at the playhead; from the start where that stands at the end. */
export const soundTime = () => (atEnd() || model.frame >= model.frameCount - 1 ? 0 : ticks(model.time));

/**
 * Lays something over the picture.
 * @param {() => Record<string, unknown>} command what is laid, without a time
 * @param {() => void} [then]
 */
export function layOver(command, then) {
  let ended = false;
  return send(
    () => {
      const last = model.state.main.at(-1);
      ended = Boolean(last) && atEnd();
      if (!last || !ended) return { ...command(), at: gridTicks(model.time) };
      return { ...command(), at: gridTicks(last.start), ...shortened(command(), last.length) };
    },
    () => {
      const row = known.get([...model.selected][0])?.row;
      if (ended && row && row.length) {
        moveTo(Math.floor((row.start + Math.min(COME, row.length / 2)) * model.fps), { follow: true });
        taken = model.frame;
      }
      then?.();
    },
  );
}

/** Words last no longer than the clip that they come with. @param {Record<string, unknown>} command @param {number} length */
const shortened = (command, length) =>
  command.do === "add-words" && length < 3 ? { length: ticks(length) } : {};
