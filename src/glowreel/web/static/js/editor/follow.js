// @ts-check
/** A drag that is followed wherever the pointer goes, until it is let go, or given up with Esc. */

/**
 * `move` for each step once it went far enough; `end` with whether it is to be kept, and whether it went anywhere.
 * @param {PointerEvent} event
 * @param {{move: (pointer: PointerEvent) => void, end: (given: boolean, went: boolean) => void}} work
 */
export function follow(event, work) {
  let went = false;
  const move = (/** @type {PointerEvent} */ pointer) => {
    went ||= Math.hypot(pointer.clientX - event.clientX, pointer.clientY - event.clientY) > 3;
    if (went) work.move(pointer);
  };
  const end = (/** @type {Event} */ ending) => {
    for (const [name, run] of runs) window.removeEventListener(name, run);
    document.removeEventListener("keydown", escape, true);
    work.end(ending.type === "pointerup", went);
  };
  const escape = (/** @type {KeyboardEvent} */ key) => {
    if (key.key !== "Escape") return;
    key.stopPropagation();
    end(key);
  };
  const runs = /** @type {[string, any][]} */ ([
    ["pointermove", move],
    ["pointerup", end],
    ["pointercancel", end],
  ]);
  for (const [name, run] of runs) window.addEventListener(name, run);
  document.addEventListener("keydown", escape, true);
}
