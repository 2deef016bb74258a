// @ts-check
/**
 * Says when exports and posts are done: on the page to whoever began them in this window, and in the browser's own way
 * to whoever asked for that and looks elsewhere.
 */

import { note } from "./page.js";

const TOLD = ["export", "post"];
const BEGUN = "glowreel:begun";
/** @typedef {{kind: string, what: string, promo: string}} Told */
/** @type {Map<string, Told>} What ran when it was last looked at, by its key. */
let ran = new Map();

/** Whether somebody wants to be told while they look elsewhere. */
export const wanted = () => "Notification" in window && Notification.permission === "granted";

/** The promos of which something was begun in this window. @returns {string[]} */
const begun = () => JSON.parse(sessionStorage.getItem(BEGUN) ?? "[]");

// The sheet that begins films is on several pages; what it was sent to says of which promo.
document.body.addEventListener("htmx:afterRequest", (event) => {
  const { elt, successful } = /** @type {CustomEvent} */ (event).detail;
  const promo = /^\/promos\/([^/]+)\/exports$/.exec(elt.getAttribute("hx-post") ?? "")?.[1];
  if (!promo || !successful) return;
  sessionStorage.setItem(BEGUN, JSON.stringify([...new Set([...begun().slice(-50), promo])]));
  document.body.dispatchEvent(new Event("activity-changed"));
});

/** Looks at what runs now. @param {Element} list */
export function compare(list) {
  const now = new Map();
  const failed = new Set();
  const done = new Set((list.getAttribute("data-finished") ?? "").split(" "));
  for (const row of list.querySelectorAll("[data-kind]")) {
    const { kind, key, what, promo } = /** @type {HTMLElement} */ (row).dataset;
    if (!TOLD.includes(kind ?? "")) continue;
    if (row.classList.contains("is-failed")) failed.add(key ?? "");
    else now.set(key ?? "", { kind: kind ?? "", what: what ?? "", promo: promo ?? "" });
  }
  // What was stopped is nothing to tell.
  const ended = [...ran].filter(
    ([key, { kind }]) => !now.has(key) && (kind !== "export" || done.has(key) || failed.has(key)),
  );
  const well = (/** @type {string} */ key) => !failed.has(key);
  if (wanted() && document.hidden)
    for (const [key, { what }] of ended)
      new Notification(well(key) ? `${what} is done` : `${what} failed`, { tag: key });
  else
    for (const [key, { what, promo }] of ended)
      if (begun().includes(promo))
        note(well(key) ? `${what} is done.` : `${what} failed.`, { refusal: !well(key) });
  ran = now;
}
