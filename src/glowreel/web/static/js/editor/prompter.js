// @ts-check
/** The teleprompter beside the camera: text or points that run while one speaks, in one's own size and colours. */

import * as ear from "./prompterear.js";

const get = (/** @type {string} */ id) => /** @type {any} */ (document.getElementById(`studio-${id}`));
const board = /** @type {HTMLElement} */ (get("prompt"));
const KEPT = ["speed", "size", "ground", "points", "mirror", "runs"];
/** The word that comes next is brought to this part of the board, in about so many seconds. */
const [HEIGHT, SOON] = [0.3, 0.6];
/** It runs ahead of what was heard by so many words at the most: an answer takes a second. */
const AHEAD = 4;
/** Whoever says something else for so many milliseconds speaks freely: it goes on at its speed until it knows again. */
const FREE = 8000;

let runs = false;
let scrolled = 0;
let last = 0;
/** Which word comes next as far as is known, when that was told, and how many are said in a second. */
let place = { word: 0, at: 0, pace: 0 };
/** Whether it goes along with the words; not any more once nobody can listen. */
let along = false;
/** When it was silent last: whoever begins to speak again is given time to be heard. */
let silent = 0;
/** Which of the times it runs is this one: what an earlier one still hears is of no use. */
let turn = 0;
/** @type {HTMLElement[]} */
let words = [];

export const listen = ear.listen;

/** A line with its words apart, so that each is found again. @param {string} line */
function worded(line) {
  return line.split(/(\s+)/).map((part) => {
    if (!part.trim()) return part;
    const word = document.createElement("span");
    word.textContent = part;
    // A mark that stands alone goes with the word before it, as it does where they are counted.
    if (!words.length || /[\p{L}\p{N}]/u.test(part)) words.push(word);
    return word;
  });
}

/** Shows it as it is wanted. */
export function dress() {
  const text = get("text").value;
  const points = get("points").value === "points";
  board.hidden = !text.trim();
  board.className = `studio-prompt ${get("ground").value}`;
  board.classList.toggle("is-mirrored", get("mirror").checked);
  board.style.fontSize = `${get("size").value}px`;
  words = [];
  const lines = text.split("\n").filter((/** @type {string} */ line) => line.trim());
  board.replaceChildren(
    ...(points ? lines : [text]).map((/** @type {string} */ line) => {
      const part = document.createElement(points ? "li" : "span");
      part.append(...worded(line));
      return part;
    }),
  );
  localStorage.setItem("prompt", text);
  const kept = Object.fromEntries(
    KEPT.map((id) => [id, get(id).type === "checkbox" ? get(id).checked : get(id).value]),
  );
  localStorage.setItem("prompter", JSON.stringify(kept));
}

/** As it was left. */
export function recall() {
  get("text").value = localStorage.getItem("prompt") ?? "";
  for (const [id, value] of Object.entries(JSON.parse(localStorage.getItem("prompter") ?? "{}")))
    if (KEPT.includes(id)) get(id)[get(id).type === "checkbox" ? "checked" : "value"] = value;
  dress();
}

/** Notes how far somebody is who reads it aloud; answers with where that is, or null where that is over.
 *  @param {number} mine the time for which it listens @param {number|null} next */
function told(mine, next) {
  if (!runs || !along || mine !== turn) return null;
  if (next === null) return place.word;
  const seconds = (performance.now() - place.at) / 1000;
  const pace = place.at && next > place.word ? Math.min(5, (next - place.word) / seconds) : place.pace;
  place = { word: next, at: performance.now(), pace };
  for (const [number, word] of words.entries()) word.classList.toggle("is-said", number < next);
  return next;
}

/** Where the word that comes next would have it. @param {number} at */
function wanted(at) {
  const on = Math.min(AHEAD, ear.speaks() ? (place.pace * (at - place.at)) / 1000 : 0);
  const word = words[Math.min(words.length - 1, Math.floor(place.word + on))];
  return word ? Math.max(0, word.offsetTop - board.clientHeight * HEIGHT) : scrolled;
}

/** @param {number} at */
function step(at) {
  if (!runs) return;
  const seconds = (at - last) / 1000;
  last = at;
  if (!ear.speaks()) silent = at;
  const free = at - Math.max(place.at, silent) > FREE;
  if (along && !free) scrolled += (wanted(at) - scrolled) * (1 - Math.exp(-seconds / SOON));
  else if (!get("runs").value || ear.speaks()) scrolled += seconds * Number(get("speed").value) * 0.5;
  board.scrollTop = scrolled;
  requestAnimationFrame(step);
}

/** Lets it run or stand. @param {boolean} on @param {boolean} [anew] from its beginning */
export function run(on, anew) {
  if (anew) {
    scrolled = 0;
    place = { word: 0, at: 0, pace: 0 };
    for (const word of words) word.classList.remove("is-said");
  }
  if (on === runs) return;
  runs = on;
  if (!on) return;
  last = performance.now();
  place.at = last;
  along = get("runs").value === "words" && Boolean(get("text").value.trim());
  turn += 1;
  const mine = turn;
  if (along)
    ear.follow(
      get("text").value,
      (next) => told(mine, next),
      (sentence) => {
        if (mine !== turn) return;
        along = false;
        if (sentence) get("said").textContent = sentence;
      },
    );
  requestAnimationFrame(step);
}
export const running = () => runs;

for (const id of ["text", ...KEPT]) get(id).addEventListener("input", dress);
