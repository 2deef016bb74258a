// @ts-check
/** The equaliser in Details: its curve, points that are dragged, and what is heard just now behind them. */

import { spectrum } from "../playing.js";
import { hush, sayAt } from "./drag.js";
import { add } from "./svg.js";

const [WIDE, HIGH] = [280, 130];
const [LOWEST, HIGHEST, MOST] = [20, 20000, 18];

/** @typedef {[number, number, number]} Band frequency in Hz, gain in dB, width in octaves */

const across = (/** @type {number} */ hz) => (Math.log(hz / LOWEST) / Math.log(HIGHEST / LOWEST)) * WIDE;
const down = (/** @type {number} */ gain) => HIGH / 2 - (gain / (MOST + 2)) * (HIGH / 2);
const hertz = (/** @type {number} */ x) => LOWEST * Math.pow(HIGHEST / LOWEST, x / WIDE);
const held = (/** @type {number} */ value, /** @type {number} */ low, /** @type {number} */ high) =>
  Math.min(high, Math.max(low, value));
const spoken = (/** @type {number} */ hz) =>
  hz < 1000 ? `${Math.round(hz)} Hz` : `${(hz / 1000).toFixed(1)} kHz`;

/** What is cut below and above, Hz, as the fields beside the curve have it; 0 cuts nothing. */
const cuts = () =>
  ["low", "high"].map((side) =>
    Number(/** @type {HTMLInputElement|null} */ (document.getElementById(`p-${side}_cut`))?.value ?? 0),
  );

/** By how many decibels bands and cuts change a tone, as the core has it. @param {Band[]} bands @param {number} hz */
function response(bands, hz) {
  const [low, high] = cuts();
  const cut = (/** @type {number} */ past) => 10 * Math.log10(1 + Math.pow(past, 8));
  const lost = (low ? cut(low / hz) : 0) + (high ? cut(hz / high) : 0);
  return bands.reduce(
    (sum, [at, gain, width]) => sum + gain * Math.pow(2, -Math.pow((Math.log2(hz / at) * 2) / width, 2)),
    -lost,
  );
}

/** @param {SVGSVGElement} svg @param {Band[]} bands */
function paint(svg, bands) {
  svg.replaceChildren();
  for (const hz of [100, 1000, 10000]) {
    add(svg, "line", { class: "curve-grid", x1: across(hz), x2: across(hz), y1: 0, y2: HIGH });
    const words = add(svg, "text", { class: "bands-tone", x: across(hz) + 2, y: HIGH - 3 });
    words.textContent = hz < 1000 ? `${hz}` : `${hz / 1000}k`;
  }
  for (const gain of [-12, 0, 12]) {
    add(svg, "line", { class: "curve-grid", x1: 0, x2: WIDE, y1: down(gain), y2: down(gain) });
    const words = add(svg, "text", { class: "bands-tone", x: 2, y: down(gain) - 2 });
    words.textContent = `${gain > 0 ? "+" : gain < 0 ? "−" : ""}${Math.abs(gain)} dB`;
  }
  let line = "";
  for (let x = 0; x <= WIDE; x += 2)
    line += `${x ? "L" : "M"}${x} ${held(down(response(bands, hertz(x))), 0, HIGH).toFixed(1)}`;
  add(svg, "path", { class: "bands-fill", d: `${line} L${WIDE} ${down(0)} L0 ${down(0)} Z` });
  add(svg, "path", { class: "curve-line", d: line });
  bands.forEach(([hz, gain, width], n) => {
    const dot = add(svg, "circle", {
      class: "curve-dot",
      cx: across(hz),
      cy: down(gain),
      r: 6,
      tabindex: 0,
      role: "slider",
      "data-band": n,
      "aria-valuenow": gain,
      "aria-valuemin": -MOST,
      "aria-valuemax": MOST,
    });
    dot.setAttribute("aria-label", `Band ${n + 1}: ${gain} dB at ${spoken(hz)}, ${width} octaves wide`);
  });
}

/**
 * Draws the equalisers that are in sight, and lets them be changed.
 * @param {HTMLElement} bench
 * @param {(part: Element, bands: Band[]) => void} changed is told the bands when something was let go
 */
export function drawBands(bench, changed) {
  for (const svg of /** @type {NodeListOf<SVGSVGElement>} */ (bench.querySelectorAll("svg.bands"))) {
    /** @type {Band[]} */
    const set = JSON.parse(svg.dataset.bands ?? "[]");
    /** @type {Band[]} */
    const bands = set.length ? set : JSON.parse(svg.dataset.flat ?? "[]");
    paint(svg, bands);
    svg.onpointerdown = (event) => press(event, svg, bands, changed);
    svg.onkeydown = (event) => byKey(event, svg, bands, changed);
    svg.ondblclick = (event) => {
      const n = /** @type {Element} */ (event.target).getAttribute("data-band");
      if (n === null) return;
      changed(
        svg,
        bands.map((band, other) => (other === Number(n) ? [band[0], 0, band[2]] : band)),
      );
    };
  }
  for (const button of /** @type {NodeListOf<HTMLElement>} */ (bench.querySelectorAll("[data-bands-set]")))
    button.onclick = () => changed(button, JSON.parse(button.dataset.bandsSet ?? "[]"));
}

/** @param {PointerEvent} event @param {SVGSVGElement} svg @param {Band[]} bands @param {(part: Element, bands: Band[]) => void} changed */
function press(event, svg, bands, changed) {
  const n = Number(/** @type {Element} */ (event.target).getAttribute("data-band") ?? -1);
  if (event.button || n < 0) return;
  event.preventDefault();
  const box = svg.getBoundingClientRect();
  const [first, begin] = [bands[n], event.clientY];
  let now = bands;
  svg.setPointerCapture(event.pointerId);
  const move = (/** @type {PointerEvent} */ pointer) => {
    const x = held(((pointer.clientX - box.left) / box.width) * WIDE, 0, WIDE);
    const y = ((pointer.clientY - box.top) / box.height) * HIGH;
    const gain = held(Math.round((((HIGH / 2 - y) / (HIGH / 2)) * (MOST + 2)) / 0.5) * 0.5, -MOST, MOST);
    /** @type {Band} */
    const made = pointer.shiftKey
      ? [first[0], first[1], held(Math.round((first[2] + (begin - pointer.clientY) / 30) * 10) / 10, 0.5, 5)]
      : [Math.round(hertz(x)), gain, first[2]];
    now = bands.map((band, other) => (other === n ? made : band));
    paint(svg, now);
    sayAt(
      pointer,
      pointer.shiftKey
        ? `${made[2].toFixed(1)} octaves wide`
        : `${made[1] > 0 ? "+" : ""}${made[1]} dB at ${spoken(made[0])}`,
    );
  };
  const end = (/** @type {PointerEvent} */ pointer) => {
    svg.removeEventListener("pointermove", move);
    hush();
    if (pointer.type === "pointerup" && now !== bands) changed(svg, now);
    else paint(svg, bands);
  };
  svg.addEventListener("pointermove", move);
  svg.addEventListener("pointerup", end, { once: true });
  svg.addEventListener("pointercancel", end, { once: true });
}

/** Arrows move the band in focus, Shift widens it. @param {KeyboardEvent} event @param {SVGSVGElement} svg @param {Band[]} bands @param {(part: Element, bands: Band[]) => void} changed */
function byKey(event, svg, bands, changed) {
  const n = Number(/** @type {Element} */ (event.target).getAttribute("data-band") ?? -1);
  const way = { ArrowUp: [0, 1], ArrowDown: [0, -1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[event.key];
  if (n < 0 || !way) return;
  event.preventDefault();
  event.stopPropagation();
  const [hz, gain, width] = bands[n];
  /** @type {Band} */
  const made = event.shiftKey
    ? [hz, gain, held(Math.round((width + way[1] * 0.1) * 10) / 10, 0.5, 5)]
    : [
        Math.round(held(hz * Math.pow(2, way[0] / 12), LOWEST, HIGHEST)),
        held(gain + way[1] * 0.5, -MOST, MOST),
        width,
      ];
  changed(
    svg,
    bands.map((band, other) => (other === n ? made : band)),
  );
}

/** Paints what is heard just now behind the curves that are open. */
export function paintSpectrum() {
  for (const canvas of /** @type {NodeListOf<HTMLCanvasElement>} */ (
    document.querySelectorAll(".bands-live")
  )) {
    if (!canvas.offsetParent) continue;
    const paper = /** @type {CanvasRenderingContext2D} */ (canvas.getContext("2d"));
    paper.clearRect(0, 0, WIDE, HIGH);
    const heard = spectrum();
    if (!heard) continue;
    paper.fillStyle = "#5E8A6655";
    for (let x = 0; x < WIDE; x += 3) {
      const [from, to] = [hertz(x), hertz(x + 3)].map((hz) => Math.floor(hz / heard.step));
      let loud = -120;
      for (let bin = from; bin <= to && bin < heard.levels.length; bin += 1)
        loud = Math.max(loud, heard.levels[bin]);
      const high = held(((loud + 100) / 80) * HIGH, 0, HIGH);
      paper.fillRect(x, HIGH - high, 2.4, high);
    }
  }
}
