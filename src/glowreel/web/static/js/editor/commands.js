// @ts-check
/** Sends commands, one after the other, and puts what the server answers into the page. */

import { insist, onConnection, reached } from "../connection.js";
import { clocks, headers, note, pressName, sentenceOf } from "../page.js";
import { model, refresh, tell } from "./model.js";
import { forget, keep, unsent } from "./unsent.js";

/** @type {Promise<unknown>} */
let line = Promise.resolve();
let waiting = 0;

/** Under which this person's steps of this promo are kept: never sent as somebody else's. */
const place = `${document.getElementById("editor")?.dataset.person}${model.url}`;
let queued = 0;
let away = false;

/** Says whether everything is kept, and how many steps wait for the server. */
function busy() {
  const saved = document.getElementById("saved");
  saved?.classList.toggle("is-busy", waiting + queued > 0);
  saved?.classList.toggle("is-away", away);
  const label = saved?.querySelector("span");
  if (away && label)
    label.textContent = queued ? `${queued} step${queued === 1 ? "" : "s"} to send` : "not connected";
}
onConnection((now) => {
  away = now;
  busy();
});

/** Replaces the parts of the page that the answer names. @param {string} html */
function put(html) {
  const answer = document.createElement("template");
  answer.innerHTML = html;
  const writing = document.activeElement;
  for (const part of /** @type {NodeListOf<HTMLElement>} */ (
    answer.content.querySelectorAll("[hx-swap-oob]")
  )) {
    const old = document.getElementById(part.id);
    if (!old) continue;
    // Whoever is typing keeps the field as it is; it already says what the answer would.
    if (old.contains(writing) && writing?.matches("textarea, input[data-line]")) continue;
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
  const id = old.id
    ? `#${CSS.escape(old.id)}`
    : old.dataset.id
      ? `[data-id="${CSS.escape(old.dataset.id)}"]`
      : "";
  const again = id ? part.querySelector(id) : null;
  if (again instanceof HTMLElement) again.focus({ preventScroll: true });
}

/** @typedef {Record<string, unknown>} Command */

/**
 * Posts to an address of the promo and puts the answer in place.
 * @param {string} path
 * @param {Record<string, string>} [values]
 * @param {string} [press] the name of the press, and `rev` the revision that it was done on, where it was kept before
 * @param {string} [rev]
 */
async function ask(path, values = {}, press = pressName(), rev = String(model.state.rev)) {
  waiting += 1;
  busy();
  // The same at every attempt: what was carried out, though its answer was lost, is not carried out again.
  const fixed = { ...values, press, rev };
  keep(place, { path, values, press, rev, at: Date.now() });
  try {
    const response = await insist(`${model.url}/${path}`, (attempt) => ({
      method: "POST",
      headers,
      body: new URLSearchParams({
        ...fixed,
        selected: [...model.selected].join(","),
        cell: model.cell,
        format: model.format,
        frame: String(model.frame),
        ...(attempt ? { again: "1" } : {}),
      }),
    }));
    const text = await response.text();
    forget(place, press);
    if (!response.ok) {
      note(sentenceOf(text), { refusal: true });
      tell("changed");
      return false;
    }
    put(text);
    clocks();
    if (!refresh()) await fetchAll();
    if (model.state.notice) note(model.state.notice, { action: "Undo", run: undo });
    return true;
  } finally {
    waiting -= 1;
    busy();
  }
}

/** @template T @param {() => Promise<T>} work @returns {Promise<T>} */
function inLine(work) {
  queued += 1;
  busy();
  const done = () => {
    queued -= 1;
    busy();
  };
  const next = line.then(work, work);
  next.then(done, done);
  line = next;
  return next;
}

/**
 * Sends one command when those before it are done; resolves to whether it was carried out. A function is asked for the
 * command only then, so that it sees what those before it have changed.
 * `after` runs before the next one in line is asked for.
 * @param {Command|(() => Command)} command @param {() => void} [after]
 */
export const send = (command, after) => {
  const press = pressName();
  // What waits behind others is kept as it would be now, should the page go away before its turn.
  if (queued) keep(place, step("edit", { command: said(command) }, press));
  return inLine(async () => {
    const kept = await ask("edit", { command: said(command) }, press);
    if (kept) after?.();
    return kept;
  });
};

/** @param {Command|(() => Command)} command */
const said = (command) => JSON.stringify(typeof command === "function" ? command() : command);

/** @param {string} path @param {Record<string, string>} values @param {string} press */
const step = (path, values, press) => ({ path, values, press, rev: String(model.state.rev), at: Date.now() });

const MOMENT = 3000;

/** Sends what an earlier page of this promo could not send any more; says so. */
export function sendKept() {
  const waited = unsent(place);
  if (!waited.length) return;
  if (waited.some((one) => Date.now() - one.at > MOMENT))
    note(
      `${waited.length} step${waited.length === 1 ? "" : "s"} from before ${waited.length === 1 ? "is" : "are"} sent now.`,
    );
  for (const one of waited) inLine(() => ask(one.path, one.values, one.press, one.rev));
}

/** Sends a command while the page goes away: nobody waits for the answer. @param {Command} command */
export function sendLast(command) {
  const body = new URLSearchParams({ command: JSON.stringify(command), press: pressName() });
  fetch(`${model.url}/edit`, { method: "POST", headers, body, keepalive: true }).catch(() => undefined);
}
/** @param {string} path @param {Record<string, string>} [values] */
export const post = (path, values) => {
  const press = pressName();
  if (queued) keep(place, step(path, values ?? {}, press));
  return inLine(() => ask(path, values, press));
};
export const undo = () => post("undo");
export const redo = () => post("redo");

/**
 * Fetches the promo as it is now, if this page is not at that revision once its own steps are done.
 * @param {number} rev
 */
export const catchUp = (rev) => inLine(async () => (rev === model.state.rev ? false : fetchAll()));

/** Asks for all of the promo as it is now. */
async function fetchAll() {
  const query = new URLSearchParams({
    selected: [...model.selected].join(","),
    cell: model.cell,
    format: model.format,
    frame: String(model.frame),
  });
  const response = await fetch(`${model.url}/now?${query}`, { headers }).catch(() => null);
  if (!response?.ok) return false;
  reached();
  put(await response.text());
  clocks();
  refresh();
  return true;
}
