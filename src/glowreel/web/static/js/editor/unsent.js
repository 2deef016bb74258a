// @ts-check
/**
 * Steps that the server has not answered yet, kept in this browser: a reload, a closed window or a machine that goes off
 * loses none. Each has the name of its press, so that one that was carried out after all is not carried out again.
 */

/** @typedef {{path: string, values: Record<string, string>, press: string, rev: string, at: number}} Step */

const MOST = 200;
const LASTS = 2 * 24 * 3600 * 1000;
/* As long as the server knows a press again. */

/** @param {string} promo whose, and which @returns {string} */
const key = (promo) => `glowreel:unsent:${promo}`;

/** The steps of a promo that wait, in their order. @param {string} promo @returns {Step[]} */
export function unsent(promo) {
  try {
    const found = JSON.parse(localStorage.getItem(key(promo)) ?? "[]");
    return found.filter((/** @type {Step} */ step) => step.press && Date.now() - step.at < LASTS);
  } catch {
    return [];
  }
}

/** @param {string} promo @param {Step[]} steps */
function write(promo, steps) {
  try {
    if (steps.length) localStorage.setItem(key(promo), JSON.stringify(steps.slice(-MOST)));
    else localStorage.removeItem(key(promo));
  } catch {
    // A browser without room or without leave to keep anything goes on as before: the page itself still has them.
  }
}

/** Keeps a step until it is answered. @param {string} promo @param {Step} step */
export const keep = (promo, step) =>
  write(promo, [...unsent(promo).filter((other) => other.press !== step.press), step]);

/** Forgets a step that was answered. @param {string} promo @param {string} press */
export function forget(promo, press) {
  const waiting = unsent(promo);
  if (waiting.some((step) => step.press === press))
    write(
      promo,
      waiting.filter((step) => step.press !== press),
    );
}
