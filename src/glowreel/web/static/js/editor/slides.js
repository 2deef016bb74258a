// @ts-check
/** Pages that are shown while one records oneself: turned by keys, the turns remembered. */

import { headers } from "../page.js";

/** @typedef {{id: string, name: string}} Page */
/** @typedef {{name: string, pages: Page[]}} Deck */

const picture = /** @type {HTMLImageElement} */ (document.getElementById("studio-page"));
const choice = /** @type {HTMLSelectElement} */ (document.getElementById("studio-deck"));
const told = /** @type {HTMLElement} */ (document.getElementById("studio-turned"));
/** @type {Deck[]} */
let decks = [];
let at = 0;

const pages = () => decks.find((deck) => deck.name === choice.value)?.pages ?? [];
/** The page that is shown. */
export const page = () => pages()[at]?.id ?? "";

function show() {
  const now = pages()[at];
  picture.hidden = !now;
  if (now) picture.src = `/shelf/${now.id}/stand-in.png`;
  told.textContent = now ? `${at + 1} of ${pages().length}` : "–";
}

/** Asks which pages there are, and shows the first one; false where there are none. */
export async function open() {
  const answer = await fetch("/shelf/decks", { headers });
  decks = answer.ok ? await answer.json() : [];
  const before = choice.value;
  choice.replaceChildren(
    ...decks.map(
      ({ name, pages: all }) => new Option(`${name} (${all.length})`, name, false, name === before),
    ),
  );
  at = 0;
  show();
  return decks.length > 0;
}

/** Turns to another page; whether there is one. @param {number} way */
export function turn(way) {
  const next = at + way;
  if (next < 0 || next >= pages().length) return false;
  at = next;
  show();
  return true;
}

export function close() {
  picture.hidden = true;
}

/** The way a key turns pages, 0 for any other. @param {string} key */
export const wayOf = (key) =>
  ({ ArrowRight: 1, ArrowDown: 1, PageDown: 1, ArrowLeft: -1, ArrowUp: -1, PageUp: -1 })[key] ?? 0;

choice.addEventListener("change", () => {
  at = 0;
  show();
});
