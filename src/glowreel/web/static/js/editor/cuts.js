// @ts-check
/** The handles on cuts: a press chooses a transition, a drag rolls the cut; the bar's ends set how long it lasts. */

import { send } from "./commands.js";
import { drag, sayAt, showMark } from "./drag.js";
import { spoken } from "./lanecuts.js";
import { boxFor } from "./laneparts.js";
import { openMenu } from "./menu.js";
import { clock, endOf, gridTicks, known, model, remember, remembered, ticks, typed } from "./model.js";
import { perSecond, snapTimes, snapTo } from "./timeline.js";
import { playTrial } from "./trial.js";
import { hideTwoUp, tryOut } from "./twoup.js";

const KINDS = ["crossfade", "dip-black", "dip-white", "blur", "zoom", "spin", "iris"];
const MOVING = ["push", "wipe", "slide"];
const ARROWS = { left: "←", right: "→", up: "↑", down: "↓" };

/** The kind offered first: that of the brand, else the one last chosen. */
export const lastKind = () =>
  document.getElementById("editor")?.dataset.transition ||
  /** @type {string} */ (remembered.transition ?? "crossfade");

/**
 * @param {string} kind
 * @param {(kind: string) => void} choose
 * @param {(kind: string) => void} [trying] plays it on the cut
 */
function entry(kind, choose, trying) {
  return {
    label: spoken(kind).replace(/^./, (first) => first.toUpperCase()),
    hover: trying && (() => trying(kind)),
    run: () => {
      remember({ transition: kind });
      choose(kind);
    },
  };
}

/**
 * Kinds to choose from, those that move with their four ways in a row.
 * @param {(kind: string) => void} choose
 * @param {(kind: string) => void} trying plays it on the cut
 * @returns {import("./menu.js").Entry[]}
 */
function kinds(choose, trying) {
  const moving = MOVING.map((name) => ({
    label: { push: "Push", wipe: "Wipe", slide: "Slide over" }[name] ?? name,
    row: Object.entries(ARROWS).map(([way, sign]) => ({
      label: sign,
      said: `${name} ${way}`,
      hover: () => trying(`${name}-${way}`),
      run: () => entry(`${name}-${way}`, choose).run(),
    })),
  }));
  return [...KINDS.map((kind) => entry(kind, choose, trying)), ...moving];
}

/** @param {HTMLElement} handle */
function cutMenu(handle) {
  const after = handle.dataset.cut ?? "";
  const cut = model.state.cuts.find((one) => one.after === after);
  const length = cut ? { length: ticks(cut.length) } : {};
  const set = (/** @type {string} */ kind) => send({ do: "set-transition", after, kind, ...length });
  /** @type {import("./menu.js").Entry[]} */
  const entries = [];
  if (cut) {
    entries.push(
      { title: `${spoken(cut.kind)}, ${cut.length.toFixed(2)} s` },
      {
        label: "Lasts",
        field: cut.length.toFixed(2),
        said: "Length of the transition, seconds",
        set: (text) => {
          const value = typed(text);
          if (value > 0) send({ do: "set-transition", after, kind: cut.kind, length: ticks(value) });
        },
      },
      ...(known.get(after)?.lane === "main"
        ? [
            {
              label: "The same on every cut",
              icon: "distribute-horizontal",
              run: () => send({ do: "set-all-transitions", kind: cut.kind, length: ticks(cut.length) }),
            },
          ]
        : []),
      { label: "Make the cut hard", icon: "x-lg", run: () => send({ do: "remove-transition", after }) },
      { line: true },
    );
    if (cut.heldBefore || cut.heldBehind)
      entries.splice(1, 0, {
        hint: `Held for want of footage: ${cut.heldBefore.toFixed(2)} s before, ${cut.heldBehind.toFixed(2)} s behind.`,
      });
  }
  const it = known.get(after);
  const at = it ? endOf(it.row) : 0;
  const lasts = cut?.length ?? 0.8;
  const trying = (/** @type {string} */ kind) =>
    playTrial({ do: "set-transition", after, kind, ...length }, at - lasts / 2 - 0.15, lasts + 0.3);
  openMenu(handle, "Transition", [...entries, ...kinds(set, trying)]);
}

/** @param {HTMLElement} handle */
function edgeMenu(handle) {
  const edge = /** @type {"start"|"end"} */ (handle.dataset.edge);
  const way = edge === "start" ? model.state.opens : model.state.closes;
  const length = way ? { length: ticks(way[1]) } : {};
  /** @type {import("./menu.js").Entry[]} */
  const entries = way
    ? [
        { title: `${spoken(way[0])}, ${way[1].toFixed(2)} s` },
        {
          label: "Lasts",
          field: way[1].toFixed(2),
          said: "Length, seconds",
          set: (text) => {
            const value = typed(text);
            if (value > 0) send({ do: "set-edge", edge, kind: way[0], length: ticks(value) });
          },
        },
        {
          label: edge === "start" ? "Begin at once" : "End at once",
          icon: "x-lg",
          run: () => send({ do: "set-edge", edge, kind: null }),
        },
        { line: true },
      ]
    : [{ title: edge === "start" ? "How the promo opens" : "How the promo closes" }];
  openMenu(handle, "Opening and closing", [
    ...entries,
    ...kinds(
      (kind) => send({ do: "set-edge", edge, kind, ...length }),
      (kind) => {
        const lasts = way?.[1] ?? 1;
        const from = edge === "start" ? 0 : model.state.length - lasts - 0.15;
        playTrial({ do: "set-edge", edge, kind, ...length }, from, lasts + 0.15);
      },
    ),
  ]);
}

/**
 * Moves the cut itself; a press that does not move opens the menu.
 * @param {PointerEvent} event
 * @param {HTMLElement} handle
 */
function roll(event, handle) {
  const it = known.get(handle.dataset.cut ?? "");
  if (it?.lane === "layer") {
    drag(
      event,
      () => {},
      (kept) => {
        if (!kept) cutMenu(handle);
      },
    );
    return;
  }
  const behind = it && model.state.main[it.place + 1];
  if (!it || !behind) return;
  const { row } = it;
  const at = endOf(row);
  const [least, most] = row.roll ?? [0, 0];
  const times = snapTimes(new Set([row.id, behind.id]));
  let by = 0;
  let moved = false;
  drag(
    event,
    (pointer, dx) => {
      moved = true;
      const near = snapTo(at + dx, times, pointer.ctrlKey);
      by = Math.round(Math.max(least, Math.min(most, near.time - at)) * model.fps) / model.fps;
      for (const [part, start, length] of /** @type {[any, number, number][]} */ ([
        [row, row.start, row.length + by],
        [behind, behind.start + by, behind.length - by],
      ])) {
        const box = boxFor(part.id);
        if (!box) continue;
        box.style.left = `${start * perSecond()}px`;
        box.style.width = `${length * perSecond() - 1.5}px`;
      }
      handle.style.left = `${(at + by) * perSecond()}px`;
      const limit = by === least || by === most ? " · no more there" : "";
      sayAt(pointer, `cut at ${clock(at + by)} (${by >= 0 ? "+" : "−"}${clock(Math.abs(by))})${limit}`);
      showMark(at + by);
      if (by)
        tryOut(
          { do: "roll-cut", after: row.id, by: Math.sign(by) * gridTicks(Math.abs(by)) },
          row.id,
          "end",
          "outgoing",
          "incoming",
        );
    },
    (kept) => {
      hideTwoUp();
      if (kept && by) send({ do: "roll-cut", after: row.id, by: Math.sign(by) * gridTicks(Math.abs(by)) });
      if (!moved) cutMenu(handle);
    },
  );
}

/** Drags an end of a transition's bar. @param {PointerEvent} event @param {HTMLElement} bar @param {number} way */
function stretch(event, bar, way) {
  const cut = model.state.cuts.find((one) => one.after === bar.dataset.span);
  if (!cut) return;
  let length = cut.length;
  drag(
    event,
    (pointer, dx) => {
      length = Math.max(2 / model.fps, Math.round((cut.length + 2 * way * dx) * model.fps) / model.fps);
      bar.classList.add("is-ghost");
      bar.style.left = `${(cut.at - length / 2) * perSecond()}px`;
      bar.style.width = `${length * perSecond()}px`;
      sayAt(pointer, `${spoken(cut.kind)} ${length.toFixed(2)} s`);
    },
    (kept) => {
      bar.classList.remove("is-ghost");
      if (kept) send({ do: "set-transition", after: cut.after, kind: cut.kind, length: ticks(length) });
    },
  );
}

document.addEventListener("pointerdown", (event) => {
  if (event.button) return;
  const target = /** @type {HTMLElement} */ (event.target);
  const grip = target.closest(".cut-grip");
  const bar = /** @type {HTMLElement|null} */ (target.closest(".cut-span"));
  const handle = /** @type {HTMLElement|null} */ (target.closest(".cut"));
  if (grip && bar) {
    event.preventDefault();
    stretch(event, bar, grip.classList.contains("is-left") ? -1 : 1);
  } else if (handle?.dataset.cut) roll(event, handle);
});
document.addEventListener("click", (event) => {
  const handle = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest(".cut"));
  if (!handle) return;
  // With the mouse the press has been dealt with already, but not at the ends, which cannot be rolled; by key it has not.
  if (handle.dataset.edge) edgeMenu(handle);
  else if (event.detail === 0) cutMenu(handle);
});
