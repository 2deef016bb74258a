// @ts-check
/** The brand book: a logo that is brought in is put in its place as soon as it has been looked at. */

import { note } from "./page.js";
import { sendFiles } from "./sending.js";

/** Waits until a file has been looked at. @param {string} id @returns {Promise<boolean>} */
async function looked(id) {
  for (let tries = 0; tries < 80; tries += 1) {
    const response = await fetch(`/shelf/${id}/poster.jpg`).catch(() => null);
    if (response?.ok) return true;
    await new Promise((done) => setTimeout(done, 400));
  }
  return false;
}

document.body.addEventListener("change", async (event) => {
  const input = /** @type {HTMLInputElement} */ (event.target);
  if (input.matches("[data-send]") && input.files?.length) input.form?.requestSubmit();
  if (input.id !== "brand-file" || !input.files?.length) return;
  event.stopPropagation();
  const list = /** @type {HTMLElement} */ (document.getElementById("brand-uploads"));
  const [sent] = await sendFiles([...input.files].slice(0, 1), list);
  if (!sent) return;
  list.textContent = "It is being looked at …";
  if (!(await looked(sent.id))) {
    list.textContent = "";
    note("That file could not be read as a picture. Choose another one.", { refusal: true });
    return;
  }
  // It takes the first place that is empty; which one it should be is changed beside it.
  const places = /** @type {HTMLSelectElement[]} */ ([...document.querySelectorAll('[name^="logo-"]')]);
  const values = Object.fromEntries(places.map((place) => [place.name, place.value]));
  const empty = places.find((place) => !place.value) ?? places[0];
  /** @type {any} */ (window).htmx.ajax("POST", input.dataset.change ?? "", {
    target: "#brand",
    swap: "outerHTML",
    values: { section: "logos", ...values, [empty.name]: sent.id },
  });
});
