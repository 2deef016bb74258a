// @ts-check
/** The mixer: a strip for each track with its meter, everything of a kind, the whole with its loudness. */

import { headers } from "../page.js";
import { send } from "./commands.js";
import { model, on, remember, remembered, seconds, tell } from "./model.js";
import { paintSpectrum } from "./bands.js";
import { hearPlain } from "./player.js";

const sheet = /** @type {HTMLElement} */ (document.getElementById("mixer-sheet"));
const list = /** @type {HTMLElement} */ (document.getElementById("mixer-list"));
const button = /** @type {HTMLElement} */ (document.getElementById("open-mixer"));
const [LOWEST, TOP] = [-60, 6];
const HELD = 1.2;

/**
 * @typedef {{step: number, strips: Record<string, number[]>, momentary: number[], short: number[],
 *   loudness: number|null, range: number|null, peak: number|null, before: number|null, louder: number,
 *   wanted: number|null, waits: boolean, kinds: string[], long?: boolean}} Measured
 * @type {Measured|null}
 */
let measured = null;
let measuring = 0;
let due = 0;

const isOpen = () => !sheet.hidden;
const figure = (/** @type {number|null|undefined} */ value, /** @type {string} */ unit) =>
  value === null || value === undefined || value <= -99
    ? "–"
    : `${value.toFixed(1).replace("-", "−")} ${unit}`;

async function fetchStrips() {
  const focus = document.activeElement?.getAttribute("aria-label");
  const answer = await fetch(`${model.url}/mixer`, { headers });
  if (!answer.ok || !isOpen()) return;
  list.innerHTML = await answer.text();
  tellFigures();
  paintMeters();
  // Whoever has a fader in hand keeps it.
  if (focus)
    /** @type {HTMLElement|null} */ (list.querySelector(`[aria-label="${CSS.escape(focus)}"]`))?.focus();
}

/** Measures once edits have paused; while the mixer is shut, not where it is known that no loudness is wanted. */
function measureSoon(wait = 900) {
  clearTimeout(due);
  if (!isOpen() && measured?.wanted === null) {
    measured = null;
    return;
  }
  due = setTimeout(measure, wait);
}

async function measure() {
  const mine = ++measuring;
  document.getElementById("mix-said")?.replaceChildren("Measuring …");
  const answer = await fetch(`${model.url}/meters`).catch(() => null);
  if (mine !== measuring || !answer?.ok) return;
  measured = await answer.json();
  tellFigures();
  paintMeters();
  tell("measured");
  if (measured?.waits) measureSoon(2000);
}

/** Figures of the whole, in words. */
function tellFigures() {
  if (!measured) return;
  const put = (/** @type {string} */ id, /** @type {string} */ text) =>
    document.getElementById(id)?.replaceChildren(text);
  put("mix-loudness-told", figure(measured.loudness, "LUFS"));
  put("mix-range", figure(measured.range, "LU"));
  put("mix-peak", figure(measured.peak, "dBTP"));
  put("mix-before", figure(measured.before, "LUFS"));
  const { wanted, louder, loudness, waits } = measured;
  const way = `${Math.abs(louder).toFixed(1)} dB ${louder < 0 ? "quieter" : "louder"}`;
  const said = measured.long
    ? "So long a promo is measured when it is exported."
    : loudness === null
      ? "Nothing is heard."
      : wanted === null
        ? "Left as it is mixed."
        : Math.abs(loudness - wanted) < 0.3
          ? `Made ${way}: at ${String(wanted).replace("-", "−")} LUFS.`
          : `Made ${way}; it cannot come nearer without harm.`;
  const now = figure(loudness, "LUFS");
  const before = figure(measured.before, "LUFS");
  put(
    "export-loudness",
    wanted === null
      ? `The sound is exported as it is mixed: ${now}, true peak ${figure(measured.peak, "dBTP")}.`
      : `The sound is brought from ${before} to ${now}, true peak ${figure(measured.peak, "dBTP")}.`,
  );
  for (const link of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("[data-kind-alone]")))
    link.hidden = !measured.kinds.includes(link.dataset.kindAlone ?? "");
  put("mix-said", waits ? "Something of it is still being made." : said);
}

/* ---- meters ---- */

/** The highest peak that was painted of late, by strip. @type {Map<string, {value: number, until: number}>} */
const tops = new Map();

/** The peak of a strip at a time, dB. @param {string} id @param {number} at @returns {number} */
function peakAt(id, at) {
  if (!measured) return -99;
  if (id === "whole") return Math.max(...Object.keys(measured.strips).map((other) => peakAt(other, at)), -99);
  return measured.strips[id]?.[Math.floor(at / measured.step)] ?? -99;
}

/** @param {HTMLCanvasElement} canvas @param {number} level @param {number} top @param {number[]} marks */
function paintMeter(canvas, level, top, marks) {
  const paper = /** @type {CanvasRenderingContext2D} */ (canvas.getContext("2d"));
  const { width, height } = canvas;
  const at = (/** @type {number} */ value) => height * (1 - (value - LOWEST) / (TOP - LOWEST));
  paper.fillStyle = "#E4DCCB";
  paper.fillRect(0, 0, width, height);
  // In steps, like lamps: the colour says how near to too loud.
  for (let value = LOWEST; value < Math.min(level, TOP); value += 2) {
    paper.fillStyle = value < -18 ? "#5E8A66" : value < -6 ? "#8FA34B" : value < -1 ? "#F0A63C" : "#C8430B";
    paper.fillRect(2, at(value + 2) + 1, width - 4, at(value) - at(value + 2) - 1.2);
  }
  paper.fillStyle = "#2C2A4A";
  if (top > LOWEST) paper.fillRect(1, at(top), width - 2, 2);
  paper.fillStyle = "#2F6F87";
  for (const mark of marks) paper.fillRect(0, at(mark), width, 1);
}

function paintMeters() {
  if (!isOpen()) return;
  const at = seconds(model.frame);
  const now = performance.now() / 1000;
  for (const canvas of /** @type {NodeListOf<HTMLCanvasElement>} */ (list.querySelectorAll("[data-meter]"))) {
    const id = canvas.dataset.meter ?? "";
    if (id.startsWith("bus-")) continue;
    const momentary = measured?.momentary[Math.floor(at * 10)] ?? -99;
    const level = id === "whole" ? momentary : peakAt(id, at);
    const held = tops.get(id);
    if (!held || level >= held.value || now > held.until) tops.set(id, { value: level, until: now + HELD });
    const marks = id === "whole" && measured?.wanted ? [measured.wanted] : [0, -12];
    paintMeter(canvas, level, tops.get(id)?.value ?? -99, marks);
  }
  const put = (/** @type {string} */ name, /** @type {number[]|undefined} */ line) =>
    document
      .getElementById(`mix-${name}`)
      ?.replaceChildren(figure(line?.[Math.floor(at * 10)] ?? null, "LUFS"));
  put("momentary", measured?.momentary);
  put("short", measured?.short);
}

/* ---- hands ---- */

/** @param {boolean} open */
function show(open) {
  sheet.hidden = !open;
  button.setAttribute("aria-pressed", String(open));
  remember({ mixer: open });
  if (!open) return;
  fetchStrips();
  if (!measured) measureSoon(0);
}
export const toggleMixer = () => show(sheet.hidden);
button.addEventListener("click", toggleMixer);
document.getElementById("close-mixer")?.addEventListener("click", () => show(false));
sheet.addEventListener("keydown", (event) => {
  if (event.key === "Escape") show(false);
});

/** @param {HTMLElement} field @param {number} value */
function sendGain(field, value) {
  const command = JSON.parse(field.dataset.mix ?? "{}");
  send({ ...command, [field.dataset.param ?? "gain"]: Math.min(12, Math.max(-60, value)) });
}
list.addEventListener("input", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  const value = field.closest(".strip")?.querySelector("input.strip-value");
  if (field.type === "range" && value)
    /** @type {HTMLInputElement} */ (value).value = Number(field.value).toFixed(1);
});
list.addEventListener("change", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  if (field.id === "mix-loudness") send({ do: "set-whole", loudness: JSON.parse(field.value) });
  else if (field.dataset.mix) {
    const value = Number(field.value.replace(",", ".").replace("−", "-"));
    if (Number.isFinite(value)) sendGain(field, value);
    else fetchStrips();
  }
});
list.addEventListener("click", (event) => {
  const press = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-mix-press]")
  );
  if (press) send(JSON.parse(press.dataset.mixPress ?? "{}"));
});
list.addEventListener("dblclick", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  if (field.classList.contains("strip-fader")) sendGain(field, 0);
});

/* ---- before ---- */

const typing = (/** @type {KeyboardEvent} */ event) =>
  /** @type {Element} */ (event.target).matches(
    "input:not([type=range]), textarea, select, [contenteditable]",
  );
document.addEventListener("keydown", (event) => {
  if (event.key === "o" && !event.repeat && !event.ctrlKey && !event.altKey && !typing(event))
    hearPlain(true);
});
for (const gone of ["keyup", "blur"])
  window.addEventListener(gone, (event) => {
    if (event.type === "blur" || /** @type {KeyboardEvent} */ (event).key === "o") hearPlain(false);
  });

on("changed", () => {
  if (isOpen()) fetchStrips();
  measureSoon();
});
on("moved", () => {
  paintMeters();
  if (model.playing) paintSpectrum();
});
if (remembered.mixer) show(true);
else measureSoon(1500);
