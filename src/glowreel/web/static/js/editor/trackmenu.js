// @ts-check
/** The menus of a track's head, of the scene lane's and of the main track's. */

import { paste, somethingCopied } from "./clipboard.js";
import { send } from "./commands.js";
import { openGroup } from "./details.js";
import { openMenu } from "./menu.js";
import { gridTicks, model, select } from "./model.js";
import { chooseScene } from "./scenesheet.js";
import { setReach, view } from "./timeline.js";

/** @param {HTMLElement} beside @param {string} id @param {string} gain @param {{x: number, y: number}} [point] */
export function trackMenu(beside, id, gain, point) {
  const track = model.state.tracks.find((track) => track.id === id);
  if (!track) return;
  const name = /** @type {HTMLInputElement|null} */ (
    document.querySelector(`[data-name-track="${CSS.escape(id)}"]`)
  );
  openMenu(
    beside,
    "Track",
    [
      { title: name?.value ?? "Track" },
      ...(track.kind === "sound"
        ? [
            {
              label: "Gain, dB",
              field: Number(gain).toFixed(1),
              said: "Gain of the track, decibels",
              set: (/** @type {string} */ text) => {
                const value = Number(text.replace(",", "."));
                if (Number.isFinite(value))
                  send({ do: "set-track", track: id, gain: Math.max(-60, Math.min(12, value)) });
              },
            },
          ]
        : []),
      {
        label: "Select all on it",
        icon: "check2-square",
        run: () => select(track.rows.map((row) => row.id)),
      },
      ...(track.kind === "layer"
        ? [
            {
              label: "Effects for all on it …",
              icon: "stars",
              off: track.locked || !track.rows.length,
              run: () => {
                select(track.rows.map((row) => row.id));
                openGroup("effects");
              },
            },
          ]
        : []),
      {
        label: "Close all its gaps",
        icon: "arrows-collapse-vertical",
        off: track.locked,
        run: () => send({ do: "close-gap", track: id }),
      },
      {
        label: track.kind === "layer" ? "Further to the front" : "Up",
        icon: "arrow-up",
        run: () => send({ do: "move-track", track: id, by: -1 }),
      },
      {
        label: track.kind === "layer" ? "Further to the back" : "Down",
        icon: "arrow-down",
        run: () => send({ do: "move-track", track: id, by: 1 }),
      },
      { line: true },
      {
        label: "Remove the track",
        icon: "trash3",
        off: track.locked,
        run: () => send({ do: "remove-track", track: id }),
      },
    ],
    point,
  );
}

/** @param {HTMLElement} beside @param {string} which */
export function headMenu(beside, which) {
  if (which === "scenes") {
    openMenu(beside, "Scenes", [
      {
        label: "A new scene at the end",
        icon: "plus-lg",
        run: () => send({ do: "insert-scene" }),
      },
      { label: "A scene of a promo or template …", icon: "box-arrow-in-down", run: () => chooseScene(null) },
      {
        label: "Break at the playhead",
        icon: "signpost-split",
        keys: "Shift M",
        run: () => send({ do: "break-scene", at: gridTicks(model.time) }),
      },
      { label: "Paste", icon: "clipboard", keys: "Ctrl V", off: !somethingCopied(), run: paste },
    ]);
  } else {
    openMenu(beside, "Main track", [
      {
        label: "Select all clips",
        icon: "check2-square",
        run: () => select(model.state.main.map((row) => row.id)),
      },
      {
        label: "A filler at the nearest cut",
        icon: "square",
        run: () => send({ do: "insert-filler", at: gridTicks(model.time) }),
      },
      {
        label: "Paste at the nearest cut",
        icon: "clipboard",
        keys: "Ctrl V",
        off: !somethingCopied(),
        run: paste,
      },
      { line: true },
      {
        label: "Snapping reaches, pixels",
        field: String(view.reach),
        said: "How near something must be to snap, pixels",
        set: (text) => {
          const value = Number(text);
          if (value > 0) setReach(value);
        },
      },
    ]);
  }
}
