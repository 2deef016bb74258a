// @ts-check
/** The format wall: every format's frame at the playhead, and which one is being worked in. */

import { send } from "./commands.js";
import { model, on, remember, tell } from "./model.js";

let due = 0;

function pictures() {
  clearTimeout(due);
  due = setTimeout(load, model.playing ? 280 : 40);
}

function load() {
  due = 0;
  for (const img of /** @type {NodeListOf<HTMLImageElement>} */ (document.querySelectorAll("[data-thumb]"))) {
    if (model.playing && img.dataset.loading) continue;
    const url = `${model.url}/frame.jpg?rev=${model.state.rev}&format=${img.dataset.thumb}&frame=${model.frame}&short=120`;
    if (img.getAttribute("src") === url) continue;
    img.dataset.loading = "1";
    img.onload = img.onerror = () => {
      delete img.dataset.loading;
      img.dataset.frame = String(model.frame);
    };
    img.src = url;
  }
}

function mark() {
  for (const pick of document.querySelectorAll(".wall-pick"))
    pick.setAttribute("aria-pressed", String(pick.getAttribute("data-format") === model.format));
}

/** @param {string} id */
export function work(id) {
  if (!model.state.formats.some((format) => format.id === id) || id === model.format) return;
  model.format = id;
  remember({ format: id });
  mark();
  tell("format");
}

document.addEventListener("click", (event) => {
  const target = /** @type {Element} */ (event.target);
  const pick = target.closest(".wall-pick");
  if (pick) work(pick.getAttribute("data-format") ?? "");
  const add = target.closest("[data-add-format]");
  if (add) send({ do: "add-format", format: add.getAttribute("data-add-format") });
  const drop = target.closest("[data-drop-format]");
  if (drop) send({ do: "remove-format", format: drop.getAttribute("data-drop-format") });
});

on("moved", () => {
  if (!model.playing || !due) pictures();
});
on("changed", () => {
  mark();
  pictures();
});
on("played", pictures);
on("made", () => {
  for (const img of document.querySelectorAll("[data-thumb]")) img.removeAttribute("src");
  load();
});
mark();
