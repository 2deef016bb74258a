// @ts-check
/** What is drawn on sounds besides their waves: where they give way to voices, and where their beats lie. */

import { note } from "../page.js";
import { paintArt } from "./art.js";
import { sounds } from "./lines.js";
import { model, on, tell } from "./model.js";

let due = 0;
/** Of which it was said that they fade. @type {Set<string>} */
const faded = new Set();
let asked = 0;

/** Asks anew, once edits have paused; a line must not lie where it was. */
function askSoon() {
  clearTimeout(due);
  due = setTimeout(ask, 180);
}

async function ask() {
  if (!model.state.tracks.some((track) => track.kind === "sound" && track.rows.length)) {
    sounds.clear();
    return;
  }
  const mine = ++asked;
  const answer = await fetch(`${model.url}/heard`).catch(() => null);
  if (!answer?.ok || mine !== asked) return;
  const found = await answer.json();
  sounds.clear();
  for (const [id, told] of Object.entries(found.items)) sounds.set(id, told);
  // Boxes are painted anew where something is drawn on them.
  for (const canvas of document.querySelectorAll("#lanes .item.is-sound canvas"))
    /** @type {any} */ (canvas).done = "";
  paintArt();
  tell("heard");
  for (const [id, told] of sounds)
    if (told.joined === false && !faded.has(id)) {
      faded.add(id);
      note("This piece allows no joint of that length: it is heard as it is, and fades.");
    } else if (told.joined) faded.delete(id);
  if (found.waits) due = setTimeout(ask, 1500);
}

on("changed", askSoon);
askSoon();
