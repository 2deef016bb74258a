// @ts-check
/** Scenes, notes, and what people wrote at screenings, on their lanes. */

import { element, icon, kept, lay, put } from "./laneparts.js";
import { model } from "./model.js";
import { perSecond } from "./timeline.js";

/** @param {HTMLElement} lane @param {number} from @param {number} to */
export function scenesOn(lane, from, to) {
  const now = model.time + 1e-4;
  for (const [n, scene] of model.state.scenes.entries()) {
    if (scene.start > to || scene.start + scene.length < from) continue;
    const key = `scene:${scene.id}`;
    const box = kept(key, () => {
      const part = element("div", "scene");
      part.innerHTML = [
        '<span class="scene-drag" aria-hidden="true"><i class="bi bi-grip-vertical"></i></span>',
        '<input class="scene-name" maxlength="80" autocomplete="off">',
        '<button type="button" class="scene-length num"></button>',
        '<button type="button" class="scene-more"><i class="bi bi-three-dots" aria-hidden="true"></i></button>',
        '<span class="grip grip-end" data-scene-grip="1"></span>',
      ].join("");
      return part;
    });
    const name = /** @type {HTMLInputElement} */ (box.querySelector(".scene-name"));
    box.dataset.scene = scene.id;
    if (document.activeElement !== name) name.value = scene.name;
    name.dataset.renameScene = scene.id;
    name.setAttribute("aria-label", `Name of scene ${n + 1}`);
    const length = /** @type {HTMLElement} */ (box.querySelector(".scene-length"));
    length.textContent = `${scene.length.toFixed(1)} s`;
    length.setAttribute(
      "aria-label",
      `${scene.name} lasts ${scene.length.toFixed(1)} s: type another length`,
    );
    box.querySelector(".scene-more")?.setAttribute("aria-label", `${scene.name}: more`);
    box.classList.toggle("is-here", now >= scene.start && now < scene.start + scene.length);
    box.classList.toggle("is-narrow", scene.length * perSecond() < 120);
    box.classList.toggle("is-tiny", scene.length * perSecond() < 52);
    if (!box.classList.contains("is-ghost")) lay(box, scene.start, scene.length);
    put(lane, key, box);
  }
}

/** @param {HTMLElement} lane @param {number} from @param {number} to */
export function notesOn(lane, from, to) {
  for (const note of model.state.notes) {
    if (note.at < from - 20 || note.at > to) continue;
    const key = `note:${note.id}`;
    const flag = kept(key, () => {
      const b = element("button", "note");
      b.setAttribute("type", "button");
      icon(b, "flag-fill");
      b.append(element("span", "note-words"));
      return b;
    });
    flag.dataset.note = note.id;
    const words = /** @type {HTMLElement} */ (flag.querySelector(".note-words"));
    words.textContent = note.text || "Note";
    flag.setAttribute("aria-label", `Note at ${note.at.toFixed(1)} s: ${note.text || "empty"}`);
    flag.classList.toggle("is-chosen", model.selected.has(note.id));
    flag.style.left = `${note.at * perSecond()}px`;
    put(lane, key, flag);
  }
}

/** What people wrote at screenings, as it stands now. @param {HTMLElement} lane @param {number} from @param {number} to */
export function reviewOn(lane, from, to) {
  for (const mark of model.review) {
    if (mark.at < from - 20 || mark.at > to) continue;
    const key = `review:${mark.id}`;
    const flag = kept(key, () => {
      const b = element("button", "note is-review");
      b.setAttribute("type", "button");
      icon(b, "chat-left-text-fill");
      b.append(element("span", "note-words"));
      return b;
    });
    flag.dataset.review = mark.id;
    /** @type {HTMLElement} */ (flag.querySelector(".note-words")).textContent = mark.text;
    flag.setAttribute("aria-label", `${mark.who} at ${mark.at.toFixed(1)} s: ${mark.text}`);
    flag.title = `${mark.who}: ${mark.text}`;
    flag.classList.toggle("is-done", mark.done);
    flag.classList.toggle("is-gone", !mark.there);
    flag.style.left = `${mark.at * perSecond()}px`;
    put(lane, key, flag);
  }
}
