// @ts-check
/** Who else is in the promo now: their names at the top, their playhead and what they have selected, faintly.
 *
 * A window says where it is when it opens, and goes on saying it as long as it hears of others: one that is alone is
 * quiet. Nothing of it is kept anywhere. */

import { headers } from "../page.js";
import { boxFor } from "./laneparts.js";
import { model, on } from "./model.js";
import { headWidth, perSecond, scroll } from "./timeline.js";

const EVERY = 20_000;
const GONE = 45_000;
const PACE = 700;
const COLOURS = ["plum", "tide", "moss", "clay"];

const me = crypto.randomUUID().slice(0, 12);
const row = /** @type {HTMLElement} */ (document.getElementById("others"));
const place = /** @type {HTMLElement} */ (document.getElementById("playhead")?.parentElement);

/** @typedef {{id: string, who: string, frame: number, selected: string[], seen: number}} Other */
/** @type {Map<string, Other>} */
const others = new Map();
/** @type {Map<string, HTMLElement>} */
const heads = new Map();

const initials = (/** @type {string} */ who) =>
  who
    .split(/\s+/)
    .slice(0, 2)
    .map((part) => part[0] ?? "")
    .join("")
    .toUpperCase();
const colour = (/** @type {string} */ id) =>
  COLOURS[[...id].reduce((sum, letter) => sum + letter.charCodeAt(0), 0) % COLOURS.length];

/** @type {number|undefined} */
let waiting;
let last = 0;
/** Says where this window is; `hello` asks the others to say so too, `gone` takes leave. @param {object} [more] */
function say(more = {}) {
  last = Date.now();
  const body = new URLSearchParams({
    told: JSON.stringify({ id: me, frame: model.frame, selected: [...model.selected].slice(0, 20), ...more }),
  });
  fetch(`${model.url}/here`, { method: "POST", headers, body, keepalive: true }).catch(() => {});
}
/** Says it in a moment, if anybody is there to hear it. */
function sayLater() {
  if (!others.size || waiting) return;
  waiting = window.setTimeout(
    () => {
      waiting = undefined;
      say();
    },
    Math.max(0, PACE - (Date.now() - last)),
  );
}

/** What another window said of itself. @param {Other & {hello?: boolean, gone?: boolean}} told */
export function heard(told) {
  if (told.id === me) return;
  const known = others.has(told.id);
  if (told.gone) others.delete(told.id);
  else others.set(told.id, { ...told, seen: Date.now() });
  if (!told.gone && (told.hello || !known)) sayLater();
  paint();
}

function paint() {
  for (const [id, other] of others) if (Date.now() - other.seen > GONE) others.delete(id);
  row.hidden = !others.size;
  row.replaceChildren(
    ...[...others.values()].slice(0, 5).map((other) => {
      const face = document.createElement("span");
      face.className = `face face-small is-${colour(other.id)}`;
      face.textContent = initials(other.who);
      face.title = `${other.who} is here too`;
      return face;
    }),
  );
  row.setAttribute("aria-label", `Here too: ${[...others.values()].map((other) => other.who).join(", ")}`);
  paintPlaces();
}

function paintPlaces() {
  for (const [id, head] of heads)
    if (!others.has(id)) {
      head.remove();
      heads.delete(id);
    }
  for (const part of document.querySelectorAll(".is-others")) part.classList.remove("is-others");
  for (const other of others.values()) {
    let head = heads.get(other.id);
    if (!head) {
      head = document.createElement("div");
      head.setAttribute("aria-hidden", "true");
      head.append(document.createElement("span"));
      place.append(head);
      heads.set(other.id, head);
    }
    head.className = `other-playhead is-${colour(other.id)}`;
    /** @type {HTMLElement} */ (head.firstElementChild).textContent = initials(other.who);
    const x = (other.frame / model.fps) * perSecond();
    head.style.transform = `translateX(${headWidth() + x}px)`;
    head.style.visibility = x < scroll.scrollLeft - 1 ? "hidden" : "visible";
    for (const key of other.selected) {
      const box = boxFor(key);
      box?.classList.add("is-others");
      if (box) box.dataset.others = initials(other.who);
    }
  }
}

on("moved", sayLater);
on("selected", sayLater);
on("laid", () => {
  if (others.size) paintPlaces();
});
setInterval(() => {
  if (!others.size) return;
  say();
  paint();
}, EVERY);
addEventListener("pagehide", () => {
  if (others.size) say({ gone: true });
});
/** The stream is open: whoever is there is told, and answers. */
export const arrived = () => say({ hello: true });
