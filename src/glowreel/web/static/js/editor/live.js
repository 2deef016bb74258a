// @ts-check
/** Edits made in another window appear here within a moment: the server says that there are some, the page fetches them. */

import { note } from "../page.js";
import { catchUp } from "./commands.js";
import { base, model } from "./model.js";

let opened = false;
const events = new EventSource(`${base}/events`);
events.addEventListener("message", async (event) => {
  const { rev, words } = JSON.parse(event.data);
  const fetched = await catchUp(rev);
  if (fetched && opened && words) note(`In another window: ${words}.`);
  opened = true;
  document.getElementById("editor")?.setAttribute("data-live", String(model.state.rev));
});
window.addEventListener("pagehide", () => events.close());
