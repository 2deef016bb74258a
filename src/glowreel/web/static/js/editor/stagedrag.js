// @ts-check
/** Gestures on the stage: pressing selects, again what lies behind; grips and the things themselves are dragged. */

import { editWords } from "./stagewords.js";
import { send } from "./commands.js";
import { known, model, on, select } from "./model.js";
import { openMenu } from "./menu.js";
import { orders, thingMenu } from "./menus.js";
import { showTrial } from "./player.js";
import * as stageOf from "./stage.js";
import { corner, cropped, move, sized, turn, wrap } from "./stagegrips.js";
import { snapped } from "./stagesnap.js";

/** @typedef {import("./model.js").Box} Box */
const { boxOf, clipHere, cropping, draw, handles, kindOf, placing, rect, stageSize, turned, under, visible } =
  stageOf;

const stage = /** @type {HTMLElement} */ (document.getElementById("stage"));
const svg = /** @type {SVGSVGElement} */ (/** @type {unknown} */ (document.getElementById("handles")));
const number = /** @type {HTMLElement} */ (document.getElementById("stage-number"));

/** @param {string} grip */
const gripOf = (grip) =>
  /** @type {(box: Box, start: Box, drag: import("./stagegrips.js").Drag) => import("./stagegrips.js").Shown} */ (
    { move, turn, wrap, corner }[grip] ?? (grip.startsWith("crop-") ? cropped(grip.slice(5)) : sized(grip))
  );

/** What a grip changes besides the place. @param {string} grip @param {Box} box */
function changedBy(grip, box) {
  if (grip === "turn") return { turn: box.turn };
  if (grip === "wrap") return { wrap: box.wrap };
  if (grip.startsWith("crop-")) return { crop: box.crop };
  if (grip === "move") return {};
  return {
    size: box.size,
    wrap: Math.min(8, box.wrap),
    ...(box.stretch === undefined ? {} : { stretch: box.stretch }),
  };
}

/** The pointer's place over the frame, in fractions of the short side. @param {PointerEvent|MouseEvent} event */
function spot(event) {
  const box = svg.getBoundingClientRect();
  const { short } = stageSize();
  return { x: (event.clientX - box.left) / short, y: (event.clientY - box.top) / short };
}

/** Other things on show, to snap to. @param {Set<string>} moving */
const others = (moving) =>
  visible()
    .filter((row) => !moving.has(row.id))
    .map((row) => ({ box: /** @type {Box} */ (boxOf(row.id)), name: `“${row.label.slice(0, 18)}”` }));

/* ---- the picture of the main track ---- */

/** A box of the main picture, enlarged about a point of the frame. @param {Box} start @param {number} scale @param {{x: number, y: number}} about */
const enlarged = (start, scale, about) => ({
  ...start,
  x: about.x + (start.x - about.x) * scale,
  y: about.y + (start.y - about.y) * scale,
  w: start.w * scale,
  h: start.h * scale,
});

/** One drag of the main picture. @param {string} grip @param {Box} start @param {import("./stagegrips.js").Drag} drag @returns {{box: Box, words: string, extra: object}} */
function framed(grip, start, drag) {
  const { width, height, short } = stageSize();
  const middle = { x: width / short / 2, y: height / short / 2 };
  if (grip === "turn") {
    const box = { ...start, x: middle.x - start.w / 2, y: middle.y - start.h / 2 };
    const { words } = turn(box, { ...box }, drag);
    return { box: { ...start, turn: box.turn }, words, extra: { turn: box.turn } };
  }
  if (grip === "move") {
    const box = { ...start, x: start.x + drag.dx, y: start.y + drag.dy };
    return { box, words: "moves the picture in the frame", extra: {} };
  }
  const outwards =
    (grip.includes("e") ? drag.dx : -drag.dx) / middle.x / 2 +
    (grip.includes("s") ? drag.dy : -drag.dy) / middle.y / 2;
  const scale = Math.max(0.05, 1 + outwards);
  const box = enlarged(start, scale, middle);
  const zoom = /** @type {any} */ (start).zoom * scale;
  return { box, words: `${Math.round(zoom * 100)} %`, extra: {} };
}

let wheeling = 0;
/** @type {Box|null} */
let wheeled = null;
stage.addEventListener(
  "wheel",
  (event) => {
    const [id] = model.selected;
    const start = model.selected.size === 1 && clipHere()?.id === id ? (wheeled ?? boxOf(id)) : null;
    if (!start || model.playing) return;
    event.preventDefault();
    wheeled = enlarged(start, Math.exp(-event.deltaY / 900), spot(event));
    showTrial(placing(id, wheeled));
    clearTimeout(wheeling);
    // One turn of the wheel is one step.
    wheeling = setTimeout(() => {
      if (wheeled) send(placing(id, wheeled));
      wheeled = null;
    }, 350);
  },
  { passive: false },
);

/* ---- dragging ---- */

/** The layer's own picture, which follows the gesture. @param {string} id */
function spriteOf(id) {
  const { width, height } = stageSize();
  const href = `${model.url}/sprite.png?rev=${model.state.rev}&format=${model.format}&item=${id}&short=360`;
  return /** @type {SVGImageElement} */ (
    draw("image", { class: "h-sprite", opacity: 0.85, visibility: "hidden", width, height, href })
  );
}

/** One press with the pointer, until it is let go. */
class Gesture {
  /** @param {string} id @param {string} grip @param {Box} start @param {PointerEvent} event */
  constructor(id, grip, start, event) {
    this.id = id;
    this.grip = grip;
    this.start = start;
    this.box = { ...start };
    this.from = { x: event.clientX, y: event.clientY };
    this.main = known.get(id)?.lane === "main";
    this.moved = false;
    this.extra = {};
    const together = grip === "move" && !this.main && model.selected.size > 1;
    this.along = together
      ? [...model.selected].flatMap((other) => {
          const box = other === id || known.get(other)?.lane === "main" ? undefined : boxOf(other);
          return box ? [{ id: other, box }] : [];
        })
      : [];
    // Cropping and rounding change what the picture shows: the frame itself is drawn anew while they are dragged.
    this.sprite = this.main || grip.startsWith("crop-") || grip === "corner" ? null : spriteOf(id);
  }

  /** @param {PointerEvent} event */
  drag(event) {
    const { short } = stageSize();
    const [across, down] = [event.clientX - this.from.x, event.clientY - this.from.y];
    if (!this.moved && Math.hypot(across, down) < 3) return;
    this.moved = true;
    const moving = new Set([this.id, ...this.along.map(({ id }) => id)]);
    const drag = {
      dx: across / short,
      dy: down / short,
      shift: event.shiftKey,
      ctrl: event.ctrlKey,
      ...spot(event),
      kept: !["picture", "shape", "sticker"].includes(kindOf(this.id) ?? ""),
      snap: (/** @type {Box} */ box, /** @type {("x"|"y")[]|undefined} */ axes) =>
        snapped(box, stageSize(), others(moving), axes),
    };
    if (this.main) {
      const { box, words, extra } = framed(this.grip, this.start, drag);
      this.box = box;
      this.extra = extra;
      showNumber(event, words);
      outline(box, true);
      showTrial(this.command());
      return;
    }
    Object.assign(this.box, { ...this.start, turn: this.start.turn });
    const { guides, words } = gripOf(this.grip)(this.box, this.start, drag);
    showNumber(event, words);
    outline(this.box, false);
    this.follow();
    drawGuides(guides ?? []);
    showTrial(this.command());
  }

  /** Lets the item's own picture follow. */
  follow() {
    if (!this.sprite) return;
    const { short } = stageSize();
    const { box, start } = this;
    const [wide, high] = this.grip === "wrap" ? [1, 1] : [box.w / start.w, box.h / start.h];
    const about = `${(start.x + start.w / 2) * short} ${(start.y + start.h / 2) * short}`;
    const there = `${(box.x + box.w / 2) * short} ${(box.y + box.h / 2) * short}`;
    const [x, y] = about.split(" ").map(Number);
    this.sprite.setAttribute(
      "transform",
      `translate(${there}) rotate(${box.turn}) scale(${wide} ${high}) rotate(${-start.turn}) translate(${-x} ${-y})`,
    );
    this.sprite.setAttribute("visibility", "visible");
  }

  command() {
    if (this.grip === "corner")
      return {
        do: "set",
        items: [this.id],
        values: { corner: this.box.corner },
        format: model.format,
        only: stageOf.scope.only,
      };
    const [dx, dy] = [this.box.x - this.start.x, this.box.y - this.start.y];
    const also = this.along.map(({ id, box }) => ({
      item: id,
      x: box.x + dx,
      y: box.y + dy,
      width: box.w,
      height: box.h,
    }));
    return placing(this.id, this.box, this.main ? this.extra : changedBy(this.grip, this.box), also);
  }
}

/** Shows where the thing lies now. @param {Box} box @param {boolean} main */
function outline(box, main) {
  const { short } = stageSize();
  for (const old of svg.querySelectorAll(".h-guide, .h-words, .h-grip, .h-stem")) old.remove();
  const frame = svg.querySelector(main ? ".h-whole" : ".h-box[data-grip]");
  const turn = main ? stageOf.aboutFrame(box) : turned(box, short);
  if (frame)
    for (const [key, value] of Object.entries({ transform: "", ...rect(box, short), ...turn }))
      frame.setAttribute(key, String(value));
}

/** @param {import("./stagesnap.js").Guide[]} guides */
function drawGuides(guides) {
  const { short, width, height } = stageSize();
  for (const guide of guides) {
    const at = guide.at * short;
    const across = guide.axis === "x";
    draw(
      "line",
      across
        ? { class: "h-guide", x1: at, x2: at, y1: 0, y2: height }
        : { class: "h-guide", y1: at, y2: at, x1: 0, x2: width },
    );
    const words = draw("text", {
      class: "h-words",
      x: across ? Math.min(at + 5, width - 90) : 6,
      y: across ? 14 : Math.max(12, at - 5),
    });
    words.textContent = guide.words;
  }
}

/** @param {PointerEvent} event @param {string} text */
function showNumber(event, text) {
  const box = stage.getBoundingClientRect();
  number.hidden = false;
  number.textContent = text;
  number.style.left = `${event.clientX - box.left + 14}px`;
  number.style.top = `${event.clientY - box.top + 14}px`;
}

/* ---- pressing ---- */

const DOUBLE = 400;
let waiting = 0;
let last = { id: "", at: 0 };

/** A press that moved nothing: a second one soon after opens the thing, else what lies behind is selected where it was
 * selected already. @param {string} id @param {boolean} already @param {() => string} next */
function pressed(id, already, next) {
  clearTimeout(waiting);
  const now = performance.now();
  const twice = last.id === id && now - last.at < DOUBLE;
  last = { id: twice ? "" : id, at: now };
  if (twice) {
    if (kindOf(id) === "picture") stageOf.crop(!cropping.on);
    else if (kindOf(id) === "words") editWords(id);
    else document.getElementById("words-text")?.focus();
  } else if (already) waiting = setTimeout(() => select([next()]), DOUBLE);
}

/** The next thing behind one that is pressed again. @param {PointerEvent} event @param {string} id */
function behind(event, id) {
  const { x, y } = spot(event);
  const all = under(x, y);
  const place = all.findIndex((row) => row.id === id);
  return all[(place + 1) % all.length]?.id ?? id;
}

/** @param {PointerEvent} event */
function begin(event) {
  if (event.button || model.playing) return;
  const target = /** @type {Element} */ (event.target);
  const { x, y } = spot(event);
  const grip = target.getAttribute("data-grip");
  const id = target.getAttribute("data-layer") ?? under(x, y)[0]?.id;
  stage.focus({ preventScroll: true });
  event.preventDefault();
  if (!id || (event.shiftKey && !grip && !target.getAttribute("data-layer"))) return band(event);
  const already = model.selected.has(id);
  if (event.ctrlKey && !grip) {
    const chosen = new Set(model.selected);
    if (!chosen.delete(id)) chosen.add(id);
    return select([...chosen]);
  }
  if (!already) select([id]);
  const start = boxOf(id);
  const gesture = start ? new Gesture(id, grip ?? "move", start, event) : null;
  follow(event, {
    move: (pointer) => gesture?.drag(pointer),
    end: (given) => {
      number.hidden = true;
      if (given && gesture?.moved) send(gesture.command());
      else if (given && (grip ?? "move") === "move") pressed(id, already, () => behind(event, id));
      else if (gesture?.moved) model.state && showTrial(null);
      handles();
    },
  });
}

/** Calls back while the pointer moves and when it is let go; Esc gives the gesture up. @param {PointerEvent} event @param {{move: (pointer: PointerEvent) => void, end: (given: boolean) => void}} work */
function follow(event, work) {
  svg.setPointerCapture(event.pointerId);
  const end = (/** @type {Event} */ ending) => {
    svg.removeEventListener("pointermove", work.move);
    svg.removeEventListener("pointerup", end);
    svg.removeEventListener("pointercancel", end);
    document.removeEventListener("keydown", escape, true);
    work.end(ending.type === "pointerup");
  };
  const escape = (/** @type {KeyboardEvent} */ key) => {
    if (key.key !== "Escape") return;
    key.stopPropagation();
    end(key);
  };
  svg.addEventListener("pointermove", work.move);
  svg.addEventListener("pointerup", end);
  svg.addEventListener("pointercancel", end);
  document.addEventListener("keydown", escape, true);
}

/** A rubber band: selects the layers that it touches. @param {PointerEvent} event */
function band(event) {
  const from = spot(event);
  const shown = draw("rect", { class: "h-band", x: 0, y: 0, width: 0, height: 0 });
  /** @type {string[]} */
  let chosen = [];
  follow(event, {
    move: (pointer) => {
      const to = spot(pointer);
      const { short } = stageSize();
      const box = {
        x: Math.min(from.x, to.x),
        y: Math.min(from.y, to.y),
        w: Math.abs(to.x - from.x),
        h: Math.abs(to.y - from.y),
      };
      for (const [key, value] of Object.entries(rect(/** @type {Box} */ (box), short)))
        shown.setAttribute(key, String(value));
      chosen = visible()
        .filter((row) => {
          const lies = /** @type {Box} */ (boxOf(row.id));
          return (
            lies.x < box.x + box.w &&
            lies.x + lies.w > box.x &&
            lies.y < box.y + box.h &&
            lies.y + lies.h > box.y
          );
        })
        .map((row) => row.id);
    },
    end: (given) => {
      if (given) select(chosen);
      handles();
    },
  });
}

stage.addEventListener("contextmenu", (event) => {
  const { x, y } = spot(event);
  const all = under(x, y);
  if (!all.length) return;
  event.preventDefault();
  const point = { x: event.clientX, y: event.clientY };
  const top = all.find((row) => model.selected.has(row.id)) ?? all[0];
  if (all.length === 1) return thingMenu(stage, top.id, point);
  openMenu(
    stage,
    "What lies here",
    [
      { title: "What lies here, front to back" },
      ...all.map((row) => ({
        label: `${row.label.slice(0, 40)}${model.selected.has(row.id) ? " (selected)" : ""}`,
        icon:
          {
            words: "type",
            picture: "image",
            design: "layout-text-window",
            shape: "star",
            sticker: "emoji-smile",
            photo: "image",
            filler: "square",
            collage: "grid-1x2",
          }[row.kind] ?? "film",
        run: () => select([row.id]),
      })),
      { line: true },
      ...orders(top.id),
      { line: true },
      {
        label: `All there is to do with ${top.label.slice(0, 24)} …`,
        icon: "three-dots",
        run: () => thingMenu(stage, top.id, point),
      },
    ],
    point,
  );
});

/** With the stage in focus, arrows move what is selected: by a tenth of a percent of the short side, with Shift ten times as far. */
stage.addEventListener("keydown", (event) => {
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (!way || event.altKey || event.ctrlKey || !model.selected.size) return;
  const step = event.shiftKey ? 0.02 : 0.002;
  if (stageOf.nudge(way[0] * step, way[1] * step)) {
    event.preventDefault();
    event.stopPropagation();
  }
});
svg.addEventListener("pointerdown", begin);
stage.addEventListener("pointerdown", (event) => {
  // Beside the frame a rubber band begins; a press alone selects nothing.
  if (event.target === stage || event.target === document.getElementById("stage-fit")) band(event);
});
on("changed", () => {
  wheeled = null;
});
