// @ts-check
/** Cards of templates and promos: one plays while the pointer, or the keyboard, rests on it. */

import { readFrames } from "./editor/frames.js";

const STEP = 2;
const COUNT = 40;
const FPS = 30 / STEP;
/** @type {AbortController|null} */
let asked = null;
/** @type {HTMLCanvasElement|null} */
let shown = null;
let playing = 0;

function stop() {
  playing += 1;
  asked?.abort();
  asked = null;
  shown?.remove();
  shown = null;
}

/** Plays a card from its beginning, again and again. @param {HTMLElement} card */
async function play(card) {
  stop();
  const mine = playing;
  const picture = /** @type {HTMLElement} */ (card.querySelector(".plays-here"));
  const canvas = document.createElement("canvas");
  canvas.setAttribute("aria-hidden", "true");
  const paper = /** @type {CanvasRenderingContext2D} */ (canvas.getContext("2d", { alpha: false }));
  /** @type {ImageBitmap[]} */
  const frames = [];
  let [whole, at, last] = [false, 0, performance.now()];
  const next = (/** @type {number} */ now) => {
    if (mine !== playing) return;
    at += (Math.max(0, now - last) / 1000) * FPS;
    last = now;
    if (!whole) at = Math.min(at, frames.length - 1);
    const frame = frames[Math.floor(at) % frames.length];
    [canvas.width, canvas.height] = [frame.width, frame.height];
    paper.drawImage(frame, 0, 0);
    card.dataset.played = String(Math.floor(at));
    requestAnimationFrame(next);
  };
  asked = new AbortController();
  try {
    for (let first = 0; mine === playing && !whole; first += COUNT * STEP) {
      const before = frames.length;
      const query = `${card.dataset.query}&format=${card.dataset.format}&frame=${first}&count=${COUNT}&step=${STEP}&short=180`;
      const response = await fetch(`${card.dataset.url}/run?${query}`, { signal: asked.signal });
      if (!response.ok || !response.body) return;
      await readFrames(
        response.body.getReader(),
        (bitmap) => {
          frames.push(bitmap);
          if (frames.length > 1 || mine !== playing) return;
          picture.append(canvas);
          shown = canvas;
          last = performance.now();
          next(last);
        },
        () => mine === playing,
      );
      // The end is held: a run of nothing but its last frame ends it.
      whole =
        frames.length === before || frames.slice(before).every((one) => one === frames[frames.length - 1]);
    }
  } catch {
    /* Another card was pointed at. */
  }
}

let rest = 0;
for (const [begin, end] of [
  ["pointerover", "pointerout"],
  ["focusin", "focusout"],
]) {
  document.addEventListener(begin, (event) => {
    const card = /** @type {HTMLElement|null} */ (
      /** @type {Element} */ (event.target).closest("[data-plays]")
    );
    if (!card || card.contains(shown)) return;
    clearTimeout(rest);
    rest = window.setTimeout(() => play(card), 60);
  });
  document.addEventListener(end, (event) => {
    const card = /** @type {Element} */ (event.target).closest("[data-plays]");
    const to = /** @type {Node|null} */ (/** @type {PointerEvent} */ (event).relatedTarget);
    if (!card || (to && card.contains(to))) return;
    clearTimeout(rest);
    stop();
  });
}
