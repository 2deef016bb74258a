// @ts-check
/** A little of the sound at the playhead while it is dragged. Seconds of the mix are fetched once and kept. */

import { model, on, remember, remembered } from "./model.js";
import { isMuted } from "../playing.js";

const SECOND = 48000;
const GRAIN = 0.09;
/** @type {Map<string, Promise<Int16Array|null>>} */
const kept = new Map();
/** @type {AudioContext|null} */
let audio = null;
let last = -1;
let playing = 0;
let hear = remembered.hear !== false;

/** @param {number} second */
function fetchSecond(second) {
  const url = `${model.url}/sound?rev=${model.state.rev}&start=${second * SECOND}&length=${SECOND}`;
  let coming = kept.get(url);
  if (!coming) {
    coming = fetch(url)
      .then(async (response) => (response.ok ? new Int16Array(await response.arrayBuffer()) : null))
      .catch(() => null);
    kept.set(url, coming);
    if (kept.size > 40) kept.delete(/** @type {string} */ (kept.keys().next().value));
  }
  return coming;
}

async function grain() {
  const at = model.time;
  if (!hear || isMuted() || model.playing || Math.abs(at - last) < 0.01 || playing > 2) return;
  last = at;
  const second = Math.floor(at);
  playing += 1;
  const pcm = await fetchSecond(second);
  playing -= 1;
  if (!pcm || Math.abs(model.time - at) > 0.3) return;
  audio ??= new AudioContext({ sampleRate: SECOND, latencyHint: "interactive" });
  const first = Math.round((at - second) * SECOND);
  const length = Math.min(Math.round(GRAIN * SECOND), pcm.length / 2 - first);
  if (length < 400) return;
  const buffer = audio.createBuffer(2, length, SECOND);
  for (let channel = 0; channel < 2; channel += 1) {
    const out = buffer.getChannelData(channel);
    for (let n = 0; n < length; n += 1)
      out[n] = (pcm[(first + n) * 2 + channel] / 32768) * Math.min(1, n / 300, (length - n) / 300);
  }
  const node = audio.createBufferSource();
  node.buffer = buffer;
  node.connect(audio.destination);
  node.start();
}

const button = document.getElementById("hear");
button?.setAttribute("aria-pressed", String(hear));
button?.addEventListener("click", () => {
  hear = !hear;
  remember({ hear });
  button.setAttribute("aria-pressed", String(hear));
});
on("scrubbed", (detail) => {
  if (!detail?.done) grain();
});
