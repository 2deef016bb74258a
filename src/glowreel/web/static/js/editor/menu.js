// @ts-check
/** One menu for everything that has more to it: by press, by right click, by key. Arrows move in it, Esc closes it. */

/**
 * @typedef {{label?: string, said?: string, hint?: string, title?: string, keys?: string, icon?: string, line?: boolean, off?: boolean,
 *   run?: () => void, field?: string, set?: (text: string) => void, row?: {label: string, said: string, hover?: () => void, run: () => void}[],
 *   hover?: () => void}} Entry
 */

import { stopTrial } from "./trial.js";

const menu = /** @type {HTMLElement} */ (document.getElementById("menu"));
/** @type {HTMLElement|null} */
let opener = null;

function closeMenu() {
  if (menu.hidden) return;
  menu.hidden = true;
  menu.replaceChildren();
  stopTrial();
  if (opener?.isConnected) opener.focus({ preventScroll: true });
  opener = null;
}

/** @param {string} name @param {string} look @param {string} [words] */
function make(name, look, words) {
  const part = document.createElement(name);
  part.className = look;
  if (words !== undefined) part.textContent = words;
  return part;
}

/** @param {() => void} run @param {string} words @param {string} [said] @param {() => void} [hover] shows what it does */
function button(run, words, said, hover) {
  const press = make("button", "menu-item", words);
  press.setAttribute("type", "button");
  if (said) press.setAttribute("aria-label", said);
  press.addEventListener("click", () => {
    closeMenu();
    run();
  });
  if (hover) {
    press.addEventListener("pointerenter", hover);
    press.addEventListener("focus", () => press.matches(":focus-visible") && hover());
    for (const leaving of ["pointerleave", "blur"]) press.addEventListener(leaving, stopTrial);
  }
  return press;
}

/** @param {Entry} entry */
function part(entry) {
  if (entry.line) return make("hr", "menu-line");
  if (entry.title) return make("p", "menu-title", entry.title);
  if (entry.hint) return make("p", "menu-hint", entry.hint);
  if (entry.row) {
    const line = make("div", "menu-row");
    line.append(
      make("span", "", entry.label ?? ""),
      ...entry.row.map((one) => button(one.run, one.label, one.said, one.hover)),
    );
    return line;
  }
  if (entry.set) {
    const line = make("label", "menu-row", entry.label ?? "");
    const field = /** @type {HTMLInputElement} */ (make("input", "form-control form-control-sm num"));
    field.value = entry.field ?? "";
    if (entry.said) field.setAttribute("aria-label", entry.said);
    field.addEventListener("keydown", (event) => {
      if (event.key === "Enter") {
        const text = field.value;
        closeMenu();
        entry.set?.(text);
      }
    });
    line.append(field);
    return line;
  }
  const press = /** @type {HTMLButtonElement} */ (button(() => entry.run?.(), "", undefined, entry.hover));
  press.disabled = Boolean(entry.off);
  const mark = make("i", `bi bi-${entry.icon ?? "dot"}`);
  mark.setAttribute("aria-hidden", "true");
  press.append(mark, make("span", "menu-words", entry.label ?? ""));
  if (entry.keys) press.append(make("kbd", "", entry.keys));
  return press;
}

/**
 * Opens the menu beside something, or at a point.
 * @param {HTMLElement} beside
 * @param {string} label
 * @param {Entry[]} entries
 * @param {{x: number, y: number}} [point]
 */
export function openMenu(beside, label, entries, point) {
  closeMenu();
  opener = beside;
  menu.setAttribute("aria-label", label);
  menu.replaceChildren(...entries.map(part));
  menu.hidden = false;
  const box = beside.getBoundingClientRect();
  const { x, y } = point ?? { x: box.left, y: box.bottom + 4 };
  const size = menu.getBoundingClientRect();
  menu.style.left = `${Math.max(6, Math.min(x, window.innerWidth - size.width - 6))}px`;
  menu.style.top = `${Math.max(6, y + size.height > window.innerHeight - 6 ? (point ? y : box.top) - size.height - 4 : y)}px`;
  /** @type {HTMLElement|null} */ (menu.querySelector("button:not(:disabled), input"))?.focus({
    preventScroll: true,
  });
}

menu.addEventListener("keydown", (event) => {
  event.stopPropagation();
  if (event.key === "Escape") {
    event.preventDefault();
    closeMenu();
    return;
  }
  const way = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
  if (!way || (event.target instanceof HTMLInputElement && event.key.endsWith("t"))) return;
  event.preventDefault();
  const all = /** @type {HTMLElement[]} */ ([...menu.querySelectorAll("button:not(:disabled), input")]);
  const spot = all.indexOf(/** @type {HTMLElement} */ (document.activeElement));
  all[(spot + way + all.length) % all.length]?.focus();
});
document.addEventListener(
  "keydown",
  (event) => {
    if (menu.hidden || event.key !== "Escape" || menu.contains(/** @type {Node} */ (event.target))) return;
    event.stopPropagation();
    closeMenu();
  },
  true,
);
document.addEventListener(
  "pointerdown",
  (event) => {
    if (!menu.hidden && !menu.contains(/** @type {Node} */ (event.target))) closeMenu();
  },
  true,
);
