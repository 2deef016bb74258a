// @ts-check
/** Whether the server answers, and knows who asks. Everything that waits for it waits here, with growing pauses, and the page says so. */

import { renewToken, signIn } from "./signin.js";

const PAUSES = [1, 2, 4, 8, 15, 30];
/** Answers of the front server while nothing stands behind it. */
const AWAY = new Set([502, 503, 504]);
let away = 0;
/** @type {Set<() => void>} */
const waiting = new Set();
/** @type {Set<(away: boolean) => void>} */
const listeners = new Set();

/** @param {(away: boolean) => void} listener */
export const onConnection = (listener) => listeners.add(listener);

/** @param {string} sentence */
function show(sentence) {
  let banner = document.getElementById("offline");
  if (!banner) {
    banner = document.createElement("p");
    banner.id = "offline";
    banner.className = "offline";
    banner.setAttribute("role", "status");
    document.body.append(banner);
  }
  banner.textContent = sentence;
  banner.hidden = false;
}

/** Notes that the server did not answer. */
export function lost() {
  if (!away) for (const listener of listeners) listener(true);
  away += 1;
  show("The server cannot be reached. What you do is kept here and sent as soon as it answers.");
}

/** Notes that the server answered. */
export function reached() {
  if (!away) return;
  away = 0;
  const banner = document.getElementById("offline");
  if (banner) banner.hidden = true;
  for (const go of [...waiting]) go();
  for (const listener of listeners) listener(false);
}

/** Resolves after a pause that grows with every failure, or at once when something else has reached the server. */
export function pause() {
  const seconds = PAUSES[Math.min(Math.max(0, away - 1), PAUSES.length - 1)];
  return new Promise((done) => {
    const go = () => {
      clearTimeout(timer);
      waiting.delete(go);
      done(undefined);
    };
    const timer = setTimeout(go, seconds * 1000);
    waiting.add(go);
  });
}
window.addEventListener("online", () => {
  for (const go of [...waiting]) go();
});

/** Whether an answer says that this page's token is too old; fetches a fresh one then. @param {Response} response */
async function stale(response) {
  const text = await response.clone().text();
  if (!text.includes('"stale"')) return false;
  await renewToken();
  return true;
}

/**
 * Fetches, and tries again until the server answers.
 * @param {string} url @param {(attempt: number) => RequestInit} options what to send at each attempt
 */
export async function insist(url, options) {
  for (let attempt = 0; ; attempt += 1) {
    try {
      const response = await fetch(url, options(attempt));
      if (!AWAY.has(response.status)) {
        reached();
        if (response.status === 401) {
          await signIn();
          continue;
        }
        if (response.status === 400 && attempt < 2 && (await stale(response))) continue;
        return response;
      }
    } catch {
      // No answer at all: the same as an answer of the front server alone.
    }
    lost();
    await pause();
  }
}

/**
 * A stream of events that comes back by itself, with growing pauses; `heard` is told the data of each.
 * @param {string} url @param {(data: any) => void} heard
 */
export function follow(url, heard) {
  /** @type {EventSource|null} */
  let events = null;
  let fails = 0;
  const open = () => {
    events = new EventSource(url);
    events.onmessage = (event) => {
      fails = 0;
      heard(JSON.parse(event.data));
    };
    events.addEventListener("refused", () => events?.close());
    events.onerror = () => {
      events?.close();
      fails += 1;
      setTimeout(open, PAUSES[Math.min(fails - 1, PAUSES.length - 1)] * 1000);
    };
  };
  open();
  window.addEventListener("pagehide", () => events?.close());
}
