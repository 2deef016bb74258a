// @ts-check
/** The format wall: every format's frame at the playhead, and which one is being worked in. */

import { model, on, remember, tell } from "./model.js";

let due = 0;

function pictures() {
  clearTimeout(due);
  due = setTimeout(load, model.playing ? 280 : 40);
}

/** The thumbnails in sight: only these are drawn. @type {Set<Element>} */
const inSight = new Set();
const sight = new IntersectionObserver((seen) => {
  for (const one of seen) {
    if (one.isIntersecting) inSight.add(one.target);
    else inSight.delete(one.target);
  }
  if (seen.some((one) => one.isIntersecting)) pictures();
});
/** Watches the thumbnails that there are. */
function watch() {
  for (const gone of inSight) if (!gone.isConnected) inSight.delete(gone);
  for (const img of document.querySelectorAll("[data-thumb]")) sight.observe(img);
}

function load() {
  due = 0;
  // Side by side, all of them play larger already.
  if (model.playing && model.beside) return;
  for (const img of /** @type {NodeListOf<HTMLImageElement>} */ (document.querySelectorAll("[data-thumb]"))) {
    if (!inSight.has(img) || (model.playing && img.dataset.loading)) continue;
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
});

on("moved", () => {
  if (!model.playing || !due) pictures();
});
on("changed", () => {
  watch();
  mark();
  pictures();
});
on("played", pictures);
on("made", () => {
  for (const img of document.querySelectorAll("[data-thumb]")) img.removeAttribute("src");
  load();
});
watch();
mark();
