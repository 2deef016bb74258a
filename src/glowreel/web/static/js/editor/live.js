// @ts-check
/** Edits made in another window appear here within a moment: the server says that there are some, the page fetches them. */

import { follow } from "../connection.js";
import { note } from "../page.js";
import { catchUp } from "./commands.js";
import { model } from "./model.js";

let opened = false;
follow(`${model.url}/events`, async ({ rev, sentence }) => {
  const fetched = await catchUp(rev);
  if (fetched && opened && sentence) note(`In another window: ${sentence}.`);
  opened = true;
  document.getElementById("editor")?.setAttribute("data-live", String(model.state.rev));
});
