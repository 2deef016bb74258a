// @ts-check
/**
 * Waveforms: in the colour of how loud they are, sharp at every zoom, with what changes over time drawn on them: fades
 * with their curve, where they give way to a voice, beats, and where one stretch of a fitted piece becomes another.
 */

import { leftAt, sounds } from "./lines.js";
import { perSecond } from "./timeline.js";

/** @type {Map<string, Uint8Array>} */
const peaks = new Map();
/** @type {Map<string, Promise<Uint8Array|null>>} */
const coming = new Map();
const [COARSE, FINE, TILE] = [100, 2000, 4];
/** From so many pixels a second on, the fine peaks are drawn. */
const NEAR = 130;

/** @param {string} key @param {string} url */
function load(key, url) {
  let loading = coming.get(key);
  if (!loading) {
    loading = fetch(url).then(async (response) => {
      if (!response.ok) {
        coming.delete(key);
        return null;
      }
      peaks.set(key, new Uint8Array(await response.arrayBuffer()));
      return peaks.get(key) ?? null;
    });
    coming.set(key, loading);
  }
  return loading;
}

/** The peaks of a sound, asked for once. @param {string} media */
export const loadPeaks = (media) => load(media, `/shelf/${media}/peaks`);

/** Shades from quiet to loud; what is nearly too loud is seen at once. */
const SHADES = ["#A9C4A2", "#86AE85", "#5E8A66", "#3F7152", "#B4642A", "#C8430B"];
const LOUD = [0.06, 0.16, 0.36, 0.62, 0.88];

/** @param {number} loud 0 to 1 */
const shade = (loud) => SHADES[LOUD.findIndex((edge) => loud < edge) + (loud >= LOUD[4] ? SHADES.length : 0)];

/** Draws peaks. `source` says which second of the sound is at a pixel. @param {CanvasRenderingContext2D} paper @param {Uint8Array} data
 *  @param {(x: number) => number} source @param {number} width @param {number} height @param {(x: number) => number} gain */
export function drawWave(paper, data, source, width, height, gain) {
  paintPeaks(
    paper,
    (from, to) => loudest(data, from * COARSE, to * COARSE),
    source,
    width,
    height,
    gain,
    null,
  );
}

/** @param {Uint8Array} data @param {number} from @param {number} to */
function loudest(data, from, to) {
  const first = Math.max(0, Math.floor(Math.min(from, to)));
  const last = Math.max(first + 1, Math.floor(Math.max(from, to)));
  let loud = 0;
  for (let n = first; n < last && n < data.length; n += 1) if (data[n] > loud) loud = data[n];
  return loud / 255;
}

/**
 * @param {CanvasRenderingContext2D} paper
 * @param {(from: number, to: number) => number} loudness of a stretch of the sound, seconds
 * @param {(x: number) => number} source
 * @param {number} width
 * @param {number} height
 * @param {(x: number) => number} gain
 * @param {string|null} plain one colour for all, or null for those of loudness
 */
function paintPeaks(paper, loudness, source, width, height, gain, plain) {
  const middle = height / 2;
  /** @type {Map<string, Path2D>} */
  const paths = new Map();
  for (let x = 0; x < width; x += 2) {
    const loud = Math.min(1, loudness(source(x), source(x + 2)) * gain(x));
    // Drawn by the root, as ears do: quiet speech is seen, loud music still fits.
    const reach = Math.pow(loud, 0.6) * (middle - 1);
    const colour = plain ?? shade(loud);
    let path = paths.get(colour);
    if (!path) paths.set(colour, (path = new Path2D()));
    path.rect(x, middle - reach, 1.4, Math.max(1, 2 * reach));
  }
  const given = paper.fillStyle;
  for (const [colour, path] of paths) {
    paper.fillStyle = colour;
    paper.fill(path);
  }
  paper.fillStyle = given;
}

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
