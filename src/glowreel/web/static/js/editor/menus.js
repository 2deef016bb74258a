// @ts-check
/** What there is to do with a clip, a layer, a sound, a track, a scene: by right click, by a press on “more”, by key. */

import { send } from "./commands.js";
import { copy, cut, duplicate, paste, somethingCopied } from "./clipboard.js";
import { openMenu } from "./menu.js";
import { sceneMenu } from "./scenemenu.js";
import { headMenu, trackMenu } from "./trackmenu.js";
import { clock, gridTicks, known, model, moveTo, select, ticks } from "./model.js";
import { markRange } from "./range.js";
import { canGiveLook, copyLook, giveLook } from "./look.js";
import { replaceFrom } from "./replace.js";
import { crop, scope } from "./stage.js";
import { timeAt, zoomSelected } from "./timeline.js";

/** @typedef {import("./menu.js").Entry} Entry */

const chosen = () => [...model.selected];

/** What can be done with anything that is selected. @returns {Entry[]} */
function common() {
  return [
    { line: true },
    {
      label: "Copy",
      icon: "copy",
      keys: "Ctrl C",
      run: () => copy(),
    },
    {
      label: "Cut out",
      icon: "scissors",
      keys: "Ctrl X",
      run: () => cut(),
    },
    { label: "Duplicate", icon: "plus-square", keys: "Ctrl D", run: duplicate },
    chosen().length > 1 && !known.get(chosen()[0])?.row.group
      ? {
          label: "Group",
          icon: "collection",
          keys: "Ctrl G",
          run: () => send({ do: "group", items: chosen() }),
        }
      : {
          label: "Take the group apart",
          icon: "collection",
          keys: "Ctrl Shift G",
          off: !known.get(chosen()[0])?.row.group,
          run: () => send({ do: "group", items: chosen(), apart: true }),
        },
    { label: "Fit it in sight", icon: "arrows-angle-expand", keys: "Z", run: zoomSelected },
    {
      label: "Remove",
      icon: "trash3",
      keys: "Del",
      run: () => send({ do: "remove", items: chosen() }),
    },
  ];
}

/** @param {import("./model.js").Known} it @returns {Entry[]} */
function clipEntries(it) {
  const { row } = it;
  const timed = Boolean(row.of);
  return [
    { title: row.label },
    {
      label: "Split at the playhead",
      icon: "vr",
      keys: "/",
      run: () => send({ do: "split-at", item: row.id, at: gridTicks(model.time) }),
    },
    {
      label: row.kind === "filler" ? "Fill it with …" : "Replace with …",
      icon: "arrow-left-right",
      keys: "Q",
      run: () => replaceFrom(row.id),
    },
    {
      label: "Hold the frame at the playhead",
      icon: "pause-btn",
      keys: "H",
      off: row.kind !== "footage",
      run: () => send({ do: "freeze", at: gridTicks(model.time) }),
    },
    {
      label: "Run it backwards",
      icon: "arrow-repeat",
      keys: "R",
      off: !timed,
      run: () => send({ do: "set-speed", item: row.id, backwards: !row.fast?.startsWith("−") }),
    },
    {
      label: "Detach its sound, or attach it",
      icon: "music-note-list",
      keys: "D",
      off: !row.sounding,
      run: () => toggleSound(row.id),
    },
    {
      label: "Start a scene with it",
      icon: "signpost-2",
      keys: "M",
      run: () => send({ do: "break-scene", clip: row.id }),
    },
    ...orders(row.id),
    {
      label: "Come nearer from the playhead on",
      icon: "zoom-in",
      keys: "P",
      off: row.kind === "filler",
      run: () => send({ do: "punch-in", clip: row.id, at: gridTicks(model.time) }),
    },
    ...looks(row.id),
    ...common(),
    {
      label: "Select the whole scene",
      icon: "bounding-box",
      run: () => {
        const scene = model.state.scenes.find(
          (scene) => row.start >= scene.start - 1e-6 && row.start < scene.start + scene.length,
        );
        if (scene)
          select(
            model.state.main
              .filter(
                (row) => row.start >= scene.start - 1e-6 && row.start < scene.start + scene.length - 1e-6,
              )
              .map((row) => row.id),
          );
      },
    },
  ];
}

/** The look of one thing for others. @param {string} id @returns {Entry[]} */
const looks = (id) => [
  { label: "Copy its look", icon: "brush", run: () => copyLook(id) },
  { label: "Give it the copied look", icon: "brush-fill", off: !canGiveLook(), run: giveLook },
];

/** Detaches the sound of a clip; attaches it again where it has been. @param {string} id */
export async function toggleSound(id) {
  const row = known.get(id)?.row;
  if (!row) return;
  if (row.muted && (await send({ do: "attach-sound", clip: id }))) return;
  if (!row.muted) send({ do: "detach-sound", clip: id });
}

/** @param {import("./model.js").Known} it @returns {Entry[]} */
function itemEntries(it) {
  const { row, lane, track } = it;
  const off = Boolean(track?.locked);
  return [
    { title: row.label },
    {
      label: "Split at the playhead",
      icon: "vr",
      keys: "/",
      off,
      run: () =>
        send({
          do: "split-at",
          item: row.id,
          at: lane === "sound" ? ticks(model.time) : gridTicks(model.time),
        }),
    },
    {
      label: row.tied === "clip" ? "Let it hold to its time" : "Tie it to the clip under it",
      icon: "link-45deg",
      keys: "T",
      off,
      run: () => send({ do: "tie-item", item: row.id, to: row.tied === "clip" ? "time" : "clip" }),
    },
    {
      label: "Stretch it over the whole promo",
      icon: "arrows",
      off: off || row.tied === "whole",
      run: () => send({ do: "tie-item", item: row.id, to: "whole" }),
    },
    ...(lane === "layer"
      ? orders(row.id)
      : [
          {
            label: "To the next track up",
            icon: "arrow-up",
            keys: "Alt ↑",
            off,
            run: () => send({ do: "step-track", item: row.id, by: -1 }),
          },
          {
            label: "To the next track down",
            icon: "arrow-down",
            keys: "Alt ↓",
            off,
            run: () => send({ do: "step-track", item: row.id, by: 1 }),
          },
        ]),
    {
      label: "Replace with …",
      icon: "arrow-left-right",
      keys: "Q",
      off: off || !row.media,
      run: () => replaceFrom(row.id),
    },
    ...(lane === "sound"
      ? [
          {
            label: row.muted ? "Let it be heard" : "Mute it",
            icon: "volume-mute",
            keys: "Alt M",
            off,
            run: () => send({ do: "set", items: [row.id], values: { muted: !row.muted } }),
          },
          {
            label: "Split, the rest on the next track",
            icon: "arrow-return-right",
            off,
            run: () => send({ do: "step-half", item: row.id, at: ticks(model.time) }),
          },
        ]
      : []),
    ...looks(row.id),
    ...common(),
    {
      label: "Remove and close the gap",
      icon: "arrows-collapse-vertical",
      keys: "Shift Del",
      off,
      run: () => send({ do: "remove", items: chosen(), close: true }),
    },
  ];
}

const EDGES = /** @type {[string, string, string][]} */ ([
  ["left", "align-start", "Left edges"],
  ["centre", "align-center", "Middles, across"],
  ["right", "align-end", "Right edges"],
  ["top", "align-top", "Top edges"],
  ["middle", "align-middle", "Middles, down"],
  ["bottom", "align-bottom", "Bottom edges"],
]);

/** What is in front of what, and quick sizes. @param {string} id @returns {Entry[]} */
export function orders(id) {
  const items = model.selected.has(id) ? chosen() : [id];
  const it = known.get(id);
  if (it?.lane === "main")
    return [
      {
        label: "Put it in front, as a layer",
        icon: "layer-forward",
        off: it.row.kind === "filler" || it.row.kind === "collage",
        run: () => send({ do: "to-layer", clip: id, format: model.format }),
      },
      ...(it.row.kind === "collage"
        ? [
            {
              label: "Turn it into free layers",
              icon: "boxes",
              run: () => send({ do: "free-collage", item: id }),
            },
          ]
        : []),
    ];
  const sized = (/** @type {string} */ how) => () =>
    send({ do: "size-items", items, format: model.format, how, only: scope.only, at: gridTicks(model.time) });
  const press = (/** @type {string} */ label, /** @type {string} */ said, /** @type {() => void} */ run) => ({
    label,
    said,
    run,
  });
  return [
    {
      label: "Order",
      row: [
        press("Front", "To the very front", () => send({ do: "order-items", items, to: "front" })),
        press("↑", "One forward", () => send({ do: "step-track", item: id, by: -1 })),
        press("↓", "One back", () => send({ do: "step-track", item: id, by: 1 })),
        press("Back", "To the very back", () => send({ do: "order-items", items, to: "back" })),
      ],
    },
    {
      label: "Size",
      row: [
        press("Fill", "Fill the frame", sized("fill")),
        press("Fit", "Fit the frame", sized("fit")),
        press("½", "Half of the frame", sized("half")),
        press("⅓", "A third of the frame", sized("third")),
      ],
    },
    ...(["words", "design", "sticker"].includes(it?.row.kind ?? "")
      ? [
          {
            label: "Put it where the picture is calm",
            icon: "wind",
            run: () => send({ do: "place-calm", items: items.slice(0, 4) }),
          },
        ]
      : []),
    ...(it?.row.kind === "design"
      ? [
          {
            label: "Take it apart into layers",
            icon: "boxes",
            run: () => send({ do: "take-apart", item: id }),
          },
        ]
      : []),
    ...(it?.row.kind === "picture"
      ? [
          { label: "Crop it on the stage", icon: "crop", run: () => crop(true) },
          {
            label: "Put it on the main track",
            icon: "layer-backward",
            run: () => send({ do: "to-main", item: id }),
          },
        ]
      : []),
  ];
}

/** Aligning several, and equal gaps. @returns {Entry[]} */
function aligning() {
  const items = chosen().filter((id) => known.get(id)?.lane === "layer");
  if (items.length < 2) return [];
  const of = { items, format: model.format, only: scope.only, at: gridTicks(model.time) };
  return [
    { line: true },
    ...EDGES.map(([edge, icon, label]) => ({
      label,
      icon,
      run: () => send({ do: "align-items", edge, to: "each-other", ...of }),
    })),
    {
      label: "Equal gaps, across",
      icon: "distribute-horizontal",
      off: items.length < 3,
      run: () => send({ do: "spread-items", axis: "across", ...of }),
    },
    {
      label: "Equal gaps, down",
      icon: "distribute-vertical",
      off: items.length < 3,
      run: () => send({ do: "spread-items", axis: "down", ...of }),
    },
  ];
}

/** @param {HTMLElement} beside @param {string} id @param {{x: number, y: number}} [point] */
export function thingMenu(beside, id, point) {
  const it = known.get(id);
  if (!it) return;
  if (!model.selected.has(id)) select([id]);
  const give = looks(id).slice(1);
  const many =
    model.selected.size > 1
      ? [{ title: `${model.selected.size} selected` }, ...give, ...aligning(), ...common()]
      : null;
  openMenu(beside, it.row.label, many ?? (it.lane === "main" ? clipEntries(it) : itemEntries(it)), point);
}

document.addEventListener("click", (event) => {
  const more = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest("[data-menu]"));
  if (!more) return;
  if (more.dataset.menu === "track") trackMenu(more, more.dataset.trackId ?? "", more.dataset.gain ?? "0");
  else headMenu(more, more.dataset.menu ?? "");
});
document.addEventListener("contextmenu", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const box = /** @type {HTMLElement|null} */ (target.closest("#lanes .item"));
  const scene = /** @type {HTMLElement|null} */ (target.closest(".scene, .scene-card"));
  const head = /** @type {HTMLElement|null} */ (target.closest("[data-head]"));
  const lane = target.closest("#lanes .tl-lane, #ruler");
  if (!box && !scene && !head && !lane) return;
  if (target.matches("input")) return;
  event.preventDefault();
  // By key there is no place of the pointer: the menu then opens beside what has the focus.
  const point = event.clientX || event.clientY ? { x: event.clientX, y: event.clientY } : undefined;
  if (box) thingMenu(box, box.dataset.id ?? "", point);
  else if (scene) {
    const it = model.state.scenes.find((one) => one.id === scene.dataset.scene);
    if (it) sceneMenu(scene, it, point);
  } else if (head)
    trackMenu(
      head,
      head.dataset.head ?? "",
      head.querySelector("[data-gain]")?.getAttribute("data-gain") ?? "0",
      point,
    );
  else emptyMenu(timeAt(event.clientX), point);
});

/** What there is to do at a time where nothing lies. @param {number} time @param {{x: number, y: number}} [point] */
function emptyMenu(time, point) {
  const at = () => moveTo(time * model.fps);
  openMenu(
    /** @type {HTMLElement} */ (document.getElementById("tl-scroll")),
    "Timeline",
    [
      { title: clock(time) },
      {
        label: "A range begins here",
        icon: "chevron-bar-left",
        keys: ",",
        run: () => {
          at();
          markRange("start");
        },
      },
      {
        label: "The range ends here",
        icon: "chevron-bar-right",
        keys: ".",
        run: () => {
          at();
          markRange("end");
        },
      },
      {
        label: "Put a note here",
        icon: "flag",
        keys: "N",
        run: () => send({ do: "add-note", at: gridTicks(time) }),
      },
      {
        label: "Paste here",
        icon: "clipboard",
        keys: "Ctrl V",
        off: !somethingCopied(),
        run: () => {
          at();
          paste();
        },
      },
      {
        label: "Split every track here",
        icon: "vr",
        keys: "Alt /",
        run: () => send({ do: "split-at", at: gridTicks(time) }),
      },
    ],
    point,
  );
}
document.addEventListener("click", (event) => {
  const press = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-switch]")
  );
  if (press)
    send({
      do: "set-track",
      track: press.dataset.trackId,
      [press.dataset.switch ?? ""]: press.getAttribute("aria-pressed") !== "true",
    });
});
document.addEventListener("change", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  if (field.dataset.nameTrack) send({ do: "set-track", track: field.dataset.nameTrack, name: field.value });
});
