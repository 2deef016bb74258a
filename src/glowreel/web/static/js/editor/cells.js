// @ts-check
/**
 * The collage selected, on the stage: a cell is chosen by a press, its picture moved, enlarged and turned in it, cells
 * swapped, and the lines between them dragged.
 */

import { send } from "./commands.js";
import { fetchDetails } from "./details.js";
import { follow } from "./follow.js";
import { endOf, gridTicks, known, model, moveTo, on } from "./model.js";
import { showTrial } from "./player.js";
import { fillIn } from "./replace.js";
import { cellsOf, draw, handles, paintOver, scope, stageSize } from "./stage.js";

/** @typedef {import("./stage.js").Cell} Cell */
/** @typedef {import("./stage.js").Line} Line */

const svg = /** @type {SVGSVGElement} */ (/** @type {unknown} */ (document.getElementById("handles")));
const bench = /** @type {HTMLElement} */ (document.getElementById("bench-details"));
const LEAST = 0.1;
const MOST = 8;
/** How wide a line is at least where it is taken hold of, in pixels. */
const HOLD = 12;

const find = (/** @type {string} */ id) => cellsOf()?.cells.find((cell) => cell.id === id) ?? null;
export const chosenCell = () => (model.cell ? find(model.cell) : null);

/** @param {string} id */
function choose(id) {
  model.cell = id;
  fetchDetails();
  handles();
}

/** Puts a collage on the main track, or gives the one selected this grid. @param {string} grid @param {string|null} [before] */
export function addCollage(grid, before) {
  const [id] = model.selected;
  if (before === undefined && model.selected.size === 1 && known.get(id)?.row.kind === "collage")
    return send({ do: "arrange-cells", item: id, grid });
  const place = before === undefined ? { at: model.state.length ? gridTicks(model.time) : null } : { before };
  return send({ do: "add-collage", grid, ...place }, () => {
    const [made] = model.selected;
    const row = known.get(made)?.row;
    // The first frame of it is shown, and its first cell waits to be filled.
    if (row) moveTo(Math.round(row.start * model.fps), { follow: true });
  });
}

/** Fills a cell, and chooses the next empty one. @param {string} id @param {string} media */
export function fill(id, media) {
  const told = cellsOf();
  if (!told) return;
  const place = told.cells.findIndex((cell) => cell.id === id);
  const others = [...told.cells.slice(place + 1), ...told.cells.slice(0, place)];
  // The answer shows what is chosen by then.
  model.cell = others.find((cell) => cell.label === "empty")?.id ?? id;
  send({ do: "fill-cell", item: told.id, cell: id, media });
}

/** @param {string} media */
export const fillChosen = (media) => fill(model.cell, media);

/** The cell under the pointer. @param {{clientX: number, clientY: number}} event @returns {Cell|null} */
export function cellAt(event) {
  const { x, y } = spot(event);
  const within = (/** @type {Cell} */ cell) =>
    x >= cell.x && x < cell.x + cell.w && y >= cell.y && y < cell.y + cell.h;
  return cellsOf()?.cells.find(within) ?? null;
}

/** @param {{clientX: number, clientY: number}} event */
function spot(event) {
  const box = svg.getBoundingClientRect();
  const { short } = stageSize();
  return { x: (event.clientX - box.left) / short, y: (event.clientY - box.top) / short };
}

/* ---- what a gesture says ---- */

/** The command that sets something of a cell. @param {string} cell @param {Record<string, unknown>} values */
const setting = (cell, values) => ({
  do: "set",
  items: [cellsOf()?.id ?? ""],
  values: Object.fromEntries(Object.entries(values).map(([name, value]) => [`${cell}.${name}`, value])),
  format: model.format,
  only: scope.only,
  at: gridTicks(model.time),
});

/** The focus with which a picture lies so far from where it lay. @param {Cell} cell @param {number} dx @param {number} dy */
function focusAt(cell, dx, dy) {
  const picture = /** @type {import("./stage.js").Boxed} */ (cell.picture);
  const along = (
    /** @type {number} */ start,
    /** @type {number} */ length,
    /** @type {number} */ side,
    /** @type {number} */ old,
  ) => {
    if (Math.abs(length - side) < 1e-4) return old;
    if (length < side) return Math.min(1, Math.max(0, start / (side - length)));
    return (side / 2 - Math.min(0, Math.max(side - length, start))) / length;
  };
  const old = cell.focus ?? [0.5, 0.5];
  return [
    Number(along(picture.x + dx, picture.w, cell.w, old[0]).toFixed(4)),
    Number(along(picture.y + dy, picture.h, cell.h, old[1]).toFixed(4)),
  ];
}

const held = (/** @type {number} */ zoom) => Number(Math.min(MOST, Math.max(LEAST, zoom)).toFixed(3));

/** The command that a drag from a point to another leads to. @param {string} grip @param {Cell} cell @param {{x: number, y: number}} from @param {{x: number, y: number}} to @param {boolean} shift */
function dragged(grip, cell, from, to, shift) {
  const middle = { x: cell.x + cell.w / 2, y: cell.y + cell.h / 2 };
  const far = (/** @type {{x: number, y: number}} */ point) =>
    Math.hypot(point.x - middle.x, point.y - middle.y);
  if (grip === "zoom")
    return setting(cell.id, { zoom: held(((cell.zoom ?? 1) * far(to)) / Math.max(0.01, far(from))) });
  if (grip === "turn") {
    const angle = (Math.atan2(to.y - middle.y, to.x - middle.x) * 180) / Math.PI + 90;
    const step = shift ? 15 : 1;
    return setting(cell.id, { turn: Math.round((((angle + 180) % 360) - 180) / step) * step });
  }
  return setting(cell.id, { focus: focusAt(cell, to.x - from.x, to.y - from.y) });
}

/** The command that puts a line where the pointer is. @param {Line} line @param {{x: number, y: number}} at */
function moved(line, at) {
  const [start, room, thick, point] = line.across
    ? [line.room.x, line.room.w, line.box.w, at.x]
    : [line.room.y, line.room.h, line.box.h, at.y];
  const share = (point - start - thick * (line.after + 0.5)) / Math.max(0.01, room - thick * (line.of - 1));
  const { path, after } = line;
  return {
    do: "move-divider",
    item: cellsOf()?.id ?? "",
    format: model.format,
    path,
    after,
    share: Number(Math.min(1, Math.max(0, share)).toFixed(4)),
  };
}

/* ---- drawing ---- */

/** @param {number} short */
function paintCells(short) {
  const told = cellsOf();
  if (!told) return;
  for (const cell of told.cells) {
    const box = { x: cell.x * short, y: cell.y * short, width: cell.w * short, height: cell.h * short };
    const chosen = cell.id === model.cell;
    draw("rect", {
      class: `h-cell${chosen ? " is-chosen" : ""}`,
      "data-cell": cell.id,
      "data-grip": "focus",
      ...box,
    });
    if (cell.label === "empty") plus(cell.id, box);
    if (chosen) grips(cell, box);
    else if (told.cells.length > 1) swapGrip(cell.id, box);
  }
  told.lines.forEach((line, place) => {
    const thick = Math.max(HOLD, (line.across ? line.box.w : line.box.h) * short);
    const [x, y] = [(line.box.x + line.box.w / 2) * short, (line.box.y + line.box.h / 2) * short];
    draw(
      "rect",
      line.across
        ? {
            class: "h-line is-across",
            "data-line": place,
            x: x - thick / 2,
            y: line.box.y * short,
            width: thick,
            height: line.box.h * short,
          }
        : {
            class: "h-line",
            "data-line": place,
            x: line.box.x * short,
            y: y - thick / 2,
            width: line.box.w * short,
            height: thick,
          },
    );
  });
}

/** @param {string} id @param {{x: number, y: number, width: number, height: number}} box */
function plus(id, box) {
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  draw("circle", { class: "h-plus", "data-cell": id, "data-grip": "fill", cx: x, cy: y, r: 15 });
  draw("path", { class: "h-plus-sign", d: `M${x - 6} ${y}H${x + 6}M${x} ${y - 6}V${y + 6}` });
}

/** @param {string} id @param {{x: number, y: number, width: number, height: number}} box */
function swapGrip(id, box) {
  if (Math.min(box.width, box.height) < 54) return;
  const [x, y] = [box.x + box.width - 17, box.y + 17];
  draw("circle", { class: "h-grip h-swap", "data-cell": id, "data-grip": "swap", cx: x, cy: y, r: 9 });
  draw("path", {
    class: "h-swap-sign",
    d: `M${x - 5} ${y - 2}H${x + 5}l-3 -3M${x + 5} ${y + 2}H${x - 5}l3 3`,
  });
}

/** @param {Cell} cell @param {{x: number, y: number, width: number, height: number}} box */
function grips(cell, box) {
  swapGrip(cell.id, box);
  if (!cell.picture) return;
  for (const [x, y] of [
    [1, 1],
    [0, 1],
  ])
    draw("circle", {
      class: `h-grip ${x ? "h-se" : "h-sw"}`,
      "data-cell": cell.id,
      "data-grip": "zoom",
      cx: box.x + (x ? box.width - 11 : 11),
      cy: box.y + (y ? box.height - 11 : 11),
      r: 6,
    });
  draw("circle", {
    class: "h-grip h-turn",
    "data-cell": cell.id,
    "data-grip": "turn",
    cx: box.x + box.width / 2,
    cy: box.y + 12,
    r: 6,
  });
}

paintOver.cells = paintCells;

/* ---- gestures ---- */

/** @param {PointerEvent} event */
function press(event) {
  const target = /** @type {SVGElement} */ (event.target);
  const { cell: id, grip, line } = target.dataset ?? {};
  if (event.button || model.playing || (!id && line === undefined)) return;
  event.preventDefault();
  event.stopPropagation();
  /** @type {HTMLElement} */ (document.getElementById("stage")).focus({ preventScroll: true });
  if (line !== undefined)
    return drag(event, (to) => moved(/** @type {Line} */ (cellsOf()?.lines[Number(line)]), to));
  const cell = find(id ?? "");
  if (!cell) return;
  const already = cell.id === model.cell;
  if (!already) choose(cell.id);
  const from = spot(event);
  if (grip === "fill") return fillFrom(cell.id);
  if (grip === "swap") return swap(event, cell);
  drag(event, (to, shift) => (cell.picture ? dragged(grip ?? "focus", cell, from, to, shift) : null));
}

/** @param {string} id */
const fillFrom = (id) => fillIn({ do: "fill-cell", item: cellsOf()?.id ?? "", cell: id });

/** Tries a command while the pointer moves, and sends it at the end. @param {PointerEvent} event @param {(to: {x: number, y: number}, shift: boolean) => Record<string, any>|null} commandOf */
function drag(event, commandOf) {
  /** @type {Record<string, any>|null} */
  let command = null;
  follow(event, {
    move: (pointer) => {
      command = commandOf(spot(pointer), pointer.shiftKey);
      if (command) showTrial(command);
    },
    end: (given, went) => {
      if (given && went && command) send(/** @type {any} */ (command));
      else if (went) showTrial(null);
    },
  });
}

/** Drags one cell over another: they change places. @param {PointerEvent} event @param {Cell} cell */
function swap(event, cell) {
  /** @type {Cell|null} */
  let over = null;
  const item = cellsOf()?.id ?? "";
  follow(event, {
    move: (pointer) => {
      const found = cellAt(pointer);
      over = found && found.id !== cell.id ? found : null;
      for (const rect of svg.querySelectorAll(".h-cell"))
        rect.classList.toggle("is-aimed", rect.getAttribute("data-cell") === over?.id);
    },
    end: (given) => {
      if (given && over) send({ do: "swap-cells", item, cell: cell.id, other: over.id });
      else handles();
    },
  });
}

svg.addEventListener("pointerdown", press, true);

/** A double press on a cell chooses its content anew; on a line, it goes back to where the grid has it. */
svg.addEventListener("dblclick", (event) => {
  const { cell, line } = /** @type {SVGElement} */ (event.target).dataset ?? {};
  if (line !== undefined) send({ do: "move-divider", item: cellsOf()?.id ?? "", format: model.format });
  else if (cell && find(cell)?.kind === "words")
    /** @type {HTMLElement|null} */ (bench.querySelector("#p-cell-text"))?.focus();
  else if (cell) fillFrom(cell);
});

/** The wheel over the chosen cell enlarges its picture. @type {{cell: string, zoom: number, timer: number}|null} */
let wheeled = null;
svg.addEventListener(
  "wheel",
  (event) => {
    const cell = chosenCell();
    if (!cell?.picture || cellAt(event)?.id !== cell.id) return;
    event.preventDefault();
    event.stopPropagation();
    clearTimeout(wheeled?.timer);
    const zoom = held(
      (wheeled?.cell === cell.id ? wheeled.zoom : (cell.zoom ?? 1)) * 1.0015 ** -event.deltaY,
    );
    const command = setting(cell.id, { zoom });
    showTrial(command);
    wheeled = {
      cell: cell.id,
      zoom,
      timer: setTimeout(() => {
        wheeled = null;
        send(command);
      }, 260),
    };
  },
  { capture: true, passive: false },
);

/** With a cell chosen, Delete empties it and Esc leaves it; on the stage, Tab goes on to the next one, and out at the end. */
document.addEventListener(
  "keydown",
  (event) => {
    const cell = chosenCell();
    const told = cellsOf();
    if (!cell || !told || /** @type {Element} */ (event.target).closest("input, textarea, select, dialog"))
      return;
    if (event.key === "Escape") choose("");
    else if (event.key === "Delete" || event.key === "Backspace")
      send({ do: "fill-cell", item: told.id, cell: cell.id });
    else if (event.key === "Tab" && document.activeElement?.id === "stage") {
      const place = told.cells.findIndex((one) => one.id === cell.id) + (event.shiftKey ? -1 : 1);
      choose(told.cells[place]?.id ?? "");
      if (!told.cells[place]) return;
    } else return;
    event.preventDefault();
    event.stopPropagation();
  },
  true,
);

bench.addEventListener("click", (event) => {
  const target = /** @type {Element} */ (event.target);
  const pick = /** @type {HTMLElement|null} */ (target.closest("[data-pick-cell]"));
  if (pick) choose(pick.dataset.pickCell === model.cell ? "" : (pick.dataset.pickCell ?? ""));
  const colour = /** @type {HTMLElement|null} */ (target.closest("[data-fill-colour]"));
  if (colour)
    send({
      do: "set",
      items: [...model.selected],
      values: { ground: "colour", ground_colour: colour.dataset.fillColour },
      format: model.format,
      only: scope.only,
    });
});
on("changed", () => {
  const [id] = model.selected;
  const row = known.get(id)?.row;
  if (row?.kind !== "collage" || model.time > endOf(row)) model.cell = "";
});
