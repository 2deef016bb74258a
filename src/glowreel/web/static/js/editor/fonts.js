// @ts-check
/** The list of families, each in its own letters: opened in Details, searched, with those last used first. */

import { on } from "./model.js";

const bench = /** @type {HTMLElement} */ (document.getElementById("bench-details"));
const MOST = 6;
const KEY = "glowreel-fonts";

/** Families last used, newest first. @returns {string[]} */
function used() {
  const kept = JSON.parse(localStorage.getItem(KEY) ?? "[]");
  return Array.isArray(kept) ? kept.slice(0, MOST) : [];
}

/** @param {HTMLElement} list puts copies of those last used first */
function showUsed(list) {
  const place = /** @type {HTMLElement} */ (list.querySelector(".font-used"));
  for (const old of place.querySelectorAll(".choice")) old.remove();
  for (const name of used()) {
    const known = [...list.querySelectorAll(":scope > .choice")].find(
      (one) => /** @type {HTMLElement} */ (one).dataset.value === name,
    );
    if (known) place.append(known.cloneNode(true));
  }
  place.hidden = !place.querySelector(".choice");
}

/** @param {Element} button @param {boolean} open */
function show(button, open) {
  const list = /** @type {HTMLElement} */ (button.nextElementSibling);
  button.setAttribute("aria-expanded", String(open));
  list.hidden = !open;
  if (!open) return;
  showUsed(list);
  const chosen = /** @type {HTMLElement|null} */ (
    list.querySelector(':scope > .choice[aria-pressed="true"]')
  );
  if (chosen) list.scrollTop = chosen.offsetTop - list.offsetTop - 60;
  /** @type {HTMLInputElement} */ (list.querySelector("[data-find-font]")).focus({ preventScroll: true });
}

bench.addEventListener("click", (event) => {
  const target = /** @type {Element} */ (event.target);
  const button = target.closest("[data-fonts]");
  if (button) show(button, button.getAttribute("aria-expanded") !== "true");
  const choice = /** @type {HTMLElement|null} */ (target.closest(".is-fonts .choice"));
  const name = choice?.dataset.value;
  if (name) localStorage.setItem(KEY, JSON.stringify([name, ...used().filter((one) => one !== name)]));
});

bench.addEventListener("input", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  const list = field.dataset.findFont !== undefined && field.closest(".is-fonts");
  if (!list) return;
  const words = field.value.trim().toLowerCase().split(/\s+/);
  for (const choice of /** @type {NodeListOf<HTMLElement>} */ (list.querySelectorAll(".choice")))
    choice.hidden = !words.every((word) => choice.dataset.font?.includes(word));
  for (const head of /** @type {NodeListOf<HTMLElement>} */ (list.querySelectorAll("h4")))
    head.hidden = field.value.trim() !== "";
});

bench.addEventListener("keydown", (event) => {
  const field = /** @type {HTMLElement} */ (event.target);
  const list = /** @type {HTMLElement|null} */ (field.closest(".is-fonts"));
  if (!list) return;
  const shown = /** @type {HTMLElement[]} */ ([...list.querySelectorAll(".choice")]).filter(
    (one) => one.offsetParent,
  );
  const way = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (way) {
    event.preventDefault();
    shown[Math.max(0, Math.min(shown.length - 1, shown.indexOf(field) + way))]?.focus();
  } else if (event.key === "Enter" && field.dataset.findFont !== undefined) {
    event.preventDefault();
    shown[0]?.click();
  } else if (event.key === "Escape") {
    event.preventDefault();
    event.stopPropagation();
    const button = /** @type {HTMLElement} */ (list.previousElementSibling);
    show(button, false);
    button.focus();
  }
});

on("dressed", () => {
  for (const button of bench.querySelectorAll("[data-fonts]")) button.setAttribute("aria-expanded", "false");
});
