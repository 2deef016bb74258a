// @ts-check
/** Text is kept when typing pauses, and at the latest when its field, the selection or the page goes: no letter is lost. */

import { send, sendLast } from "./commands.js";

const PAUSE = 350;
/** What waits, by the field it is of. @type {Map<string, {timer: number, command: Record<string, unknown>}>} */
const waiting = new Map();

/** @param {string} field @param {Record<string, unknown>} command */
export function typed(field, command) {
  clearTimeout(waiting.get(field)?.timer);
  waiting.set(field, { command, timer: setTimeout(() => keep(field), PAUSE) });
}

/** Sends what waits of one field. @param {string} field */
function keep(field) {
  const held = waiting.get(field);
  if (!held) return;
  clearTimeout(held.timer);
  waiting.delete(field);
  send(held.command);
}

/** Sends everything that waits. */
export function keepTyped() {
  for (const field of [...waiting.keys()]) keep(field);
}

document.addEventListener("focusout", keepTyped);
window.addEventListener("pagehide", () => {
  for (const { command, timer } of waiting.values()) {
    clearTimeout(timer);
    sendLast(command);
  }
  waiting.clear();
});
document.addEventListener("visibilitychange", () => {
  if (document.visibilityState === "hidden") keepTyped();
});
