// @ts-check
/** Starting from one picture: it is brought in and looked at, then shown in every design that suits it. */

import { headers, note } from "./page.js";
import { sendFiles, takeDrops } from "./sending.js";

const page = /** @type {HTMLElement} */ (document.getElementById("hero"));
const list = /** @type {HTMLElement} */ (document.getElementById("hero-uploads"));

/** Goes on as soon as the file has been looked at. @param {string} id */
async function whenReady(id) {
  list.textContent = "It is being looked at …";
  for (let tries = 0; tries < 200; tries += 1) {
    const next = `${page.dataset.next}?hero=${id}&cut=1`;
    const response = await fetch(next, { headers: { ...headers, "HX-Request": "true" } }).catch(() => null);
    if (response?.ok) {
      location.assign(next);
      return;
    }
    await new Promise((done) => setTimeout(done, 500));
  }
  list.textContent = "";
  note("That file could not be read as a picture. Choose another one.", { refusal: true });
}

/** @param {File[]} files */
async function take(files) {
  const [sent] = await sendFiles(files.slice(0, 1), list);
  if (sent) whenReady(sent.id);
}

document.getElementById("hero-file")?.addEventListener("change", (event) => {
  const input = /** @type {HTMLInputElement} */ (event.target);
  if (input.files?.length) take([...input.files]);
});
takeDrops("Drop to start from this picture", ({ files }) => take(files));
