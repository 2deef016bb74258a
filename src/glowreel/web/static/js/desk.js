// @ts-check
/** The Desk: what runs is live, and files or a folder dropped on it start a promo. */

import { follow } from "./connection.js";
import { headers, note } from "./page.js";
import { sendFiles, takeDrops } from "./sending.js";

const uploads = /** @type {HTMLElement} */ (document.getElementById("desk-uploads"));

/** Starts a promo with what was dropped. @param {{files: File[], folder: string}} dropped */
async function begin({ files, folder }) {
  if (!files.length) return;
  const sent = await sendFiles(files, uploads);
  if (!sent.length) {
    note("None of those files could be brought in.", { refusal: true });
    return;
  }
  const name = folder || (files.length === 1 ? files[0].name.replace(/\.[^.]+$/, "") : "");
  const body = new URLSearchParams({ name: name.slice(0, 120) });
  const answer = await fetch(uploads.dataset.create ?? "", { method: "POST", headers, body }).catch(
    () => null,
  );
  if (!answer?.ok) {
    note("The files are on the Shelf, but no promo could be started. Press New promo.", { refusal: true });
    return;
  }
  // So many names would not go into an address.
  sessionStorage.setItem(`arrived:${new URL(answer.url).pathname}`, JSON.stringify(sent));
  location.assign(answer.url);
}

/** Shows what can be done with the promos that are marked. */
document.addEventListener("change", (event) => {
  if (!(/** @type {Element} */ (event.target).matches(".card-mark"))) return;
  const marked = document.querySelectorAll(".card-mark:checked").length;
  const bar = document.getElementById("many");
  const count = document.getElementById("many-count");
  if (bar) bar.hidden = !marked;
  if (count) count.textContent = String(marked);
});

/** Where it is going says which formats are wanted, until somebody has chosen those by hand. */
const starting = document.querySelector("#new-promo form");
let byHand = false;
starting?.addEventListener("change", ({ target }) => {
  const box = /** @type {HTMLInputElement} */ (target);
  if (box.name === "formats") byHand = true;
  if (box.name !== "channels" || byHand) return;
  const all = (/** @type {string} */ name) =>
    /** @type {HTMLInputElement[]} */ ([...starting.querySelectorAll(`[name=${name}]`)]);
  const shapes = new Set(
    all("channels")
      .filter((one) => one.checked)
      .map((one) => one.dataset.shape),
  );
  for (const format of all("formats"))
    format.checked = shapes.size ? shapes.has(format.value) : format.defaultChecked;
});

takeDrops("Drop to start a promo with these files", begin);
let first = true;
follow("/desk/events", () => {
  if (!first) document.body.dispatchEvent(new Event("desk-changed"));
  first = false;
});
