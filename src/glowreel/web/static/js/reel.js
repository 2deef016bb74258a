// @ts-check
/** A promo that plays outside the editor: a canvas, a play button, a slider, and its shapes. */

import { Playing, isMuted, mute } from "./playing.js";
import { note } from "./page.js";

const root = /** @type {HTMLElement} */ (document.getElementById("reel"));
const canvas = /** @type {HTMLCanvasElement} */ (document.getElementById("reel-canvas"));
const paper = /** @type {CanvasRenderingContext2D} */ (canvas.getContext("2d", { alpha: false }));
const play = /** @type {HTMLButtonElement} */ (document.getElementById("reel-play"));
const slider = /** @type {HTMLInputElement} */ (document.getElementById("reel-at"));
const time = /** @type {HTMLElement} */ (document.getElementById("reel-time"));
const silent = /** @type {HTMLButtonElement} */ (document.getElementById("reel-mute"));
const SHORT = 360;

export const reel = {
  url: root.dataset.url ?? "",
  query: root.dataset.query ?? "",
  still: root.dataset.still ?? "",
  frames: Number(root.dataset.frames),
  fps: Number(root.dataset.fps),
  format: "",
  frame: Number(root.dataset.first),
};
/** Nothing has been played or looked for yet: it is shown where it is at its best, and begins at its beginning. */
let fresh = true;

/** @type {Playing|null} */
let running = null;
let wanted = "";
/** @type {number|undefined} */
let again;
let asking = false;

/** @param {ImageBitmap} picture */
function paint(picture) {
  if (canvas.width !== picture.width || canvas.height !== picture.height)
    [canvas.width, canvas.height] = [picture.width, picture.height];
  paper.drawImage(picture, 0, 0);
  canvas.dataset.shown = String(reel.frame);
}

function tellTime() {
  slider.value = String(reel.frame);
  const seconds = Math.floor(reel.frame / reel.fps);
  time.textContent = `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
}

/** Shows a frame; while one is being fetched, only the newest wish is kept. @param {number} [frame] */
export async function show(frame = reel.frame) {
  stop();
  reel.frame = Math.max(0, Math.min(frame, reel.frames - 1));
  tellTime();
  wanted = `${reel.still}?${reel.query}&format=${reel.format}&frame=${reel.frame}&short=${SHORT}`;
  if (asking) return;
  asking = true;
  let shown = "";
  try {
    while (wanted !== shown) {
      shown = wanted;
      const response = await fetch(shown);
      if (!response.ok) break;
      const picture = await createImageBitmap(await response.blob());
      if (!running) paint(picture);
      // What it waits for is still being made: looked at again until it is there.
      clearTimeout(again);
      if (response.headers.has("X-Waits")) again = window.setTimeout(() => !running && show(), 900);
    }
  } catch {
    canvas.dataset.shown = "";
  } finally {
    asking = false;
  }
}

export function stop() {
  running?.stop();
  running = null;
  play.innerHTML = '<i class="bi bi-play-fill" aria-hidden="true"></i>';
  play.setAttribute("aria-label", "Play");
}

export function start() {
  if (running || !reel.frames) return;
  if (fresh || reel.frame >= reel.frames - 2) reel.frame = 0;
  fresh = false;
  running = new Playing({
    url: reel.url,
    query: reel.query,
    format: reel.format,
    fps: reel.fps,
    first: reel.frame,
    end: reel.frames,
    short: SHORT,
    paint: (picture, due) => {
      reel.frame = due;
      paint(picture);
    },
    moved: (due) => {
      reel.frame = due;
      tellTime();
    },
    over: () => {
      stop();
      fresh = true;
      show(Number(root.dataset.first));
    },
    failed: () => {
      stop();
      note("The preview cannot be drawn just now.", { refusal: true });
    },
  });
  running.start().catch(stop);
  play.innerHTML = '<i class="bi bi-pause-fill" aria-hidden="true"></i>';
  play.setAttribute("aria-label", "Pause");
}

export const toggle = () => (running ? stop() : start());

/** @param {HTMLElement} button */
function choose(button) {
  for (const other of root.querySelectorAll("[data-reel-format]"))
    other.setAttribute("aria-pressed", String(other === button));
  reel.format = button.dataset.reelFormat ?? "";
  const [wide, high] = [Number(button.dataset.wide), Number(button.dataset.high)];
  canvas.style.aspectRatio = `${wide} / ${high}`;
  root.dataset.shape = wide > high ? "wide" : wide === high ? "square" : "tall";
  const playing = Boolean(running);
  show();
  if (playing) start();
}

play.addEventListener("click", toggle);
slider.addEventListener("input", () => {
  fresh = false;
  show(Number(slider.value));
});
silent.addEventListener("click", () => {
  mute(!isMuted());
  silent.setAttribute("aria-pressed", String(isMuted()));
  silent.setAttribute("aria-label", isMuted() ? "Sound on" : "Sound off");
  silent.innerHTML = `<i class="bi bi-volume-${isMuted() ? "mute" : "up"}" aria-hidden="true"></i>`;
});
root.addEventListener("click", (event) => {
  const button = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-reel-format]")
  );
  if (button) choose(button);
});
document.addEventListener("keydown", (event) => {
  if (event.key === " " && event.ctrlKey) {
    event.preventDefault();
    toggle();
  }
});
const first = /** @type {HTMLElement|null} */ (root.querySelector("[data-reel-format]"));
if (first) choose(first);
