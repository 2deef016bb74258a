// @ts-check
/** What there is to do with a scene. */

import { copyScene } from "./clipboard.js";
import { send } from "./commands.js";
import { openMenu } from "./menu.js";
import { gridTicks, model, moveTo, ticks, typed } from "./model.js";
import { playFrom } from "./player.js";
import { chooseScene } from "./scenesheet.js";
import { zoomSpan } from "./timeline.js";

/** @typedef {import("./menu.js").Entry} Entry */
/** @typedef {import("./model.js").Scene} Scene */

const placeOf = (/** @type {Scene} */ scene) => model.state.scenes.indexOf(scene);

/** Seeing and timing it. @param {Scene} scene @returns {Entry[]} */
function playing(scene) {
  const frame = scene.start * model.fps + 0.01;
  return [
    { title: scene.name },
    {
      label: "Play from here",
      icon: "play",
      run: () => {
        moveTo(frame);
        playFrom("all");
      },
    },
    {
      label: "Play only this scene",
      icon: "play-btn",
      run: () => {
        moveTo(frame);
        playFrom("scene");
      },
    },
    {
      label: "Fit it in sight",
      icon: "arrows-angle-expand",
      run: () => zoomSpan(scene.start, scene.start + scene.length),
    },
    {
      label: "Lasts",
      field: scene.length.toFixed(2),
      said: "Length of the scene, seconds",
      set: (text) => {
        const value = typed(text);
        if (value > 0) send({ do: "set-scene-length", scene: scene.id, length: ticks(value) });
      },
    },
  ];
}

/** Making more of it, or other things of it. @param {Scene} scene @returns {Entry[]} */
function changing(scene) {
  const spot = placeOf(scene);
  return [
    {
      label: "Duplicate",
      icon: "plus-square",
      run: () => send({ do: "duplicate", scene: scene.id }),
    },
    {
      label: "Copy",
      icon: "copy",
      run: () => copyScene(scene.id),
    },
    {
      label: "Adjust its colours and effects …",
      icon: "sliders",
      run: () => send({ do: "add-adjustment", scene: scene.id }),
    },
    {
      label: "Break it at the playhead",
      icon: "signpost-split",
      keys: "Shift M",
      run: () => send({ do: "break-scene", at: gridTicks(model.time) }),
    },
    {
      label: "Merge it with the next",
      icon: "union",
      off: spot === model.state.scenes.length - 1,
      run: () => send({ do: "join-scene", scene: scene.id }),
    },
    {
      label: "A new scene before it",
      icon: "arrow-bar-left",
      run: () => send({ do: "insert-scene", beside: scene.id, side: "before" }),
    },
    {
      label: "A new scene after it",
      icon: "arrow-bar-right",
      run: () => send({ do: "insert-scene", beside: scene.id, side: "after" }),
    },
    {
      label: "A scene of a promo or template after it …",
      icon: "box-arrow-in-down",
      run: () => chooseScene(model.state.scenes[spot + 1]?.id ?? null),
    },
  ];
}

/** Its place among the others. @param {Scene} scene @returns {Entry[]} */
function ordering(scene) {
  const spot = placeOf(scene);
  return [
    {
      label: "Earlier",
      icon: "arrow-left",
      off: spot === 0,
      run: () => send({ do: "move-scene", scene: scene.id, before: model.state.scenes[spot - 1].id }),
    },
    {
      label: "Later",
      icon: "arrow-right",
      off: spot === model.state.scenes.length - 1,
      run: () =>
        send({ do: "move-scene", scene: scene.id, before: model.state.scenes[spot + 2]?.id ?? null }),
    },
    {
      label: "Remove",
      icon: "trash3",
      run: () => send({ do: "remove-scene", scene: scene.id }),
    },
  ];
}

/** @param {HTMLElement} beside @param {Scene} scene @param {{x: number, y: number}} [point] */
export function sceneMenu(beside, scene, point) {
  const line = { line: true };
  openMenu(
    beside,
    scene.name,
    [...playing(scene), line, ...changing(scene), line, ...ordering(scene)],
    point,
  );
}
