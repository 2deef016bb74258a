// @ts-check
/**
 * Waveforms: in the colour of how loud they are, sharp at every zoom, with what changes over time drawn on them: fades
 * with their curve, where they give way to a voice, beats, and where one stretch of a fitted piece becomes another.
 */

import { COARSE, FINE, TILE, load, loadPeaks, loudest, paintPeaks, peaks } from "../peaks.js";
import { leftAt, sounds } from "./lines.js";
import { perSecond } from "./timeline.js";

/** From so many pixels a second on, the fine peaks are drawn. */
const NEAR = 130;

/** How much is heard at a share of a fade, as the mix has it. */
const CURVES = /** @type {Record<string, (share: number) => number>} */ ({
  straight: (share) => share,
  even: (share) => Math.sin((share * Math.PI) / 2),
  late: (share) => share * share,
  soft: (share) => (1 - Math.cos(share * Math.PI)) / 2,
});

/** How loud a row is at a time since its start, by its gain and its fades. @param {import("./model.js").Row} row @param {number} at */
function faded(row, at) {
  const share = (/** @type {number} */ value) => Math.min(1, Math.max(0, value));
  const into = row.fadeIn ? CURVES[row.curveIn ?? "straight"](share(at / row.fadeIn)) : 1;
  const out = row.fadeOut ? CURVES[row.curveOut ?? "straight"](share((row.length - at) / row.fadeOut)) : 1;
  return Math.pow(10, (row.gain ?? 0) / 20) * into * out;
}

/**
 * Paints the wave of a row; false where it is still being fetched.
 * @param {import("./model.js").Row} row
 * @param {CanvasRenderingContext2D} paper
 * @param {number} from
 * @param {number} width
 * @param {number} height
 * @param {(time: number) => number} sourceAt seconds of the source at a time of the row
 * @param {() => void} again paints anew
 */
export function paintWave(row, paper, from, width, height, sourceAt, again) {
  const media = row.media ?? "";
  const data = peaks.get(media);
  if (!data) {
    loadPeaks(media).then((found) => found && again());
    return false;
  }
  const pps = perSecond();
  const told = sounds.get(row.id);
  const dips = told?.dips;
  const gain = (/** @type {number} */ x) => {
    const at = (x + from) / pps;
    const left = dips ? Math.pow(10, leftAt(dips, row.start + at) / 20) : 1;
    return faded(row, at) * left;
  };
  const around = row.runs === "round" && row.of ? row.of : 0;
  const source = (/** @type {number} */ x) => {
    const at = sourceAt((x + from) / pps);
    return around ? ((at % around) + around) % around : at;
  };
  let whole = true;
  const loudness =
    pps < NEAR
      ? (/** @type {number} */ a, /** @type {number} */ b) => loudest(data, a * COARSE, b * COARSE)
      : (/** @type {number} */ a, /** @type {number} */ b) => {
          const tile = Math.max(0, Math.floor(a / TILE));
          const fine = peaks.get(`${media}/${tile}`);
          if (!fine) {
            whole = false;
            load(`${media}/${tile}`, `/shelf/${media}/wave/${tile}`).then((found) => found && again());
            return loudest(data, a * COARSE, b * COARSE);
          }
          return loudest(fine, (a - tile * TILE) * FINE, (b - tile * TILE) * FINE);
        };
  paintPeaks(paper, loudness, source, width, height, gain, row.muted ? "#A9B8A6" : null);
  paintBeats(row, paper, from, width, height);
  paintLine(paper, width, height, gain);
  return whole;
}

/** Ticks for beats, longer ones for bars, marks for the strongest moments and for joints. @param {import("./model.js").Row} row @param {CanvasRenderingContext2D} paper @param {number} from @param {number} width @param {number} height */
function paintBeats(row, paper, from, width, height) {
  const told = sounds.get(row.id);
  if (!told?.beats?.length) return;
  const pps = perSecond();
  const place = (/** @type {number} */ at) => (at - row.start) * pps - from;
  const gap = ((told.beats[1] ?? 0) - told.beats[0]) * pps;
  paper.fillStyle = "#2C2A4A99";
  // Where they would lie on one another, only bars are drawn.
  if (gap > 5)
    for (const beat of told.beats)
      if (place(beat) > -2 && place(beat) < width) paper.fillRect(place(beat), height - 4, 1, 4);
  for (const bar of told.bars ?? [])
    if (place(bar) > -2 && place(bar) < width) paper.fillRect(place(bar), height - 8, 1.4, 8);
  paper.fillStyle = "#2F6F87";
  for (const moment of told.strong ?? []) {
    const x = place(moment);
    if (x < -4 || x > width + 4) continue;
    paper.beginPath();
    paper.moveTo(x - 4, height);
    paper.lineTo(x, height - 7);
    paper.lineTo(x + 4, height);
    paper.fill();
  }
  paper.strokeStyle = "#2F6F87";
  paper.setLineDash([3, 3]);
  for (const joint of told.joints ?? []) {
    paper.beginPath();
    paper.moveTo(place(joint), 14);
    paper.lineTo(place(joint), height);
    paper.stroke();
  }
  paper.setLineDash([]);
}

/** What is left of it over its time, as a line. @param {CanvasRenderingContext2D} paper @param {number} width @param {number} height @param {(x: number) => number} gain */
function paintLine(paper, width, height, gain) {
  paper.strokeStyle = "#C8430B";
  paper.lineWidth = 1.4;
  paper.beginPath();
  for (let x = 0; x <= width; x += 3) {
    const y = height - 2 - Math.min(1, Math.max(0, gain(x)) / 2) * (height - 5);
    if (x) paper.lineTo(x, y);
    else paper.moveTo(x, y);
  }
  paper.stroke();
}
