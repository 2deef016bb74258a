// @ts-check
/** Recording oneself: camera, screen or both with a microphone, and a teleprompter beside it. The parts stay separate. */

import { note } from "../page.js";
import { countedDown, Recording, refused, stamp } from "../recording.js";
import { looked } from "../sending.js";
import { send } from "./commands.js";
import { gridTicks, model, remember, remembered, ticks } from "./model.js";
import * as prompter from "./prompter.js";
import { toAdded } from "./shelf.js";
import * as slides from "./slides.js";
import { reload } from "./uploads.js";

const get = (/** @type {string} */ id) => /** @type {any} */ (document.getElementById(`studio-${id}`));
const sheet = /** @type {HTMLDialogElement} */ (document.getElementById("studio"));
const PATIENT = 3000;
const FILM = ["video/webm;codecs=vp8,opus", "video/webm"];
/** What a key says of a moment while it is recorded. @type {Record<string, string>} */
const MARKS = { k: "Keep that", a: "Again from here" };

let records = "camera";
/** @type {MediaStream|null} */ let camera = null;
/** @type {MediaStream|null} */ let screen = null;
/** @type {{parts: {kind: string, recording: Recording}[], marks: {at: number, text: string}[], turns: {at: number, media: string}[], paused: number, since: number|null, sound: AudioContext|null}|null} */
let now = null;
let counting = false;

/** @param {string} sentence @param {boolean} [wrong] */
function say(sentence, wrong) {
  get("said").textContent = sentence;
  get("said").classList.toggle("is-wrong", Boolean(wrong));
}

/** @param {MediaStream|null} stream */
function end(stream) {
  for (const track of stream?.getTracks() ?? []) track.stop();
}

/** Asks for the camera and the microphone that are chosen, or for the microphone alone. */
async function watch() {
  end(camera);
  const wish = (/** @type {string} */ id) => get(id).value || remembered[id];
  const [seen, heard] = [wish("camera-device"), wish("microphone")];
  try {
    camera = await navigator.mediaDevices.getUserMedia({
      audio: { ...(heard && { deviceId: { ideal: heard } }), echoCancellation: true },
      video: records !== "screen" && {
        ...(seen && { deviceId: { ideal: seen } }),
        width: { ideal: 1920 },
        height: { ideal: 1080 },
      },
    });
  } catch (error) {
    say(refused(error, records === "screen" ? "microphone" : "camera or microphone"), true);
    return;
  }
  for (const track of camera.getTracks())
    track.addEventListener("ended", () => {
      if (now) finish();
      say("A device is gone. What was recorded until then is kept.", true);
    });
  const devices = await navigator.mediaDevices.enumerateDevices();
  for (const [id, kind, tracks] of /** @type {[string, string, MediaStreamTrack[]][]} */ ([
    ["camera-device", "videoinput", camera.getVideoTracks()],
    ["microphone", "audioinput", camera.getAudioTracks()],
  ])) {
    const chosen = tracks[0]?.getSettings().deviceId;
    const found = devices.filter((one) => one.kind === kind);
    get(id).replaceChildren(
      ...found.map(
        (one, n) => new Option(one.label || `${n + 1}`, one.deviceId, false, one.deviceId === chosen),
      ),
    );
  }
  await show("camera", records === "screen" ? null : camera);
  prompter.listen(camera);
  say("K marks “keep that”, A “again” while you record.");
}

/** @param {string} id @param {MediaStream|null} stream */
async function show(id, stream) {
  const film = get(id);
  film.hidden = !stream;
  film.srcObject = stream;
  if (stream) await film.play().catch(() => null);
}

/** Asks which screen, window or page is shown. */
async function share() {
  try {
    screen = await navigator.mediaDevices.getDisplayMedia(
      /** @type {any} */ ({ video: { frameRate: { ideal: 30 } }, audio: true, preferCurrentTab: false }),
    );
  } catch (error) {
    say(refused(error, "screen"), true);
    return false;
  }
  screen.getVideoTracks()[0].addEventListener("ended", () => now && finish());
  await show("screen", screen);
  return true;
}

/** What is recorded with a picture: the voice, with what the screen sounds like where that is given. */
function sounds() {
  const heard = [camera, screen].flatMap((stream) => (stream?.getAudioTracks().length ? [stream] : []));
  if (heard.length < 2) return { tracks: heard[0]?.getAudioTracks() ?? [], mixer: null };
  const mixer = new AudioContext();
  const out = mixer.createMediaStreamDestination();
  for (const stream of heard) mixer.createMediaStreamSource(stream).connect(out);
  return { tracks: out.stream.getAudioTracks(), mixer };
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
  if (!camera) await watch();
  if (!camera) return;
  if (shared() && !screen && !(await share())) return;
  if (records === "slides" && !slides.page()) {
    say("There are no pages. Add a PDF to the Shelf first.", true);
    return;
  }
  if (!(await countDown())) return;
  const mime = FILM.find((one) => MediaRecorder.isTypeSupported(one)) ?? "video/webm";
  const { tracks, mixer } = sounds();
  const at = stamp();
  const part = (
    /** @type {string} */ kind,
    /** @type {MediaStream} */ stream,
    /** @type {MediaStreamTrack[]} */ sound,
  ) => ({
    kind,
    recording: new Recording(
      new MediaStream([...stream.getVideoTracks(), ...sound]),
      `${kind} ${at}.webm`,
      mime,
    ),
  });
  // Layers are not heard: the voice goes with what lies on the main track.
  const parts = screen && shared() ? [part("Screen", screen, tracks)] : [];
  if (records !== "screen") parts.push(part("Camera", camera, parts.length ? [] : tracks));
  try {
    await Promise.all(parts.map(({ recording }) => recording.start()));
  } catch (error) {
    for (const { recording } of parts) recording.drop();
    say(/** @type {Error} */ (error).message, true);
    return;
  }
  now = { parts, marks: [], turns: [{ at: 0, media: slides.page() }], paused: 0, since: null, sound: mixer };
  prompter.run(true, true);
  dress();
  say("Recording. It is kept on the server while it runs.");
  get("marks").textContent = "";
  requestAnimationFrame(tick);
}

/** Three, two, one; false where it was given up. */
async function countDown() {
  counting = true;
  get("count").hidden = false;
  const on = await countedDown(
    (number) => (get("count").textContent = number),
    () => counting && sheet.open,
  );
  get("count").hidden = true;
  counting = false;
  return on;
}

function dress() {
  const running = Boolean(now);
  get("record").querySelector("span").textContent = running ? "Stop" : "Record";
  get("record").classList.toggle("is-recording", running);
  for (const id of ["pause", "again"]) get(id).hidden = !running;
  get("pause").textContent = now?.since ? "Go on" : "Pause";
  sheet.classList.toggle("is-recording", running);
  for (const choice of sheet.querySelectorAll("[data-records]")) choice.toggleAttribute("disabled", running);
}

/** Whether the screen is recorded. */
const shared = () => records === "screen" || records === "both";
/** What the recording stands on. */
const theme = () => get("theme").value;

/** So long has been recorded, without pauses, in seconds. */
function lasts() {
  if (!now) return 0;
  const rest = now.since ? performance.now() - now.since : 0;
  return (performance.now() - now.parts[0].recording.told - now.paused - rest) / 1000;
}

function tick() {
  if (!now) return;
  const seconds = lasts();
  get("time").textContent =
    `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, "0")}`;
  requestAnimationFrame(tick);
}

function pause() {
  if (!now) return;
  if (now.since) {
    now.paused += performance.now() - now.since;
    now.since = null;
  } else now.since = performance.now();
  for (const { recording } of now.parts) recording.recorder[now.since ? "pause" : "resume"]();
  prompter.run(!now.since);
  dress();
}

/** Gives up what is being recorded, and begins anew. */
async function again() {
  const gone = now;
  now = null;
  dress();
  for (const { recording } of gone?.parts ?? []) await recording.drop();
  gone?.sound?.close();
  record();
}

async function finish() {
  if (!now) return;
  const { parts, marks, turns, sound } = now;
  const length = ticks(lasts());
  now = null;
  prompter.run(false);
  dress();
  say("It is being made ready …");
  /** @type {Record<string, string>} */
  const media = {};
  try {
    for (const [n, id] of (await Promise.all(parts.map(({ recording }) => recording.stop()))).entries())
      media[parts[n].kind.toLowerCase()] = id;
  } catch (error) {
    say(/** @type {Error} */ (error).message, true);
    return;
  }
  sound?.close();
  // What was recorded is looked at for as long as it takes; nobody is filmed meanwhile.
  letGo();
  reload();
  for (const id of Object.values(media))
    if (!(await looked(id, PATIENT))) {
      await watch();
      say("The recording is on the Shelf, but could not be looked at.", true);
      return;
    }
  const [first, second] = parts;
  const late = second ? ticks((second.recording.told - first.recording.told) / 1000) : 0;
  const at = model.state.length ? gridTicks(model.time) : 0;
  const told = marks.map((mark) => ({ at: ticks(mark.at), text: mark.text }));
  const shown = turns.map((one) => ({ media: one.media, at: ticks(one.at) }));
  const command =
    records === "slides"
      ? { do: "lay-pages", turns: shown, length, camera: media.camera, at, marks: told, theme: theme() }
      : { do: "lay-recording", ...media, at, late, marks: told, theme: theme() };
  if (await send(command, toAdded)) {
    close();
    note("The recording stands on the main track.");
  } else {
    await watch();
    say("It is on the Shelf, but could not be put on the timeline.", true);
  }
}

async function open() {
  sheet.showModal();
  say("");
  get("theme").value = remembered.theme ?? "";
  prompter.recall();
  await watch();
}

function close() {
  if (now) {
    finish();
    return;
  }
  counting = false;
  letGo();
  prompter.run(false);
  sheet.close();
}

/** Camera, microphone and screen are not used any more: their lights go out. */
function letGo() {
  end(camera);
  end(screen);
  [camera, screen] = [null, null];
  prompter.listen(null);
  for (const id of ["camera", "screen"]) get(id).srcObject = null;
  get("screen").hidden = true;
}

document.getElementById("open-studio")?.addEventListener("click", open);
get("record").addEventListener("click", record);
get("pause").addEventListener("click", pause);
get("again").addEventListener("click", again);
get("close").addEventListener("click", close);
sheet.addEventListener("cancel", (event) => {
  event.preventDefault();
  close();
});
get("theme").addEventListener("change", () => remember({ theme: get("theme").value }));
for (const id of ["camera-device", "microphone"])
  get(id).addEventListener("change", () => {
    remember({ [id]: get(id).value });
    watch();
  });
sheet.addEventListener("click", async (event) => {
  const choice = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("button[data-records]")
  );
  if (!choice || now) return;
  records = choice.dataset.records ?? "camera";
  for (const one of sheet.querySelectorAll("[data-records]"))
    one.setAttribute("aria-pressed", String(one === choice));
  sheet.dataset.records = records;
  get("deck-choice").hidden = records !== "slides";
  if (records !== "slides") slides.close();
  else if (!(await slides.open())) say("There are no pages yet. Add a PDF to the Shelf first.", true);
  if (!shared()) {
    end(screen);
    screen = null;
    await show("screen", null);
  }
  await watch();
});
sheet.addEventListener("keydown", (event) => {
  const key = event.key.toLowerCase();
  const text = MARKS[key];
  if (/** @type {Element} */ (event.target).matches("textarea, select, input")) return;
  if (key === "t") prompter.run(!prompter.running());
  const way = records === "slides" ? slides.wayOf(event.key) : 0;
  if (way) {
    event.preventDefault();
    if (slides.turn(way) && now) now.turns.push({ at: lasts(), media: slides.page() });
  }
  if (!now || !text) return;
  now.marks.push({ at: lasts(), text });
  get("marks").textContent = `${now.marks.length} marked: ${text}`;
});
window.addEventListener("beforeunload", (event) => {
  if (now) event.preventDefault();
});
