// @ts-check
/** Voice from text: lines are typed, spoken one by one, and laid in with their words. */

import { headers, note, sentenceOf } from "../page.js";
import { untilSpoken } from "../speaking.js";
import { send } from "./commands.js";
import { gridTicks, model } from "./model.js";

const sheet = /** @type {HTMLDialogElement} */ (document.getElementById("voice-sheet"));
const home = /** @type {HTMLElement} */ (document.getElementById("voice-home"));
const start = /** @type {HTMLButtonElement} */ (document.getElementById("voice-speak"));
let round = 0;

const field = (/** @type {string} */ id) => /** @type {HTMLInputElement} */ (document.getElementById(id));
/** @param {string} words */
function tell(words) {
  const line = document.getElementById("voice-state");
  if (line) line.textContent = words;
}

async function openVoice() {
  const answer = await fetch(`${model.url}/voice`, { headers });
  if (!answer.ok) return note(sentenceOf(await answer.text()), { refusal: true });
  home.innerHTML = await answer.text();
  start.disabled = false;
  sheet.showModal();
  field("voice-text").focus();
  showLasts();
}

let asked = 0;
async function showLasts() {
  const mine = ++asked;
  const text = field("voice-text").value;
  const answer = await fetch(`/voices/lasts?${new URLSearchParams({ text: text.slice(0, 6000) })}`, {
    headers,
  }).catch(() => null);
  if (!answer?.ok || mine !== asked) return;
  /** @type {number[]} */
  const lines = (await answer.json()).filter(Boolean);
  const speed = Number(field("voice-speed").value);
  const all = lines.reduce((sum, one) => sum + one / speed, 0);
  const out = document.getElementById("voice-lasts");
  if (out)
    out.textContent = lines.length
      ? `${lines.length} line${lines.length > 1 ? "s" : ""}, about ${all.toFixed(0)} s: ${lines.map((one) => (one / speed).toFixed(1)).join(" · ")}`
      : "";
}

/** How words are read, as typed. */
function pronounced() {
  /** @type {Record<string, string>} */
  const found = {};
  for (const line of field("voice-says").value.split("\n")) {
    const [word, said] = line.split("=").map((part) => part.trim());
    if (word && said) found[word] = said;
  }
  return found;
}

async function speak() {
  const mine = ++round;
  const says = pronounced();
  const chosen = /** @type {HTMLInputElement|null} */ (home.querySelector("[name=voice]:checked"));
  start.disabled = true;
  tell("Speaking …");
  const body = new URLSearchParams({
    text: field("voice-text").value,
    voice: chosen?.value ?? "",
    speed: field("voice-speed").value,
    says: JSON.stringify(says),
  });
  const answer = await fetch(`${model.url}/voice`, { method: "POST", headers, body });
  const text = await answer.text();
  if (!answer.ok) {
    start.disabled = false;
    return tell(sentenceOf(text));
  }
  const wanted = () => mine === round && sheet.open;
  const lines = await untilSpoken(JSON.parse(text), tell, wanted);
  start.disabled = false;
  const failed = lines.find((line) => line.state === "failed");
  if (failed) return tell(failed.error);
  if (!wanted()) return;
  const wantsCaptions = field("voice-captions").checked;
  sheet.close();
  const laid = await send({
    do: "lay-voice",
    media: lines.map((line) => line.media),
    at: gridTicks(model.time),
    pause: Math.round(Number(field("voice-pause").value) * 1000),
    by_scene: field("voice-scenes").checked,
    instead: Boolean(document.getElementById("voice-state")?.dataset.spoken),
    pronounced: says,
  });
  if (laid && wantsCaptions && document.getElementById("tl-captions")?.hidden)
    await send({ do: "add-captions" });
}

let due = 0;
home.addEventListener("input", () => {
  clearTimeout(due);
  due = setTimeout(showLasts, 300);
});
start.addEventListener("click", speak);
sheet.addEventListener("close", () => (round += 1));
document.addEventListener("click", (event) => {
  if (/** @type {Element} */ (event.target).closest("[data-open-voice]")) openVoice();
});
