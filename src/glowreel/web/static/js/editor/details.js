// @ts-check
/** The Details face: controls become commands. What a control means is written on it by the server. */

import { note } from "../page.js";
import { showFace } from "./bench.js";
import { post, send } from "./commands.js";
import { drawCurve } from "./curve.js";
import { drawEases } from "./ease.js";
import { offer } from "./look.js";
import { gridTicks, model, moveTo, on, tell, ticks, typed } from "./model.js";
import { fillIn, replaceFrom } from "./replace.js";
import { scope } from "./stage.js";
import { drawBands } from "./bands.js";
import { drawTones } from "./tones.js";
import { keepTyped, typed as keepLater } from "./typing.js";

/**
 * @typedef {{command: Record<string, any>|null, param: string, sent: string, scale: number, low: number, high: number,
 *   step: number, digits: number, default: any, scoped: boolean, unit: string, moving: boolean, plays: string}} Control
 */

const bench = /** @type {HTMLElement} */ (document.getElementById("bench-details"));

/** What a control is where the server does not say otherwise. */
const USUAL = {
  command: null,
  param: "",
  sent: "plain",
  scale: 1,
  low: 0,
  high: 1,
  step: 1,
  digits: 0,
  default: null,
  scoped: false,
  unit: "",
  moving: false,
  plays: "",
};

/** @param {Element} part @returns {{row: HTMLElement, control: Control}|null} */
export function controlOf(part) {
  const row = /** @type {HTMLElement|null} */ (part.closest("[data-control]"));
  return row && { row, control: { ...USUAL, ...JSON.parse(row.dataset.control ?? "{}") } };
}

/** The command with a value at its place. @param {Control} control @param {unknown} value */
export function commandWith(control, value) {
  const command = control.command
    ? structuredClone(control.command)
    : { do: "set", items: [...model.selected], values: {}, format: model.format };
  const path = control.param.split("/");
  const last = path.pop() ?? "";
  let part = command;
  // One number of a pair leaves the other as it is.
  for (const name of path) part = part[name] ??= [null, null];
  if (last) part[last] = value;
  if (scope.only && control.scoped) command.only = true;
  // What changes over time is changed at the playhead.
  if (control.moving) command.at = gridTicks(model.time);
  return command;
}

/** The command that lets words say something. @param {string} id @param {string} text */
const saying = (id, text) => ({
  do: "set",
  items: [id],
  values: { text },
  format: model.format,
  only: scope.only,
});

/** What a number as shown is on its way to the server. @param {Control} control @param {number} value */
function sentNumber(control, value) {
  const held = Math.min(control.high, Math.max(control.low, value));
  if (control.sent === "ticks") return ticks(held);
  if (control.sent === "grid") return gridTicks(held);
  return Number((held * control.scale).toFixed(6));
}

/** A number from what was typed. @param {Control} control @param {string} text */
function numberFrom(control, text) {
  if (control.sent === "ticks" || control.sent === "grid") return typed(text);
  return Number(text.trim().replace(",", ".").replace("−", "-").replace(control.unit, "") || "x");
}

/**
 * Shows a number in its field and on its slider.
 * @param {HTMLElement} row
 * @param {Control} control
 * @param {number} value
 */
function show(row, control, value) {
  const field = /** @type {HTMLInputElement} */ (row.querySelector("input.num"));
  field.value = value.toFixed(control.digits);
  const slider = /** @type {HTMLInputElement|null} */ (row.querySelector("input[type=range]"));
  if (slider) slider.value = String(slider.dataset.log ? Math.log10(value) : value);
}

/** @param {HTMLElement} row @param {Control} control @param {number} value */
function sendNumber(row, control, value) {
  if (!Number.isFinite(value)) {
    const example =
      control.sent === "number"
        ? `a number from ${control.low} to ${control.high}`
        : "a time like 1.5, 90f or 0:03.5";
    note(`Type ${example}.`, { refusal: true });
    return fetchDetails();
  }
  const held = Math.min(control.high, Math.max(control.low, value));
  show(row, control, held);
  return send(commandWith(control, sentNumber(control, held)));
}

bench.addEventListener("change", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  if (field.dataset.noteAt) {
    const value = typed(field.value);
    if (Number.isFinite(value)) send({ do: "set-note", note: field.dataset.noteAt, at: gridTicks(value) });
    return;
  }
  const found = controlOf(field);
  if (!found || field.dataset.ease !== undefined || field.dataset.line !== undefined) return;
  if (field.type === "search") return;
  const { row, control } = found;
  if (field.type === "checkbox") send(commandWith(control, field.checked));
  else if (field.type === "color") send(commandWith(control, field.value.toUpperCase()));
  else if (field.type === "range") sendNumber(row, control, valueOf(field));
  else if (field instanceof HTMLSelectElement) send(commandWith(control, JSON.parse(field.value)));
  else sendNumber(row, control, numberFrom(control, field.value));
});

/** @param {HTMLInputElement} slider */
const valueOf = (slider) => (slider.dataset.log ? 10 ** Number(slider.value) : Number(slider.value));

bench.addEventListener("input", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  const found = controlOf(field);
  if (field.type === "range" && found) {
    const number = /** @type {HTMLInputElement} */ (found.row.querySelector("input.num"));
    number.value = valueOf(field).toFixed(found.control.digits);
  }
  if (field.dataset.line && found) {
    keepLater(field.id, commandWith(found.control, field.value));
    return;
  }
  const { words, noteText } = field.dataset;
  if (words) keepLater(words, saying(words, field.value));
  if (noteText) keepLater(noteText, { do: "set-note", note: noteText, text: field.value });
  if (field.id === "details-find") search(field.value);
});

/** Arrow keys step a number; with Shift ten times as far. */
bench.addEventListener("keydown", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  const way = { ArrowUp: 1, ArrowDown: -1 }[event.key];
  const found = way && field.matches("input.num") ? controlOf(field) : null;
  if (!way || !found) return;
  event.preventDefault();
  const now = numberFrom(found.control, field.value);
  if (Number.isFinite(now))
    sendNumber(found.row, found.control, now + way * found.control.step * (event.shiftKey ? 10 : 1));
});

/** Dragging a label changes its number. */
bench.addEventListener("pointerdown", (event) => {
  const label = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("label.can-drag")
  );
  const found = label && controlOf(label);
  if (!label || !found || event.button) return;
  const field = /** @type {HTMLInputElement} */ (found.row.querySelector("input.num"));
  const start = numberFrom(found.control, field.value);
  if (!Number.isFinite(start)) return;
  label.setPointerCapture(event.pointerId);
  const { control, row } = found;
  let value = start;
  const move = (/** @type {PointerEvent} */ pointer) => {
    const steps = Math.round((pointer.clientX - event.clientX) / 4);
    value = Math.min(control.high, Math.max(control.low, start + steps * control.step));
    show(row, control, value);
  };
  const end = (/** @type {PointerEvent} */ pointer) => {
    label.removeEventListener("pointermove", move);
    if (pointer.type === "pointerup" && value !== start) sendNumber(row, control, value);
    else show(row, control, start);
  };
  label.addEventListener("pointermove", move);
  label.addEventListener("pointerup", end, { once: true });
  label.addEventListener("pointercancel", end, { once: true });
});

/** A double press on a label brings back what a new one has. */
bench.addEventListener("dblclick", (event) => {
  const label = /** @type {Element} */ (event.target).closest(".control > label, .control-label");
  const found = label && controlOf(label);
  if (!found || found.control.default === null) return;
  const { row, control } = found;
  if (row.classList.contains("is-number")) sendNumber(row, control, control.default);
  else send(commandWith(control, control.default));
});

bench.addEventListener("click", (event) => {
  const target = /** @type {Element} */ (event.target);
  const press = /** @type {HTMLElement|null} */ (
    target.closest("[data-press], [data-set], [data-value], [data-spot]")
  );
  const found = press && controlOf(press);
  if (press && found) {
    const { set, value, spot } = press.dataset;
    if (set !== undefined) send(commandWith(found.control, set));
    else if (value !== undefined) send(commandWith(found.control, JSON.parse(value)));
    else if (spot !== undefined) send(commandWith(found.control, JSON.parse(spot)));
    else if (found.control.command) send(found.control.command);
  }
  const follow = /** @type {HTMLElement|null} */ (target.closest("[data-follow]"));
  if (follow) send(JSON.parse(follow.dataset.follow ?? "{}"));
  const over = /** @type {HTMLElement|null} */ (target.closest("[data-over]"));
  if (over) pressOver(over);
  const fill = target.closest("[data-fill-in]");
  if (fill) {
    const command = controlOf(fill)?.control.command;
    if (command) fillIn(command);
  }
  const replace = /** @type {HTMLElement|null} */ (target.closest("[data-replace]"));
  if (replace) replaceFrom(replace.dataset.replace ?? "");
  const many = /** @type {HTMLElement|null} */ (target.closest("[data-many]"));
  if (many) {
    const items = [...model.selected];
    const what = many.dataset.many;
    send(what === "apart" ? { do: "group", items, apart: true } : { do: what, items });
  }
  const remove = /** @type {HTMLElement|null} */ (target.closest("[data-remove]"));
  if (remove) send({ do: "remove", items: [remove.dataset.remove] });
  if (target.closest("#for-all, #for-one")) {
    scope.only = target.closest("#for-one") !== null;
    scopes();
  }
});

/** A press on what stands beside a property that can change over time. @param {HTMLElement} part */
function pressOver(part) {
  const holder = /** @type {HTMLElement} */ (part.closest("[data-points]"));
  const { points, here, ...of } = JSON.parse(holder.dataset.points ?? "{}");
  const at = gridTicks(model.time);
  if (part.dataset.over === "point")
    send(
      here
        ? { do: "remove-point", at, ...of }
        : { do: "add-point", at, only: scope.only && Boolean(of.format), ...of },
    );
  else {
    const half = 0.5 / model.fps;
    const way = part.dataset.over === "next" ? 1 : -1;
    const ahead = points.filter((/** @type {number} */ point) => (point - model.time) * way > half);
    if (ahead.length)
      moveTo(Math.round((way > 0 ? Math.min(...ahead) : Math.max(...ahead)) * model.fps), { follow: true });
  }
}

bench.addEventListener("change", (event) => {
  const choice = /** @type {HTMLElement} */ (event.target);
  const holder =
    choice instanceof HTMLSelectElement &&
    choice.dataset.ease !== undefined &&
    choice.closest("[data-points]");
  if (!(holder instanceof HTMLElement)) return;
  const { item, name, format } = JSON.parse(holder.dataset.points ?? "{}");
  send({
    do: "set-point",
    item,
    name,
    format,
    at: gridTicks(model.time),
    ease: /** @type {HTMLSelectElement} */ (choice).value,
  });
});

/** The brand of the promo, while nothing is selected. */
bench.addEventListener("change", (event) => {
  const choice = /** @type {HTMLSelectElement} */ (event.target);
  if (choice.dataset.giveBrand !== undefined) post("brand", { brand: choice.value });
  if (choice.dataset.wearPalette !== undefined) send({ do: "wear-palette", palette: choice.value });
});
bench.addEventListener("click", (event) => {
  const target = /** @type {Element} */ (event.target);
  const bring = /** @type {HTMLElement|null} */ (target.closest("[data-bring-brand]"));
  if (bring) post("brand", { brand: bring.dataset.bringBrand ?? "" });
});

/* ---- groups ---- */

const KEY = "glowreel:groups";
/** Whether each group is open. @type {Record<string, boolean>} */
const open = JSON.parse(localStorage.getItem(KEY) ?? "{}");
let sought = "";

/** Opens and shuts groups as they were left. */
function groups() {
  for (const group of /** @type {NodeListOf<HTMLDetailsElement>} */ (bench.querySelectorAll(".group")))
    group.open = open[group.dataset.group ?? ""] ?? group.open;
  const field = /** @type {HTMLInputElement|null} */ (bench.querySelector("#details-find"));
  if (field && sought) {
    field.value = sought;
    search(sought);
  }
}
bench.addEventListener(
  "toggle",
  (event) => {
    const group = /** @type {HTMLDetailsElement} */ (event.target);
    if (sought || !group.dataset.group) return;
    open[group.dataset.group] = group.open;
    localStorage.setItem(KEY, JSON.stringify(open));
  },
  true,
);

/** Shows only the controls that have a word. @param {string} word */
function search(word) {
  const leaving = sought && !word.trim();
  sought = word.trim().toLowerCase();
  let any = false;
  for (const group of /** @type {NodeListOf<HTMLDetailsElement>} */ (bench.querySelectorAll(".group"))) {
    let found = false;
    for (const row of /** @type {NodeListOf<HTMLElement>} */ (group.querySelectorAll("[data-find]"))) {
      row.hidden = Boolean(sought) && !(row.dataset.find ?? "").includes(sought);
      found ||= !row.hidden;
    }
    group.hidden = !found;
    any ||= found;
    if (sought) group.open = true;
  }
  bench.querySelector(".details-nothing")?.toggleAttribute("hidden", any);
  if (leaving) groups();
}

/** Opens a group and brings it into sight, as soon as Details show what is selected. @param {string} name */
export function openGroup(name) {
  open[name] = true;
  wanted = name;
}
let wanted = "";

function scopes() {
  bench.querySelector("#for-all")?.setAttribute("aria-pressed", String(!scope.only));
  bench.querySelector("#for-one")?.setAttribute("aria-pressed", String(scope.only));
}

function dress() {
  /** @type {any} */ (window).htmx.process(bench);
  groups();
  scopes();
  drawCurve();
  drawEases(bench, (part, ease) => {
    const holder = /** @type {HTMLElement|null} */ (part.closest("[data-points]"));
    const { item, name, format } = JSON.parse(holder?.dataset.points ?? "{}");
    send({ do: "set-point", item, name, format, at: gridTicks(model.time), ease });
  });
  for (const draw of [drawTones, drawBands])
    draw(bench, (/** @type {Element} */ part, /** @type {unknown} */ points) => {
      const found = controlOf(part);
      if (found) send(commandWith(found.control, points));
    });
  offer();
  if (wanted) {
    const group = bench.querySelector(`[data-group="${wanted}"]`);
    if (group) {
      group.scrollIntoView({ block: "start" });
      wanted = "";
    }
  }
  tell("dressed");
}

/** Asks the server for the details of what is selected. */
export async function fetchDetails() {
  const chosen = [...model.selected].join(",");
  const url = `${model.url}/details?selected=${chosen}&format=${model.format}&frame=${model.frame}&cell=${model.cell}`;
  const response = await fetch(url, { headers: { "X-Glow": "1" } }).catch(() => null);
  // Something else may have been selected, or changed, while the answer was on its way.
  if (!response?.ok || chosen !== [...model.selected].join(",")) return;
  bench.innerHTML = await response.text();
  dress();
}

on("selected", () => {
  keepTyped();
  scope.only = false;
  sought = "";
  fetchDetails();
  if (model.selected.size) showFace("details");
});
on("format", fetchDetails);
let moved = 0;
on("moved", () => {
  clearTimeout(moved);
  // What changes over time is shown as it is at the playhead, once that rests.
  if (!model.playing && bench.querySelector(".is-moving"))
    moved = setTimeout(() => {
      if (!bench.contains(document.activeElement) || !document.activeElement?.matches("input.num, textarea"))
        fetchDetails();
    }, 120);
});
on("changed", dress);
