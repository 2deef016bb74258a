// @ts-check
/** A screening: the film played from the engine, notes at moments of it, versions beside one another. */

import { follow } from "./connection.js";
import { showLines } from "./drawnlines.js";
import { headers, note, sentenceOf } from "./page.js";
import { isMuted, mute, Playing } from "./playing.js";

const root = /** @type {HTMLElement} */ (document.getElementById("screening"));
const url = root.dataset.url ?? "";
const told = JSON.parse(root.dataset.told ?? "{}");
const find = (/** @type {string} */ id) => /** @type {any} */ (document.getElementById(id));
const canvas = /** @type {HTMLCanvasElement} */ (find("picture"));
const paper = /** @type {CanvasRenderingContext2D} */ (canvas.getContext("2d", { alpha: false }));
const slider = /** @type {HTMLInputElement} */ (find("at"));
const SIZES = [180, 240, 360, 540, 720];

/** What is on show. `version` is 0 for the newest, whichever that is. */
const at = { frame: 0, format: told.formats[0], version: 0, rev: told.rev, short: 0, end: -1 };
/** @type {Playing|null} */
let playing = null;
/** What is drawn on the frame for the note being written: lines of points in shares of the frame.
 * @type {number[][][]} */
let strokes = [];
/** @type {{id: string, at: number, lasts: number, done: boolean, strokes: number[][][], format: string}[]} */
let marks = [];

const clock = (/** @type {number} */ frame) => {
  const seconds = frame / told.fps;
  return `${Math.floor(seconds / 60)}:${(seconds % 60).toFixed(1).padStart(4, "0")}`;
};
const rev = () => at.version || at.rev;
const address = (/** @type {number} */ revision) =>
  `${url}/frame.jpg?rev=${revision}&format=${at.format}&frame=${at.frame}&short=${wantedSize(720)}`;

/** The size of the picture that fills the screen, at most. @param {number} most */
function wantedSize(most) {
  const [wide, high] = told.shapes[at.format];
  const box = canvas.getBoundingClientRect();
  const short = (wide >= high ? box.height : box.width) * Math.min(window.devicePixelRatio || 1, 2);
  return SIZES.find((size) => size >= Math.min(short, most) * 0.9) ?? most;
}

function showPlace() {
  slider.value = String(at.frame);
  slider.setAttribute("aria-valuetext", clock(at.frame));
  find("clock").textContent = clock(at.frame);
  find("when").textContent = at.end > at.frame ? `${clock(at.frame)} – ${clock(at.end)}` : clock(at.frame);
  drawStrokes();
}

/** @param {ImageBitmap} picture */
function paint(picture) {
  if (canvas.width !== picture.width || canvas.height !== picture.height) {
    canvas.width = picture.width;
    canvas.height = picture.height;
  }
  paper.drawImage(picture, 0, 0);
}

let asking = false;
let wanted = "";
/** Shows the frame where the film stands; while one comes, only the newest wish is kept. */
async function showFrame() {
  showPlace();
  if (playing) return;
  const other = find("beside")?.value;
  if (other) find("other-screen").querySelector("img").src = address(other);
  wanted = address(rev());
  if (asking) return;
  asking = true;
  try {
    let shown = "";
    while (shown !== wanted && !playing) {
      shown = wanted;
      const answer = await fetch(shown);
      if (!answer.ok) throw new Error(sentenceOf(await answer.text()));
      paint(await createImageBitmap(await answer.blob()));
      canvas.dataset.shown = String(at.frame);
    }
  } catch (error) {
    note(/** @type {Error} */ (error).message || "The picture cannot be had just now.", { refusal: true });
  } finally {
    asking = false;
  }
}

/** @param {boolean} on */
function playShown(on) {
  for (const button of [find("play"), find("start")]) {
    button.setAttribute("aria-label", on ? "Stop" : "Play");
    button.querySelector("i").className = on ? "bi bi-pause-fill" : "bi bi-play-fill";
  }
  root.classList.toggle("is-playing", on);
}

function stop() {
  playing?.stop();
  playing = null;
  playShown(false);
}

function play() {
  if (at.frame >= told.frames - 1) at.frame = 0;
  at.short ||= Math.min(360, wantedSize(360));
  playShown(true);
  playing = new Playing({
    url,
    query: `rev=${rev()}`,
    format: at.format,
    fps: told.fps,
    first: at.frame,
    end: told.frames,
    short: at.short,
    paint: (picture, due) => {
      at.frame = due;
      paint(picture);
    },
    moved: (due) => {
      at.frame = due;
      showPlace();
    },
    over: () => {
      stop();
      at.frame = told.frames - 1;
      showFrame();
    },
    failed: () => {
      stop();
      note("The film cannot be had just now.", { refusal: true });
    },
    // A slow line gets smaller pictures, a fast one larger ones again.
    paced: (share) => {
      const place = SIZES.indexOf(at.short);
      if (share > 0.85 && place > 0) at.short = SIZES[place - 1];
      if (share < 0.3 && place >= 0 && at.short < wantedSize(540)) at.short = SIZES[place + 1];
      root.dataset.short = String(at.short);
      return at.short;
    },
  });
  playing.start();
}

const toggle = () => (playing ? (stop(), showFrame()) : play());
find("play").addEventListener("click", toggle);
find("start").addEventListener("click", toggle);
/** @param {number} frame */
function go(frame) {
  if (playing) stop();
  at.frame = Math.max(0, Math.min(told.frames - 1, Math.round(frame)));
  showFrame();
}
slider.addEventListener("input", () => go(Number(slider.value)));
find("mute").addEventListener("click", () => {
  mute(!isMuted());
  find("mute").setAttribute("aria-pressed", String(isMuted()));
  find("mute").querySelector("i").className = isMuted() ? "bi bi-volume-mute" : "bi bi-volume-up";
});
find("whole").addEventListener("click", () => {
  if (document.fullscreenElement) document.exitFullscreen();
  else find("screens").requestFullscreen?.();
});

/* ---- formats and versions ---- */

function shape() {
  const [wide, high] = told.shapes[at.format];
  for (const screen of document.querySelectorAll(".screening-screen")) {
    const { style } = /** @type {HTMLElement} */ (screen);
    style.aspectRatio = `${wide} / ${high}`;
    screen.classList.toggle("is-tall", high > wide);
  }
}
root.addEventListener("click", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const shaped = /** @type {HTMLElement|null} */ (target.closest("[data-shape]"));
  if (shaped) {
    at.format = shaped.dataset.shape ?? at.format;
    for (const one of root.querySelectorAll("[data-shape]"))
      one.setAttribute("aria-pressed", String(one === shaped));
    again();
  }
  const went = /** @type {HTMLElement|null} */ (target.closest("[data-go]"));
  if (went) go(Number(went.dataset.go) * told.fps);
});

/** What is on show begins anew: another format, or another version. */
async function again() {
  stop();
  const answer = await fetch(`${url}/state?rev=${at.version}`);
  if (answer.ok) {
    Object.assign(told, await answer.json());
    at.rev = told.rev;
  }
  if (!told.formats.includes(at.format)) at.format = told.formats[0];
  slider.max = String(Math.max(0, told.frames - 1));
  at.frame = Math.min(at.frame, told.frames - 1);
  at.short = 0;
  shape();
  showFrame();
  listed();
}
find("version")?.addEventListener("change", () => {
  at.version = Number(find("version").value);
  again();
});
find("beside")?.addEventListener("change", () => {
  const chosen = find("beside");
  const screen = find("other-screen");
  screen.hidden = !chosen.value;
  screen.querySelector("figcaption").textContent = chosen.selectedOptions[0].textContent;
  find("screens").classList.toggle("is-compared", Boolean(chosen.value));
  showFrame();
});

/* ---- notes ---- */

const listed = () => /** @type {any} */ (window).htmx.ajax("GET", `${url}/notes?rev=${at.version}`, "#notes");

document.body.addEventListener("htmx:afterSwap", (event) => {
  const target = /** @type {HTMLElement} */ (/** @type {CustomEvent} */ (event).detail.target);
  const list = /** @type {HTMLElement|null} */ (target?.querySelector("[data-marks]"));
  if (!list) return;
  marks = JSON.parse(list.dataset.marks ?? "[]");
  find("seen-revision").value = String(rev());
  named(find("who").value);
  find("marks").replaceChildren(
    ...marks.map((mark) => {
      const dot = document.createElement("span");
      dot.style.left = `${(100 * mark.at * told.fps) / Math.max(1, told.frames - 1)}%`;
      dot.classList.toggle("is-done", mark.done);
      return dot;
    }),
  );
  drawStrokes();
});

/** Whoever writes says once who they are. @param {string} name */
function named(name) {
  for (const field of /** @type {NodeListOf<HTMLInputElement>} */ (
    document.querySelectorAll('#notes input[name="who"]')
  ))
    field.value = name;
}
find("who").addEventListener("input", () => named(find("who").value));
document.body.addEventListener("htmx:beforeRequest", (event) => {
  const { elt } = /** @type {CustomEvent} */ (event).detail;
  if (!elt.closest("#notes") || elt.id === "notes" || find("who").value.trim()) return;
  event.preventDefault();
  askName();
});

function askName() {
  find("who").hidden = false;
  find("who").focus();
  note("Say who you are first.");
}

find("write").addEventListener("submit", async (/** @type {Event} */ event) => {
  event.preventDefault();
  const who = find("who").value.trim();
  if (!who) return askName();
  const perFrame = told.ticks / told.fps;
  const body = new URLSearchParams({
    who,
    text: find("note-text").value,
    at: String(Math.round(at.frame * perFrame)),
    lasts: String(Math.max(0, Math.round((at.end - at.frame) * perFrame))),
    format: at.format,
    revision: String(rev()),
    strokes: JSON.stringify(strokes),
  });
  const button = find("send-note");
  button.disabled = true;
  try {
    const answer = await fetch(`${url}/notes?rev=${at.version}`, { method: "POST", headers, body });
    if (!answer.ok) return note(sentenceOf(await answer.text()), { refusal: true });
    find("note-text").value = "";
    strokes = [];
    at.end = -1;
    find("until").setAttribute("aria-pressed", "false");
    drawing(false);
    find("who").hidden = true;
    listed();
    showPlace();
  } catch {
    note("The note could not be sent. It is still here: try again.", { refusal: true });
  } finally {
    button.disabled = false;
  }
});

find("note-text").addEventListener("focus", () => {
  if (playing) {
    stop();
    showFrame();
  }
});
let from = 0;
find("until").addEventListener("click", () => {
  const on = at.end < 0;
  if (on) {
    from = at.frame;
    at.end = at.frame;
    note("Go to where it ends; the note is for all between.");
  } else at.end = -1;
  find("until").setAttribute("aria-pressed", String(on));
  showPlace();
});
slider.addEventListener("change", () => {
  if (at.end < 0) return;
  const [first, last] = [from, at.frame].sort((one, other) => one - other);
  at.end = last;
  at.frame = first;
  showPlace();
});

/* ---- drawing on the frame ---- */

const sheet = /** @type {SVGSVGElement} */ (find("strokes"));

function drawStrokes() {
  const near = marks.filter(
    (mark) =>
      mark.format === at.format &&
      mark.strokes.length &&
      Math.abs(mark.at * told.fps - at.frame) < Math.max(1, mark.lasts * told.fps) + 0.5,
  );
  showLines(sheet, [...near.flatMap((mark) => mark.strokes), ...strokes]);
}

/** @param {boolean} on */
function drawing(on) {
  if (on && playing) {
    stop();
    showFrame();
  }
  find("draw").setAttribute("aria-pressed", String(on));
  root.classList.toggle("is-drawing", on);
  if (!on) return;
  strokes = [];
  drawStrokes();
}
find("draw").addEventListener("click", () => drawing(!root.classList.contains("is-drawing")));

/** @param {PointerEvent} event */
function point(event) {
  const box = sheet.getBoundingClientRect();
  return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
}
sheet.addEventListener("pointerdown", (event) => {
  if (!root.classList.contains("is-drawing") || strokes.length >= 30) return;
  sheet.setPointerCapture(event.pointerId);
  strokes.push([point(event)]);
});
sheet.addEventListener("pointermove", (event) => {
  const line = strokes.at(-1);
  if (!sheet.hasPointerCapture(event.pointerId) || !line || line.length >= 400) return;
  line.push(point(event));
  drawStrokes();
});

/* ---- keys, and word of changes ---- */

document.addEventListener("keydown", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  if (target.closest("input:not([type=range]), textarea, select, button, summary")) return;
  const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (event.key === " ") toggle();
  else if (step && target !== slider) go(at.frame + step * (event.shiftKey ? told.fps : 1));
  else return;
  event.preventDefault();
});
window.addEventListener("resize", () => showFrame());

let first = true;
follow(`${url}/events`, ({ rev: newest, notes }) => {
  if (notes) listed();
  else if (newest && newest !== at.rev) {
    at.rev = newest;
    if (!at.version && !playing) again();
  } else if (!first) listed();
  first = false;
});

slider.max = String(Math.max(0, told.frames - 1));
shape();
showFrame();
