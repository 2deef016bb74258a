// @ts-check
/** The transcript: read along, gone to by a press, cut by its words. */

import { headers, note, sentenceOf } from "../page.js";
import { send } from "./commands.js";
import { model, moveTo, on } from "./model.js";
import { stop } from "./player.js";

const face = /** @type {HTMLElement} */ (document.getElementById("bench-transcript"));
const home = /** @type {HTMLElement} */ (document.getElementById("said-home"));
/** The first and the last word selected, by their place among all. @type {[number, number]|null} */
let chosen = null;
/** Words that were cut or copied, and whether they stay where they were. */
let held = /** @type {{keys: string[], copy: boolean}} */ ({ keys: [], copy: true });
let asked = 0;
let due = 0;
const ear = new Audio();

const words = () => /** @type {HTMLElement[]} */ ([...home.querySelectorAll(".said-word")]);
const keyOf = (/** @type {HTMLElement} */ word) => word.dataset.key ?? "";
export const isOpen = (/** @type {"words"|"captions"} */ view) => !face.hidden && face.dataset.view === view;

/** Fetches what is said anew; what was selected stays selected where it is still there. */
async function fetchSaid() {
  if (!isOpen("words")) return;
  const mine = ++asked;
  const answer = await fetch(`${model.url}/transcript`, { headers }).catch(() => null);
  if (!answer?.ok || mine !== asked) return;
  const kept = pickedKeys();
  const open = [...home.querySelectorAll("details[open]")].map((one) => one.id);
  const top = face.scrollTop;
  const hadFocus = home.contains(document.activeElement);
  home.innerHTML = await answer.text();
  for (const id of open) document.getElementById(id)?.setAttribute("open", "");
  face.scrollTop = top;
  const all = words();
  const places = kept.map((key) => all.findIndex((word) => keyOf(word) === key)).filter((n) => n >= 0);
  chosen = places.length ? [places[0], places[places.length - 1]] : null;
  paintChosen();
  if (hadFocus) document.getElementById("said-text")?.focus({ preventScroll: true });
  readAlong();
  const data = document.getElementById("said-words")?.dataset ?? {};
  // What has been written down comes into the promo by itself, once.
  for (const media of (data.ready ?? "").split(" ").filter(Boolean)) await send({ do: "write-down", media });
  clearTimeout(due);
  if (data.busy) due = setTimeout(fetchSaid, 900);
}

/** The keys of what is selected, in order. */
function pickedKeys() {
  if (!chosen) return [];
  return words()
    .slice(Math.min(...chosen), Math.max(...chosen) + 1)
    .map(keyOf);
}

function paintChosen() {
  const all = words();
  const [low, high] = chosen ? [Math.min(...chosen), Math.max(...chosen)] : [1, 0];
  all.forEach((word, n) => word.classList.toggle("is-picked", n >= low && n <= high));
  const bar = document.getElementById("said-tools");
  if (!bar) return;
  bar.hidden = !chosen;
  if (!chosen) return;
  const lasts = Number(all[high]?.dataset.end) - Number(all[low]?.dataset.start);
  const count = document.getElementById("said-count");
  if (count) count.textContent = `${high - low + 1} word${high > low ? "s" : ""}, ${lasts.toFixed(1)} s`;
  bar.querySelector("[data-said='paste']")?.toggleAttribute("hidden", !held.keys.length);
}

/** @param {number} place @param {boolean} wider */
function choose(place, wider) {
  const last = words().length - 1;
  const at = Math.max(0, Math.min(last, place));
  chosen = wider && chosen ? [chosen[0], at] : [at, at];
  paintChosen();
  words()[at]?.scrollIntoView({ block: "nearest" });
}

/** Marks the word that is heard at the playhead. */
function readAlong() {
  if (!isOpen("words")) return;
  const now = model.time + 1e-4;
  let here = null;
  for (const word of words()) {
    const on = now >= Number(word.dataset.start) && now < Number(word.dataset.end) + 0.08;
    word.classList.toggle("is-heard", on && !here);
    if (on && !here) here = word;
  }
  if (here && model.playing) here.scrollIntoView({ block: "nearest" });
}

const toWord = (/** @type {HTMLElement} */ word) =>
  moveTo(Math.ceil(Number(word.dataset.start) * model.fps - 0.01));

async function removePicked() {
  const keys = pickedKeys();
  if (!keys.length) return;
  const low = chosen ? Math.min(...chosen) : 0;
  if (await send({ do: "remove-words", words: keys, music: "stays" })) {
    chosen = null;
    paintChosen();
    const after = words()[low];
    if (after) toWord(after);
  }
}

async function pasteBefore() {
  const keys = pickedKeys();
  if (!held.keys.length) return;
  const done = await send({
    do: "move-words",
    words: held.keys,
    before: keys[0] ?? null,
    copy_them: held.copy,
  });
  if (done && !held.copy) held = { keys: [], copy: true };
}

/** Lets the words selected be typed anew, in their place. */
function correct() {
  if (!chosen) return;
  const picked = words().slice(Math.min(...chosen), Math.max(...chosen) + 1);
  const [first, last] = [picked[0], picked[picked.length - 1]];
  if (picked.some((word) => word.dataset.media !== first.dataset.media))
    return note("Correct the words of one recording at a time.", { refusal: true });
  const field = document.createElement("input");
  field.className = "said-field";
  field.value = picked.map((word) => word.textContent).join(" ");
  field.size = Math.max(6, field.value.length);
  field.setAttribute("aria-label", "What is said");
  first.before(field);
  for (const word of picked) word.hidden = true;
  field.select();
  let done = false;
  /** @param {boolean} keep */
  const end = async (keep) => {
    if (done) return;
    done = true;
    const text = field.value.trim();
    const was = picked.map((word) => word.textContent).join(" ");
    if (keep && text && text !== was)
      await send({
        do: "correct-words",
        media: first.dataset.media,
        language: /** @type {HTMLElement|null} */ (first.closest("p"))?.dataset.language ?? "en",
        first: Number(first.dataset.number),
        count: Number(last.dataset.number) - Number(first.dataset.number) + 1,
        text,
      });
    field.remove();
    for (const word of picked) word.hidden = false;
    document.getElementById("said-text")?.focus();
  };
  field.addEventListener("blur", () => end(true));
  field.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.key === "Enter") end(true);
    if (event.key === "Escape") end(false);
  });
}

/** Plays the mix as it would be around a join. @param {string} keys @param {string} [to] milliseconds */
function hearJoin(keys, to) {
  stop();
  ear.src = `${model.url}/join.wav?words=${encodeURIComponent(keys)}${to ? `&to=${to}` : ""}`;
  ear.play().catch(() => note("That join cannot be heard just now.", { refusal: true }));
}

/** @param {string} kind */
async function tidy(kind) {
  const list = document.getElementById(`said-${kind}`);
  const boxes = /** @type {HTMLInputElement[]} */ ([...(list?.querySelectorAll("input[data-keys]") ?? [])]);
  const keys = boxes.filter((box) => box.checked).flatMap((box) => (box.dataset.keys ?? "").split(","));
  if (!keys.length) return note("Tick what is to go first.", { refusal: true });
  const to = /** @type {HTMLInputElement|null} */ (document.getElementById("said-to"));
  if (kind === "pauses")
    await send({ do: "cut-pauses", words: keys, to: Math.round(Number(to?.value || 0.25) * 1000) });
  else await send({ do: "remove-words", words: keys, music: "stays" });
}

/** @param {string} path @param {Record<string, string>} [values] */
async function post(path, values = {}) {
  const answer = await fetch(`${model.url}/${path}`, {
    method: "POST",
    headers,
    body: new URLSearchParams(values),
  });
  if (!answer.ok) note(sentenceOf(await answer.text()), { refusal: true });
  fetchSaid();
}

/** Opens a recording in sentences. @param {string} media */
async function openSentences(media) {
  const sheet = /** @type {HTMLDialogElement} */ (document.getElementById("sentences-sheet"));
  const list = document.getElementById("sentences-list");
  const answer = await fetch(`${model.url}/transcript/${media}/sentences`, { headers });
  if (!answer.ok || !list) return;
  list.innerHTML = await answer.text();
  /** Sentences in the order in which they were ticked. @type {HTMLInputElement[]} */
  const order = /** @type {HTMLInputElement[]} */ ([...list.querySelectorAll("input:checked")]);
  const tell = () => {
    const lasts = order.reduce((sum, box) => sum + Number(box.dataset.lasts), 0);
    const words = document.getElementById("sentences-words");
    if (words) words.textContent = `${order.length} sentences, ${lasts.toFixed(1)} s`;
  };
  list.onchange = (event) => {
    const box = /** @type {HTMLInputElement} */ (event.target);
    if (box.checked) order.push(box);
    else order.splice(order.indexOf(box), 1);
    tell();
  };
  list.onclick = (event) => {
    const press = /** @type {HTMLElement|null} */ (
      /** @type {Element} */ (event.target).closest("[data-hear-at]")
    );
    if (!press) return;
    const at = Number(press.dataset.hearAt);
    ear.src = `${model.url}/transcript/${media}/heard.wav?at=${at}&for=${press.dataset.hearFor}`;
    ear.play().catch(() => note("It cannot be heard just now.", { refusal: true }));
  };
  const done = /** @type {HTMLElement} */ (document.getElementById("sentences-done"));
  done.onclick = async () => {
    if (!order.length) return note("Tick a good sentence first.", { refusal: true });
    const stretches = order.map((box) => [Number(box.dataset.first), Number(box.dataset.last)]);
    sheet.close();
    await send({ do: "rough-cut", media, stretches, instead: true });
  };
  sheet.addEventListener("close", () => ear.pause(), { once: true });
  tell();
  sheet.showModal();
}

let dragging = false;
home.addEventListener("pointerdown", (event) => {
  const word = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest(".said-word"));
  if (!word || event.button !== 0) return;
  event.preventDefault();
  document.getElementById("said-text")?.focus({ preventScroll: true });
  choose(words().indexOf(word), event.shiftKey);
  dragging = true;
});
home.addEventListener("pointerover", (event) => {
  const word = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest(".said-word"));
  if (word && dragging && event.buttons === 1) choose(words().indexOf(word), true);
});
window.addEventListener("pointerup", () => {
  if (dragging && chosen && chosen[0] === chosen[1]) {
    const word = words()[chosen[0]];
    if (word) toWord(word);
  }
  dragging = false;
});
home.addEventListener("dblclick", (event) => {
  if (/** @type {Element} */ (event.target).closest(".said-word")) correct();
});
face.addEventListener("click", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const one = (/** @type {string} */ name) =>
    /** @type {HTMLElement|null} */ (target.closest(`[data-${name}]`));
  const voice = /** @type {HTMLElement|null} */ (target.closest(".said-voice"));
  if (one("write-down") && voice) {
    const value = (/** @type {string} */ name) =>
      /** @type {HTMLSelectElement|null} */ (voice.querySelector(`[data-${name}]`))?.value ?? "";
    post(`transcript/${voice.dataset.media}/ask`, { language: value("language"), model: value("model") });
  }
  if (one("type-words") && voice) {
    const text = /** @type {HTMLTextAreaElement} */ (voice.querySelector("textarea")).value;
    const language = /** @type {HTMLSelectElement} */ (voice.querySelector("[data-language]")).value || "en";
    if (text.trim()) send({ do: "type-words", media: voice.dataset.media, language, text });
  }
  if (one("stop")) post(`transcript/${one("stop")?.dataset.stop}/stop`);
  const gone = /** @type {HTMLElement|null} */ (target.closest(".said-gone"));
  if (gone) send({ do: "bring-back", before: gone.dataset.before, behind: gone.dataset.behind });
  const at = /** @type {HTMLElement|null} */ (target.closest(".said-at"));
  if (at) moveTo(Math.ceil(Number(at.dataset.at) * model.fps - 0.01));
  const join = one("hear-join")?.dataset.hearJoin;
  if (join) {
    const pauses = target.closest("#said-pauses");
    const to = /** @type {HTMLInputElement|null} */ (document.getElementById("said-to"))?.value ?? "0.25";
    hearJoin(join, pauses ? String(Math.round(Number(to) * 1000)) : "");
  }
  const kind = one("tidy")?.dataset.tidy;
  if (kind) tidy(kind);
  const media = one("recording")?.dataset.recording;
  if (media) openSentences(media);
  const tool = one("said")?.dataset.said;
  if (tool === "remove") removePicked();
  if (tool === "correct") correct();
  if (tool === "cut" || tool === "copy") hold(tool === "copy");
  if (tool === "paste") pasteBefore();
  if (tool === "hear") hearJoin(pickedKeys().join(","));
});

/** @param {boolean} copy */
function hold(copy) {
  held = { keys: pickedKeys(), copy };
  note(`${copy ? "Copied" : "Cut"}: select the word before which it is to stand, and paste.`);
  paintChosen();
}

home.addEventListener("keydown", (event) => {
  if (!(/** @type {Element} */ (event.target).matches("#said-text"))) return;
  const at = chosen ? chosen[1] : -1;
  const way = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 8, ArrowUp: -8 }[event.key];
  const letter = event.ctrlKey || event.metaKey ? event.key.toLowerCase() : "";
  if (way) choose(at + way, event.shiftKey);
  else if (event.key === "Delete" || event.key === "Backspace") removePicked();
  else if (event.key === "Enter" || event.key === "F2") correct();
  else if (event.key === "Escape" && chosen) {
    chosen = null;
    paintChosen();
  } else if (letter === "c") hold(true);
  else if (letter === "x") hold(false);
  else if (letter === "v") pasteBefore();
  else if (letter === "a") {
    chosen = [0, words().length - 1];
    paintChosen();
  } else return;
  if (way && chosen && !event.shiftKey) {
    const word = words()[chosen[1]];
    if (word) toWord(word);
  }
  event.preventDefault();
  event.stopPropagation();
});

let waiting = 0;
on("changed", () => {
  clearTimeout(waiting);
  waiting = setTimeout(fetchSaid, 120);
});
on("moved", readAlong);
new MutationObserver(fetchSaid).observe(face, { attributes: true, attributeFilter: ["hidden", "data-view"] });
