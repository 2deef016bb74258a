// @ts-check
/** The peaks of sounds: fetched once, and drawn in the colour of how loud they are. */

/** Peaks that are there. @type {Map<string, Uint8Array>} */
export const peaks = new Map();
/** @type {Map<string, Promise<Uint8Array|null>>} */
const coming = new Map();
/** Peaks a second: from far and from near; seconds of a tile of the fine ones. */
export const [COARSE, FINE, TILE] = [100, 2000, 4];

/** Peaks of a sound, asked for once. @param {string} key @param {string} url */
export function load(key, url) {
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

/** The loudest of some peaks, 0 to 1. @param {Uint8Array} data @param {number} from @param {number} to */
export function loudest(data, from, to) {
  const first = Math.max(0, Math.floor(Math.min(from, to)));
  const last = Math.max(first + 1, Math.floor(Math.max(from, to)));
  let loud = 0;
  for (let n = first; n < last && n < data.length; n += 1) if (data[n] > loud) loud = data[n];
  return loud / 255;
}

/**
 * Draws how loud it is.
 * @param {CanvasRenderingContext2D} paper
 * @param {(from: number, to: number) => number} loudness of a stretch of the sound, seconds
 * @param {(x: number) => number} source
 * @param {number} width
 * @param {number} height
 * @param {(x: number) => number} gain
 * @param {string|null} plain one colour for all, or null for those of loudness
 */
export function paintPeaks(paper, loudness, source, width, height, gain, plain) {
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
