// @ts-check
/** All formats side by side on the stage: they play in step, and what lies in any of them is taken hold of there. */

import { readFrames } from "./frames.js";
import { model, on, remember, remembered, tell } from "./model.js";
import { roomOf } from "./stage.js";
import { work } from "./wall.js";

const place = /** @type {HTMLElement} */ (document.getElementById("beside"));
const button = /** @type {HTMLElement} */ (document.getElementById("side-by-side"));
const RUN = 12;
/** How far ahead of what is due frames are asked for that came too late, in frames: at first, and at most. */
const AHEAD = [4, 24];
const SIZES = [72, 120, 180, 240, 300, 360, 480];

/** The frames of one format beside the one that is worked in. */
class Follower {
  /** @param {HTMLElement} figure @param {string} format */
  constructor(figure, format) {
    this.format = format;
    this.canvas = /** @type {HTMLCanvasElement} */ (figure.querySelector("canvas"));
    this.paper = /** @type {CanvasRenderingContext2D} */ (this.canvas.getContext("2d", { alpha: false }));
    /** @type {Map<number, ImageBitmap>} */
    this.ready = new Map();
    this.next = 0;
    this.ahead = AHEAD[0];
    this.busy = false;
    this.wanted = "";
  }

  /** @param {ImageBitmap} picture @param {number} frame */
  paint(picture, frame) {
    if (this.canvas.width !== picture.width || this.canvas.height !== picture.height) {
      this.canvas.width = picture.width;
      this.canvas.height = picture.height;
    }
    this.paper.drawImage(picture, 0, 0);
    this.canvas.dataset.shown = String(frame);
    this.canvas.dataset.painted = String(Number(this.canvas.dataset.painted ?? 0) + 1);
  }

  short() {
    const room = roomOf(this.format);
    const wanted = Math.min(room.width, room.height) * Math.min(window.devicePixelRatio || 1, 2);
    return SIZES.find((size) => size >= wanted * 0.9) ?? 480;
  }

  /** Shows the frame at the playhead; only the newest wish is kept. */
  async still() {
    const { frame } = model;
    this.wanted = `${model.url}/frame.jpg?rev=${model.state.rev}&format=${this.format}&frame=${frame}&short=${this.short()}`;
    if (this.busy) return;
    this.busy = true;
    try {
      let shown = "";
      while (this.wanted !== shown && !model.playing) {
        shown = this.wanted;
        const at = model.frame;
        const response = await fetch(shown);
        if (response.ok) this.paint(await createImageBitmap(await response.blob()), at);
      }
    } catch {
      /* The connection is gone: it says so elsewhere. */
    } finally {
      this.busy = false;
    }
  }

  /** Paints what is due while it plays, and fetches on. */
  follow() {
    const due = model.frame;
    let best = -1;
    for (const frame of this.ready.keys()) if (frame <= due && frame > best) best = frame;
    if (best >= 0) this.paint(/** @type {ImageBitmap} */ (this.ready.get(best)), best);
    for (const frame of [...this.ready.keys()]) if (frame <= best) this.ready.delete(frame);
    if (this.next <= due) {
      // What is asked for now comes a little later: only frames that are due then are of use.
      this.next = due + this.ahead;
      this.ahead = Math.min(AHEAD[1], Math.ceil(this.ahead * 1.5));
      this.ready.clear();
    }
    if (this.next - due < RUN * 2) this.fetch();
  }

  async fetch() {
    if (this.busy) return;
    this.busy = true;
    try {
      const count = Math.min(RUN, model.frameCount - this.next);
      if (count <= 0) return;
      let frame = this.next;
      this.next += count;
      const response = await fetch(
        `${model.url}/run?rev=${model.state.rev}&format=${this.format}&frame=${frame}&count=${count}&short=${Math.min(240, this.short())}`,
      );
      if (response.ok && response.body)
        await readFrames(
          response.body.getReader(),
          (picture) => this.ready.set(frame++, picture),
          () => model.playing,
        );
    } catch {
      /* Sound and the one that is worked in go on. */
    } finally {
      this.busy = false;
      // What was wished for meanwhile, once it stands still.
      if (!model.playing) this.still();
    }
  }
}

/** @type {Follower[]} */
let followers = [];
/** How it was laid the last time: as long as nothing of that changes, what is shown stays. */
let laid = "";

function lay() {
  place.hidden = !model.beside;
  button.setAttribute("aria-pressed", String(model.beside));
  const rooms = model.beside ? model.state.formats.map(({ id, name }) => [id, name, roomOf(id)]) : [];
  const now = JSON.stringify([rooms, model.beside && model.format]);
  if (now === laid) {
    show();
    return;
  }
  laid = now;
  followers = [];
  place.replaceChildren();
  if (!model.beside) return;
  for (const format of model.state.formats) {
    const room = roomOf(format.id);
    const figure = document.createElement("figure");
    figure.className = "beside-frame";
    figure.dataset.beside = format.id;
    figure.style.transform = `translate(${room.x}px, ${room.y}px)`;
    figure.style.width = `${room.width}px`;
    const name = document.createElement("figcaption");
    name.textContent = format.name;
    if (format.id === model.format) {
      figure.classList.add("is-here");
      figure.style.paddingTop = `${room.height}px`;
      figure.append(name);
    } else {
      const canvas = document.createElement("canvas");
      canvas.style.width = `${room.width}px`;
      canvas.style.height = `${room.height}px`;
      const press = document.createElement("button");
      press.type = "button";
      press.setAttribute("aria-label", `Work in ${format.name}`);
      press.append(canvas);
      figure.append(press, name);
      followers.push(new Follower(figure, format.id));
    }
    place.append(figure);
  }
  show();
}

function show() {
  for (const one of followers) if (!model.playing) one.still();
}

const handles = /** @type {SVGSVGElement} */ (/** @type {unknown} */ (document.getElementById("handles")));
const LONGEST_WAIT = 1500;

/**
 * A press on any of the formats takes hold of what lies there: one works in it from then on, and the gesture goes on on
 * the stage, which has moved to its place.
 * @param {PointerEvent} event
 */
async function takeHold(event) {
  const figure = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-beside]:not(.is-here)")
  );
  if (!figure || event.button || model.playing) return;
  let [x, y, held] = [event.clientX, event.clientY, true];
  const moved = (/** @type {PointerEvent} */ pointer) => ([x, y] = [pointer.clientX, pointer.clientY]);
  const gone = () => (held = false);
  window.addEventListener("pointermove", moved);
  window.addEventListener("pointerup", gone, { once: true });
  const format = figure.dataset.beside ?? "";
  work(format);
  const until = performance.now() + LONGEST_WAIT;
  while (!model.state.boxes[format] && performance.now() < until)
    await new Promise((done) => setTimeout(done, 20));
  window.removeEventListener("pointermove", moved);
  window.removeEventListener("pointerup", gone);
  if (model.format !== format) return;
  const under = document.elementFromPoint(event.clientX, event.clientY);
  const target = under && handles.contains(under) ? under : handles;
  const say = (/** @type {string} */ name, /** @type {number} */ clientX, /** @type {number} */ clientY) =>
    target.dispatchEvent(
      new PointerEvent(name, {
        clientX,
        clientY,
        buttons: 1,
        pointerId: event.pointerId,
        pointerType: event.pointerType,
        isPrimary: true,
        bubbles: true,
        cancelable: true,
      }),
    );
  say("pointerdown", event.clientX, event.clientY);
  // How far it was dragged, and whether it was let go, while the stage was on its way.
  if (x !== event.clientX || y !== event.clientY) say("pointermove", x, y);
  if (!held) say("pointerup", x, y);
}
place.addEventListener("pointerdown", takeHold);
place.addEventListener("click", (event) => {
  const figure = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-beside]")
  );
  if (figure) work(figure.dataset.beside ?? "");
});
button.addEventListener("click", () => {
  model.beside = !model.beside;
  remember({ beside: model.beside });
  tell("format");
});

on("format", lay);
on("changed", lay);
on("moved", () => {
  if (!model.beside) return;
  if (model.playing) for (const one of followers) one.follow();
  else show();
});
on("played", () => {
  for (const one of followers) {
    one.ready.clear();
    one.next = model.frame + 1;
    one.ahead = AHEAD[0];
  }
  show();
});
new ResizeObserver(() => model.beside && lay()).observe(
  /** @type {HTMLElement} */ (document.getElementById("stage")),
);
model.beside = Boolean(remembered.beside);
if (model.beside) tell("format");
