// @ts-check
/** Puts boxes on the lanes: only those in sight are in the page, and small ones are plain. */

import { paintArt } from "./art.js";
import { fadeGrips, placeFades } from "./fades.js";
import { lineOf } from "./itemline.js";
import { endOf, known, model, on } from "./model.js";
import { perSecond, scroll, visibleSpan } from "./timeline.js";

const ICONS = {
  footage: "film",
  photo: "image",
  filler: "square",
  collage: "grid-1x2",
  words: "type",
  design: "layout-text-window",
  shape: "star",
  sticker: "emoji-smile",
  adjustment: "sliders",
  picture: "image",
  sound: "music-note",
};
const HEARD = /** @type {Record<string, string>} */ ({
  voice: "mic",
  music: "music-note",
  effects: "lightning",
  ambience: "tree",
});
const SPOKEN = /** @type {Record<string, string>} */ ({
  crossfade: "crossfade",
  "dip-black": "dip to black",
  "dip-white": "dip to white",
});
export const spoken = (/** @type {string} */ kind) => SPOKEN[kind] ?? kind.replace("-", " ");

/** Boxes in the page, by what they stand for. @type {Map<string, HTMLElement>} */
const made = new Map();

/** @param {string} name @param {string} look @param {string} [words] */
function element(name, look, words) {
  const part = document.createElement(name);
  part.className = look;
  if (words) part.textContent = words;
  return part;
}

/** How a sound goes on, in a word. @param {import("./model.js").Row} row */
const runsOn = (row) => (row.runs === "round" ? "round" : "fits");

/** @param {HTMLElement} parent @param {string} icon @param {string} [look] */
function icon(parent, icon, look = "") {
  const mark = element("i", `bi bi-${icon} ${look}`);
  mark.setAttribute("aria-hidden", "true");
  parent.append(mark);
}

/**
 * The box of a clip or item, made when it comes in sight.
 * @param {import("./model.js").Row} row
 * @param {number} width
 */
function boxOf(row, width) {
  let box = made.get(row.id);
  if (!box) {
    box = element("button", "item");
    box.setAttribute("type", "button");
    made.set(row.id, box);
  }
  const held = /** @type {any} */ (box);
  const roomy = width >= 22;
  if (held.row === row && held.roomy === roomy) return box;
  held.row = row;
  held.roomy = roomy;
  box.className = `item is-${row.kind}${row.muted ? " is-muted" : ""}${row.group ? " is-grouped" : ""}${row.heard ? ` heard-${row.heard}` : ""}`;
  box.dataset.id = row.id;
  box.dataset.kind = row.kind;
  box.dataset.start = String(row.start);
  box.dataset.length = String(row.length);
  if (row.media) box.dataset.media = row.media;
  box.dataset.tied = row.tied ?? "";
  box.setAttribute(
    "aria-label",
    `${row.label}, ${row.length.toFixed(1)} s, at ${row.start.toFixed(1)} s${row.fast ? `, ${row.fast}` : ""}${row.runs ? `, ${runsOn(row)}` : ""}`,
  );
  box.replaceChildren(...(roomy ? inside(row) : []));
  return box;
}

/** @param {import("./model.js").Row} row */
function inside(row) {
  const art = element("canvas", "item-art");
  art.setAttribute("aria-hidden", "true");
  const label = element("span", "item-label");
  icon(label, HEARD[row.heard ?? ""] ?? ICONS[/** @type {keyof typeof ICONS} */ (row.kind)] ?? "square");
  label.append(` ${row.label}`);
  if (row.fast) label.append(element("span", "item-fast", row.fast));
  if (row.runs) {
    // Said in the box's own label: here it is only drawn.
    const runs = element("span", "item-fast");
    runs.dataset.runs = runsOn(row);
    label.append(runs);
  }
  if (row.muted) icon(label, "volume-mute");
  if (row.tied === "time" && row.kind !== "sound") icon(label, "unlock", "item-free");
  const parts = [art, label];
  for (const [side, length] of /** @type {[string, number|undefined][]} */ ([
    ["arrive", row.arrive],
    ["leave", row.leave],
  ])) {
    if (!length) continue;
    const slope = element("span", `item-way is-${side}`);
    slope.dataset.lasts = String(length);
    slope.dataset.way = side;
    slope.title =
      side === "arrive"
        ? `Comes in ${length.toFixed(2)} s: drag its edge`
        : `Goes in ${length.toFixed(2)} s: drag its edge`;
    if (side === "arrive" && row.wait) slope.dataset.wait = String(row.wait);
    parts.push(slope);
  }
  parts.push(...lineOf(row), ...fadeGrips(row));
  for (const side of ["start", "end"]) {
    const grip = element("span", `grip grip-${side}`);
    grip.dataset.grip = side;
    parts.push(grip);
  }
  return parts;
}

/** @param {string} key @param {() => HTMLElement} make */
function kept(key, make) {
  let part = made.get(key);
  if (!part) {
    part = make();
    made.set(key, part);
  }
  return part;
}

/**
 * Puts a box where its time says.
 * @param {HTMLElement} box
 * @param {number} start
 * @param {number} length
 * @param {number} [least]
 */
function lay(box, start, length, least = 2) {
  box.style.left = `${start * perSecond()}px`;
  box.style.width = `${Math.max(least, length * perSecond() - 1.5)}px`;
}

/** The first row that ends after a time, by halving. @param {import("./model.js").Row[]} rows @param {number} time */
function firstAfter(rows, time) {
  let low = 0;
  let high = rows.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (endOf(rows[middle]) <= time) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** @type {Set<string>} */
let used = new Set();
/**
 * Where each lane has got to: parts stand in the page in the order of time, so that Tab goes through them in it.
 * @type {Map<HTMLElement, Element|null>}
 */
let last = new Map();

/** @param {HTMLElement} lane @param {string} key @param {HTMLElement} part */
function put(lane, key, part) {
  used.add(key);
  let next = last.get(lane)
    ? /** @type {Element} */ (last.get(lane)).nextElementSibling
    : lane.firstElementChild;
  // What is passed over has gone out of sight or will be put further on.
  while (next && next !== part && !wanted(next)) next = next.nextElementSibling;
  if (next !== part) lane.insertBefore(part, next);
  last.set(lane, part);
}

/** Whether a part of a lane stands for something that is still in the promo. @param {Element} part */
const wanted = (part) =>
  part instanceof HTMLElement && Boolean(part.dataset.id) && known.has(part.dataset.id ?? "");

/** @param {HTMLElement} lane @param {import("./model.js").Row[]} rows @param {number} from @param {number} to */
function rowsOn(lane, rows, from, to) {
  for (let n = firstAfter(rows, from); n < rows.length && rows[n].start < to; n += 1) {
    const row = rows[n];
    const box = boxOf(row, row.length * perSecond());
    const chosen = model.selected.has(row.id);
    box.classList.toggle("is-chosen", chosen);
    box.setAttribute("aria-pressed", String(chosen));
    if (!box.classList.contains("is-ghost")) lay(box, row.start, row.length);
    if (box.firstElementChild) inSight(box, row, from);
    put(lane, row.id, box);
  }
}

/**
 * Keeps the label of a long box in sight, and its slopes as long as they last at this zoom.
 * @param {HTMLElement} box
 * @param {import("./model.js").Row} row
 * @param {number} from
 */
function inSight(box, row, from) {
  const label = /** @type {HTMLElement|null} */ (box.querySelector(".item-label"));
  const hidden = (from - row.start) * perSecond() + 300;
  if (label)
    label.style.transform =
      hidden > 0 && hidden < row.length * perSecond() - 60 ? `translateX(${hidden}px)` : "";
  for (const slope of /** @type {NodeListOf<HTMLElement>} */ (box.querySelectorAll(".item-way"))) {
    slope.style.width = `${Math.min(Number(slope.dataset.lasts), row.length) * perSecond()}px`;
    if (slope.dataset.wait) slope.style.left = `${Number(slope.dataset.wait) * perSecond()}px`;
  }
  placeFades(box, row);
}

/**
 * Offers to close the gaps between the items of a track.
 * @param {HTMLElement} lane
 * @param {import("./model.js").Track} track
 * @param {number} from
 * @param {number} to
 */
function gapsOn(lane, track, from, to) {
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
function joinsOn(lane, track, from, to) {
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
function cutsOn(lane, from, to) {
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

/** @param {HTMLElement} lane @param {number} from @param {number} to */
function scenesOn(lane, from, to) {
  const now = model.time + 1e-4;
  for (const [n, scene] of model.state.scenes.entries()) {
    if (scene.start > to || scene.start + scene.length < from) continue;
    const key = `scene:${scene.id}`;
    const box = kept(key, () => {
      const part = element("div", "scene");
      part.innerHTML = [
        '<span class="scene-drag" aria-hidden="true"><i class="bi bi-grip-vertical"></i></span>',
        '<input class="scene-name" maxlength="80" autocomplete="off">',
        '<button type="button" class="scene-length num"></button>',
        '<button type="button" class="scene-more"><i class="bi bi-three-dots" aria-hidden="true"></i></button>',
        '<span class="grip grip-end" data-scene-grip="1"></span>',
      ].join("");
      return part;
    });
    const name = /** @type {HTMLInputElement} */ (box.querySelector(".scene-name"));
    box.dataset.scene = scene.id;
    if (document.activeElement !== name) name.value = scene.name;
    name.dataset.renameScene = scene.id;
    name.setAttribute("aria-label", `Name of scene ${n + 1}`);
    const length = /** @type {HTMLElement} */ (box.querySelector(".scene-length"));
    length.textContent = `${scene.length.toFixed(1)} s`;
    length.setAttribute(
      "aria-label",
      `${scene.name} lasts ${scene.length.toFixed(1)} s: type another length`,
    );
    box.querySelector(".scene-more")?.setAttribute("aria-label", `${scene.name}: more`);
    box.classList.toggle("is-here", now >= scene.start && now < scene.start + scene.length);
    box.classList.toggle("is-narrow", scene.length * perSecond() < 120);
    box.classList.toggle("is-tiny", scene.length * perSecond() < 52);
    if (!box.classList.contains("is-ghost")) lay(box, scene.start, scene.length);
    put(lane, key, box);
  }
}

/** @param {HTMLElement} lane @param {number} from @param {number} to */
function notesOn(lane, from, to) {
  for (const note of model.state.notes) {
    if (note.at < from - 20 || note.at > to) continue;
    const key = `note:${note.id}`;
    const flag = kept(key, () => {
      const b = element("button", "note");
      b.setAttribute("type", "button");
      icon(b, "flag-fill");
      b.append(element("span", "note-words"));
      return b;
    });
    flag.dataset.note = note.id;
    const words = /** @type {HTMLElement} */ (flag.querySelector(".note-words"));
    words.textContent = note.text || "Note";
    flag.setAttribute("aria-label", `Note at ${note.at.toFixed(1)} s: ${note.text || "empty"}`);
    flag.classList.toggle("is-chosen", model.selected.has(note.id));
    flag.style.left = `${note.at * perSecond()}px`;
    put(lane, key, flag);
  }
}

/** What people wrote at screenings, as it stands now. @param {HTMLElement} lane @param {number} from @param {number} to */
function reviewOn(lane, from, to) {
  for (const mark of model.review) {
    if (mark.at < from - 20 || mark.at > to) continue;
    const key = `review:${mark.id}`;
    const flag = kept(key, () => {
      const b = element("button", "note is-review");
      b.setAttribute("type", "button");
      icon(b, "chat-left-text-fill");
      b.append(element("span", "note-words"));
      return b;
    });
    flag.dataset.review = mark.id;
    /** @type {HTMLElement} */ (flag.querySelector(".note-words")).textContent = mark.text;
    flag.setAttribute("aria-label", `${mark.who} at ${mark.at.toFixed(1)} s: ${mark.text}`);
    flag.title = `${mark.who}: ${mark.text}`;
    flag.classList.toggle("is-done", mark.done);
    flag.classList.toggle("is-gone", !mark.there);
    flag.style.left = `${mark.at * perSecond()}px`;
    put(lane, key, flag);
  }
}

/** Brings every lane up to date with the state, the zoom and the scroll. */
function paintLanes() {
  const [from, to] = visibleSpan(300);
  used = new Set();
  last = new Map();
  const focus = document.activeElement;
  for (const lane of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("#lanes .tl-lane"))) {
    const kind = lane.dataset.lane;
    if (kind === "main") {
      rowsOn(lane, model.state.main, from, to);
      cutsOn(lane, from, to);
    } else if (kind === "scenes") scenesOn(lane, from, to);
    else if (kind === "notes") {
      notesOn(lane, from, to);
      reviewOn(lane, from, to);
    } else {
      const track = model.state.tracks.find((track) => track.id === lane.dataset.track);
      if (track) {
        rowsOn(lane, track.rows, from, to);
        gapsOn(lane, track, from, to);
        if (kind === "layer") joinsOn(lane, track, from, to);
      }
    }
  }
  for (const [key, part] of made) {
    if (used.has(key) || part.classList.contains("is-ghost")) continue;
    // Whoever has the focus stays, so that the keyboard does not lose its place; unless it is gone from the promo.
    if (part.contains(document.activeElement) && known.has(key)) continue;
    part.remove();
    made.delete(key);
  }
  // Putting things in another order takes the focus away from what is moved.
  if (
    focus instanceof HTMLElement &&
    focus !== document.activeElement &&
    focus.isConnected &&
    document.activeElement === document.body
  )
    focus.focus({ preventScroll: true });
  paintArt();
}

/** Marks what is selected and the scene under the playhead, without laying anything out. */
function markChosen() {
  for (const [key, part] of made) {
    if (!part.dataset.id && !part.dataset.note) continue;
    const id = part.dataset.id ?? part.dataset.note ?? key;
    const chosen = model.selected.has(id);
    part.classList.toggle("is-chosen", chosen);
    if (part.dataset.id) part.setAttribute("aria-pressed", String(chosen));
  }
}

/** Marks the scene under the playhead. */
function markHere() {
  const now = model.time + 1e-4;
  for (const scene of model.state.scenes)
    made
      .get(`scene:${scene.id}`)
      ?.classList.toggle("is-here", now >= scene.start && now < scene.start + scene.length);
}

/** The box of a clip or item, if it is in sight. @param {string} id */
export const boxFor = (id) => made.get(id) ?? null;

let due = 0;
/** Paints in the next frame, once however often it is asked for. */
function paintSoon() {
  if (!due)
    due = requestAnimationFrame(() => {
      due = 0;
      paintLanes();
    });
}
scroll.addEventListener("scroll", paintSoon, { passive: true });
on("laid", paintLanes);
on("selected", markChosen);
on("moved", markHere);
