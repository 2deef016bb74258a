// @ts-check
/** A part of footage, chosen on a small player before it is added. */

import { send } from "./commands.js";
import { gridTicks, model, ticks } from "./model.js";
import { toAdded } from "./shelf.js";

const get = (/** @type {string} */ id) => /** @type {any} */ (document.getElementById(`trim-${id}`));
const sheet = /** @type {HTMLDialogElement} */ (get("sheet"));
const film = /** @type {HTMLVideoElement} */ (get("film"));
const LEAST = 0.1;
let media = "";

const told = (/** @type {number} */ at) => `${Math.floor(at / 60)}:${(at % 60).toFixed(1).padStart(4, "0")}`;

function show() {
  const [first, last] = [Number(get("in").value), Number(get("out").value)];
  get("from").textContent = told(first);
  get("to").textContent = told(last);
  get("length").textContent = `${(last - first).toFixed(1)} s`;
}

/** Sets an end; the other one gives way. @param {"in"|"out"} end @param {number} at */
function set(end, at) {
  const whole = Number(get("out").max);
  get(end).value = String(at);
  const [first, last] = [Number(get("in").value), Number(get("out").value)];
  if (last - first < LEAST) {
    if (end === "in") get("out").value = String(Math.min(whole, first + LEAST));
    else get("in").value = String(Math.max(0, last - LEAST));
  }
  show();
}

/** Opens it for a footage of the Shelf. @param {HTMLElement} item */
export function trimFirst(item) {
  media = item.dataset.media ?? "";
  const whole = item.dataset.seconds ?? "0";
  film.src = `/shelf/${media}/stand-in.mp4`;
  for (const end of ["in", "out"]) get(end).max = whole;
  get("in").value = "0";
  get("out").value = whole;
  get("title").textContent = `Take a part of ${item.dataset.name}`;
  show();
  sheet.showModal();
}

for (const end of /** @type {("in"|"out")[]} */ (["in", "out"]))
  get(end).addEventListener("input", () => {
    set(end, Number(get(end).value));
    film.currentTime = Number(get(end).value);
  });
film.addEventListener("timeupdate", () => {
  if (!film.paused && film.currentTime >= Number(get("out").value)) film.pause();
});
sheet.addEventListener("keydown", (event) => {
  const end = /** @type {"in"|"out"|undefined} */ ({ i: "in", o: "out" }[event.key.toLowerCase()]);
  if (end) set(end, film.currentTime);
});
sheet.addEventListener("close", () => film.pause());
get("add").addEventListener("click", () => {
  const [first, last] = [Number(get("in").value), Number(get("out").value)];
  sheet.close();
  send(
    () => ({
      do: "insert-clips",
      media: [media],
      at: model.state.length ? gridTicks(model.time) : null,
      into: ticks(first),
      length: ticks(last - first),
    }),
    toAdded,
  );
});
