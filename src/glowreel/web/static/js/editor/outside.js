// @ts-check
/** The bench's other sources: stock, pictures from words, the drive, in the place of the Shelf's own list. */

import "../sources.js";
import { send } from "./commands.js";
import { on } from "./model.js";
import { reload } from "./uploads.js";

const face = /** @type {HTMLElement} */ (document.getElementById("bench-shelf"));
const place = /** @type {HTMLElement} */ (document.getElementById("outside"));
const tabs = /** @type {HTMLButtonElement[]} */ ([...face.querySelectorAll("[data-from]")]);

/** Shows a source; nothing for the Shelf itself. @param {HTMLButtonElement} tab */
function show(tab) {
  const again = tab.getAttribute("aria-pressed") === "true";
  for (const one of tabs) one.setAttribute("aria-pressed", String(one === tab));
  const address = tab.dataset.from ?? "";
  face.classList.toggle("is-outside", Boolean(address));
  place.hidden = !address;
  if (!address) reload();
  // Pressed once more, it is asked again: what was away may be there.
  else if (place.dataset.shown !== address || again)
    /** @type {any} */ (window).htmx.ajax("GET", address, { target: place, swap: "innerHTML" });
  place.dataset.shown = address || place.dataset.shown;
}
for (const tab of tabs) tab.addEventListener("click", () => show(tab));

/* Whoever goes elsewhere to allow something comes back to the source that asked for it. */
const ASKED = "glowreel.source";
place.addEventListener("click", (event) => {
  if (/** @type {Element} */ (event.target).closest(".source-connect a"))
    sessionStorage.setItem(ASKED, place.dataset.shown ?? "");
});
const asked = tabs.find((one) => one.dataset.from && one.dataset.from === sessionStorage.getItem(ASKED));
sessionStorage.removeItem(ASKED);
if (asked) window.addEventListener("load", () => show(asked));

/* Files that were missing and came in are offered to be put in their places. */
document.body.addEventListener("htmx:afterSwap", (event) => {
  const target = /** @type {HTMLElement} */ (/** @type {any} */ (event).detail.target);
  if (target?.id === "shelf-list") document.body.dispatchEvent(new Event("shelf-listed"));
});
document.addEventListener("click", (event) => {
  const found = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-found]")
  );
  if (!found) return;
  send({ do: "fill-missing", ...JSON.parse(found.dataset.found ?? "{}") }).then(() =>
    document.body.dispatchEvent(new Event("shelf-listed")),
  );
});
/* What comes in from elsewhere is seen where it came to. */
on("shelved", () => {
  if (place.hidden) reload();
});
