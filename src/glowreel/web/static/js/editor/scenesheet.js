// @ts-check
/** The sheet with the scenes of the team's other promos: one press brings a scene in, with all that is tied to it. */

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
  /** @type {any} */ (window).htmx.ajax("GET", `${model.url}/scenes`, {
    target: "#other-scenes",
    swap: "outerHTML",
  });
}

sheet?.addEventListener("click", async (event) => {
  const pick = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-other-scene]")
  );
  if (!pick) return;
  const fragment = await fetchFragment(`scene=${pick.dataset.otherScene}`, pick.dataset.from);
  if (!fragment) return;
  sheet.close();
  send({ do: "paste", fragment, at: 0, before_scene: before, at_end: before === null });
});
