// @ts-check
/** What differs in each format, listed: gone to, copied to another format, sent back to the rule. */

import { headers } from "../page.js";
import { send } from "./commands.js";
import { model, moveTo, on, select } from "./model.js";
import { work } from "./wall.js";

const sheet = /** @type {HTMLDialogElement} */ (document.getElementById("differs-sheet"));
const list = /** @type {HTMLElement} */ (document.getElementById("differs-list"));

async function fetchList() {
  const answer = await fetch(`${model.url}/differs`, { headers });
  if (answer.ok) list.innerHTML = await answer.text();
}

/** Opens the list, at one of the formats. @param {string} id */
export async function openDiffers(id) {
  if (!sheet.open) sheet.showModal();
  await fetchList();
  list.querySelector(`[data-differs-in="${CSS.escape(id)}"]`)?.scrollIntoView({ block: "start" });
}

on("changed", () => {
  if (sheet.open) fetchList();
});

list.addEventListener("click", (event) => {
  const target = /** @type {Element} */ (event.target);
  const press = /** @type {HTMLElement|null} */ (target.closest("[data-differs]"));
  if (press) send(JSON.parse(press.dataset.differs ?? "{}"));
  const go = /** @type {HTMLElement|null} */ (target.closest("[data-differs-go]"));
  if (!go) return;
  sheet.close();
  work(go.dataset.format ?? "");
  moveTo(Number(go.dataset.at));
  select([go.dataset.differsGo ?? ""]);
});
