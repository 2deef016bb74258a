// @ts-check
/** What is painted into the timeline's boxes: film strips and waveforms, only where they are in sight. */

import { perSecond, scroll, headWidth } from "./timeline.js";

/** @type {Map<string, HTMLImageElement>} */
const strips = new Map();
/** @type {Map<string, Uint8Array>} */
const peaks = new Map();
let due = 0;

export function paintArt() {
  if (!due) due = requestAnimationFrame(() => { due = 0; all(); });
}

function all() {
  const left = scroll.scrollLeft - 200;
  const right = scroll.scrollLeft + scroll.clientWidth - headWidth() + 200;
  for (const box of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("#lanes .item[data-media]"))) {
    const start = Number(box.dataset.start) * perSecond();
    const width = Number(box.dataset.length) * perSecond();
    if (start > right || start + width < left) continue;
    one(box, Math.max(0, left - start), Math.min(width, right - start));
  }
}

/** Paints one box between two places in it. @param {HTMLElement} box @param {number} from @param {number} to */
function one(box, from, to) {
  const canvas = /** @type {HTMLCanvasElement} */ (box.querySelector("canvas"));
  const height = box.clientHeight;
  const width = Math.max(1, Math.ceil(to - from));
  const done = `${from}|${width}|${height}|${perSecond()}|${box.dataset.source}|${box.dataset.length}`;
  const kind = box.dataset.kind;
  if (canvas.dataset.done === done) return;
  const ratio = window.devicePixelRatio || 1;
  canvas.width = width * ratio;
  canvas.height = height * ratio;
  canvas.style.width = `${width}px`;
  canvas.style.left = `${from}px`;
  const paper = /** @type {CanvasRenderingContext2D} */ (canvas.getContext("2d"));
  paper.scale(ratio, ratio);
  const painted = kind === "sound" ? wave(box, paper, from, width, height) : kind === "footage" || kind === "photo" ? film(box, paper, from, width, height) : true;
  if (painted) canvas.dataset.done = done;
  else canvas.removeAttribute("data-done");
}

/** @param {HTMLElement} box @param {CanvasRenderingContext2D} paper @param {number} from @param {number} width @param {number} height */
function film(box, paper, from, width, height) {
  const media = box.dataset.media ?? "";
  const photo = box.dataset.kind === "photo" || !box.dataset.tiles;
  let strip = strips.get(media);
  if (!strip) {
    strip = new Image();
    strip.onload = paintArt;
    strip.src = `/shelf/${media}/${photo ? "poster" : "strip"}.jpg`;
    strips.set(media, strip);
  }
  if (!strip.complete || !strip.naturalWidth) return false;
  const tiles = photo ? 1 : Number(box.dataset.tiles);
  const tileWidth = strip.naturalWidth / tiles;
  const shown = (height * tileWidth) / strip.naturalHeight;
  for (let x = Math.floor(from / shown) * shown; x < from + width; x += shown) {
    const at = Number(box.dataset.source) + (x + shown / 2) / perSecond();
    const tile = photo ? 0 : Math.min(tiles - 1, Math.max(0, Math.round(at / Number(box.dataset.step) - 0.25)));
    paper.drawImage(strip, tile * tileWidth, 0, tileWidth, strip.naturalHeight, x - from, 0, shown - 1, height);
  }
  return true;
}

/** @type {Map<string, Promise<Uint8Array|null>>} */
const coming = new Map();

/** The peaks of a sound, asked for once. @param {string} media */
export function loadPeaks(media) {
  let loading = coming.get(media);
  if (!loading) {
    loading = fetch(`/shelf/${media}/peaks`).then(async (response) => {
      if (!response.ok) { coming.delete(media); return null; }
      peaks.set(media, new Uint8Array(await response.arrayBuffer()));
      return peaks.get(media) ?? null;
    });
    coming.set(media, loading);
  }
  return loading;
}

/** Draws peaks between two seconds of a sound. @param {CanvasRenderingContext2D} paper @param {Uint8Array} data @param {number} start @param {number} pps
 *  @param {number} width @param {number} height @param {(second: number) => number} gain */
export function drawWave(paper, data, start, pps, width, height, gain) {
  const middle = height / 2;
  paper.beginPath();
  for (let x = 0; x < width; x += 2) {
    const first = Math.floor((start + x / pps) * 100);
    const last = Math.max(first + 1, Math.floor((start + (x + 2) / pps) * 100));
    let loud = 0;
    for (let n = first; n < last && n < data.length; n += 1) if (data[n] > loud) loud = data[n];
    // Drawn by the root, as ears do: quiet speech is seen, loud music still fits.
    const reach = Math.pow(Math.min(1, (loud / 255) * gain(x / pps)), 0.6) * (middle - 1);
    paper.rect(x, middle - reach, 1.4, Math.max(1, 2 * reach));
  }
  paper.fill();
}

/** @param {HTMLElement} box @param {CanvasRenderingContext2D} paper @param {number} from @param {number} width @param {number} height */
function wave(box, paper, from, width, height) {
  const media = box.dataset.media ?? "";
  const data = peaks.get(media);
  if (!data) {
    loadPeaks(media).then((found) => { if (found) paintArt(); });
    return false;
  }
  const pps = perSecond();
  const length = Number(box.dataset.length);
  const fadeIn = Number(box.dataset.fadeIn);
  const fadeOut = Number(box.dataset.fadeOut);
  const factor = Math.pow(10, Number(box.dataset.gain) / 20);
  const gain = (/** @type {number} */ second) => {
    const at = second + from / pps;
    return factor * Math.min(1, fadeIn ? at / fadeIn : 1, fadeOut ? (length - at) / fadeOut : 1);
  };
  paper.fillStyle = "#5E8A66";
  drawWave(paper, data, Number(box.dataset.source) + from / pps, pps, width, height, gain);
  paper.strokeStyle = "#C8430B";
  paper.lineWidth = 1.4;
  paper.beginPath();
  for (let x = 0; x <= width; x += 3) {
    const y = height - 2 - Math.min(1, Math.max(0, gain(x / pps)) / 2) * (height - 5);
    if (x) paper.lineTo(x, y); else paper.moveTo(x, y);
  }
  paper.stroke();
  return true;
}
