// @ts-check
/** Says when exports and posts are done, in the browser's own way, to whoever asked for that and looks elsewhere. */

const TOLD = ["export", "post"];
/** @type {Map<string, string>} What ran when it was last looked at, by its key. */
let ran = new Map();

/** Whether somebody wants to be told while they look elsewhere. */
export const wanted = () => "Notification" in window && Notification.permission === "granted";

/** Looks at what runs now. @param {Element} list */
export function compare(list) {
  const now = new Map();
  const failed = new Set();
  for (const row of list.querySelectorAll("[data-kind]")) {
    const { kind, key, what } = /** @type {HTMLElement} */ (row).dataset;
    if (!TOLD.includes(kind ?? "")) continue;
    if (row.classList.contains("is-failed")) failed.add(key ?? "");
    else now.set(key ?? "", what ?? "");
  }
  if (wanted() && document.hidden)
    for (const [key, what] of ran)
      if (!now.has(key))
        new Notification(failed.has(key) ? `${what} failed` : `${what} is done`, { tag: key });
  ran = now;
}
