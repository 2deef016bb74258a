// @ts-check
/** The page of one template: it plays, its scenes are looked at by pointing, and another brand shows it otherwise. */

import "./reel.js";

document.getElementById("template-brand")?.addEventListener("change", (event) => {
  const choice = /** @type {HTMLSelectElement} */ (event.target);
  location.assign(
    `${choice.dataset.url}?brand=${encodeURIComponent(choice.value)}${choice.dataset.more ?? ""}`,
  );
});
