// @ts-check
/** What can be done with formats: their menu, another order by dragging, one more of any shape, channels. */

import { send } from "./commands.js";
import { openDiffers } from "./differs.js";
import { openMenu } from "./menu.js";
import { model, on } from "./model.js";

/** The channels that there are, as the sheet offers them. @returns {[string, string][]} key and name */
const channels = () => [
  .../** @type {HTMLInputElement[]} */ ([
    ...document.querySelectorAll("#channels-form label [name=channels]"),
  ]).map(
    (box) =>
      /** @type {[string, string]} */ ([
        box.value,
        box.closest("label")?.querySelector("strong")?.textContent ?? "",
      ]),
  ),
  .../** @type {[string, string][]} */ (model.state.own_channel ? [["own", model.state.own_channel]] : []),
];

/** The sheet shows the channels that the promo is for now. */
function tick() {
  if (/** @type {HTMLDialogElement} */ (document.getElementById("channels-sheet")).open) return;
  for (const box of /** @type {NodeListOf<HTMLInputElement>} */ (
    document.querySelectorAll("#channels-form [name=channels]")
  ))
    box.checked = model.state.channels.includes(box.value);
}
on("changed", tick);

/** In which formats parts differ, and how many do. @returns {Record<string, number>} */
function differing() {
  /** @type {Record<string, number>} */
  const counts = {};
  const rows = [...model.state.main, ...model.state.tracks.flatMap((track) => track.rows)];
  for (const row of rows) for (const id of row.own ?? []) counts[id] = (counts[id] ?? 0) + 1;
  return counts;
}

function marks() {
  const counts = differing();
  for (const mark of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("[data-wall-own]"))) {
    const count = counts[mark.closest("[data-wall]")?.getAttribute("data-wall") ?? ""] ?? 0;
    mark.hidden = !count;
    mark.title = `${count} thing${count === 1 ? " differs" : "s differ"} in this format`;
  }
}
on("changed", marks);
marks();

/** A copy of the promo in one format alone; this one stays as it is. @param {string} id */
function alone(id) {
  const form = document.createElement("form");
  form.method = "post";
  form.action = `${model.url}/copy`;
  const token = document.querySelector('meta[name="csrf-token"]')?.getAttribute("content") ?? "";
  for (const [name, value] of [
    ["csrf_token", token],
    ["format", id],
  ]) {
    const field = document.createElement("input");
    field.type = "hidden";
    field.name = name;
    field.value = value;
    form.append(field);
  }
  document.body.append(form);
  form.submit();
}

/** What was said of a channel of one's own; none where it is not chosen. @param {FormData} data */
function ownChannel(data) {
  if (!data.getAll("channels").includes("own")) return null;
  const [name, shape] = [String(data.get("own-name")).trim() || "Own channel", String(data.get("own-shape"))];
  const numbers = [
    "shortest",
    "longest",
    "best_from",
    "best_to",
    "megabytes",
    "caption",
    "title",
    "loudness",
  ];
  const sides = ["left", "top", "right", "bottom"].map((side) => Number(data.get(`own-${side}`)) / 100);
  return {
    name,
    shape,
    insets: sides,
    ...Object.fromEntries(numbers.map((key) => [key, Number(data.get(`own-${key}`))])),
  };
}

/** @param {HTMLElement} button @param {string} id */
function menu(button, id) {
  const formats = model.state.formats;
  const place = formats.findIndex((format) => format.id === id);
  const format = formats[place];
  const count = differing()[id] ?? 0;
  const others = formats.filter((one) => one.id !== id);
  openMenu(button, format.name, [
    {
      label: "Name",
      said: `Name of ${format.name}`,
      field: format.name,
      set: (name) => send({ do: "set-format", format: id, name }),
    },
    {
      label: "Shape",
      said: `Shape of ${format.name}`,
      field: `${format.wide}:${format.high}`,
      set: (shape) => send({ do: "set-format", format: id, shape }),
    },
    { title: "For the channel" },
    ...channels().map(([key, name]) => ({
      label: name,
      icon: format.channel === key ? "check-lg" : "dot",
      run: () => send({ do: "set-format", format: id, channel: format.channel === key ? "" : key }),
    })),
    { line: true },
    { label: "One more like it", icon: "copy", run: () => send({ do: "copy-format", format: id }) },
    { label: "A promo of its own in it", icon: "file-earmark-plus", run: () => alone(id) },
    {
      label: "Up on the wall",
      icon: "arrow-up",
      off: place === 0,
      run: () => send({ do: "move-format", format: id, before: formats[place - 1].id }),
    },
    {
      label: "Down on the wall",
      icon: "arrow-down",
      off: place === formats.length - 1,
      run: () => send({ do: "move-format", format: id, before: formats[place + 2]?.id ?? null }),
    },
    { line: true },
    {
      label: count ? `What differs (${count}) …` : "What differs …",
      icon: "intersect",
      run: () => openDiffers(id),
    },
    ...(count
      ? others.map((one) => ({
          label: `Let ${one.name} differ as it does`,
          icon: "box-arrow-right",
          run: () => send({ do: "copy-changes", format: id, to: one.id }),
        }))
      : []),
    {
      label: count ? `Send it back to the rule (${count})` : "It follows the rule",
      icon: "arrow-counterclockwise",
      off: !count,
      run: () => send({ do: "to-rule", format: id }),
    },
    {
      label: "Remove it",
      icon: "trash3",
      off: formats.length < 2,
      run: () => send({ do: "remove-format", format: id }),
    },
  ]);
}

document.addEventListener("click", (event) => {
  const target = /** @type {Element} */ (event.target);
  const more = /** @type {HTMLElement|null} */ (target.closest("[data-format-menu]"));
  if (more) menu(more, more.dataset.formatMenu ?? "");
  const add = /** @type {HTMLElement|null} */ (target.closest("[data-add-format]"));
  if (add) {
    add.closest("dialog")?.close();
    send({ do: "add-format", format: add.dataset.addFormat });
  }
});
document.addEventListener("contextmenu", (event) => {
  const item = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest("[data-wall]"));
  if (!item) return;
  event.preventDefault();
  menu(item, item.dataset.wall ?? "");
});

/* ---- what a channel takes, at the export ---- */
document.addEventListener("click", (event) => {
  const press = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-export-for]")
  );
  if (!press) return;
  const key = press.dataset.exportFor ?? "";
  for (const box of /** @type {NodeListOf<HTMLInputElement>} */ (
    document.querySelectorAll("#export-formats [name=formats]")
  ))
    box.checked = !key || box.dataset.channel === key;
  const title = /** @type {HTMLInputElement} */ (document.getElementById("export-name"));
  title.maxLength = Number(press.dataset.title ?? 120);
});

document.addEventListener("submit", (event) => {
  const form = /** @type {HTMLFormElement} */ (event.target);
  if (form.id !== "own-format" && form.id !== "channels-form") return;
  event.preventDefault();
  const data = new FormData(form);
  const command =
    form.id === "own-format"
      ? { do: "add-format", shape: String(data.get("shape")), name: String(data.get("name")) }
      : { do: "set-channels", channels: data.getAll("channels").map(String), own: ownChannel(data) };
  // What is refused stays to be mended.
  send(command).then((kept) => kept && form.closest("dialog")?.close());
});

/* ---- another order ---- */

/** @type {HTMLElement|null} */
let carried = null;
/** What it stood before. @type {Element|null} */
let stood = null;
document.addEventListener("dragstart", (event) => {
  carried = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest?.("[data-wall]") ?? null
  );
  stood = carried?.nextElementSibling ?? null;
  if (carried) event.dataTransfer?.setData("text/plain", "");
});
document.addEventListener("drop", (event) => {
  if (carried) event.preventDefault();
});
document.addEventListener("dragover", (event) => {
  const target = /** @type {Element} */ (event.target);
  if (!carried || !target.closest("#wall")) return;
  event.preventDefault();
  const over = target.closest("[data-wall]");
  if (!over || over === carried) return;
  const box = over.getBoundingClientRect();
  if (event.clientY < box.top + box.height / 2) over.before(carried);
  else over.after(carried);
});
document.addEventListener("dragend", (event) => {
  if (!carried) return;
  const next = /** @type {HTMLElement|null} */ (carried.nextElementSibling);
  // Let go elsewhere, or escaped: it goes back.
  if (event.dataTransfer?.dropEffect === "none") carried.parentElement?.insertBefore(carried, stood);
  else if (next !== stood)
    send({ do: "move-format", format: carried.dataset.wall, before: next?.dataset.wall ?? null });
  carried = null;
});
