// @ts-check
/** Snapping on the stage: what a box is pulled to, and what the guide says it is. */

import { currentFormat } from "./model.js";

/** @typedef {import("./model.js").Box} Box */
/** @typedef {{axis: "x"|"y", at: number, off: number, words: string, from?: number, to?: number}} Guide */

const PARTS = /** @type {[number, string][]} */ ([
  [0, "edge"],
  [0.5, "middle"],
  [1, "edge"],
]);

/**
 * The lines of the frame and of other things along one axis, in fractions of the short side.
 * @param {"x"|"y"} axis @param {{width: number, height: number, short: number}} size
 * @param {{box: Box, name: string}[]} others
 */
function lines(axis, size, others) {
  const across = axis === "x";
  const extent = (across ? size.width : size.height) / size.short;
  const [left, top, right, bottom] = currentFormat().safe;
  const [near, far] = across ? [left, right] : [top, bottom];
  /** @type {[number, string][]} */
  const found = [
    [0, "edge of the frame"],
    [extent, "edge of the frame"],
    [extent / 2, "middle of the frame"],
    [extent / 3, "a third"],
    [(extent * 2) / 3, "two thirds"],
    [near * extent, "safe area"],
    [extent * (1 - far), "safe area"],
  ];
  for (const { box, name } of others)
    for (const [share, words] of PARTS)
      found.push([box[axis] + share * (across ? box.w : box.h), `${words} of ${name}`]);
  return found;
}

/**
 * The places at which the gap to a neighbour is the same on both sides, or as large as that between two others.
 * @param {"x"|"y"} axis @param {number} length @param {{box: Box, name: string}[]} others
 */
function gaps(axis, length, others) {
  const spans = others
    .map(
      ({ box }) => /** @type {[number, number]} */ ([box[axis], box[axis] + (axis === "x" ? box.w : box.h)]),
    )
    .sort((a, b) => a[0] - b[0]);
  /** @type {number[]} */
  const starts = [];
  for (let n = 0; n + 1 < spans.length; n += 1) {
    const gap = spans[n + 1][0] - spans[n][1];
    if (gap <= 0) continue;
    starts.push(spans[n][1] + (gap - length) / 2);
    starts.push(spans[n + 1][1] + gap);
    starts.push(spans[n][0] - gap - length);
  }
  return starts;
}

/**
 * Pulls a box to what is near; answers with the guides to draw.
 * @param {Box} box @param {{width: number, height: number, short: number}} size
 * @param {{box: Box, name: string}[]} others @param {("x"|"y")[]} [axes]
 * @returns {Guide[]}
 */
export function snapped(box, size, others, axes = ["x", "y"]) {
  const reach = 6 / size.short;
  /** @type {Guide[]} */
  const guides = [];
  for (const axis of axes) {
    const length = axis === "x" ? box.w : box.h;
    /** @type {Guide|null} */
    let best = null;
    const nearer = (/** @type {number} */ off) => Math.abs(off) < (best ? Math.abs(best.off) : reach);
    for (const [line, words] of lines(axis, size, others))
      for (const [share] of PARTS) {
        const off = line - (box[axis] + share * length);
        if (nearer(off)) best = { axis, at: line, off, words };
      }
    for (const start of gaps(axis, length, others)) {
      const off = start - box[axis];
      if (nearer(off)) best = { axis, at: start + length / 2, off, words: "equal gaps" };
    }
    if (best) guides.push(best);
  }
  for (const guide of guides) box[guide.axis] += guide.off;
  return guides;
}
