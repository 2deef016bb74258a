// @ts-check
/** What is painted into the timeline's boxes: film strips and waveforms, only where they are in sight. */

import { known } from "./model.js";
import { paintWave } from "./waves.js";
import { perSecond, visibleSpan } from "./timeline.js";

/** @type {Map<string, HTMLImageElement>} */
const strips = new Map();
let due = 0;

export function paintArt() {
  if (!due)
    due = requestAnimationFrame(() => {
      due = 0;
      all();
    });
}

function all() {
  const [from, to] = visibleSpan(200);
  for (const box of /** @type {NodeListOf<HTMLElement>} */ (
    document.querySelectorAll("#lanes .item[data-media]")
  )) {
    const row = known.get(box.dataset.id ?? "")?.row;
    const canvas = box.querySelector("canvas");
    if (!row || !canvas) continue;
    const pps = perSecond();
    // In steps, so that scrolling a long clip does not paint it anew at every pixel.
    const left = Math.max(0, Math.floor(((from - row.start) * pps) / 256) * 256);
    const right = Math.min(row.length * pps, Math.ceil(((to - row.start) * pps) / 256) * 256);
    if (right > left) one(box, row, canvas, left, right);
  }
}

/** Seconds of the source at a time of a row. @param {import("./model.js").Row} row @param {number} time */
function sourceAt(row, time) {
  if (!row.map) return (row.source ?? 0) + time;
  const n = Math.max(
    1,
    row.map.findIndex(([at]) => at >= time),
  );
  const [before, after] = [row.map[n - 1], row.map[n] ?? row.map[row.map.length - 1]];
  const share = after[0] > before[0] ? (time - before[0]) / (after[0] - before[0]) : 0;
  return before[1] + (after[1] - before[1]) * share;
}

/**
 * Paints one box between two places in it.
 * @param {HTMLElement} box
 * @param {import("./model.js").Row} row
 * @param {HTMLCanvasElement} canvas
 * @param {number} from
 * @param {number} to
 */
function one(box, row, canvas, from, to) {
  const height = box.clientHeight;
  const width = Math.max(1, Math.ceil(to - from));
  const done = `${Math.round(from)}|${width}|${height}|${perSecond()}`;
  const held = /** @type {any} */ (canvas);
  if (held.done === done && held.row === row) return;
  const ratio = window.devicePixelRatio || 1;
  canvas.width = width * ratio;
  canvas.height = height * ratio;
  canvas.style.width = `${width}px`;
  canvas.style.left = `${from}px`;
  const paper = /** @type {CanvasRenderingContext2D} */ (canvas.getContext("2d"));
  paper.scale(ratio, ratio);
  const painted =
    row.kind === "sound"
      ? paintWave(row, paper, from, width, height, (time) => sourceAt(row, time), paintArt)
      : row.kind === "footage" || row.kind === "photo"
        ? film(row, paper, from, width, height)
        : true;
  held.done = painted ? done : "";
  held.row = row;
}

/**
 * @param {import("./model.js").Row} row
 * @param {CanvasRenderingContext2D} paper
 * @param {number} from
 * @param {number} width
 * @param {number} height
 */
function film(row, paper, from, width, height) {
  const media = row.media ?? "";
  const photo = row.kind === "photo" || !row.tiles;
  let strip = strips.get(media);
  if (!strip) {
    strip = new Image();
    strip.onload = paintArt;
    strip.src = `/shelf/${media}/${photo ? "poster" : "strip"}.jpg`;
    strips.set(media, strip);
  }
  if (!strip.complete || !strip.naturalWidth) return false;
  const tiles = photo ? 1 : (row.tiles ?? 1);
  const tileWidth = strip.naturalWidth / tiles;
  const shown = (height * tileWidth) / strip.naturalHeight;
  for (let x = Math.floor(from / shown) * shown; x < from + width; x += shown) {
    const at = sourceAt(row, (x + shown / 2) / perSecond());
    const tile = photo ? 0 : Math.min(tiles - 1, Math.max(0, Math.round(at / (row.step ?? 1) - 0.25)));
    paper.drawImage(
      strip,
      tile * tileWidth,
      0,
      tileWidth,
      strip.naturalHeight,
      x - from,
      0,
      shown - 1,
      height,
    );
  }
  return true;
}
