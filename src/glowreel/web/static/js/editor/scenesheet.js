// @ts-check
/** The sheet with scenes of the team's other promos and of templates: one press brings one in, with all tied to it. */

import { headers, note, sentenceOf } from "../page.js";
import { fetchFragment } from "./clipboard.js";
import { send } from "./commands.js";
import { model } from "./model.js";

const sheet = /** @type {HTMLDialogElement} */ (document.getElementById("scenes-sheet"));
/** @type {string|null} */
let before = null;

/** @param {string|null} beforeScene the scene before which it goes; the end for none */
export function chooseScene(beforeScene) {
  before = beforeScene;
  sheet.showModal();
  fetchFrom(from);
}

let from = "promos";
const find = /** @type {HTMLInputElement} */ (document.getElementById("scenes-find"));
/** @type {number|undefined} */
let typing;
find?.addEventListener("input", () => {
  clearTimeout(typing);
  typing = window.setTimeout(() => fetchFrom(from), 200);
});

let asked = 0;
/** @param {string} where */
async function fetchFrom(where) {
  from = where;
  find.hidden = where !== "templates";
  for (const one of /** @type {NodeListOf<HTMLElement>} */ (sheet.querySelectorAll("[data-scenes-from]")))
    one.setAttribute("aria-pressed", String(one.dataset.scenesFrom === where));
  const mine = ++asked;
  const query = new URLSearchParams({ from: where, find: find.value });
  const response = await fetch(`${model.url}/scenes?${query}`, { headers }).catch(() => null);
  // Another list was asked for meanwhile.
  if (mine !== asked || !response) return;
  if (response.ok)
    /** @type {HTMLElement} */ (document.getElementById("other-scenes")).outerHTML = await response.text();
  else note(sentenceOf(await response.text()), { refusal: true });
}

sheet?.addEventListener("click", async (event) => {
  const where = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-scenes-from]")
  );
  if (where) fetchFrom(where.dataset.scenesFrom ?? "promos");
  const pick = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-other-scene]")
  );
  if (!pick) return;
  const fragment = await fetchFragment(`scene=${pick.dataset.otherScene}`, pick.dataset.from);
  if (!fragment) return;
  sheet.close();
  // What opens or ends a promo goes there, wherever the sheet was opened.
  const { place } = pick.dataset;
  const first = place === "opening" ? (model.state.scenes[0]?.id ?? null) : place ? null : before;
  send({ do: "paste", fragment, at: 0, before_scene: first, at_end: first === null });
});
