// @ts-check
/** Copying and pasting, in this promo and between promos of the team: what is copied is kept on this machine. */

import { headers, note, sentenceOf } from "../page.js";
import { send } from "./commands.js";
import { gridTicks, model } from "./model.js";

const KEY = "glowreel:copied";

/** Asks the server for a piece of a promo by itself. @param {string} query @param {string} [address] */
export async function fetchFragment(query, address = model.url) {
  const response = await fetch(`${address}/fragment?${query}`, { headers });
  if (response.ok) return response.json();
  note(sentenceOf(await response.text()), { refusal: true });
  return null;
}

/** @param {boolean} [quiet] */
export async function copy(quiet) {
  const ids = [...model.selected];
  if (!ids.length) {
    note("Select what to copy first.");
    return false;
  }
  const fragment = await fetchFragment(`items=${ids.join(",")}`);
  if (!fragment) return false;
  localStorage.setItem(KEY, JSON.stringify(fragment));
  if (!quiet)
    note(
      ids.length === 1
        ? "Copied. Paste it here or in another promo."
        : `Copied ${ids.length} items. Paste them here or in another promo.`,
    );
  return true;
}

export async function cut() {
  if (await copy(true)) send({ do: "remove", items: [...model.selected] });
}

/** @param {string} scene */
export async function copyScene(scene) {
  const fragment = await fetchFragment(`scene=${scene}`);
  if (!fragment) return;
  localStorage.setItem(KEY, JSON.stringify(fragment));
  note("The scene is copied, with all that is tied to it.");
}

export function paste() {
  const kept = localStorage.getItem(KEY);
  if (!kept) {
    note("Nothing has been copied yet.");
    return;
  }
  send({ do: "paste", fragment: JSON.parse(kept), at: gridTicks(model.time) });
}

export const somethingCopied = () => localStorage.getItem(KEY) !== null;

export function duplicate() {
  if (model.selected.size) send({ do: "duplicate", items: [...model.selected] });
  else note("Select what to duplicate first.");
}
