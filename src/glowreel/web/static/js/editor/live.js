// @ts-check
/** Edits made in another window appear here within a moment: the server says that there are some, the page fetches them. */

import { follow } from "../connection.js";
import { note } from "../page.js";
import { catchUp } from "./commands.js";
import { model } from "./model.js";
import { arrived as cameIn, heard } from "./presence.js";
import { notesChanged } from "./review.js";
import { came } from "./uploads.js";

let opened = false;
/** Names of files that came in for this promo, until they are told together. @type {string[]} */
const told = [];
/** @type {number|undefined} */
let soon;
follow(`${model.url}/events`, async ({ rev, sentence, arrived, notes, here, alone }) => {
  if (here) return heard(here);
  if (alone) {
    document.getElementById("alone")?.dispatchEvent(new Event("alone-changed"));
    return;
  }
  if (notes) return notesChanged();
  if (arrived) {
    came(arrived);
    told.push(sentence);
    clearTimeout(soon);
    soon = window.setTimeout(() => {
      note(
        `${told.length > 1 ? `${told.length} files` : told[0]} came in and ${told.length > 1 ? "are" : "is"} on the Shelf.`,
      );
      told.length = 0;
    }, 1500);
    return;
  }
  const fetched = await catchUp(rev);
  if (fetched && opened && sentence) note(`In another window: ${sentence}.`);
  if (!opened) cameIn();
  opened = true;
  document.getElementById("editor")?.setAttribute("data-live", String(model.state.rev));
});
