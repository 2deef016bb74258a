// @ts-check
/** The whole promo in a strip: what lies where, what is in sight, where the playhead is. Drag it to go elsewhere. */

import { model, on } from "./model.js";
import { perSecond, room, scroll } from "./timeline.js";

const strip = /** @type {HTMLCanvasElement} */ (document.getElementById("overview"));
const COLOURS = /** @type {Record<string, string>} */ ({
  footage: "#2F6F87",
  photo: "#C9A24B",
  filler: "#CFC4B2",
  collage: "#5B5784",
  words: "#7A4B7D",
  picture: "#B4654A",
  sound: "#4F7A57",
});
/** What lies where, painted once for a state. */
const ground = document.createElement("canvas");

const reach = () => Math.max(model.state.length, (scroll.scrollLeft + room()) / perSecond());

function paintGround() {
  const ratio = window.devicePixelRatio || 1;
  ground.width = strip.clientWidth * ratio;
  ground.height = strip.clientHeight * ratio;
  const paper = /** @type {CanvasRenderingContext2D} */ (ground.getContext("2d"));
  paper.scale(ratio, ratio);
  const scale = strip.clientWidth / Math.max(0.1, reach());
  for (const [rows, top, high] of /** @type {[import("./model.js").Row[], number, number][]} */ ([
    [model.state.tracks.filter((track) => track.kind === "layer").flatMap((track) => track.rows), 1, 3],
    [model.state.main, 5, 5],
    [model.state.tracks.filter((track) => track.kind === "sound").flatMap((track) => track.rows), 11, 2],
  ]))
    for (const row of rows) {
      paper.fillStyle = COLOURS[row.kind] ?? "#999";
      paper.fillRect(row.start * scale, top, Math.max(1, row.length * scale - 0.5), high);
    }
}

let due = 0;
function paint() {
  due = 0;
  if (!strip.clientWidth) return;
  const ratio = window.devicePixelRatio || 1;
  strip.width = strip.clientWidth * ratio;
  strip.height = strip.clientHeight * ratio;
  const paper = /** @type {CanvasRenderingContext2D} */ (strip.getContext("2d"));
  paper.drawImage(ground, 0, 0, strip.width, strip.height);
  paper.scale(ratio, ratio);
  const scale = strip.clientWidth / Math.max(0.1, reach());
  const left = (scroll.scrollLeft / perSecond()) * scale;
  const width = (room() / perSecond()) * scale;
  paper.fillStyle = "rgb(35 32 28 / .28)";
  paper.fillRect(0, 0, left, 14);
  paper.fillRect(left + width, 0, strip.clientWidth, 14);
  paper.strokeStyle = "#23201C";
  paper.strokeRect(left + 0.5, 0.5, Math.min(width, strip.clientWidth - left) - 1, 13);
  paper.fillStyle = "#C8430B";
  paper.fillRect(model.time * scale - 0.75, 0, 1.5, 14);
}
const soon = () => {
  due ||= requestAnimationFrame(paint);
};

strip.addEventListener("pointerdown", (event) => {
  strip.setPointerCapture(event.pointerId);
  const go = (/** @type {PointerEvent} */ pointer) => {
    const share = (pointer.clientX - strip.getBoundingClientRect().left) / strip.clientWidth;
    scroll.scrollLeft = share * reach() * perSecond() - room() / 2;
  };
  const end = () => {
    strip.removeEventListener("pointermove", go);
    strip.removeEventListener("pointerup", end);
  };
  strip.addEventListener("pointermove", go);
  strip.addEventListener("pointerup", end);
  go(event);
});
scroll.addEventListener("scroll", soon, { passive: true });
on("laid", () => {
  paintGround();
  soon();
});
on("moved", soon);
new ResizeObserver(() => {
  paintGround();
  soon();
}).observe(strip);
