// @ts-check
/** The editor's beginning: joins the parts and shows the promo where it was left. */

// Boxes stand on the lanes before anything asks for them.
import "./lanes.js";
import "./beside.js";
import "./captions.js";
import "./cells.js";
import "./checks.js";
import "./cuelane.js";
import "./details.js";
import "./differs.js";
import "./fonts.js";
import "./gallery.js";
import "./gestures.js";
import "./insight.js";
import "./keys.js";
import "./heard.js";
import "./live.js";
import "./marquee.js";
import "./outside.js";
import "./overview.js";
import "./panes.js";
import "./picking.js";
import "./presence.js";
import "./points.js";
import "./scrubsound.js";
import "./maskgrips.js";
import "./mixer.js";
import "./recorder.js";
import "./review.js";
import "./studio.js";
import "./music.js";
import "./said.js";
import "./shelf.js";
import "./shots.js";
import "./stagedrag.js";
import "./strokes.js";
import "./ties.js";
import "./viewpath.js";
import "./voice.js";
import "./wall.js";
import "./exporting.js";
import "./wallmenu.js";
import "./wedges.js";
import { redo, send, sendKept, undo } from "./commands.js";
import { model, moveTo, on, remember, remembered, tell } from "./model.js";
import { mute } from "../playing.js";
import { playRound, playWhat, toggle } from "./player.js";

document.addEventListener("click", (event) => {
  const target = /** @type {Element} */ (event.target);
  if (target.closest("#undo")) undo();
  if (target.closest("#redo")) redo();
});
document.addEventListener("change", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  if (field.id === "promo-name") send({ do: "rename", name: field.value });
  if (field.dataset.renameScene)
    send({ do: "rename-scene", scene: field.dataset.renameScene, name: field.value || "Scene" });
});
document.addEventListener("keydown", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  if (event.key === "Enter" && field.matches?.(".ed-name, .scene-name, .head-name, .bench input.num"))
    field.blur();
});

document.getElementById("play")?.addEventListener("click", toggle);
document.getElementById("to-start")?.addEventListener("click", () => moveTo(0));
document.getElementById("to-end")?.addEventListener("click", () => moveTo(model.frameCount));
for (const what of /** @type {("all"|"scene")[]} */ (["all", "scene"]))
  document.getElementById(`play-${what}`)?.addEventListener("click", () => playWhat(what));
const round = document.getElementById("round");
round?.addEventListener("click", () => {
  const now = round.getAttribute("aria-pressed") !== "true";
  round.setAttribute("aria-pressed", String(now));
  playRound(now);
});
const silent = document.getElementById("mute");
silent?.addEventListener("click", () => {
  const now = silent.getAttribute("aria-pressed") !== "true";
  silent.setAttribute("aria-pressed", String(now));
  silent.firstElementChild?.setAttribute("class", now ? "bi bi-volume-mute" : "bi bi-volume-up");
  mute(now);
});
on("played", () => {
  const button = document.getElementById("play");
  button?.setAttribute("aria-label", model.playing ? "Pause" : "Play");
  button?.firstElementChild?.setAttribute("class", model.playing ? "bi bi-pause-fill" : "bi bi-play-fill");
});

let keeping = 0;
on("moved", () => {
  clearTimeout(keeping);
  keeping = setTimeout(() => remember({ at: model.frame / model.fps }), 400);
});

model.format = model.state.formats.some((format) => format.id === remembered.format)
  ? remembered.format
  : model.state.formats[0].id;
model.frame = Math.min(
  Math.max(0, model.frameCount - 1),
  Math.round((Number(remembered.at) || 0) * model.fps),
);
tell("changed");
tell("moved");
document.getElementById("editor")?.setAttribute("data-ready", "1");
sendKept();
