// @ts-check
/** The list of captions: corrected from one to the next, split, joined and timed; how they look; their files. */

import { headers, note, sentenceOf } from "../page.js";
import { send } from "./commands.js";
import { openMenu } from "./menu.js";
import { model, moveTo, on, remember, remembered, ticks } from "./model.js";
import { isOpen } from "./said.js";

const face = /** @type {HTMLElement} */ (document.getElementById("bench-transcript"));
const home = /** @type {HTMLElement} */ (document.getElementById("captions-home"));
let asked = 0;
let lane = "";

for (const button of /** @type {NodeListOf<HTMLElement>} */ (face.querySelectorAll("[data-view-of]")))
  button.addEventListener("click", () =>
    showView(button.dataset.viewOf === "captions" ? "captions" : "words"),
  );

/** @param {"words"|"captions"} view */
export function showView(view) {
  face.dataset.view = view;
  home.hidden = view !== "captions";
  document.getElementById("said-home")?.toggleAttribute("hidden", view !== "words");
  document.getElementById("said-tools")?.setAttribute("hidden", "");
  for (const button of face.querySelectorAll("[data-view-of]"))
    button.setAttribute("aria-pressed", String(/** @type {HTMLElement} */ (button).dataset.viewOf === view));
  remember({ said: view });
}

async function fetchCaptions() {
  if (!isOpen("captions")) return;
  const mine = ++asked;
  const query = new URLSearchParams({ lane, format: model.format });
  const answer = await fetch(`${model.url}/captions?${query}`, { headers }).catch(() => null);
  if (!answer?.ok || mine !== asked) return;
  const html = await answer.text();
  const writing = /** @type {HTMLElement|null} */ (document.activeElement);
  const cue = home.contains(writing) ? cueOf(writing) : null;
  // Whoever is typing keeps what was typed; the rest comes when they go on.
  if (cue && writing?.matches("textarea") && writing.dataset.dirty) return rename(html);
  const place = cue ? cues().indexOf(cue) : -1;
  const field = writing instanceof HTMLTextAreaElement ? writing : null;
  const caret = /** @type {[number, number]} */ ([field?.selectionStart ?? 0, field?.selectionEnd ?? 0]);
  const id = writing && home.contains(writing) ? writing.id : "";
  const open = home.querySelector("#captions-look")?.hasAttribute("open");
  const top = face.scrollTop;
  home.innerHTML = html;
  if (open) home.querySelector("#captions-look")?.setAttribute("open", "");
  face.scrollTop = top;
  const again = place >= 0 ? cues()[Math.min(place, cues().length - 1)]?.querySelector("textarea") : null;
  if (again) {
    again.focus({ preventScroll: true });
    again.setSelectionRange(...caret);
  } else if (id) document.getElementById(id)?.focus({ preventScroll: true });
  lane = document.getElementById("said-captions")?.dataset.lane ?? "";
  mark();
}

/** Tells every cue what it is called by now, while somebody types in one of them. @param {string} html */
function rename(html) {
  const answer = document.createElement("template");
  answer.innerHTML = html;
  const fresh = /** @type {NodeListOf<HTMLElement>} */ (answer.content.querySelectorAll(".cue"));
  if (fresh.length === cues().length)
    cues().forEach((cue, n) => Object.assign(cue.dataset, fresh[n].dataset));
}

const cues = () => /** @type {HTMLElement[]} */ ([...home.querySelectorAll(".cue")]);
const cueOf = (/** @type {EventTarget|null} */ target) =>
  /** @type {HTMLElement|null} */ (/** @type {Element} */ (target).closest(".cue"));
const language = () => document.getElementById("said-captions")?.dataset.language ?? "en";
const numbers = (/** @type {HTMLElement} */ cue) => (cue.dataset.numbers ?? "").split(",").map(Number);

/** Marks the cue at the playhead. */
function mark() {
  if (!isOpen("captions")) return;
  const now = model.time + 1e-4;
  for (const cue of cues()) {
    const here = now >= Number(cue.dataset.start) && now < Number(cue.dataset.end);
    if (here && model.playing && !cue.classList.contains("is-here")) cue.scrollIntoView({ block: "nearest" });
    cue.classList.toggle("is-here", here);
  }
}

/** Keeps what was typed into a cue. @param {HTMLTextAreaElement} field */
function keep(field) {
  const cue = cueOf(field);
  if (!cue || !field.dataset.dirty) return Promise.resolve(true);
  delete field.dataset.dirty;
  return send({ do: "say-cue", lane, cue: cue.dataset.cue, text: field.value });
}

/** Splits a cue before the word at the caret. @param {HTMLTextAreaElement} field */
async function split(field) {
  const cue = cueOf(field);
  if (!cue || cue.dataset.own) return;
  const before = field.value.slice(0, field.selectionStart).trim().split(/\s+/).filter(Boolean).length;
  await keep(field);
  const number = numbers(cue)[before];
  if (before && number !== undefined)
    await send({
      do: "mark-words",
      media: cue.dataset.media,
      language: language(),
      numbers: [number],
      mark: "cue",
    });
}

/** Joins a cue to the one before it. @param {HTMLElement} cue */
async function join(cue) {
  if (cue.dataset.own) return;
  await send({
    do: "mark-words",
    media: cue.dataset.media,
    language: language(),
    numbers: [numbers(cue)[0]],
    mark: "run",
  });
}

/** Lets a cue begin or end at the playhead. @param {HTMLElement} cue @param {"start"|"end"} edge */
async function time(cue, edge) {
  const start = Number(cue.dataset.start);
  const end = Number(cue.dataset.end);
  const now = model.time;
  if (cue.dataset.own) {
    const at = edge === "start" ? now : start;
    const until = edge === "end" ? now : end;
    if (until > at)
      await send({ do: "set-cue", lane, cue: cue.dataset.cue, at: ticks(at), length: ticks(until - at) });
    return;
  }
  // The file's time goes on as the promo's does, from where the cue begins in both.
  const [low, high] = [Number(cue.dataset.low), Number(cue.dataset.high)];
  const moved = low + Math.round((now - start) * 1000);
  const few = numbers(cue);
  await send({
    do: "time-words",
    media: cue.dataset.media,
    language: language(),
    first: few[0],
    count: few[few.length - 1] - few[0] + 1,
    start: Math.max(0, edge === "start" ? moved : low),
    end: Math.max(0, edge === "end" ? moved : high),
  });
}

/** @param {Record<string, unknown>} values */
function look(values) {
  const one = /** @type {HTMLInputElement|null} */ (document.getElementById("captions-one"))?.checked;
  return send({ do: "set-captions", lane, values, ...(one ? { format: model.format } : {}) });
}

home.addEventListener("click", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const near = (/** @type {string} */ find) => /** @type {HTMLElement|null} */ (target.closest(find));
  const made = near("[data-make-captions]");
  if (made) send({ do: "add-captions", language: made.dataset.makeCaptions });
  const design = near("[data-design]");
  if (design) send({ do: "set-captions", lane, design: design.dataset.design });
  const at = near(".cue-at");
  if (at) moveTo(Math.ceil(Number(at.dataset.at) * model.fps - 0.01));
  if (near("#captions-file-button"))
    /** @type {HTMLInputElement} */ (document.getElementById("captions-file")).click();
  const shown = near("#captions-shown");
  if (shown) send({ do: "set-captions", lane, shown: shown.getAttribute("aria-pressed") !== "true" });
  if (near("#captions-reset")) look({ size: null, pin: null, place: null });
  const more = near("#captions-more");
  if (more)
    openMenu(more, "More for captions", [
      { label: "A caption at the playhead", run: addCue },
      { label: "All 0.1 s later", run: () => shift(100) },
      { label: "All 0.1 s earlier", run: () => shift(-100) },
      { line: true },
      { label: "Remove these captions", run: () => send({ do: "remove-captions", lane }) },
    ]);
  const dots = near("[data-cue-more]");
  const cue = cueOf(target);
  if (dots && cue) cueMenu(dots, cue);
});

/** @param {number} by milliseconds */
function shift(by) {
  const late = Number(document.getElementById("said-captions")?.dataset.late) + by;
  return send({ do: "set-captions", lane, late });
}
const addCue = () =>
  send({ do: "add-cue", lane, at: ticks(model.time), length: ticks(1.5), text: "[sound]" });

/** @param {HTMLElement} dots @param {HTMLElement} cue */
function cueMenu(dots, cue) {
  const few = numbers(cue);
  const field = /** @type {HTMLTextAreaElement} */ (cue.querySelector("textarea"));
  const place = { media: cue.dataset.media, first: few[0], last: few[few.length - 1] };
  const heights = /** @type {[string, number|null][]} */ ([
    ["High", 0],
    ["In the middle", 0.5],
    ["Where the others are", null],
  ]);
  openMenu(
    dots,
    "More for this caption",
    cue.dataset.own
      ? [{ label: "Remove", run: () => send({ do: "remove-cue", lane, cue: cue.dataset.cue }) }]
      : [
          { label: "Split at the caret", keys: "Ctrl Enter", run: () => split(field) },
          { label: "Join to the one before", keys: "Ctrl ⌫", run: () => join(cue) },
          { label: "Begins at the playhead", keys: "Alt ,", run: () => time(cue, "start") },
          { label: "Ends at the playhead", keys: "Alt .", run: () => time(cue, "end") },
          { line: true },
          ...heights.map(([label, height]) => ({
            label,
            run: () => send({ do: "place-captions", lane, ...place, height }),
          })),
          { line: true },
          {
            label: "Leave it out",
            run: () =>
              send({
                do: "mark-words",
                media: cue.dataset.media,
                language: language(),
                numbers: few,
                mark: "hidden",
              }),
          },
        ],
  );
}

home.addEventListener("input", (event) => {
  const field = /** @type {HTMLTextAreaElement} */ (event.target);
  if (!field.matches(".cue-text")) return;
  field.dataset.dirty = "1";
  field.rows = field.value.split("\n").length;
});
home.addEventListener("focusin", (event) => {
  const field = /** @type {HTMLElement} */ (event.target);
  const cue = field.matches(".cue-text") ? cueOf(field) : null;
  if (cue && !model.playing) moveTo(Math.ceil(Number(cue.dataset.start) * model.fps - 0.01));
});
home.addEventListener("focusout", (event) => {
  const field = /** @type {HTMLTextAreaElement} */ (event.target);
  if (field.matches(".cue-text")) keep(field);
});
home.addEventListener("keydown", (event) => {
  const field = /** @type {HTMLTextAreaElement} */ (event.target);
  const cue = cueOf(field);
  if (!cue || !field.matches(".cue-text")) return;
  const held = event.ctrlKey || event.metaKey;
  if (held && event.key === "Enter") split(field);
  else if (held && event.key === "Backspace" && !field.selectionStart) join(cue);
  else if (event.altKey && event.key === ",") time(cue, "start");
  else if (event.altKey && event.key === ".") time(cue, "end");
  else if (event.key === "Escape") {
    delete field.dataset.dirty;
    field.blur();
    fetchCaptions();
  } else {
    // Letters are for the words; the keys of the editor are not meant.
    if (event.key !== "Tab") event.stopPropagation();
    return;
  }
  event.preventDefault();
  event.stopPropagation();
});
home.addEventListener("change", async (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  if (field.id === "captions-lane") {
    lane = field.value;
    send({ do: "set-captions", lane, shown: true });
  }
  if (field.id === "captions-size") look({ size: Number(field.value) });
  if (field.id === "captions-height") look({ pin: [0.5, Number(field.value)] });
  if (field.id === "captions-keys") send({ do: "set-captions", lane, keys: field.checked });
  if (field.id === "captions-emoji") send({ do: "set-captions", lane, emoji: field.checked });
  if (field.id === "captions-fillers") send({ do: "set-captions", lane, hide_fillers: field.checked });
  if (field.id === "captions-file" && field.files?.length) {
    await takeFile(field.files[0]);
    field.value = "";
  }
});
home.addEventListener("submit", (event) => {
  event.preventDefault();
  const form = /** @type {HTMLFormElement} */ (event.target);
  const data = new FormData(form);
  send({ do: "replace-in-words", language: language(), find: data.get("find"), by: data.get("by") });
});

/** Takes a caption file in. @param {File} file */
async function takeFile(file) {
  const body = new FormData();
  body.append("file", file);
  const language = /** @type {HTMLSelectElement|null} */ (document.getElementById("captions-language"));
  body.append("language", language?.value ?? "");
  const answer = await fetch(`${model.url}/captions/read`, { method: "POST", headers, body });
  const text = await answer.text();
  if (!answer.ok) return note(sentenceOf(text), { refusal: true });
  const told = JSON.parse(text);
  // What came is on show, and in the list.
  lane = "";
  const done = await send(told.command);
  if (done && told.notices.length) note(told.notices.join(" "));
  if (done && told.command.do === "type-words" && !home.querySelector(".cue")) send({ do: "add-captions" });
}

let waiting = 0;
function soon() {
  clearTimeout(waiting);
  waiting = setTimeout(fetchCaptions, 120);
}
on("changed", soon);
on("format", soon);
on("moved", mark);
new MutationObserver(fetchCaptions).observe(face, {
  attributes: true,
  attributeFilter: ["hidden", "data-view"],
});
showView(remembered.said === "captions" ? "captions" : "words");
