// @ts-check
/** Plays on the stage what a choice would do, without making it, as long as the pointer rests on it. */

import { readFrames } from "./frames.js";
import { canvas, shortSide, showFrame } from "./player.js";
import { model, on } from "./model.js";

const MOST = 45;
/** What is being tried, as one number; a later one ends it. */
let trial = 0;
/** @type {AbortController|null} */
let asked = null;

/** Ends a trial and shows the frame at the playhead again. */
export function stopTrial() {
  if (!asked) return;
  trial += 1;
  asked.abort();
  asked = null;
  showFrame();
}

/**
 * Plays a stretch again and again as a command would leave it.
 * @param {object} command
 * @param {number} from seconds
 * @param {number} lasts seconds
 */
export async function playTrial(command, from, lasts) {
  if (model.playing) return;
  asked?.abort();
  asked = new AbortController();
  const mine = ++trial;
  const first = Math.max(0, Math.round(from * model.fps));
  const frames = Math.max(1, Math.min(Math.round(lasts * model.fps), model.frameCount - first));
  const step = Math.ceil(frames / MOST);
  const ask = new URLSearchParams({
    command: JSON.stringify(command),
    format: model.format,
    frame: String(first),
    count: String(Math.ceil(frames / step)),
    step: String(step),
    short: String(shortSide(240)),
    rev: String(model.state.rev),
  });
  try {
    const response = await fetch(`${model.url}/trial-run?${ask}`, { signal: asked.signal });
    if (!response.ok || !response.body || mine !== trial) return;
    /** @type {ImageBitmap[]} */
    const shown = [];
    let [whole, at, last] = [false, 0, performance.now()];
    const next = (/** @type {number} */ now) => {
      if (mine !== trial) return;
      at += (Math.max(0, now - last) / 1000) * (model.fps / step);
      last = now;
      // While more is drawn, it waits at the newest; then it goes round.
      if (!whole) at = Math.min(at, shown.length - 1);
      const place = Math.floor(at);
      const paper = /** @type {CanvasRenderingContext2D} */ (canvas.getContext("2d", { alpha: false }));
      paper.drawImage(shown[place % shown.length], 0, 0, canvas.width, canvas.height);
      canvas.dataset.tried = String(place);
      requestAnimationFrame(next);
    };
    await readFrames(response.body.getReader(), (picture) => {
      shown.push(picture);
      if (shown.length === 1) next(performance.now());
    });
    whole = true;
  } catch {
    /* Something else was pointed at meanwhile. */
  }
}

on("changed", () => {
  trial += 1;
  asked = null;
});
