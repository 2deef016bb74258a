// @ts-check
/** The list of what the checks found: kept up to date after edits, without holding them up; shown, cured, dismissed. */

import { headers } from "../page.js";
import { send } from "./commands.js";
import { model, moveTo, on, select } from "./model.js";
import { fillIn, replaceFrom } from "./replace.js";
import { work } from "./wall.js";

const panel = /** @type {HTMLElement} */ (document.getElementById("checks-panel"));
const button = /** @type {HTMLElement} */ (document.getElementById("open-checks"));
const PAUSE = 600;
let waiting = 0;
let shown = -1;

/** Looks again, once edits have paused. */
async function look() {
  const rev = model.state.rev;
  if (rev === shown) return;
  // What plays comes first.
  if (model.playing) return soon();
  const answer = await fetch(`${model.url}/checks`, { headers });
  if (!answer.ok) return;
  shown = rev;
  if (document.activeElement?.matches(".finding-dismiss input")) {
    // Somebody is writing why: the list waits.
    shown = -1;
    return soon();
  }
  panel.innerHTML = await answer.text();
  const list = /** @type {HTMLElement} */ (panel.firstElementChild);
  // Where there is much to look at, the rest comes with the next answers.
  if (list.dataset.whole === "false") {
    shown = -1;
    soon();
  }
  const count = Number(list.dataset.count);
  button.dataset.count = String(count);
  /** @type {HTMLElement} */ (button.querySelector("span")).textContent = count ? String(count) : "";
  button.setAttribute("aria-label", count ? `Checks: ${count} found` : "Checks: nothing found");
  beside();
  onWall();
}

/** Marks the formats on the wall in which something was found that is not so in all of them. */
function onWall() {
  /** @type {Record<string, number>} */
  const counts = {};
  for (const go of /** @type {NodeListOf<HTMLElement>} */ (
    panel.querySelectorAll(".finding-go[data-format]")
  ))
    if (go.dataset.format) counts[go.dataset.format] = (counts[go.dataset.format] ?? 0) + 1;
  for (const mark of /** @type {NodeListOf<HTMLElement>} */ (
    document.querySelectorAll("[data-wall-checks]")
  )) {
    const count = counts[mark.closest("[data-wall]")?.getAttribute("data-wall") ?? ""] ?? 0;
    mark.hidden = !count;
    mark.title = `${count} thing${count === 1 ? "" : "s"} to look at in this format`;
  }
}
on("changed", onWall);
function soon() {
  clearTimeout(waiting);
  waiting = setTimeout(look, PAUSE);
}
on("changed", soon);
soon();

/* ---- beside what is selected ---- */

const bench = /** @type {HTMLElement} */ (document.getElementById("bench-details"));

/** What was found of the one thing selected stands in its Details as well. */
function beside() {
  const details = bench.querySelector(".details[data-for]");
  bench.querySelector(".details-checks")?.remove();
  const id = details?.getAttribute("data-for") ?? "";
  const own = [...panel.querySelectorAll(".finding")].filter(
    (one) => one.querySelector("[data-part]")?.getAttribute("data-part") === id,
  );
  if (!details || !own.length) return;
  const list = document.createElement("div");
  list.className = "details-checks";
  list.append(...own.map((one) => one.cloneNode(true)));
  details.querySelector(".details-find")?.before(list);
}
on("dressed", beside);

/** @param {MouseEvent} event */
function press(event) {
  const target = /** @type {Element} */ (event.target);
  const cure = /** @type {HTMLElement|null} */ (target.closest("[data-cure]"));
  if (cure) {
    const command = JSON.parse(cure.dataset.cure ?? "{}");
    if (cure.dataset.asks === undefined) send(command);
    else if (command.do === "replace") replaceFrom(command.item);
    else fillIn(command);
  }
  const go = /** @type {HTMLElement|null} */ (target.closest("[data-part]"));
  if (!go) return;
  if (go.dataset.format) work(go.dataset.format);
  moveTo(Number(go.dataset.frame), { follow: true });
  select([go.dataset.part ?? ""]);
}
/** @param {SubmitEvent} event */
function dismiss(event) {
  const form = /** @type {HTMLFormElement} */ (event.target);
  if (!form.dataset.dismiss) return;
  event.preventDefault();
  const reason = String(new FormData(form).get("reason") ?? "");
  /** @type {HTMLElement|null} */ (document.activeElement)?.blur();
  send({ do: "dismiss-check", ...JSON.parse(form.dataset.dismiss ?? "{}"), reason });
}
for (const place of [panel, bench]) {
  place.addEventListener("click", press);
  place.addEventListener("submit", dismiss);
}
