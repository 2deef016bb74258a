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

/** Keeps what was copied. The machine's own clipboard is told as well: a picture copied before is not meant any more.
 * @param {object} fragment */
function keep(fragment) {
  localStorage.setItem(KEY, JSON.stringify(fragment));
  navigator.clipboard?.writeText("A piece of a promo").catch(() => null);
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
  keep(fragment);
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
  keep(fragment);
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

/** @type {number|undefined} Set while the browser has not said yet what is on its clipboard. */
let asking;
const ASKED = 150;

/** Pastes what the keys ask for: files from the machine's clipboard, else what was copied here. */
export function pasteByKeys() {
  asking = window.setTimeout(() => {
    asking = undefined;
    paste();
  }, ASKED);
}

/** @param {(files: File[]) => void} bringIn told of pictures and other files that are pasted */
export function takePasted(bringIn) {
  document.addEventListener("paste", (event) => {
    if (asking === undefined) return;
    clearTimeout(asking);
    asking = undefined;
    const files = [...(event.clipboardData?.files ?? [])];
    if (!files.length) {
      paste();
      return;
    }
    event.preventDefault();
    const stamp = new Date().toISOString().slice(0, 19).replace("T", " ").replaceAll(":", ".");
    // What comes from a clipboard is always called the same.
    const named = (/** @type {File} */ file) =>
      /^image\.\w+$/.test(file.name)
        ? new File([file], `Pasted ${stamp}.${file.name.split(".").pop()}`, { type: file.type })
        : file;
    bringIn(files.map(named));
  });
}

export const somethingCopied = () => localStorage.getItem(KEY) !== null;

export function duplicate() {
  if (model.selected.size) send({ do: "duplicate", items: [...model.selected] });
  else note("Select what to duplicate first.");
}
