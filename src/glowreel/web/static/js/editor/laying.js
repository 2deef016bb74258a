// @ts-check
/**
 * Where something begins that is laid over the picture. After adding clips the playhead stands on the last frame: what
 * began there would hardly be seen. It comes with the last clip instead, and the playhead goes to where it is seen;
 * clips that are added next still come at the end, as long as nobody has moved the playhead.
 */

import { send } from "./commands.js";
import { gridTicks, known, model, moveTo, on, ticks } from "./model.js";

/** So long after its beginning something is seen whole, in seconds, where it lasts that long. */
const COME = 0.7;
/** The frame to which the playhead was taken from the end of the promo; none, once it has been moved from there. */
let taken = -1;
on("moved", () => {
  if (model.frame !== taken) taken = -1;
});

const atEnd = () => model.frame === taken || model.frame >= model.frameCount - 1;

/** Where the next clip goes: to the cut nearest to the playhead; to the end, where nobody moved it since the last. */
export const here = () => (model.state.length && model.frame !== taken ? gridTicks(model.time) : null);

/** Where a sound begins: at the playhead; from the start where that stands at the end. */
export const soundTime = () => (atEnd() ? 0 : ticks(model.time));

/**
 * Lays something over the picture.
 * @param {() => Record<string, unknown>} command what is laid, without a time
 * @param {() => void} [then]
 */
export function layOver(command, then) {
  /** @type {import("./model.js").Row|undefined} */
  let under;
  return send(
    () => {
      under = atEnd() ? model.state.main.at(-1) : undefined;
      return { ...command(), at: gridTicks(under?.start ?? model.time) };
    },
    () => {
      const row = known.get([...model.selected][0])?.row;
      if (under && row) {
        // It may last longer than the clip: what is seen of it lies within both.
        const seen = Math.min(COME, row.length / 2, under.length / 2);
        moveTo(Math.floor((row.start + seen) * model.fps), { follow: true });
        taken = model.frame;
      }
      then?.();
    },
  );
}
