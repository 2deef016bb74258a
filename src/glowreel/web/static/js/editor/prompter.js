// @ts-check
/** The teleprompter beside the camera: text or points that run while one speaks, in one's own size and colours. */

const get = (/** @type {string} */ id) => /** @type {any} */ (document.getElementById(`studio-${id}`));
const board = /** @type {HTMLElement} */ (get("prompt"));
const KEPT = ["speed", "size", "ground", "points", "mirror", "follows"];
/** A voice is louder than this, of the loudest there is. */
const SPEAKS = 0.02;
/** One goes on for so many milliseconds after the last sound: words have gaps. */
const GAP = 700;

let runs = false;
let scrolled = 0;
let last = 0;
let heard = -Infinity;
/** @type {AnalyserNode|null} */
let ear = null;
/** @type {AudioContext|null} */
let context = null;

/** Listens to a microphone, to wait while nobody speaks. @param {MediaStream|null} stream */
export function listen(stream) {
  context?.close();
  [context, ear] = [null, null];
  if (!stream?.getAudioTracks().length) return;
  context = new AudioContext();
  ear = context.createAnalyser();
  ear.fftSize = 1024;
  context.createMediaStreamSource(stream).connect(ear);
}

function speaks() {
  if (!ear) return true;
  const samples = new Float32Array(ear.fftSize);
  ear.getFloatTimeDomainData(samples);
  const loud = Math.sqrt(samples.reduce((sum, one) => sum + one * one, 0) / samples.length);
  if (loud > SPEAKS) heard = performance.now();
  return performance.now() - heard < GAP;
}

/** Shows it as it is wanted. */
export function dress() {
  const text = get("text").value;
  const points = get("points").value === "points";
  board.hidden = !text.trim();
  board.className = `studio-prompt ${get("ground").value}`;
  board.classList.toggle("is-mirrored", get("mirror").checked);
  board.style.fontSize = `${get("size").value}px`;
  const lines = text.split("\n").filter((/** @type {string} */ line) => line.trim());
  board.replaceChildren(
    ...(points ? lines : [text]).map((/** @type {string} */ line) => {
      const part = document.createElement(points ? "li" : "span");
      part.textContent = line;
      return part;
    }),
  );
  localStorage.setItem("prompt", text);
  const kept = Object.fromEntries(
    KEPT.map((id) => [id, get(id).type === "checkbox" ? get(id).checked : get(id).value]),
  );
  localStorage.setItem("prompter", JSON.stringify(kept));
}

/** As it was left. */
export function recall() {
  get("text").value = localStorage.getItem("prompt") ?? "";
  for (const [id, value] of Object.entries(JSON.parse(localStorage.getItem("prompter") ?? "{}")))
    if (KEPT.includes(id)) get(id)[get(id).type === "checkbox" ? "checked" : "value"] = value;
  dress();
}

/** @param {number} at */
function step(at) {
  if (!runs) return;
  if (!get("follows").checked || speaks())
    scrolled += ((at - last) / 1000) * Number(get("speed").value) * 0.5;
  last = at;
  board.scrollTop = scrolled;
  requestAnimationFrame(step);
}

/** Lets it run or stand. @param {boolean} on @param {boolean} [anew] from its beginning */
export function run(on, anew) {
  if (anew) scrolled = 0;
  if (on === runs) return;
  runs = on;
  last = performance.now();
  heard = last;
  if (on) requestAnimationFrame(step);
}
export const running = () => runs;

for (const id of ["text", ...KEPT]) get(id).addEventListener("input", dress);
