// @ts-check
/** The activity tray: what runs for the team, on every page. It looks often while something runs, and seldom else. */

import { coming, paceOf, sendFiles } from "./sending.js";
import { headers, note } from "./page.js";
import { compare, wanted } from "./telling.js";

const button = document.getElementById("open-activity");
const panel = /** @type {HTMLElement|null} */ (document.getElementById("activity"));
const count = /** @type {HTMLElement|null} */ (document.getElementById("activity-count"));
const [OPEN, RUNNING, IDLE, SOON] = [1000, 3000, 60000, 700];
/** @type {number|undefined} */
let timer;
let [asking, anew] = [false, false];

/** Looks again after a while. @param {number} [pause] */
function later(pause) {
  clearTimeout(timer);
  const running = Number(list()?.dataset.running ?? 0) || coming.size;
  const usual = running ? (isOpen() ? OPEN : RUNNING) : IDLE;
  timer = window.setTimeout(look, pause ?? usual);
}

const list = () => document.getElementById("activity-list");
const isOpen = () => panel?.matches(":popover-open") ?? false;

async function look() {
  if (document.hidden && !(wanted() && Number(list()?.dataset.running ?? 0))) {
    later(IDLE);
    return;
  }
  if (asking) {
    anew = true;
    return;
  }
  asking = true;
  const response = await fetch("/activity", { headers }).catch(() => null);
  asking = false;
  // Whoever has a button of the list in hand keeps it.
  if (response?.ok && !list()?.contains(document.activeElement)) put(await response.text());
  later(anew ? SOON : undefined);
  anew = false;
}

/** @param {string} html */
function put(html) {
  const answer = document.createElement("template");
  answer.innerHTML = html;
  const fresh = answer.content.firstElementChild;
  if (!fresh) return;
  list()?.replaceWith(fresh);
  compare(fresh);
  /** @type {any} */ (window).htmx.process(fresh);
  dress();
}

/** Says beside the button how much runs, and of what this page sends how fast it goes. */
function dress() {
  const [running, failed] = [Number(list()?.dataset.running ?? 0), Number(list()?.dataset.failed ?? 0)];
  button?.classList.toggle("is-running", running > 0);
  button?.classList.toggle("is-failed", failed > 0);
  const told = [running ? `${running} running` : "", failed ? `${failed} failed` : ""]
    .filter(Boolean)
    .join(", ");
  button?.setAttribute("aria-label", told ? `Activity: ${told}` : "Activity");
  if (count) {
    count.hidden = !running && !failed;
    count.textContent = String(running || failed);
  }
  for (const row of document.querySelectorAll("#activity-list [data-kind='upload']")) {
    const one = coming.get(row.getAttribute("data-key") ?? "");
    const said = row.querySelector(".activity-said");
    if (one && said) said.textContent = paceOf(one.rate, one.left) || "comes in";
    if (!one && said?.textContent?.startsWith("cut off")) goOn(row);
  }
}

/** Lets a file be chosen again whose upload was cut off. @param {Element} row */
function goOn(row) {
  const label = document.createElement("label");
  label.className = "btn btn-plain btn-sm activity-go-on";
  label.textContent = "Go on …";
  const input = document.createElement("input");
  input.type = "file";
  input.className = "visually-hidden";
  input.setAttribute("aria-label", `Choose ${row.getAttribute("data-what")} again`);
  input.addEventListener("change", () => {
    const [file] = input.files ?? [];
    const cut = document.getElementById("activity-cut");
    if (!file || !cut) return;
    if (file.name !== row.getAttribute("data-what")) {
      note(`That is another file: ${row.getAttribute("data-what")} was cut off.`, { refusal: true });
      return;
    }
    cut.hidden = false;
    sendFiles([file], cut, undefined, `/shelf/tus/${row.getAttribute("data-key")}`).then(() => {
      cut.hidden = !cut.children.length;
    });
  });
  label.append(input);
  row.querySelector(".activity-what")?.append(label);
}

document.body.addEventListener("activity-changed", () => later(SOON));
document.body.addEventListener("htmx:afterRequest", (event) => {
  const { requestConfig } = /** @type {any} */ (event).detail;
  if (requestConfig && requestConfig.verb !== "get") later(SOON);
  // What was ended here is not sent any further.
  const ended = /^\/activity\/upload\/([^/]+)\/end$/.exec(requestConfig?.path ?? "");
  if (ended) coming.get(ended[1])?.row.querySelector("button")?.click();
});
document.body.addEventListener("htmx:afterSwap", (event) => {
  if (/** @type {HTMLElement} */ (event.target).id === "activity-list") dress();
});
panel?.addEventListener("toggle", (event) => {
  if (/** @type {ToggleEvent} */ (event).newState === "open") look();
});
document.addEventListener("visibilitychange", () => !document.hidden && later(SOON));
later(1500);
