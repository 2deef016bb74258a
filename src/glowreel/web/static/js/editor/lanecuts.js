// @ts-check
/** What stands between items: transitions and offers of one, gaps that can be closed, holes for room tone. */

import { element, firstAfter, icon, kept, lay, put } from "./laneparts.js";
import { endOf, model } from "./model.js";
import { perSecond } from "./timeline.js";

const SPOKEN = /** @type {Record<string, string>} */ ({
  crossfade: "crossfade",
  "dip-black": "dip to black",
  "dip-white": "dip to white",
});
export const spoken = (/** @type {string} */ kind) => SPOKEN[kind] ?? kind.replace("-", " ");

/**
 * Offers to close the gaps between the items of a track.
 * @param {HTMLElement} lane
 * @param {import("./model.js").Track} track
 * @param {number} from
 * @param {number} to
 */
export function gapsOn(lane, track, from, to) {
  if (track.locked) return;
  for (
    let n = Math.max(1, firstAfter(track.rows, from));
    n < track.rows.length && track.rows[n - 1].start < to;
    n += 1
  ) {
    const start = endOf(track.rows[n - 1]);
    const length = track.rows[n].start - start;
    if (length * perSecond() < 20) continue;
    const key = `gap:${track.id}:${n}`;
    const gap = kept(key, () => {
      const button = element("button", "gap");
      button.setAttribute("type", "button");
      icon(button, "arrows-collapse-vertical");
      return button;
    });
    gap.dataset.gap = track.id;
    gap.dataset.at = String(start + length / 2);
    gap.setAttribute("aria-label", `Close the gap of ${length.toFixed(1)} s at ${start.toFixed(1)} s`);
    gap.title = `Close this gap of ${length.toFixed(2)} s`;
    lay(gap, start, length);
    put(lane, key, gap);
    toneOn(lane, track.rows[n - 1], track.rows[n], key, start, length);
  }
}

/**
 * Offers room tone for a hole between two pieces of a voice.
 * @param {HTMLElement} lane
 * @param {import("./model.js").Row} before
 * @param {import("./model.js").Row} behind
 * @param {string} key
 * @param {number} start
 * @param {number} length
 */
function toneOn(lane, before, behind, key, start, length) {
  if (before.heard !== "voice" || before.media !== behind.media || length > 30) return;
  const offer = kept(`tone:${key}`, () => {
    const button = element("button", "gap-tone");
    button.setAttribute("type", "button");
    icon(button, "wind");
    button.title = "Lay room tone into this hole";
    return button;
  });
  offer.dataset.tone = before.id;
  offer.dataset.at = String(start + length / 2);
  offer.setAttribute("aria-label", `Lay room tone into the hole at ${start.toFixed(1)} s`);
  offer.style.left = `${(start + length / 2) * perSecond() - 9}px`;
  put(lane, `tone:${key}`, offer);
}

/**
 * The handle on a cut: the transition there, or the offer to put one.
 * @param {HTMLElement} lane
 * @param {string} after
 * @param {number} at
 * @param {import("./model.js").Cut|undefined} cut
 */
function cutOn(lane, after, at, cut) {
  const key = `cut:${after}`;
  const handle = kept(key, () => {
    const b = element("button", "cut");
    b.setAttribute("type", "button");
    return b;
  });
  handle.dataset.cut = after;
  handle.style.left = `${at * perSecond()}px`;
  const words = cut
    ? `${spoken(cut.kind)}, ${cut.length.toFixed(2)} s, at ${at.toFixed(1)} s: change it`
    : `Put a transition on the cut at ${at.toFixed(1)} s`;
  if (handle.title !== words) {
    handle.className = cut ? "cut has-transition" : "cut";
    handle.title = words;
    handle.setAttribute("aria-label", words);
    handle.replaceChildren();
    icon(handle, cut ? "intersect" : "plus");
  }
  put(lane, key, handle);
  if (cut) spanOn(lane, cut);
}

/**
 * How long a transition lasts; hatched where a clip has nothing left to show.
 * @param {HTMLElement} lane
 * @param {import("./model.js").Cut} cut
 */
function spanOn(lane, cut) {
  const key = `span:${cut.after}`;
  const bar = kept(key, () => {
    const part = element("div", "cut-span");
    part.append(
      element("span", "cut-held"),
      element("span", "cut-held is-behind"),
      element("span", "cut-grip is-left"),
      element("span", "cut-grip is-right"),
    );
    return part;
  });
  bar.dataset.span = cut.after;
  if (!bar.classList.contains("is-ghost")) lay(bar, cut.at - cut.length / 2, cut.length, 6);
  const held = /** @type {NodeListOf<HTMLElement>} */ (bar.querySelectorAll(".cut-held"));
  // The clip before holds its last frame at the end of the transition, the one behind its first at the beginning.
  held[0].style.width = `${cut.heldBefore * perSecond()}px`;
  held[1].style.width = `${cut.heldBehind * perSecond()}px`;
  bar.title =
    cut.heldBefore || cut.heldBehind
      ? `Held for want of footage: ${cut.heldBefore.toFixed(2)} s of the clip before, ${cut.heldBehind.toFixed(2)} s of the one behind`
      : `${spoken(cut.kind)}, ${cut.length.toFixed(2)} s`;
  put(lane, key, bar);
}

/**
 * The handles between layers that follow one another without a gap.
 * @param {HTMLElement} lane
 * @param {import("./model.js").Track} track
 * @param {number} from
 * @param {number} to
 */
export function joinsOn(lane, track, from, to) {
  const { rows } = track;
  if (track.locked) return;
  for (let n = firstAfter(rows, from); n < rows.length - 1 && rows[n].start < to; n += 1) {
    const at = endOf(rows[n]);
    if (Math.abs(rows[n + 1].start - at) > 1e-4) continue;
    const cut = model.state.cuts.find((one) => one.after === rows[n].id);
    if (cut || Math.min(rows[n].length, rows[n + 1].length) * perSecond() > 30)
      cutOn(lane, rows[n].id, at, cut);
  }
}

/** @param {HTMLElement} lane @param {number} from @param {number} to */
export function cutsOn(lane, from, to) {
  const cuts = new Map(model.state.cuts.map((cut) => [cut.after, cut]));
  const rows = model.state.main;
  let before = -Infinity;
  for (let n = firstAfter(rows, from); n < rows.length - 1 && rows[n].start < to; n += 1) {
    const at = endOf(rows[n]);
    const cut = cuts.get(rows[n].id);
    // Handles that would lie on one another are left out until there is room for them.
    if (!cut && (at - before) * perSecond() < 22) continue;
    cutOn(lane, rows[n].id, at, cut);
    before = at;
  }
  if (!rows.length) return;
  for (const [edge, at, way] of /** @type {[string, number, [string, number]|null][]} */ ([
    ["start", 0, model.state.opens],
    ["end", model.state.length, model.state.closes],
  ])) {
    const key = `edge:${edge}`;
    const handle = kept(key, () => {
      const b = element("button", `cut cut-edge is-${edge}`);
      b.setAttribute("type", "button");
      return b;
    });
    handle.dataset.edge = edge;
    handle.style.left = `${at * perSecond()}px`;
    handle.classList.toggle("has-transition", way !== null);
    const words = way
      ? `The promo ${edge === "start" ? "opens" : "closes"} with a ${spoken(way[0])} of ${way[1].toFixed(2)} s`
      : `How the promo ${edge === "start" ? "opens" : "closes"}`;
    if (handle.title !== words) {
      handle.title = words;
      handle.setAttribute("aria-label", words);
      handle.replaceChildren();
      icon(handle, edge === "start" ? "caret-right-fill" : "caret-left-fill");
    }
    put(lane, key, handle);
  }
}
