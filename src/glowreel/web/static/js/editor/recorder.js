// @ts-check
/** Recording a voice while the promo plays: over a stretch, in takes, laid in where it was spoken. */

import { note } from "../page.js";
import { countedDown, Recording, refused, stamp } from "../recording.js";
import { looked } from "../sending.js";
import { send } from "./commands.js";
import { clock, model, moveTo, on, remember, remembered, sceneAt, ticks } from "./model.js";
import { play, playWhat, stop } from "./player.js";
import { reload } from "./uploads.js";

/** @typedef {{media: string, name: string, at: number, into: number, length: number, used?: boolean}} Take */

const panel = /** @type {HTMLElement} */ (document.getElementById("recorder"));
const opener = /** @type {HTMLElement} */ (document.getElementById("open-recorder"));
const device = /** @type {HTMLSelectElement} */ (document.getElementById("recorder-device"));
const level = /** @type {HTMLMeterElement} */ (document.getElementById("recorder-level"));
const button = /** @type {HTMLButtonElement} */ (document.getElementById("record"));
const time = /** @type {HTMLElement} */ (document.getElementById("recorder-time"));
const said = /** @type {HTMLElement} */ (document.getElementById("recorder-said"));
const list = /** @type {HTMLElement} */ (document.getElementById("recorder-takes"));
const MIME = "audio/webm;codecs=opus";
/** So long before a marked stretch the promo plays, in seconds, so that whoever speaks finds in. */
const RUN_UP = 2;
const MOST_TAKES = 30;
const PATIENT = 300;
const USUAL = said.textContent ?? "";

/** @type {MediaStream|null} */
let stream = null;
/** @type {AudioContext|null} */
let listening = null;
/** What is being recorded: over which stretch of the promo, in seconds, where playing begins, and how the two clocks lie
 *  to one another. @type {{recording: Recording, from: number, to: number, start: number, into: number|null}|null} */
let now = null;
let over = "on";
let counting = false;

const key = `takes:${model.url}`;
/** @type {Take[]} */
let takes = JSON.parse(localStorage.getItem(key) ?? "[]");

function keepTakes() {
  takes = takes.slice(-MOST_TAKES);
  localStorage.setItem(key, JSON.stringify(takes));
  drawTakes();
}

function drawTakes() {
  list.replaceChildren(
    ...takes.map((take, n) => {
      const row = document.createElement("li");
      row.classList.toggle("is-used", Boolean(take.used));
      const told = document.createElement("span");
      told.textContent = `${take.name} · ${take.length.toFixed(1)} s from ${clock(take.at)}`;
      const hear = tool("play", "Hear", () => hearTake(take));
      const use = tool("check2", take.used ? "It is in use" : "Use this one", () => lay(take));
      const away = tool("x-lg", "Forget this take", () => {
        takes.splice(n, 1);
        keepTakes();
      });
      row.append(told, hear, use, away);
      return row;
    }),
  );
}

/** @param {string} icon @param {string} label @param {() => void} run */
function tool(icon, label, run) {
  const made = document.createElement("button");
  made.type = "button";
  made.className = "btn btn-quiet btn-sm";
  made.title = label;
  made.setAttribute("aria-label", label);
  made.innerHTML = `<i class="bi bi-${icon}" aria-hidden="true"></i>`;
  made.addEventListener("click", run);
  return made;
}

/** Plays the promo where a take is laid in. @param {Take} take */
async function hearTake(take) {
  if (!take.used) await lay(take);
  moveTo(Math.round(take.at * model.fps));
  playWhat("all");
  play();
}

/** Lays a take in over its stretch: what another one said there gives way. @param {Take} take */
async function lay(take) {
  const { media, at, into, length } = take;
  if (!(await send({ do: "lay-take", media, at: ticks(at), into: ticks(into), length: ticks(length) })))
    return;
  const overlaps = (/** @type {Take} */ other) => other.at < at + length && at < other.at + other.length;
  for (const other of takes) if (overlaps(other)) other.used = other === take;
  keepTakes();
}

/** Listens to the microphone that is chosen; asks for it the first time. */
async function listen() {
  quiet();
  const wanted = device.value || remembered.microphone;
  try {
    stream = await navigator.mediaDevices.getUserMedia({
      audio: {
        ...(wanted && { deviceId: { ideal: wanted } }),
        echoCancellation: true,
        noiseSuppression: false,
      },
    });
  } catch (error) {
    say(refused(error, "microphone"), true);
    return false;
  }
  const [track] = stream.getAudioTracks();
  track.addEventListener("ended", () => {
    if (now) finish();
    say("The microphone is gone. What was recorded until then is kept.", true);
  });
  const found = (await navigator.mediaDevices.enumerateDevices()).filter((one) => one.kind === "audioinput");
  const chosen = track.getSettings().deviceId;
  device.replaceChildren(
    ...found.map(
      (one, n) =>
        new Option(one.label || `Microphone ${n + 1}`, one.deviceId, false, one.deviceId === chosen),
    ),
  );
  measure(stream);
  return true;
}

/** Shows how loud the microphone is. @param {MediaStream} heard */
function measure(heard) {
  listening = new AudioContext();
  const analyser = listening.createAnalyser();
  analyser.fftSize = 1024;
  listening.createMediaStreamSource(heard).connect(analyser);
  const samples = new Float32Array(analyser.fftSize);
  const mine = listening;
  const look = () => {
    if (listening !== mine) return;
    analyser.getFloatTimeDomainData(samples);
    const peak = samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
    // By the logarithm, as loudness is heard: 60 dB over the whole width.
    level.value = Math.max(0, 1 + (20 * Math.log10(Math.max(peak, 1e-4))) / 60);
    requestAnimationFrame(look);
  };
  look();
}

function quiet() {
  for (const track of stream?.getTracks() ?? []) track.stop();
  listening?.close();
  [stream, listening] = [null, null];
  level.value = 0;
}

/** @param {string} sentence @param {boolean} [wrong] */
function say(sentence, wrong) {
  said.textContent = sentence;
  said.classList.toggle("is-wrong", Boolean(wrong));
}

export async function openRecorder() {
  if (!panel.hidden) {
    if (!now) close();
    return;
  }
  panel.hidden = false;
  opener.setAttribute("aria-pressed", "true");
  drawTakes();
  say(USUAL);
  await listen();
  button.focus();
}

function close() {
  if (now) finish();
  panel.hidden = true;
  opener.setAttribute("aria-pressed", "false");
  quiet();
}

/** The stretch that is spoken over, in seconds. */
function stretch() {
  const scene = sceneAt(model.time);
  const { start, end } = model.range;
  if (over === "scene" && scene)
    return { from: scene.start, to: scene.start + scene.length, at: scene.start };
  if (over === "range" && start !== null && end !== null)
    return { from: start, to: end, at: Math.max(0, start - RUN_UP) };
  const from = model.frame >= model.frameCount - 1 ? 0 : model.time;
  return { from, to: Infinity, at: from };
}

async function record() {
  if (counting) {
    counting = false;
    return;
  }
  if (now) {
    finish();
    return;
  }
  if (over === "range" && (model.range.start === null || model.range.end === null)) {
    say("Mark where the stretch begins with , and where it ends with . first.", true);
    return;
  }
  if (!stream && !(await listen())) return;
  stop();
  const { from, to, at } = stretch();
  moveTo(Math.round(at * model.fps));
  if (!(await countDown())) return;
  const name = `Take ${takes.length + 1} ${stamp()}.webm`;
  const recording = new Recording(/** @type {MediaStream} */ (stream), name, MIME);
  try {
    await recording.start();
  } catch (error) {
    say(/** @type {Error} */ (error).message, true);
    return;
  }
  now = { recording, from, to, start: model.time, into: null };
  dress(true);
  say(over === "range" ? "Speak when the marked stretch begins." : "Recording. It is kept while you speak.");
  playWhat("all");
  if (model.frameCount) play();
  else now.into = 0;
  requestAnimationFrame(tick);
}

/** Three, two, one, where that is wanted; false where it was given up. */
async function countDown() {
  if (!(/** @type {HTMLInputElement} */ (document.getElementById("recorder-countdown")).checked)) return true;
  counting = true;
  time.classList.add("is-counting");
  const on = await countedDown(
    (number) => (time.textContent = number),
    () => counting,
  );
  time.classList.remove("is-counting");
  time.textContent = "0:00.0";
  counting = false;
  return on;
}

/** @param {boolean} running */
function dress(running) {
  button.classList.toggle("is-recording", running);
  /** @type {HTMLElement} */ (button.querySelector("span")).textContent = running ? "Stop" : "Record";
  panel.classList.toggle("is-recording", running);
}

/** While it runs: how the recording lies to the promo, how long it is, and its end where the stretch ends. */
function tick() {
  if (!now) return;
  const lasts = (performance.now() - now.recording.began) / 1000;
  time.textContent = `${Math.floor(lasts / 60)}:${(lasts % 60).toFixed(1).padStart(4, "0")}`;
  if (model.playing && now.into === null && model.time > now.start + 0.001) {
    // It moves, and from here on both run alike: which moment of the recording belongs to where the stretch begins.
    now.into = lasts - (model.time - now.from);
  }
  const over = model.playing && model.time >= now.to;
  const played = now.into !== null && !model.playing && model.frameCount > 0;
  if (over || played) finish();
  else requestAnimationFrame(tick);
}

async function finish() {
  if (!now) return;
  const { recording, from, to, into } = now;
  const lasts = (performance.now() - recording.began) / 1000;
  now = null;
  stop();
  dress(false);
  say("It is being made ready …");
  let media = "";
  try {
    media = await recording.stop();
  } catch (error) {
    say(/** @type {Error} */ (error).message, true);
    return;
  }
  reload();
  if (!(await looked(media, PATIENT))) {
    say("The recording is on the Shelf, but could not be looked at.", true);
    return;
  }
  const begins = Math.max(0, into ?? 0);
  const length = Math.min(to - from, lasts - begins);
  if (length < 0.1) {
    say("That was too short. Press Record and speak.", true);
    return;
  }
  const take = { media, name: `Take ${takes.length + 1}`, at: from, into: begins, length };
  takes.push(take);
  await lay(take);
  moveTo(Math.round(from * model.fps));
  say("It lies where you spoke it. Record once more for another take.");
}

opener.addEventListener("click", openRecorder);
document.getElementById("close-recorder")?.addEventListener("click", close);
button.addEventListener("click", record);
device.addEventListener("change", () => {
  remember({ microphone: device.value });
  listen();
});
panel.addEventListener("click", (event) => {
  const choice = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-over]")
  );
  if (!choice) return;
  over = choice.dataset.over ?? "on";
  for (const one of panel.querySelectorAll("[data-over]"))
    one.setAttribute("aria-pressed", String(one === choice));
});
on("range", () => {
  if (!panel.hidden && model.range.start !== null && model.range.end !== null && !now)
    /** @type {HTMLElement} */ (panel.querySelector("[data-over=range]")).click();
});
window.addEventListener("beforeunload", (event) => {
  if (now) {
    event.preventDefault();
    note("You are recording.");
  }
});
