// @ts-check
/** A promo from a script: the text is written or fetched; proposed scenes are changed, spoken and made. */

import { headers, note, pressName, sentenceOf } from "./page.js";
import { untilSpoken } from "./speaking.js";

const field = (/** @type {string} */ id) =>
  /** @type {HTMLInputElement|null} */ (document.getElementById(id));

/* The text. */
const text = field("script-text");
let asked = 0;
async function showLasts() {
  const out = document.getElementById("script-lasts");
  if (!text || !out) return;
  const mine = ++asked;
  const query = new URLSearchParams({ text: text.value.slice(0, 6000) });
  const answer = await fetch(`/voices/lasts?${query}`, { headers }).catch(() => null);
  if (!answer?.ok || mine !== asked) return;
  /** @type {number[]} */
  const lines = await answer.json();
  const all = lines.reduce((sum, one) => sum + one, 0);
  out.textContent = all ? `About ${all.toFixed(0)} s to be said` : "";
}
let due = 0;
text?.addEventListener("input", () => {
  clearTimeout(due);
  due = setTimeout(showLasts, 300);
});
/** @param {string} path @param {Record<string, string>} values */
async function fill(path, values) {
  const answer = await fetch(path, { method: "POST", headers, body: new URLSearchParams(values) });
  const said = await answer.text();
  if (!answer.ok) return note(sentenceOf(said), { refusal: true });
  if (text) text.value = JSON.parse(said).text;
  showLasts();
  text?.focus();
}
let seed = 0;
document.getElementById("draft-it")?.addEventListener("click", () => {
  /** @type {Record<string, string>} */
  const values = { seed: String(++seed) };
  for (const one of /** @type {NodeListOf<HTMLInputElement>} */ (document.querySelectorAll("#brief [name]")))
    values[one.name] = one.value;
  fill("/start/script/draft", values);
});
document.getElementById("page-take")?.addEventListener("click", () => {
  fill("/start/script/page", { url: field("page-url")?.value ?? "" });
});

field("slides-file")?.addEventListener("change", (event) => {
  const input = /** @type {HTMLInputElement} */ (event.target);
  if (!input.files?.length) return;
  note(`${input.files[0].name} is being read …`);
  input.form?.requestSubmit();
});

/* What is proposed. */
const proposal = /** @type {HTMLFormElement|null} */ (document.getElementById("proposal"));
const lines = () => /** @type {HTMLElement[]} */ ([...document.querySelectorAll(".script-line")]);
/** @param {HTMLElement} line @param {string} find */
const value = (line, find) => /** @type {HTMLInputElement|null} */ (line.querySelector(find))?.value ?? "";

/** Shows a line as its scene looks. @param {HTMLElement} line */
function show(line) {
  const frame = /** @type {HTMLImageElement} */ (line.querySelector(".script-frame"));
  const query = new URLSearchParams({
    role: value(line, "[name=role]"),
    key: value(line, "[name=key]"),
    text: value(line, "[name=text]"),
    media: value(line, ".script-pictures input:checked"),
    family: field("family")?.value ?? "",
    brand: proposal?.dataset.brand ?? "",
  });
  frame.src = `/start/script/scene.jpg?${query}`;
}
function total() {
  const all = lines().reduce((sum, line) => sum + Number(line.dataset.lasts), 0);
  const out = document.getElementById("script-total");
  if (out) out.textContent = `about ${all.toFixed(0)} s`;
}
/** Scenes are numbered anew, so that each picture goes with its line. */
function renumber() {
  lines().forEach((line, n) => {
    for (const radio of /** @type {NodeListOf<HTMLInputElement>} */ (
      line.querySelectorAll(".script-pictures input")
    ))
      radio.dataset.name = `picture-${n}`;
  });
  for (const radio of /** @type {NodeListOf<HTMLInputElement>} */ (
    document.querySelectorAll(".script-pictures input")
  ))
    radio.name = `moved-${radio.dataset.name}`;
  for (const radio of /** @type {NodeListOf<HTMLInputElement>} */ (
    document.querySelectorAll(".script-pictures input")
  ))
    radio.name = radio.dataset.name ?? "";
}

/** Has the lines spoken; answers with their numbers, or nothing where that failed. */
async function spoken() {
  const body = new URLSearchParams({ voice: field("voice")?.value ?? "" });
  for (const line of lines()) body.append("text", value(line, "[name=text]"));
  const state = /** @type {HTMLElement} */ (document.getElementById("script-state"));
  const answer = await fetch("/start/script/voice", { method: "POST", headers, body });
  const said = await answer.text();
  if (!answer.ok) {
    state.textContent = sentenceOf(said);
    return "";
  }
  const rows = await untilSpoken(JSON.parse(said), (words) => (state.textContent = words));
  const failed = rows.find((row) => row.state === "failed");
  state.textContent = failed ? failed.error : "Making the promo …";
  return failed ? "" : rows.map((row) => row.line).join(",");
}

proposal?.addEventListener("submit", async (event) => {
  event.preventDefault();
  const button = /** @type {HTMLButtonElement} */ (document.getElementById("make-it"));
  if (button.disabled) return;
  button.disabled = true;
  const keys = field("voice")?.value ? await spoken() : "";
  if (field("voice")?.value && !keys) {
    button.disabled = false;
    return;
  }
  const [numbers, press] = [field("spoken"), field("press")];
  if (numbers) numbers.value = keys;
  if (press) press.value = pressName();
  proposal.submit();
});
let later = 0;
proposal?.addEventListener("input", (event) => {
  const line = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest(".script-line")
  );
  clearTimeout(later);
  later = setTimeout(() => (line ? [line] : lines()).forEach(show), line ? 350 : 60);
});
proposal?.addEventListener("click", (event) => {
  const drop = /** @type {Element} */ (event.target).closest("[data-drop]");
  if (!drop) return;
  if (lines().length < 2) return note("One scene must stay.", { refusal: true });
  drop.closest(".script-line")?.remove();
  renumber();
  total();
});
lines().forEach(show);
if (proposal) total();
