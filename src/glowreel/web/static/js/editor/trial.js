// @ts-check
/** Plays on the stage what a choice would do, without making it, as long as the pointer rests on it. */

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
 * The pictures of a stream: for each a 32-bit length and a JPEG; length 0 repeats the one before.
 * @param {ArrayBuffer} data
 */
async function pictures(data) {
  const view = new DataView(data);
  /** @type {ImageBitmap[]} */
  const found = [];
  for (let at = 0; at + 4 <= data.byteLength;) {
    const size = view.getUint32(at, true);
    if (size)
      found.push(
        await createImageBitmap(new Blob([data.slice(at + 4, at + 4 + size)], { type: "image/jpeg" })),
      );
    else if (found.length) found.push(found[found.length - 1]);
    at += 4 + size;
  }
  return found;
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
    if (!response.ok || mine !== trial) return;
    const shown = await pictures(await response.arrayBuffer());
    const began = performance.now();
    const next = () => {
      if (mine !== trial || !shown.length) return;
      const place = Math.floor(((performance.now() - began) / 1000) * (model.fps / step));
      const paper = /** @type {CanvasRenderingContext2D} */ (canvas.getContext("2d", { alpha: false }));
      paper.drawImage(shown[place % shown.length], 0, 0, canvas.width, canvas.height);
      canvas.dataset.tried = String(place);
      requestAnimationFrame(next);
    };
    next();
  } catch {
    /* Something else was pointed at meanwhile. */
  }
}

on("changed", () => {
  trial += 1;
  asked = null;
});
