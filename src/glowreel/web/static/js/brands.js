// @ts-check
/** The brand book: what is brought in takes its place as soon as it has been looked at; promos come up to date. */

import { headers, note, sentenceOf } from "./page.js";
import { looked, sendFiles } from "./sending.js";
import "./brandcolours.js";

/** @typedef {import("./sending.js").Sent} Sent */

/**
 * Sends the files of a field, and tells of those that can be used.
 * @param {HTMLInputElement} input @param {string} listId where progress is shown @param {string} refused
 * @returns {Promise<Sent[]>}
 */
async function brought(input, listId, refused) {
  const list = /** @type {HTMLElement} */ (document.getElementById(listId));
  const sent = await sendFiles([...(input.files ?? [])].slice(0, 40), list);
  if (sent.length) list.textContent = "Being looked at …";
  const usable = [];
  for (const file of sent) {
    if (await looked(file.id)) usable.push(file);
    else note(`${file.name} ${refused}`, { refusal: true });
  }
  list.textContent = "";
  return usable;
}

/** The brand with a change. @param {string} url @param {Record<string, any>} values @returns {Promise<void>} */
function changed(url, values) {
  const known = { target: "#brand", swap: "outerHTML", values };
  return /** @type {any} */ (window).htmx.ajax("POST", url, known);
}

/** A logo takes the first place that is empty; which one it should be is changed beside it.
 * @param {HTMLInputElement} input */
async function bringLogo(input) {
  const [sent] = await brought(input, "brand-uploads", "could not be read as a picture. Choose another one.");
  if (!sent) return;
  const places = /** @type {HTMLSelectElement[]} */ ([...document.querySelectorAll('[name^="logo-"]')]);
  const values = Object.fromEntries(places.map((place) => [place.name, place.value]));
  const empty = places.find((place) => !place.value) ?? places[0];
  await changed(input.dataset.change ?? "", { section: "logos", ...values, [empty.name]: sent.id });
}

/** @param {HTMLInputElement} input */
async function bringFonts(input) {
  const url = input.dataset.face ?? "";
  const refused = "is no font that can be used: bring in a TTF, OTF, WOFF or WOFF2 with one face.";
  for (const sent of await brought(input, "font-uploads", refused)) await changed(url, { media: sent.id });
}

/** @param {HTMLInputElement} input */
async function bringMaterial(input) {
  const url = input.dataset.change ?? "";
  const sent = await brought(input, "material-uploads", "could not be read.");
  if (sent.length) await changed(url, { section: "material", add: sent.map((file) => file.id) });
}

/** @type {Record<string, (input: HTMLInputElement) => Promise<void>>} */
const FIELDS = { "brand-file": bringLogo, "font-files": bringFonts, "material-files": bringMaterial };

document.body.addEventListener("change", (event) => {
  const input = /** @type {HTMLInputElement} */ (event.target);
  if (input.matches("[data-send]") && input.files?.length) input.form?.requestSubmit();
  const bring = FIELDS[input.id];
  if (!bring || !input.files?.length) return;
  event.stopPropagation();
  bring(input);
});

const AT_ONCE = 5;

/** Brings what is ticked up to date, a few at a time, so that it is seen how far it is. */
document.body.addEventListener("submit", async (event) => {
  const form = /** @type {HTMLFormElement} */ (event.target);
  if (!form.matches("[data-bring]")) return;
  event.preventDefault();
  const keys = new FormData(form).getAll("promos").map(String);
  const button = /** @type {HTMLButtonElement} */ (form.querySelector("button"));
  const bar = /** @type {HTMLProgressElement} */ (form.querySelector("progress"));
  if (!keys.length || button.disabled) return;
  button.disabled = true;
  bar.hidden = false;
  bar.max = keys.length;
  /** @type {string[]} */
  const done = [];
  for (let next = 0; next < keys.length; next += AT_ONCE) {
    const some = keys.slice(next, next + AT_ONCE).map((key) => ["promos", key]);
    const body = new URLSearchParams([...some, ["some", "1"]]);
    const response = await fetch(form.action, { method: "POST", headers, body }).catch(() => null);
    if (!response?.ok) {
      note(response ? sentenceOf(await response.text()) : "The connection is gone. Try it again.", {
        refusal: true,
      });
      break;
    }
    done.push(...(await response.json()).done);
    bar.value = next + some.length;
  }
  const body = new URLSearchParams([["done", done.join(",")]]);
  // The page that follows says what was done: it is not fetched here, but gone to.
  const end = await fetch(form.action, { method: "POST", headers, body, redirect: "manual" }).catch(
    () => null,
  );
  if (end) location.assign(location.pathname);
});
