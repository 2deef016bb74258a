// @ts-check
/** The Details face: fields become commands. What a field means is written on it by the server. */

import { note } from "../page.js";
import { send } from "./commands.js";
import { drawCurve } from "./curve.js";
import { base, gridTicks, known, model, on, ticks, typed } from "./model.js";
import { replaceFrom } from "./replace.js";
import { showFace } from "./shelf.js";
import { place, scope } from "./stage.js";

const bench = /** @type {HTMLElement} */ (document.getElementById("bench-details"));
const subject = () => bench.querySelector("[data-for]")?.getAttribute("data-for") ?? "";

/** @param {HTMLInputElement|HTMLSelectElement} field */
function valueOf(field) {
  const type = field.dataset.type;
  if (type === "flag") return /** @type {HTMLInputElement} */ (field).checked;
  if (type === "number") return Number(field.value);
  if (type === "ticks") {
    const value = typed(field.value);
    return Number.isFinite(value) ? ticks(value) : null;
  }
  return field.type === "color" ? field.value.toUpperCase() : field.value;
}

/** @param {HTMLInputElement} field */
function setTime(field) {
  const value = typed(field.value);
  if (!Number.isFinite(value)) {
    note("Type a time like 1.5, 90f or 0:03.5.", { refusal: true });
    return fetchDetails();
  }
  const exact = known.get(subject())?.lane === "sound" ? ticks(value) : gridTicks(value);
  if (field.dataset.time === "length") return send({ do: "trim", item: subject(), edge: "end", length: Math.max(1, exact) });
  return send({ do: "move-item", item: subject(), at: exact });
}

function framing() {
  const read = (/** @type {string} */ name) => /** @type {HTMLInputElement} */ (bench.querySelector(`[data-framing="${name}"]`));
  const fit = bench.querySelector('[data-framing="fit"][aria-pressed="true"]')?.getAttribute("data-value") ?? "fill";
  const only = /** @type {HTMLInputElement} */ (bench.querySelector("#framing-only")).checked;
  const values = { fit, focus: [Number(read("x").value), Number(read("y").value)], zoom: Number(read("zoom").value) };
  send({ do: "frame-clip", clip: subject(), framing: values, only: only ? model.format : null });
}

/** @param {HTMLSelectElement} field */
function transition(field) {
  const after = field.dataset.transition;
  if (!field.value) return send({ do: "remove-transition", after });
  const old = model.state.cuts.find((cut) => cut.after === after);
  return send({ do: "set-transition", after, kind: field.value, ...(old ? { length: ticks(old.length) } : {}) });
}

bench.addEventListener("change", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  if (field.dataset.do) {
    const value = valueOf(field);
    if (value === null) { note("Type a time like 1.5 or 90f.", { refusal: true }); fetchDetails(); return; }
    send({ do: field.dataset.do, [field.dataset.key ?? "item"]: subject(), [field.dataset.field ?? ""]: value });
  } else if (field.dataset.time) setTime(field);
  else if (field.dataset.framing) framing();
  else if (field.dataset.speed) speed(field);
  else if (field.dataset.noteAt) {
    const value = typed(field.value);
    if (Number.isFinite(value)) send({ do: "set-note", note: field.dataset.noteAt, at: gridTicks(value) });
  }
  else if (field.dataset.transition) transition(/** @type {any} */ (field));
  else if (field.dataset.transitionLength) {
    const value = typed(field.value);
    const kind = /** @type {HTMLSelectElement} */ (bench.querySelector("[data-transition]")).value;
    if (value > 0) send({ do: "set-transition", after: field.dataset.transitionLength, kind, length: ticks(value) });
  } else if (field.dataset.place) {
    const box = model.state.boxes[model.format]?.[subject()];
    if (!box) return;
    const scale = Number(field.value) / box.size;
    place(subject(), { x: box.x + (box.w * (1 - scale)) / 2, y: box.y + (box.h * (1 - scale)) / 2, w: box.w * scale, h: box.h * scale }, { size: Number(field.value) });
  }
});
bench.addEventListener("input", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  if (field.type === "range") {
    const out = field.parentElement?.querySelector("output");
    if (out) out.textContent = field.max === "12" ? `${Number(field.value) >= 0 ? "+" : ""}${field.value} dB` : field.dataset.framing ? `${field.value}×` : `${Math.round(Number(field.value) * 100)} %`;
  }
  if (field.dataset.speed === "slide") {
    const out = /** @type {HTMLInputElement|null} */ (document.getElementById("s-rate"));
    if (out) out.value = (10 ** Number(field.value)).toFixed(2);
  }
  if (field.dataset.words) words(field);
  if (field.dataset.noteText) {
    clearTimeout(typing);
    typing = setTimeout(() => send({ do: "set-note", note: field.dataset.noteText, text: field.value }), 350);
  }
});

/** @param {HTMLInputElement} field */
function speed(field) {
  const item = subject();
  if (field.dataset.speed === "preset") { if (field.value) send({ do: "set-curve", item, preset: field.value }); return; }
  if (field.dataset.speed === "pitch") { send({ do: "set-speed", item, pitch: field.checked ? "kept" : "follows" }); return; }
  const rate = field.dataset.speed === "slide" ? 10 ** Number(field.value) : Number(field.value.replace(",", ".").replace("×", ""));
  if (!(rate >= 0.1 && rate <= 16)) { note("Speed goes from 0.1× to 16×.", { refusal: true }); fetchDetails(); return; }
  send({ do: "set-speed", item, speed: Math.round(rate * 1000) });
}

let typing = 0;
/** Words are kept when typing pauses. @param {HTMLInputElement} field */
function words(field) {
  clearTimeout(typing);
  const item = field.dataset.words;
  typing = setTimeout(() => send({ do: "set-words", item, text: field.value }), 350);
}

bench.addEventListener("click", (event) => {
  const target = /** @type {Element} */ (event.target);
  const press = /** @type {HTMLElement|null} */ (target.closest("[data-press]"));
  if (press) {
    /** @type {Record<string, unknown>} */
    const command = { do: press.dataset.press, [press.dataset.key ?? "item"]: subject() };
    if (press.dataset.field) command[press.dataset.field] = press.dataset.value;
    send(command);
  }
  const fit = /** @type {HTMLElement|null} */ (target.closest('button[data-framing="fit"]'));
  if (fit) {
    for (const other of bench.querySelectorAll('button[data-framing="fit"]')) other.setAttribute("aria-pressed", String(other === fit));
    framing();
  }
  const nine = /** @type {HTMLElement|null} */ (target.closest("[data-nine]"));
  if (nine) putAt(nine.dataset.nine ?? "0.5,0.5");
  const replace = /** @type {HTMLElement|null} */ (target.closest("[data-replace]"));
  if (replace) replaceFrom(replace.dataset.replace ?? "");
  const many = /** @type {HTMLElement|null} */ (target.closest("[data-many]"));
  if (many) {
    const items = [...model.selected];
    const what = many.dataset.many;
    send(what === "apart" ? { do: "group", items, apart: true } : { do: what, items });
  }
  const remove = /** @type {HTMLElement|null} */ (target.closest("[data-remove]"));
  if (remove) send({ do: "remove", items: [remove.dataset.remove] });
  if (target.closest("#for-all, #for-one")) { scope.only = target.closest("#for-one") !== null; scopes(); }
});

/** Puts the item into one of nine places, as far from the edges as the safe area says. @param {string} where */
function putAt(where) {
  const [fx, fy] = where.split(",").map(Number);
  const shape = model.state.formats.find((f) => f.id === model.format);
  const box = model.state.boxes[model.format]?.[subject()];
  if (!shape || !box) return;
  const short = Math.min(shape.wide, shape.high);
  const [width, height] = [shape.wide / short, shape.high / short];
  const [left, top, right, bottom] = shape.safe;
  const x = left * width + fx * ((1 - left - right) * width - box.w);
  const y = top * height + fy * ((1 - top - bottom) * height - box.h);
  place(subject(), { x, y, w: box.w, h: box.h });
}

function scopes() {
  bench.querySelector("#for-all")?.setAttribute("aria-pressed", String(!scope.only));
  bench.querySelector("#for-one")?.setAttribute("aria-pressed", String(scope.only));
}

/** Asks the server for the details of what is selected. */
async function fetchDetails() {
  const url = `${base}/details?selected=${[...model.selected].join(",")}&format=${model.format}`;
  const response = await fetch(url, { headers: { "X-Glow": "1" } });
  if (response.ok) { bench.innerHTML = await response.text(); scopes(); drawCurve(); }
}

on("selected", () => { scope.only = false; fetchDetails(); if (model.selected.size) showFace("details"); });
on("format", fetchDetails);
on("changed", () => { scopes(); drawCurve(); });
