// @ts-check
/** The library of music and effects: found, heard with a moving wave, added, dropped on what it is to replace. */

import { headers, note } from "../page.js";
import { send } from "./commands.js";
import { soundTime } from "./laying.js";
import { gridTicks, model, tell } from "./model.js";
import { timeAt } from "./timeline.js";

const face = /** @type {HTMLElement} */ (document.getElementById("bench-music"));
const form = /** @type {HTMLFormElement} */ (document.getElementById("music-filter"));
const player = new Audio();
player.preload = "none";
/** The piece that is heard. */
let heard = "";
/** What others are to be like. */
let like = { piece: "", turn: "" };
let asked = 0;

async function fetchList() {
  const mine = ++asked;
  const query = new URLSearchParams({ promo: model.url.split("/").pop() ?? "" });
  for (const [name, value] of new FormData(form)) if (value) query.set(name, String(value));
  if (like.piece) {
    query.set("like", like.piece);
    query.set("turn", like.turn);
  }
  const answer = await fetch(`/library?${query}`, { headers });
  if (mine !== asked || !answer.ok) return;
  const list = document.getElementById("library-list");
  list?.insertAdjacentHTML("afterend", await answer.text());
  list?.remove();
  for (const row of pieces()) paint(row);
}

const pieces = () => /** @type {HTMLElement[]} */ ([...face.querySelectorAll(".piece[data-piece]")]);
const pieceOf = (/** @type {EventTarget|null} */ target) =>
  /** @type {HTMLElement|null} */ (/** @type {Element} */ (target).closest(".piece"));

/** Paints the wave of a piece, what was heard of it in another colour. @param {HTMLElement} row */
function paint(row) {
  const canvas = /** @type {HTMLCanvasElement} */ (row.querySelector("canvas"));
  const paper = /** @type {CanvasRenderingContext2D} */ (canvas.getContext("2d"));
  /** @type {number[]} */
  const peaks = JSON.parse(row.dataset.peaks ?? "[]");
  const done = row.dataset.piece === heard ? player.currentTime / Number(row.dataset.length) : 0;
  paper.clearRect(0, 0, canvas.width, canvas.height);
  const wide = canvas.width / peaks.length;
  peaks.forEach((peak, n) => {
    const high = Math.max(1, Math.pow(peak / 255, 0.7) * canvas.height);
    paper.fillStyle = n / peaks.length < done ? "#C8430B" : "#86AE85";
    paper.fillRect(n * wide, (canvas.height - high) / 2, wide - 0.6, high);
  });
  canvas.setAttribute("aria-valuenow", String(Math.round(done * Number(row.dataset.length))));
}

/** @param {HTMLElement} row @param {number} [from] seconds */
function hear(row, from) {
  const piece = row.dataset.piece ?? "";
  if (heard !== piece) {
    player.src = `/library/${piece}.ogg`;
    heard = piece;
  } else if (from === undefined && !player.paused) {
    player.pause();
    return;
  }
  if (from !== undefined) player.currentTime = from;
  player.play().catch(() => note("The piece cannot be heard just now.", { refusal: true }));
}

function tellPlaying() {
  for (const row of pieces()) {
    const plays = row.dataset.piece === heard && !player.paused;
    row.classList.toggle("is-heard", plays);
    row.querySelector(".piece-play i")?.setAttribute("class", plays ? "bi bi-pause-fill" : "bi bi-play-fill");
    if (row.dataset.piece === heard || row.dataset.painted) paint(row);
    row.dataset.painted = row.dataset.piece === heard ? "1" : "";
  }
}
for (const event of ["play", "pause", "ended", "timeupdate", "seeked"])
  player.addEventListener(event, tellPlaying);

/** Puts a piece on the Shelf and answers with its file. @param {string} piece @returns {Promise<string>} */
async function taken(piece) {
  const answer = await fetch(`/library/${piece}/take`, { method: "POST", headers });
  if (!answer.ok) {
    note("The piece cannot be had just now.", { refusal: true });
    return "";
  }
  tell("shelved");
  return (await answer.json()).media;
}

/** @param {string} piece @param {object} where fields of the command besides the file */
async function addPiece(piece, where) {
  const media = await taken(piece);
  if (media) await send({ do: "add-sound", media, at: soundTime(), ...where });
}

/** Puts a piece in the place of a sound, with its settings. @param {string} piece @param {string} item */
export async function replaceWith(piece, item) {
  const media = await taken(piece);
  if (media) await send({ do: "replace", item, media, shorter: "close" });
}

face.addEventListener("click", async (event) => {
  const target = /** @type {Element} */ (event.target);
  const row = pieceOf(target);
  if (target.closest("[data-library-all]")) {
    like = { piece: "", turn: "" };
    fetchList();
  }
  if (!row) return;
  if (target.closest("[data-add-own]")) send({ do: "add-sound", media: row.dataset.own, at: soundTime() });
  const piece = row.dataset.piece ?? "";
  if (!piece) return;
  if (target.closest("[data-hear]")) hear(row);
  if (target.closest("[data-add-piece]")) {
    player.pause();
    addPiece(piece, {});
  }
  const alike = /** @type {HTMLElement|null} */ (target.closest("[data-like]"));
  if (alike) {
    like = { piece, turn: alike.dataset.like ?? "" };
    fetchList();
  }
  if (target.closest("[data-mark]")) {
    await fetch(`/library/${piece}/mark`, { method: "POST", headers });
    fetchList();
  }
  const wave = target.closest("canvas");
  if (!wave) return;
  const box = wave.getBoundingClientRect();
  const share = (event.clientX - box.left) / box.width;
  hear(row, share * Number(row.dataset.length));
});
face.addEventListener("keydown", (event) => {
  const row = pieceOf(event.target);
  const way = { ArrowRight: 5, ArrowLeft: -5 }[event.key];
  if (!row || !(/** @type {Element} */ (event.target).matches("canvas"))) return;
  if (way) hear(row, Math.max(0, (heard === row.dataset.piece ? player.currentTime : 0) + way));
  else if (event.key === "Enter" || event.key === " ") hear(row);
  else return;
  event.preventDefault();
  event.stopPropagation();
});
face.addEventListener("dragstart", (event) => {
  const row = pieceOf(event.target);
  if (!row || !event.dataTransfer) return;
  event.dataTransfer.setData("text/x-piece", row.dataset.piece ?? "");
  event.dataTransfer.effectAllowed = "copy";
});
const timeline = /** @type {HTMLElement} */ (document.getElementById("tl-scroll"));
/** @param {DragEvent} event */
function over(event) {
  if (!event.dataTransfer?.types.includes("text/x-piece")) return;
  event.preventDefault();
  event.stopPropagation();
  const box = /** @type {Element} */ (event.target).closest(".item.is-sound");
  for (const other of document.querySelectorAll(".item.is-replaced"))
    if (other !== box) other.classList.remove("is-replaced");
  box?.classList.add("is-replaced");
}
timeline.addEventListener("dragenter", over, true);
timeline.addEventListener("dragover", over, true);
timeline.addEventListener(
  "drop",
  (event) => {
    const piece = event.dataTransfer?.getData("text/x-piece");
    if (!piece) return;
    event.preventDefault();
    event.stopPropagation();
    const box = /** @type {HTMLElement|null} */ (
      /** @type {Element} */ (event.target).closest(".item.is-sound")
    );
    box?.classList.remove("is-replaced");
    player.pause();
    if (box) replaceWith(piece, box.dataset.id ?? "");
    else addPiece(piece, { at: gridTicks(Math.max(0, timeAt(event.clientX))) });
  },
  true,
);

form.addEventListener("input", fetchList);
form.addEventListener("submit", (event) => event.preventDefault());
new MutationObserver(() => {
  if (face.hidden) player.pause();
  else if (!pieces().length) fetchList();
}).observe(face, { attributes: true, attributeFilter: ["hidden"] });
if (!face.hidden) fetchList();
