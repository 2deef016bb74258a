// @ts-check
/** Playing: runs of frames fetched ahead, painted against the sound's clock. For the editor and every page that plays. */

import { readFrames } from "./editor/frames.js";

const RUN = 15;
const RATE = 48000;
/** Samples of sound that are fetched at a time. */
const SPAN = RATE;

/** @type {AudioContext|null} */
let audio = null;
/** @type {GainNode|null} */
let volume = null;
let muted = false;

/** @type {AnalyserNode|null} */
let analyser = null;
const SIZE = 4096;

/** How loud each range of tones is that is heard just now (dB), `step` Hz each; null where nothing is. */
export function spectrum() {
  if (!audio || !volume) return null;
  if (!analyser) {
    analyser = audio.createAnalyser();
    analyser.fftSize = SIZE;
    analyser.smoothingTimeConstant = 0.7;
    volume.connect(analyser);
  }
  const levels = new Float32Array(analyser.frequencyBinCount);
  analyser.getFloatFrequencyData(levels);
  return { levels, step: RATE / SIZE };
}

export const isMuted = () => muted;

/** @param {boolean} silent */
export function mute(silent) {
  muted = silent;
  if (volume) volume.gain.value = silent ? 0 : 1;
}

/**
 * What is played, and what is done with it. `url` answers `/run` and `/sound`; `query` is added to both.
 * @typedef {object} Reel
 * @property {string} url
 * @property {string} query
 * @property {string} format
 * @property {number} fps
 * @property {number} first the frame where it starts
 * @property {number} end the frame before which it stops
 * @property {number} short
 * @property {(picture: ImageBitmap, due: number) => void} paint
 * @property {(due: number) => void} moved
 * @property {() => void} over the end was reached
 * @property {() => void} failed no frames can be had
 * @property {(share: number) => number} [paced] what share of its own time a run took to come; answers with the size
 *   of the next ones
 * @property {() => void} [unlevelled] the sound is not yet as loud as it will be
 */

/** One playing of a stretch; ends when `stop` is called or the stretch is over. */
export class Playing {
  /** @param {Reel} reel */
  constructor(reel) {
    this.reel = reel;
    /** @type {Map<number, ImageBitmap>} */
    this.ready = new Map();
    this.next = reel.first;
    this.fetching = false;
    this.alive = true;
    /** @type {AudioBufferSourceNode[]} */
    this.sounds = [];
    this.spanAt = this.sample(reel.first);
    this.began = 0;
    this.painted = 0;
    this.dropped = 0;
    this.abort = new AbortController();
  }

  /** @param {number} frame */
  sample(frame) {
    return Math.round((frame / this.reel.fps) * RATE);
  }

  async start() {
    audio ??= new AudioContext({ sampleRate: RATE, latencyHint: "interactive" });
    if (!volume) {
      volume = audio.createGain();
      volume.connect(audio.destination);
      volume.gain.value = muted ? 0 : 1;
    }
    const resumed = audio.resume();
    const [sound] = await Promise.all([
      this.span(),
      this.fill(),
      Promise.race([resumed, new Promise((done) => setTimeout(done, 400))]),
    ]);
    if (!this.alive) return;
    this.clock =
      audio.state === "running"
        ? () => /** @type {AudioContext} */ (audio).currentTime
        : () => performance.now() / 1000;
    this.began = this.clock() + 0.05;
    this.schedule(sound);
    this.more();
    requestAnimationFrame(() => this.tick());
  }

  /** Fetches the next span of the mix. */
  async span() {
    const start = this.spanAt;
    const length = Math.min(SPAN, this.sample(this.reel.end) - start);
    if (length <= 0) return null;
    this.spanAt += length;
    const { url, query } = this.reel;
    const response = await fetch(`${url}/sound?${query}&start=${start}&length=${length}`, {
      signal: this.abort.signal,
    });
    if (!response.ok) return null;
    if (response.headers.has("X-Waits")) this.reel.unlevelled?.();
    const pcm = new Int16Array(await response.arrayBuffer());
    const buffer = /** @type {AudioContext} */ (audio).createBuffer(2, length, RATE);
    for (let channel = 0; channel < 2; channel += 1) {
      const out = buffer.getChannelData(channel);
      for (let n = 0; n < length; n += 1) out[n] = pcm[n * 2 + channel] / 32768;
    }
    return { start, buffer };
  }

  /** @param {{start: number, buffer: AudioBuffer}|null} sound */
  schedule(sound) {
    if (!sound || !this.alive || !audio || !volume) return;
    const node = audio.createBufferSource();
    node.buffer = sound.buffer;
    node.connect(volume);
    const late = audio.currentTime - (this.began + sound.start / RATE - this.reel.first / this.reel.fps);
    node.start(audio.currentTime + Math.max(0, -late), Math.max(0, late));
    this.sounds.push(node);
  }

  /** Keeps about two seconds of sound scheduled. */
  async more() {
    try {
      while (this.alive && this.spanAt < this.sample(this.reel.end)) {
        const ahead = this.spanAt / RATE - this.now() / this.reel.fps;
        if (ahead > 2.2) await new Promise((done) => setTimeout(done, 150));
        else this.schedule(await this.span());
      }
    } catch {
      /* stopped */
    }
  }

  /** Fetches the next run of frames, skipping what is too late to be shown. */
  async fill() {
    const { url, query, format, end, short } = this.reel;
    if (this.fetching || !this.alive || this.next >= end) return;
    this.fetching = true;
    try {
      if (this.began) this.next = Math.max(this.next, Math.floor(this.now()));
      const count = Math.min(RUN, end - this.next);
      const wanted = `${url}/run?${query}&format=${format}&frame=${this.next}&count=${count}&short=${short}`;
      const response = await fetch(wanted, { signal: this.abort.signal });
      if (!response.ok || !response.body) throw new Error("no frames");
      let frame = this.next;
      const began = performance.now();
      this.next += count;
      await readFrames(
        response.body.getReader(),
        (picture) => this.ready.set(frame++, picture),
        () => this.alive,
      );
      const share = (((performance.now() - began) / 1000) * this.reel.fps) / count;
      if (this.alive && this.reel.paced) this.reel.short = this.reel.paced(share);
    } catch {
      if (this.alive) this.reel.failed();
    } finally {
      this.fetching = false;
    }
  }

  /** The frame that is due, with its fraction. */
  now() {
    if (!this.began || !this.clock) return this.reel.first;
    return this.reel.first + Math.max(0, this.clock() - this.began) * this.reel.fps;
  }

  tick() {
    if (!this.alive) return;
    const due = Math.floor(this.now());
    if (due >= this.reel.end) {
      this.reel.over();
      return;
    }
    let best = -1;
    for (const frame of this.ready.keys()) if (frame <= due && frame > best) best = frame;
    if (best >= 0) {
      this.reel.paint(/** @type {ImageBitmap} */ (this.ready.get(best)), due);
      this.painted += 1;
      for (const frame of [...this.ready.keys()])
        if (frame <= best) {
          if (frame < best) this.dropped += 1;
          this.ready.delete(frame);
        }
    }
    this.reel.moved(due);
    if (this.next - due < RUN * 3) this.fill();
    requestAnimationFrame(() => this.tick());
  }

  stop() {
    this.alive = false;
    this.abort.abort();
    for (const node of this.sounds) {
      try {
        node.stop();
      } catch {
        /* not started */
      }
    }
    this.ready.clear();
  }
}
