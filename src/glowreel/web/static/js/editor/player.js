// @ts-check
/** The frame at the playhead, and playing: runs of frames fetched ahead, painted against the sound's clock. */

import { onConnection } from "../connection.js";
import { note, sentenceOf } from "../page.js";
import { readFrames } from "./frames.js";
import { clock, model, moveTo, on, sceneAt, seconds, tell } from "./model.js";
import { stageSize } from "./stage.js";

export const canvas = /** @type {HTMLCanvasElement} */ (document.getElementById("frame"));
const paper = /** @type {CanvasRenderingContext2D} */ (canvas.getContext("2d", { alpha: false }));
const SIZES = [72, 120, 180, 240, 300, 360, 480, 540, 720, 1080];
const RUN = 15;
const SPAN = 48000;

/** The preview size that fills the stage. @param {number} most */
export function shortSide(most = 1080) {
  const wanted = Math.min(stageSize().short * Math.min(window.devicePixelRatio || 1, 2), most);
  return SIZES.find((size) => size >= wanted * 0.94) ?? 1080;
}

/** @param {ImageBitmap} picture */
function paint(picture) {
  if (canvas.width !== picture.width || canvas.height !== picture.height) {
    canvas.width = picture.width;
    canvas.height = picture.height;
  }
  paper.drawImage(picture, 0, 0);
  canvas.dataset.shown = String(model.frame);
}

/* ---- one frame ---- */

/** @type {Map<string, ImageBitmap>} */
const kept = new Map();
let asking = false;
let wanted = "";

/** A layer that something else shows: words that are being edited on the stage. */
export const leftOut = { id: "" };

/** The frame at the playhead; what is selected is shown at rest, even where it is only just coming. */
const address = (/** @type {number} */ short) => {
  const rest =
    model.selected.size && model.selected.size <= 20 ? `&rest=${[...model.selected].join(",")}` : "";
  return `${model.url}/frame.jpg?rev=${model.state.rev}&format=${model.format}&frame=${model.frame}&short=${short}${rest}${leftOut.id && `&without=${leftOut.id}`}`;
};

/** Shows the frame at the playhead; while one is being fetched, only the newest wish is kept. */
export async function showFrame() {
  if (model.playing) return;
  wanted = address(shortSide(720));
  if (asking) return;
  asking = true;
  const wait = setTimeout(() => document.getElementById("stage-wait")?.removeAttribute("hidden"), 250);
  try {
    let shown = "";
    while (wanted !== shown && !model.playing) {
      shown = wanted;
      const picture = kept.get(shown) ?? (await fetchPicture(shown));
      kept.delete(shown);
      if (waits) lookAgain();
      else kept.set(shown, picture);
      if (kept.size > 90) kept.delete(/** @type {string} */ (kept.keys().next().value));
      // What is being tried is shown until it is let go.
      if (!model.playing && !trying) paint(picture);
    }
  } catch {
    canvas.dataset.shown = "";
  } finally {
    clearTimeout(wait);
    document.getElementById("stage-wait")?.setAttribute("hidden", "");
    asking = false;
  }
}

/** @type {string|null} */
let trying = null;
let tryingNow = false;

/** Shows the frame at the playhead as a command would leave it, without carrying it out; null shows it as it is.
 * While one is being drawn, only the newest wish is kept. @param {object|null} command @param {number} [frame] */
export async function showTrial(command, frame = model.frame) {
  const rest =
    model.selected.size && model.selected.size <= 20 ? `&rest=${[...model.selected].join(",")}` : "";
  trying = command
    ? `${model.url}/trial.jpg?command=${encodeURIComponent(JSON.stringify(command))}&format=${model.format}&frame=${frame}&short=${shortSide(360)}${rest}`
    : null;
  if (!command) return showFrame();
  if (tryingNow) return;
  tryingNow = true;
  try {
    let shown = "";
    while (trying && trying !== shown && !model.playing) {
      shown = trying;
      const picture = await fetchPicture(shown);
      if (trying && !model.playing) paint(picture);
    }
  } catch {
    /* Refused while it is dragged: the frame stays as it was. */
  } finally {
    tryingNow = false;
  }
}
on("changed", () => {
  trying = null;
});

let refused = "";
/** Says why there is no picture; the same reason not at every frame. @param {string} sentence */
function refuse(sentence) {
  if (sentence !== refused) note(sentence, { refusal: true });
  refused = sentence;
}

/** Whether the last picture waits for something that is being made, and is shown without it. */
let waits = false;
let waited = 0;

/** Looks again after a moment, until it is there. */
function lookAgain() {
  if (!waited) note("Something of it is still being made. Until then it is shown as it came.");
  clearTimeout(waited);
  waited = setTimeout(async () => {
    await showFrame();
    if (waits) return;
    waited = 0;
    note("It is made now.");
    tell("made");
  }, 1500);
}

/** @param {string} url */
async function fetchPicture(url) {
  const response = await fetch(url);
  waits = response.headers.has("X-Waits");
  if (!response.ok) {
    if (response.status < 500) refuse(sentenceOf(await response.text()));
    throw new Error(String(response.status));
  }
  return createImageBitmap(await response.blob());
}

/* ---- playing ---- */

/** @type {AudioContext|null} */
let audio = null;
/** @type {GainNode|null} */
let volume = null;
let muted = false;
/** The revision of which it was said that its sound is not levelled yet. */
let unlevelled = 0;

/** One playing of a stretch; ends when `stop` is called or the stretch is over. */
class Run {
  /** @param {number} begin where it starts again @param {number} first @param {number} end */
  constructor(begin, first, end) {
    this.begin = begin;
    this.first = first;
    this.end = end;
    /** @type {Map<number, ImageBitmap>} */
    this.ready = new Map();
    this.next = first;
    this.fetching = false;
    this.alive = true;
    /** @type {AudioBufferSourceNode[]} */
    this.sounds = [];
    this.spanAt = Math.round(seconds(first) * 48000);
    this.short = shortSide(360);
    this.began = 0;
    this.painted = 0;
    this.dropped = 0;
    this.abort = new AbortController();
  }

  async start() {
    audio ??= new AudioContext({ sampleRate: 48000, latencyHint: "interactive" });
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
    const length = Math.min(SPAN, Math.round(seconds(this.end) * 48000) - start);
    if (length <= 0) return null;
    this.spanAt += length;
    const response = await fetch(
      `${model.url}/sound?rev=${model.state.rev}&start=${start}&length=${length}`,
      {
        signal: this.abort.signal,
      },
    );
    if (!response.ok) return null;
    if (response.headers.has("X-Waits") && unlevelled !== model.state.rev) {
      unlevelled = model.state.rev;
      note(
        "How loud the files are is still being measured: what is to be levelled sounds as it came until then.",
      );
    }
    const pcm = new Int16Array(await response.arrayBuffer());
    const buffer = /** @type {AudioContext} */ (audio).createBuffer(2, length, 48000);
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
    const late = audio.currentTime - (this.began + sound.start / 48000 - seconds(this.first));
    node.start(audio.currentTime + Math.max(0, -late), Math.max(0, late));
    this.sounds.push(node);
  }

  /** Keeps about two seconds of sound scheduled. */
  async more() {
    try {
      while (this.alive && this.spanAt < seconds(this.end) * 48000) {
        const ahead = this.spanAt / 48000 - seconds(this.now());
        if (ahead > 2.2) await new Promise((done) => setTimeout(done, 150));
        else this.schedule(await this.span());
      }
    } catch {
      /* stopped */
    }
  }

  /** Fetches the next run of frames, skipping what is too late to be shown. */
  async fill() {
    if (this.fetching || !this.alive || this.next >= this.end) return;
    this.fetching = true;
    try {
      if (this.began) this.next = Math.max(this.next, Math.floor(this.now()));
      const count = Math.min(RUN, this.end - this.next);
      const url = `${model.url}/run?rev=${model.state.rev}&format=${model.format}&frame=${this.next}&count=${count}&short=${this.short}`;
      const response = await fetch(url, { signal: this.abort.signal });
      if (!response.ok || !response.body) throw new Error("no frames");
      const first = this.next;
      this.next += count;
      await this.read(response.body.getReader(), first);
    } catch {
      if (this.alive) {
        note("The preview cannot be drawn just now.", { refusal: true });
        stop();
      }
    } finally {
      this.fetching = false;
    }
  }

  /**
   * Takes frames out of a stream as they come.
   * @param {ReadableStreamDefaultReader<Uint8Array>} reader
   * @param {number} frame
   */
  async read(reader, frame) {
    await readFrames(
      reader,
      (picture) => this.ready.set(frame++, picture),
      () => this.alive,
    );
  }

  /** The frame that is due, with its fraction. */
  now() {
    if (!this.began || !this.clock) return this.first;
    return this.first + Math.max(0, this.clock() - this.began) * model.fps;
  }

  tick() {
    if (!this.alive) return;
    const due = Math.floor(this.now());
    if (due >= this.end) {
      stop();
      if (again) {
        moveTo(this.begin);
        play();
        return;
      }
      moveTo(this.end - 1);
      return;
    }
    let best = -1;
    for (const frame of this.ready.keys()) if (frame <= due && frame > best) best = frame;
    if (best >= 0) {
      const picture = /** @type {ImageBitmap} */ (this.ready.get(best));
      model.frame = due;
      paint(picture);
      this.painted += 1;
      for (const frame of [...this.ready.keys()])
        if (frame <= best) {
          if (frame < best) this.dropped += 1;
          this.ready.delete(frame);
        }
    }
    model.frame = due;
    tell("moved", { playing: true });
    if (this.next - due < RUN * 3) this.fill();
    requestAnimationFrame(() => this.tick());
  }

  end_() {
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

/** @type {Run|null} */
let run = null;
let onlyScene = false;
let again = false;

function stretch() {
  const at = seconds(model.frame) + 0.001;
  const scene = onlyScene ? sceneAt(at) : null;
  const [start, end] = scene
    ? [scene.start, scene.start + scene.length].map((time) => Math.round(time * model.fps))
    : [0, model.frameCount];
  return { start, end };
}

export function play() {
  if (model.playing || !model.frameCount) return;
  const { start, end } = stretch();
  if (model.frame >= end - 1) moveTo(start);
  model.playing = true;
  run = new Run(start, model.frame, end);
  run.start().catch(() => stop());
  tell("played");
}

export function stop() {
  if (!model.playing) return;
  model.playing = false;
  run?.end_();
  canvas.dataset.painted = String(run?.painted ?? 0);
  canvas.dataset.dropped = String(run?.dropped ?? 0);
  run = null;
  tell("played");
  tell("moved");
}

export const toggle = () => (model.playing ? stop() : play());

/** What a press on play plays. @param {"all"|"scene"} what */
export function playWhat(what) {
  onlyScene = what === "scene";
  for (const name of ["all", "scene"])
    document.getElementById(`play-${name}`)?.setAttribute("aria-pressed", String(name === what));
}

/** Plays from the playhead. @param {"all"|"scene"} what */
export function playFrom(what) {
  stop();
  playWhat(what);
  play();
}

/** @param {boolean} round */
export function playRound(round) {
  again = round;
}

export const isMuted = () => muted;

/** @param {boolean} silent */
export function mute(silent) {
  muted = silent;
  if (volume) volume.gain.value = silent ? 0 : 1;
}

on("moved", (options) => {
  if (!options?.playing) {
    if (model.playing) stop();
    else showFrame();
  }
});
on("selected", showFrame);
onConnection((away) => {
  if (!away) showFrame();
});
new ResizeObserver(() => showFrame()).observe(/** @type {HTMLElement} */ (document.getElementById("stage")));
on("changed", () => {
  stop();
  showFrame();
});
on("format", () => {
  stop();
  showFrame();
});
on("moved", () => {
  const now = document.getElementById("now");
  if (now) now.textContent = clock(seconds(model.frame));
});
on("changed", () => {
  const total = document.getElementById("total");
  if (total) total.textContent = clock(model.state.length);
});
