// @ts-check
/**
 * Words edited where they stand: a double press on the stage puts a field there, in their own letters, with a caret and
 * a row of tools for the letters selected. The frame is drawn without them for as long.
 */

import { headers } from "../page.js";
import { endOf, known, model, moveTo, on } from "./model.js";
import { changed, manners, placeOf, read, runsOf, selectLetters } from "./letters.js";
import { leftOut, showFrame } from "./player.js";
import { boxOf, handles, overlay, scope, stageSize } from "./stage.js";
import { keepTyped, typed } from "./typing.js";

/** @typedef {import("./letters.js").Manner} Manner */

const fit = /** @type {HTMLElement} */ (document.getElementById("stage-fit"));
const tools = /** @type {HTMLElement} */ (document.getElementById("word-tools"));
const STEP = 1.15;

/** Families with their faces, told once. @type {Promise<Record<string, {rise: [number, number], faces: [number, boolean, string][]}>>|null} */
let families = null;
const allFamilies = () => (families ??= fetch("/fonts.json", { headers }).then((answer) => answer.json()));

/** What is being edited. @type {{id: string, field: HTMLElement, set: any, fonts: any}|null} */
let now = null;
/** The letters selected last in the field, which the tools change. @type {[number, number]} */
let chosen = [0, 0];

/** The name under which a face is known to the page, which fetches it. @param {any} fonts @param {string} family @param {number} weight @param {boolean} italic */
function faceOf(fonts, family, weight, italic) {
  const known = fonts[family] ?? fonts["Bricolage Grotesque"];
  const fitting = known.faces.filter((/** @type {any} */ face) => face[1] === italic);
  const [, , file] = (fitting.length ? fitting : known.faces).reduce(
    (/** @type {any} */ best, /** @type {any} */ face) =>
      Math.abs(face[0] - weight) < Math.abs(best[0] - weight) ? face : best,
  );
  const name = `words-${file.replaceAll("/", "-")}`;
  if (![...document.fonts].some((face) => face.family === name)) {
    // A file of the brand's own is told by its address.
    const face = new FontFace(name, `url(${file.startsWith("/") ? file : `/fonts/files/${file}.ttf`})`);
    document.fonts.add(face);
    face.load();
  }
  return name;
}

/** @param {any} set @param {string|undefined} value */
const hex = (set, value) =>
  set.colours.find((/** @type {string[]} */ role) => role[0] === value)?.[1] ?? value;

/** Gives a part of the field its manner. @param {HTMLElement} part @param {Manner} manner */
function dress(part, manner) {
  if (!now) return;
  const { set, fonts } = now;
  const family = set.fonts[manner.font ?? ""] ?? manner.font ?? set.font;
  part.style.fontFamily = `"${faceOf(fonts, family, manner.weight ?? set.weight, manner.italic ?? set.italic)}", "Noto Color Emoji", sans-serif`;
  if (manner.colour) part.style.color = hex(set, manner.colour);
  if (manner.size) part.style.fontSize = `${manner.size}em`;
  if (manner.mark) part.style.background = hex(set, manner.mark);
}

/** Writes a text into the field, each part in its manner. @param {string} text @param {Manner[]} letters */
function write(text, letters) {
  if (!now) return;
  const points = [...text];
  now.field.replaceChildren();
  let at = 0;
  while (at < points.length) {
    const key = JSON.stringify(letters[at] ?? {});
    let end = at + 1;
    while (end < points.length && JSON.stringify(letters[end] ?? {}) === key) end++;
    const part = document.createElement("span");
    part.textContent = points.slice(at, end).join("");
    if (key !== "{}") {
      part.dataset.manner = key;
      dress(part, letters[at]);
    }
    now.field.append(part);
    at = end;
  }
  // A line that is empty at the end needs something to stand on.
  if (text.endsWith("\n")) now.field.append(document.createElement("br"));
}

/** Puts the field where the words lie. */
function place() {
  if (!now) return;
  const { short } = stageSize();
  const { field, set, fonts } = now;
  const box = boxOf(now.id);
  const [x, y, w, h] = box && set.suits === "fixed" ? [box.x, box.y, box.w, box.h] : set.lies;
  const size = set.size * short;
  const [padX, padY] = set.box ? set.pad : [0, 0];
  const [above, below] = (fonts[set.font] ?? fonts["Bricolage Grotesque"]).rise;
  // Lines are set with the room shared as letters reach above and below; the page shares it evenly.
  const shift = set.line * (above / (above + below)) - (set.line / 2 + (above - below) / 2);
  const side = { left: x, centre: x + w / 2, right: x + w }[/** @type {"left"} */ (set.align)];
  const style = field.style;
  style.left = `${side * short}px`;
  style.top = `${(y + shift * set.size) * short}px`;
  style.minHeight = `${h * short}px`;
  style.maxWidth = `${set.wrap * short + 2}px`;
  style.fontSize = `${size}px`;
  style.lineHeight = String(set.line);
  style.letterSpacing = `${set.spacing}em`;
  style.padding = `${padY}em ${padX}em`;
  style.textAlign = set.align === "centre" ? "center" : set.align;
  style.textTransform =
    { upper: "uppercase", lower: "lowercase", title: "capitalize" }[/** @type {"upper"} */ (set.case)] ??
    "none";
  style.color = set.colour;
  style.caretColor = set.colour;
  style.background = set.box || "transparent";
  style.borderRadius = set.box ? `${set.round}em` : "0";
  style.webkitTextStroke = set.outline ? `${2 * set.outline}em ${set.outline_colour}` : "";
  style.textShadow = set.shadow ? `0 0.03em 0.12em rgb(0 0 0 / ${set.shadow})` : "";
  const across = { left: "0", centre: "-50%", right: "-100%" }[/** @type {"left"} */ (set.align)];
  style.transform = `translateX(${across}) rotate(${set.turn}deg)`;
  tools.style.left = `${Math.max(0, Math.min(x * short, stageSize().width - 340))}px`;
  const top = y * short - 44;
  tools.style.top = `${top > 2 ? top : Math.min(stageSize().height - 40, (y + h) * short + 10)}px`;
}

/** The command that keeps what is in the field. */
function keep() {
  if (!now) return;
  const { text, letters } = read(now.field);
  typed(`stage ${now.id}`, {
    do: "set",
    items: [now.id],
    values: { text, runs: runsOf(letters) },
    format: model.format,
    only: scope.only,
  });
}

/** Begins to edit words on the stage. @param {string} id @param {boolean} [all] whether all of them are selected */
export async function editWords(id, all = true) {
  const row = known.get(id)?.row;
  if (!row || row.kind !== "words" || model.playing) return false;
  closeWords();
  // What is edited must be seen.
  if (model.time < row.start || model.time >= endOf(row)) moveTo(Math.ceil(row.start * model.fps));
  const ask = new URLSearchParams({ item: id, format: model.format, frame: String(model.frame) });
  const [answer, shipped] = await Promise.all([
    fetch(`${model.url}/letters?${ask}`, { headers }),
    allFamilies(),
  ]);
  if (!answer.ok || !model.selected.has(id)) return false;
  const set = await answer.json();
  const fonts = { ...shipped, ...set.own };
  const field = document.createElement("div");
  field.className = "stage-words";
  field.contentEditable = "plaintext-only";
  field.spellcheck = false;
  field.setAttribute("role", "textbox");
  field.setAttribute("aria-multiline", "true");
  field.setAttribute("aria-label", "Words on the stage");
  now = { id, field, set, fonts };
  dress(field, {});
  write(set.text, manners(set.text, set.runs));
  for (const kind of ["pointerdown", "dblclick", "wheel", "contextmenu"])
    field.addEventListener(kind, (event) => event.stopPropagation());
  fit.append(field);
  overlay.draw = () => {};
  handles();
  place();
  leftOut.id = id;
  showFrame();
  fillTools();
  tools.hidden = false;
  field.focus({ preventScroll: true });
  selectLetters(field, all ? 0 : [...set.text].length, [...set.text].length);
  return true;
}

/** Ends editing; what was typed is kept. */
function closeWords() {
  if (!now) return;
  const { field } = now;
  keepTyped();
  now = null;
  field.remove();
  tools.hidden = true;
  overlay.draw = null;
  leftOut.id = "";
  handles();
  showFrame();
}

/* ---- the tools over the letters selected ---- */

/** The weights, and the colours of the brand, that the tools offer. */
function fillTools() {
  if (!now) return;
  const { set, fonts } = now;
  const weights = /** @type {HTMLSelectElement} */ (tools.querySelector("[data-word='weight']"));
  const faces = (fonts[set.font] ?? fonts["Bricolage Grotesque"]).faces;
  const upright = faces.filter((/** @type {any} */ face) => !face[1]);
  weights.replaceChildren(
    ...upright.map(
      (/** @type {any} */ face) =>
        new Option(String(face[0]), String(face[0]), false, face[0] === set.weight),
    ),
  );
  /** @type {HTMLButtonElement} */ (tools.querySelector("[data-word='italic']")).disabled = !faces.some(
    (/** @type {any} */ face) => face[1],
  );
  for (const what of ["colour", "mark"]) {
    const place = /** @type {HTMLElement} */ (tools.querySelector(`[data-word='${what}']`));
    place.replaceChildren();
    const offered = [["", ""], ...set.colours];
    for (const [role, value] of offered) {
      const press = document.createElement("button");
      press.type = "button";
      press.className = "word-swatch";
      press.dataset.value = role;
      press.title = role ? `The brand’s ${role}` : what === "mark" ? "No highlight" : "As the rest";
      press.setAttribute("aria-label", `${what === "mark" ? "Highlight" : "Colour"}: ${press.title}`);
      if (value) press.style.background = value;
      else press.classList.add("is-none");
      place.append(press);
    }
  }
}

/** Changes the letters selected; all of them where none are. @param {(manner: Manner) => Manner} change */
function give(change) {
  if (!now) return;
  const { text, letters } = read(now.field);
  const count = letters.length;
  const [from, to] = chosen[0] === chosen[1] ? [0, count] : chosen;
  const made = letters.map((manner, at) =>
    at >= from && at < to ? changed([manner], 0, 1, change(manner))[0] : manner,
  );
  write(text, made);
  selectLetters(now.field, from, to);
  chosen = [from, to];
  keep();
  place();
}

tools.addEventListener("pointerdown", (event) => {
  // The letters stay selected while a tool is pressed.
  if (!(event.target instanceof HTMLSelectElement)) event.preventDefault();
  event.stopPropagation();
});
tools.addEventListener("change", (event) => {
  const field = /** @type {HTMLSelectElement} */ (event.target);
  if (field.dataset.word === "weight") give(() => ({ weight: Number(field.value) }));
  now?.field.focus({ preventScroll: true });
});
tools.addEventListener("click", (event) => {
  const press = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest("button"));
  if (!press || !now) return;
  const { set } = now;
  const group = /** @type {HTMLElement|null} */ (press.parentElement?.closest("[data-word]"));
  const what = press.dataset.word ?? group?.dataset.word;
  if (what === "italic") give((manner) => ({ italic: !(manner.italic ?? set.italic) }));
  else if (what === "larger") give((manner) => ({ size: sized((manner.size ?? 1) * STEP) }));
  else if (what === "smaller") give((manner) => ({ size: sized((manner.size ?? 1) / STEP) }));
  else if (what === "colour") give(() => ({ colour: press.dataset.value }));
  else if (what === "mark") give(() => ({ mark: press.dataset.value }));
  else if (what === "plain")
    give(() => ({ font: "", weight: undefined, italic: undefined, colour: "", size: 1, mark: "" }));
  else if (what === "done") closeWords();
});

/** @param {number} size */
const sized = (size) =>
  Math.abs(size - 1) < 0.03 ? 1 : Math.round(Math.min(4, Math.max(0.3, size)) * 1000) / 1000;

document.addEventListener("selectionchange", () => {
  const selection = getSelection();
  if (!now || !selection?.rangeCount || !now.field.contains(selection.anchorNode)) return;
  const range = selection.getRangeAt(0);
  chosen = [
    placeOf(now.field, range.startContainer, range.startOffset),
    placeOf(now.field, range.endContainer, range.endOffset),
  ];
});
document.addEventListener("input", (event) => {
  if (now && event.target === now.field) keep();
});
document.addEventListener(
  "keydown",
  (event) => {
    if (!now || !now.field.contains(/** @type {Node} */ (event.target))) return;
    // Keys belong to the words while they are edited.
    event.stopPropagation();
    if (event.key === "Escape") {
      event.preventDefault();
      closeWords();
      document.getElementById("stage")?.focus({ preventScroll: true });
    }
  },
  { capture: true },
);
document.addEventListener(
  "pointerdown",
  (event) => {
    const target = /** @type {Node} */ (event.target);
    if (!now || now.field.contains(target) || tools.contains(target)) return;
    const bench = document.getElementById("bench-details");
    if (bench?.contains(target)) keepTyped();
    else closeWords();
  },
  { capture: true },
);
/** What Details say of the words while they are edited is seen at once. */
on("changed", async () => {
  if (!now) return;
  const { id } = now;
  if (!known.has(id)) return closeWords();
  const ask = new URLSearchParams({ item: id, format: model.format, frame: String(model.frame) });
  const answer = await fetch(`${model.url}/letters?${ask}`, { headers });
  if (!now || now.id !== id || !answer.ok) return;
  const { text, runs, ...rest } = await answer.json();
  // The field may have gone while the answer was read.
  if (!now || now.id !== id) return;
  now.set = { ...now.set, ...rest };
  dress(now.field, {});
  if (document.activeElement !== now.field && text !== read(now.field).text) write(text, manners(text, runs));
  place();
});
on("laid", place);
for (const what of /** @type {("selected"|"format"|"played"|"moved")[]} */ (["selected", "format", "played"]))
  on(what, () => {
    if (now && (what !== "selected" || !model.selected.has(now.id))) closeWords();
  });
