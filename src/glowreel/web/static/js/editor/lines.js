// @ts-check
/** What is known of sounds besides their rows, by item: see `heard.js`. Times are seconds of the promo. */

/**
 * @typedef {{dips?: [number, number][], words?: number[], beats?: number[], bars?: number[], strong?: number[], joints?: number[],
 *   joined?: boolean}} Lines
 * @type {Map<string, Lines>}
 */
export const sounds = new Map();

/** Every beat, and every edge of speech, between two times, for snapping. @param {number} from @param {number} to */
export function beatsBetween(from, to) {
  return [...sounds.values()].flatMap((one) =>
    [...(one.beats ?? []), ...(one.words ?? [])].filter((at) => at >= from && at <= to),
  );
}

/** How many decibels are left at a time. @param {[number, number][]} line @param {number} at */
export function leftAt(line, at) {
  const behind = line.findIndex((knot) => knot[0] > at);
  if (behind <= 0) return 0;
  const [before, after] = [line[behind - 1], line[behind]];
  const share = after[0] > before[0] ? (at - before[0]) / (after[0] - before[0]) : 0;
  return before[1] + (after[1] - before[1]) * share;
}
