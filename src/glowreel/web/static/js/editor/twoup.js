// @ts-check
/** The frames on either side of a cut while it is being moved: the server tries the command and draws what would be. */

import { model } from "./model.js";

const place = /** @type {HTMLElement} */ (document.getElementById("two-up"));
const picture = /** @type {HTMLImageElement} */ (place.querySelector("img"));
const names = /** @type {HTMLElement} */ (place.querySelector("p"));
/** @type {{command: object, around: string, edge: string}|null} */
let wanted = null;
let asking = false;
let shown = 0;

/**
 * Shows what a command would leave at an edge of something. Only the newest wish is drawn.
 * @param {Record<string, unknown>} command @param {string} around the clip or item @param {"start"|"end"|"both"} edge
 * @param {string} left what the left frame is @param {string} right
 */
export function tryOut(command, around, edge, left, right) {
  wanted = { command, around, edge };
  names.replaceChildren(
    ...[left, right].map((words) => Object.assign(document.createElement("span"), { textContent: words })),
  );
  if (!asking) ask();
}

async function ask() {
  asking = true;
  const turn = ++shown;
  while (wanted) {
    const { command, around, edge } = wanted;
    wanted = null;
    const query = new URLSearchParams({
      rev: String(model.state.rev),
      command: JSON.stringify(command),
      around,
      edge,
      format: model.format,
    });
    try {
      const response = await fetch(`${model.url}/try.jpg?${query}`);
      if (!response.ok || turn !== shown) continue;
      const old = picture.src;
      picture.src = URL.createObjectURL(await response.blob());
      if (old.startsWith("blob:")) URL.revokeObjectURL(old);
      if (turn === shown) place.hidden = false;
    } catch {
      /* the gesture goes on without its frames */
    }
  }
  asking = false;
}

export function hideTwoUp() {
  shown += 1;
  asking = false;
  wanted = null;
  place.hidden = true;
}
