// @ts-check
/** What the teleprompter hears: whether somebody speaks, and where they are in the text. */

import { headers, sentenceOf } from "../page.js";
import { model } from "./model.js";

/** A voice is louder than this, of the loudest there is. */
const SPEAKS = 0.02;
/** One goes on for so many milliseconds after the last sound: words have gaps. */
const GAP = 700;
/** So many samples a second are listened to, so many seconds of them, and so often, in milliseconds. */
const [RATE, LONG, EVERY] = [16000, 6, 900];
/** So often in a row nobody may have had the time to listen. */
const MISSED = 4;

/** @type {AudioContext|null} */
let context = null;
/** @type {Int16Array} the last seconds, going round */
const ring = new Int16Array(RATE * LONG);
let written = 0;
let heard = -Infinity;
let loudest = 0;

/** Listens to a microphone, or to none. @param {MediaStream|null} stream */
export async function listen(stream) {
  context?.close();
  context = null;
  heard = -Infinity;
  if (!stream?.getAudioTracks().length) return;
  const mine = new AudioContext({ sampleRate: RATE });
  context = mine;
  try {
    await mine.audioWorklet.addModule("/static/js/worklets/samples.js");
    if (context !== mine) return;
    const taker = new AudioWorkletNode(mine, "samples");
    taker.port.onmessage = (event) => take(event.data);
    mine.createMediaStreamSource(stream).connect(taker);
  } catch {
    // A browser that does not give its samples: nothing is heard, and the text runs at its speed.
    if (context === mine) context = null;
  }
}

/** @param {Float32Array} samples */
function take(samples) {
  let power = 0;
  for (const one of samples) {
    ring[written % ring.length] = Math.max(-1, Math.min(1, one)) * 32767;
    written += 1;
    power += one * one;
  }
  loudest = Math.max(loudest * 0.97, Math.sqrt(power / samples.length));
  if (loudest > SPEAKS) heard = performance.now();
}

/** Whether somebody speaks; so it is taken where nothing is heard at all. */
export const speaks = () => !context || performance.now() - heard < GAP;

/** The last seconds in their order. @param {number} since nothing from before this sample */
function last(since) {
  const length = Math.min(ring.length, written - since);
  return Int16Array.from({ length }, (_, n) => ring[(written - length + n) % ring.length]);
}

/** Follows somebody through a text until `told` answers with null: it is given the number of the word that comes next,
 *  and answers with where it is. @param {string} text @param {(next: number|null) => number|null} told
 *  @param {(sentence: string) => void} refused */
export async function follow(text, told, refused) {
  const since = written;
  let before = told(null);
  let missed = 0;
  while (before !== null) {
    await new Promise((done) => setTimeout(done, EVERY));
    const sound = last(since);
    if (sound.length < RATE || performance.now() - heard > EVERY + GAP) {
      before = told(null);
      continue;
    }
    const form = new FormData();
    form.set("text", text);
    form.set("before", String(before));
    form.set("sound", new Blob([/** @type {any} */ (sound)]));
    const answer = await fetch(`${model.url}/said-now`, { method: "POST", headers, body: form }).catch(
      () => null,
    );
    if (!answer?.ok) {
      missed += 1;
      if (missed < MISSED) continue;
      refused(answer ? sentenceOf(await answer.text()) : "");
      return;
    }
    missed = 0;
    before = told((await answer.json()).next);
  }
}
