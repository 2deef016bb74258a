// @ts-check
/** Sends commands, one after the other, and puts what the server answers into the page. */

import { clocks, headers, note, sentenceOf } from "../page.js";
import { base, model, refresh, tell } from "./model.js";

/** @type {Promise<unknown>} */
let line = Promise.resolve();
let waiting = 0;

function busy() {
  document.getElementById("saved")?.classList.toggle("is-busy", waiting > 0);
}

/** Replaces the parts of the page that the answer names. @param {string} html */
function put(html) {
  const answer = document.createElement("template");
  answer.innerHTML = html;
  const writing = document.activeElement;
  for (const part of /** @type {NodeListOf<HTMLElement>} */ (answer.content.querySelectorAll("[hx-swap-oob]"))) {
    const old = document.getElementById(part.id);
    if (!old) continue;
    // Whoever is typing keeps the field as it is; it already says what the answer would.
    if (old.contains(writing) && writing instanceof HTMLTextAreaElement) continue;
    // The rows of the timeline stay while they are the same: what lies on them is painted by the page.
    if (part.id === "lanes" && part.dataset.key === old.dataset.key) continue;
    const inner = part.getAttribute("hx-swap-oob") === "innerHTML";
    part.removeAttribute("hx-swap-oob");
    const focus = old.contains(writing) ? writing : null;
    if (inner) old.replaceChildren(...part.childNodes);
    else old.replaceWith(part);
    const now = /** @type {HTMLElement} */ (document.getElementById(part.id));
    /** @type {any} */ (window).htmx.process(now);
    refocus(now, focus);
  }
}

/** Gives the focus back to what stands where it was. @param {HTMLElement} part @param {Element|null} old */
function refocus(part, old) {
  if (!(old instanceof HTMLElement)) return;
  const id = old.id ? `#${CSS.escape(old.id)}` : old.dataset.id ? `[data-id="${CSS.escape(old.dataset.id)}"]` : "";
  const again = id ? part.querySelector(id) : null;
  if (again instanceof HTMLElement) again.focus({ preventScroll: true });
}

/** Posts to an address of the promo and puts the answer in place. @param {string} path @param {Record<string, string>} [values] */
async function ask(path, values = {}) {
  waiting += 1;
  busy();
  try {
    const body = new URLSearchParams({ ...values, selected: [...model.selected].join(","), format: model.format, rev: String(model.state.rev) });
    const response = await fetch(`${base}/${path}`, { method: "POST", headers, body });
    const text = await response.text();
    if (!response.ok) {
      note(sentenceOf(text), { refusal: true });
      tell("changed");
      return false;
    }
    put(text);
    clocks();
    refresh();
    if (model.state.notice) note(model.state.notice, { action: "Undo", run: undo });
    return true;
  } catch {
    note("The server cannot be reached. That step was not saved; everything before it was.", { refusal: true });
    tell("changed");
    return false;
  } finally {
    waiting -= 1;
    busy();
  }
}

/** @template T @param {() => Promise<T>} work @returns {Promise<T>} */
function inLine(work) {
  const next = line.then(work, work);
  line = next;
  return next;
}

/** Sends one command; resolves to whether it was carried out. @param {Record<string, unknown>} command */
export const send = (command) => inLine(() => ask("edit", { command: JSON.stringify(command) }));
/** @param {string} path @param {Record<string, string>} [values] */
export const post = (path, values) => inLine(() => ask(path, values));
export const undo = () => post("undo");
export const redo = () => post("redo");

/** Fetches the promo as it is now, if this page is not at that revision once its own steps are done. @param {number} rev */
export const catchUp = (rev) => inLine(async () => {
  if (rev === model.state.rev) return false;
  const query = new URLSearchParams({ selected: [...model.selected].join(","), format: model.format });
  const response = await fetch(`${base}/now?${query}`, { headers }).catch(() => null);
  if (!response?.ok) return false;
  put(await response.text());
  clocks();
  refresh();
  return true;
});
