// @ts-check
/** Scenes: on the ribbon above the tracks, and, folded, as large pictures. Same scenes, same menu, same commands. */

import { send } from "./commands.js";
import { drag, sayAt, showMark } from "./drag.js";
import { openMenu } from "./menu.js";
import { sceneMenu } from "./scenemenu.js";
import { clock, model, moveTo, on, remember, remembered, sceneAt, ticks, typed } from "./model.js";
import { note } from "../page.js";
import { layOut, perSecond, snapTimes, snapTo, timeAt } from "./timeline.js";

const timeline = /** @type {HTMLElement} */ (document.querySelector(".timeline"));
const cards = /** @type {HTMLElement} */ (document.getElementById("scene-cards"));
const fold = document.getElementById("fold");

/** The scene before which something at a time would go. @param {number} time @param {string} without */
function sceneBefore(time, without) {
  let at = 0;
  for (const scene of model.state.scenes) {
    if (scene.id !== without && time < scene.start + scene.length / 2)
      return { before: scene.id, at: scene.start };
    at = scene.start + scene.length;
  }
  return { before: null, at };
}

/** @param {PointerEvent} event @param {HTMLElement} box @param {import("./model.js").Scene} scene */
function move(event, box, scene) {
  let place = sceneBefore(scene.start, "");
  drag(
    event,
    (pointer, dx) => {
      box.classList.add("is-ghost");
      box.style.left = `${(scene.start + dx) * perSecond()}px`;
      place = sceneBefore(timeAt(pointer.clientX), scene.id);
      showMark(place.at);
      sayAt(pointer, scene.name);
    },
    (kept) => {
      box.classList.remove("is-ghost");
      if (kept) send({ do: "move-scene", scene: scene.id, before: place.before });
      layOut();
    },
  );
}

/** @param {PointerEvent} event @param {HTMLElement} box @param {import("./model.js").Scene} scene */
function stretch(event, box, scene) {
  const times = snapTimes();
  let length = scene.length;
  drag(
    event,
    (pointer, dx) => {
      box.classList.add("is-ghost");
      const near = snapTo(scene.start + scene.length + dx, times, pointer.ctrlKey);
      length = Math.max(0.1, Math.round((near.time - scene.start) * model.fps) / model.fps);
      box.style.width = `${length * perSecond()}px`;
      sayAt(
        pointer,
        `${scene.name} ${clock(length)} (${length >= scene.length ? "+" : "−"}${clock(Math.abs(length - scene.length))})`,
      );
      showMark(near.hit ? near.time : null);
    },
    (kept) => {
      box.classList.remove("is-ghost");
      if (kept) send({ do: "set-scene-length", scene: scene.id, length: ticks(length) });
    },
  );
}

/**
 * Asks for a scene's length in a small menu.
 * @param {HTMLElement} beside
 * @param {import("./model.js").Scene} scene
 */
function askLength(beside, scene) {
  openMenu(beside, "Length of the scene", [
    { title: scene.name },
    {
      label: "Lasts",
      field: scene.length.toFixed(2),
      said: "Length of the scene, seconds",
      set: (text) => {
        const value = typed(text);
        if (value > 0) send({ do: "set-scene-length", scene: scene.id, length: ticks(value) });
        else note("Type a time like 1.5, 90f or 0:03.5.", { refusal: true });
      },
    },
    { hint: "Like 4.5, 90f or 0:04.5. A tenth of a second at least." },
  ]);
}

/** @param {Element|null} part */
const sceneOf = (part) => model.state.scenes.find((scene) => scene.id === part?.getAttribute("data-scene"));

document.addEventListener("pointerdown", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const box = /** @type {HTMLElement|null} */ (target.closest(".scene, .scene-card"));
  const scene = sceneOf(box);
  if (!box || !scene || event.button || target.closest("input, button:not(.scene-face)")) return;
  if (box.classList.contains("scene-card")) {
    moveCard(event, box, scene);
    return;
  }
  event.preventDefault();
  if (target.dataset.sceneGrip) stretch(event, box, scene);
  else move(event, box, scene);
});
document.addEventListener("click", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const box = target.closest(".scene, .scene-card");
  const scene = sceneOf(box);
  if (!scene) return;
  const length = /** @type {HTMLElement|null} */ (target.closest(".scene-length"));
  const more = /** @type {HTMLElement|null} */ (target.closest(".scene-more"));
  if (length) askLength(length, scene);
  else if (more) sceneMenu(more, scene);
  else if (target.closest(".scene-face") && event.detail === 0) moveTo(scene.start * model.fps + 0.01);
});
document.addEventListener("dblclick", (event) => {
  const scene = sceneOf(/** @type {Element} */ (event.target).closest(".scene"));
  if (scene && !(/** @type {Element} */ (event.target).closest("input, button")))
    moveTo(scene.start * model.fps + 0.01);
});

/* ---- folded ---- */

export const folded = () => timeline.classList.contains("is-folded");

/** @param {boolean} shut */
export function setFolded(shut) {
  timeline.classList.toggle("is-folded", shut);
  document.getElementById("editor")?.classList.toggle("is-folded", shut);
  fold?.setAttribute("aria-pressed", String(shut));
  const words = shut ? "Unfold: show all tracks (U)" : "Fold: show scenes only (U)";
  fold?.setAttribute("title", words);
  fold?.setAttribute("aria-label", words);
  cards.hidden = !shut;
  remember({ folded: shut });
  if (shut) paintCards();
  else layOut();
}
fold?.addEventListener("click", () => setFolded(!folded()));

/** What a scene has in it, in few words. @param {import("./model.js").Scene} scene */
function contents(scene) {
  const end = scene.start + scene.length;
  const over = (/** @type {string} */ kind) =>
    model.state.tracks
      .filter((track) => track.kind === kind)
      .flatMap((track) => track.rows)
      .filter((row) => row.start < end && row.start + row.length > scene.start).length;
  const say = (/** @type {number} */ n, /** @type {string} */ word) =>
    n ? `${n} ${word}${n > 1 ? "s" : ""}` : "";
  return [say(scene.clips, "clip"), say(over("layer"), "layer"), say(over("sound"), "sound")]
    .filter(Boolean)
    .join(" · ");
}

function paintCards() {
  if (!folded()) return;
  const writing = document.activeElement;
  if (writing instanceof HTMLInputElement && cards.contains(writing)) return;
  const focus = writing?.closest(".scene-card")?.getAttribute("data-scene");
  cards.replaceChildren(
    ...model.state.scenes.map((scene, n) => {
      const card = document.createElement("div");
      card.className = "scene-card";
      card.dataset.scene = scene.id;
      card.innerHTML =
        '<button type="button" class="scene-face"><img alt="" draggable="false"><span class="scene-bar"></span></button><div class="scene-line"><input class="scene-name" maxlength="80" autocomplete="off"><button type="button" class="scene-length num"></button><button type="button" class="scene-more"><i class="bi bi-three-dots" aria-hidden="true"></i></button></div><p class="scene-facts"></p>';
      const name = /** @type {HTMLInputElement} */ (card.querySelector("input"));
      name.value = scene.name;
      name.dataset.renameScene = scene.id;
      name.setAttribute("aria-label", `Name of scene ${n + 1}`);
      card
        .querySelector(".scene-face")
        ?.setAttribute("aria-label", `Go to ${scene.name}, ${scene.length.toFixed(1)} s`);
      const length = /** @type {HTMLElement} */ (card.querySelector(".scene-length"));
      length.textContent = `${scene.length.toFixed(1)} s`;
      length.setAttribute(
        "aria-label",
        `${scene.name} lasts ${scene.length.toFixed(1)} s: type another length`,
      );
      card.querySelector(".scene-more")?.setAttribute("aria-label", `${scene.name}: more`);
      /** @type {HTMLElement} */ (card.querySelector(".scene-facts")).textContent = contents(scene);
      const picture = /** @type {HTMLImageElement} */ (card.querySelector("img"));
      picture.src = `${model.url}/frame.jpg?rev=${model.state.rev}&format=${model.format}&frame=${Math.round((scene.start + scene.length * 0.4) * model.fps)}&short=240`;
      return card;
    }),
    addCard(),
  );
  if (focus)
    /** @type {HTMLElement|null} */ (
      cards.querySelector(`[data-scene="${CSS.escape(focus)}"] .scene-face`)
    )?.focus();
  markCards();
}

function addCard() {
  const add = document.createElement("button");
  add.type = "button";
  add.className = "scene-add";
  add.innerHTML = '<i class="bi bi-plus-lg" aria-hidden="true"></i><span>A new scene</span>';
  add.addEventListener("click", () => send({ do: "insert-scene" }));
  return add;
}

function markCards() {
  if (!folded()) return;
  const now = sceneAt(model.time + 1e-4);
  for (const card of /** @type {NodeListOf<HTMLElement>} */ (cards.querySelectorAll(".scene-card"))) {
    const scene = sceneOf(card);
    const mine = scene !== undefined && scene === now;
    card.classList.toggle("is-here", mine);
    const bar = /** @type {HTMLElement} */ (card.querySelector(".scene-bar"));
    bar.style.width = mine && scene ? `${(100 * (model.time - scene.start)) / scene.length}%` : "0";
    if (mine && model.playing) card.scrollIntoView({ block: "nearest", inline: "nearest" });
  }
}

/**
 * Drags a card to another place; a press goes to where in the scene it was pressed.
 * @param {PointerEvent} event
 * @param {HTMLElement} card
 * @param {import("./model.js").Scene} scene
 */
function moveCard(event, card, scene) {
  /** @type {string|null|undefined} */
  let before;
  let moved = false;
  const from = card.getBoundingClientRect();
  drag(
    event,
    (pointer) => {
      moved = true;
      card.classList.add("is-ghost");
      const others = /** @type {HTMLElement[]} */ ([...cards.querySelectorAll(".scene-card:not(.is-ghost)")]);
      const behind = others.find((other) => {
        const box = other.getBoundingClientRect();
        return pointer.clientY < box.bottom && pointer.clientX < box.left + box.width / 2;
      });
      before = behind?.dataset.scene ?? null;
      for (const other of others) other.classList.toggle("is-next", other === behind);
      sayAt(pointer, scene.name);
    },
    (kept) => {
      card.classList.remove("is-ghost");
      for (const other of cards.querySelectorAll(".is-next")) other.classList.remove("is-next");
      if (kept && before !== undefined) send({ do: "move-scene", scene: scene.id, before });
      else if (!moved) {
        const share = Math.min(0.999, Math.max(0, (event.clientX - from.left) / from.width));
        moveTo((scene.start + share * scene.length) * model.fps);
      }
    },
  );
}

on("changed", paintCards);
on("format", paintCards);
on("moved", markCards);
setFolded(Boolean(remembered.folded));
