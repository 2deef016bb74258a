// @ts-check
/** The frame at the playhead, and playing: runs of frames fetched ahead, painted against the sound's clock. */

import { onConnection } from "../connection.js";
import { note, sentenceOf } from "../page.js";
import { Playing } from "../playing.js";
import { clock, model, moveTo, on, sceneAt, seconds, tell } from "./model.js";
import { stageSize } from "./stage.js";

export const canvas = /** @type {HTMLCanvasElement} */ (document.getElementById("frame"));
const paper = /** @type {CanvasRenderingContext2D} */ (canvas.getContext("2d", { alpha: false }));
const SIZES = [72, 120, 180, 240, 300, 360, 480, 540, 720, 1080];

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

/** The revision of which it was said that its sound is not levelled yet. */
let unlevelled = 0;

/** @type {Playing|null} */
let run = null;
/** Whether voices and tones are heard as they came. */
let plain = false;

/** Lets voices and tones be heard as they came, or as they are set again; what plays goes on. @param {boolean} on */
export function hearPlain(on) {
  if (plain === on) return;
  plain = on;
  if (!model.playing) return;
  stop();
  play();
}
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
  run = new Playing({
    url: model.url,
    query: `rev=${model.state.rev}${plain ? "&plain=1" : ""}`,
    format: model.format,
    fps: model.fps,
    first: model.frame,
    end,
    short: shortSide(360),
    paint: (picture, due) => {
      model.frame = due;
      paint(picture);
    },
    moved: (due) => {
      model.frame = due;
      tell("moved", { playing: true });
    },
    over: () => {
      stop();
      moveTo(again ? start : end - 1);
      if (again) play();
    },
    failed: () => {
      note("The preview cannot be drawn just now.", { refusal: true });
      stop();
    },
    unlevelled: sayUnlevelled,
  });
  run.start().catch(() => stop());
  tell("played");
}

/** Says once of a revision that it is not as loud yet as it will be. */
function sayUnlevelled() {
  if (unlevelled === model.state.rev) return;
  unlevelled = model.state.rev;
  note(
    "How loud the files are is still being measured: what is to be levelled sounds as it came until then.",
  );
}

export function stop() {
  if (!model.playing) return;
  model.playing = false;
  run?.stop();
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
