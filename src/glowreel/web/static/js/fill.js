// @ts-check
/** Filling: one slot after another, saved as it is typed or pressed, with the promo beside it at the slot's moment. */

import { headers, note, sentenceOf } from "./page.js";
import { reel, show } from "./reel.js";
import { sendFiles, takeDrops } from "./sending.js";

const page = /** @type {HTMLElement} */ (document.getElementById("fill"));
const box = document.getElementById("slot");
const url = page.dataset.url ?? "";
let now = "";
/** What is being sent, one after another. */
let sending = Promise.resolve();
/** @type {number|undefined} */
let typing;
/** @type {number|undefined} */
let looking;

const buttons = () =>
  /** @type {HTMLElement[]} */ ([...document.querySelectorAll("#fill-steps [data-slot]")]);
/** @param {string} slot */
const button = (slot) => buttons().find((one) => one.dataset.slot === slot);
/** @param {string} name @param {string} text */
function tell(name, text) {
  const place = document.getElementById(name);
  if (place) place.textContent = text;
}

/** Turns to a slot. @param {string} slot @param {boolean} [quiet] leaves the focus where it is */
async function turnTo(slot, quiet) {
  await keep();
  const step = button(slot);
  if (!step || !box) return;
  now = slot;
  for (const one of buttons()) one.setAttribute("aria-current", String(one === step));
  step.scrollIntoView({ block: "nearest" });
  show(Number(step.dataset.frame));
  const response = await fetch(`${url}/fill/${slot}`, { headers });
  if (now !== slot) return;
  if (!response.ok) {
    note(sentenceOf(await response.text()), { refusal: true });
    return;
  }
  box.innerHTML = await response.text();
  if (!quiet) focus();
  look();
}

function focus() {
  const words = /** @type {HTMLTextAreaElement|null} */ (box?.querySelector(".slot-words"));
  words?.focus();
  words?.select();
  if (!words)
    /** @type {HTMLElement|null} */ (
      box?.querySelector(".material-item:not(:disabled), [data-find]")
    )?.focus();
}

/** The slot before or behind the one at hand. @param {number} by */
function step(by) {
  const all = buttons();
  const place = all.findIndex((one) => one.dataset.slot === now) + by;
  if (place >= all.length) {
    keep();
    /** @type {HTMLElement} */ (document.getElementById("open-export")).focus();
    note("That was the last one. Export it, or go on in the editor.");
    return;
  }
  turnTo(all[Math.max(0, place)].dataset.slot ?? "");
}

/** Takes over what the server says after a change. @param {any} answer */
function take(answer) {
  page.dataset.rev = String(answer.rev);
  reel.query = `rev=${answer.rev}`;
  reel.frames = answer.frames;
  const list = document.getElementById("fill-steps");
  if (list) {
    const top = list.scrollTop;
    list.outerHTML = answer.list;
    /** @type {HTMLElement} */ (document.getElementById("fill-steps")).scrollTop = top;
  }
  tell("fill-done", answer.done);
  tell("fill-total", answer.total);
  tell("fill-length", answer.length);
  tell("fill-saved", "saved");
  for (const what of ["undo", "redo"]) {
    const press = /** @type {HTMLButtonElement|null} */ (document.querySelector(`[data-step="${what}"]`));
    if (press) press.disabled = !answer[what];
  }
  for (const one of buttons()) one.setAttribute("aria-current", String(one.dataset.slot === now));
  show(Number(button(now)?.dataset.frame ?? reel.frame));
  look();
}

/** Sends a change, after those before it. @param {string} path @param {Record<string, string>} said
 * @returns {Promise<any>} the answer; null where it was refused */
function send(path, said) {
  tell("fill-saved", "saving …");
  const done = sending.then(async () => {
    const response = await fetch(`${url}/${path}`, {
      method: "POST",
      headers,
      body: new URLSearchParams(said),
    }).catch(() => null);
    if (response?.ok) return response.json();
    tell("fill-saved", "not saved");
    note(
      response ? sentenceOf(await response.text()) : "The server cannot be reached. Try again in a moment.",
      { refusal: true },
    );
    return null;
  });
  sending = done.then(
    () => undefined,
    () => undefined,
  );
  return done;
}

/** Saves words that were typed and not yet sent. */
async function keep() {
  if (typing === undefined) return;
  clearTimeout(typing);
  typing = undefined;
  const words = /** @type {HTMLTextAreaElement|null} */ (box?.querySelector(".slot-words"));
  if (!words) return;
  const answer = await send(`fill/${now}`, { text: words.value });
  if (answer) take(answer);
}

/** Fills a slot, the one at hand, with a file, or changes how it is shown; waits while the file is still looked at,
 * also where another slot is at hand by then.
 * @param {Record<string, string>} said @param {string} slot */
async function fillWith(said, slot = now) {
  const answer = await send(`fill/${slot}`, said);
  if (!answer) return;
  if (answer.waits) {
    tell("fill-saved", `being looked at, ${Math.round(answer.progress * 100)} %`);
    setTimeout(() => fillWith(said, slot), 700);
    return;
  }
  take(answer);
  if (now === slot && box && answer.card) {
    box.innerHTML = answer.card;
    look();
  }
}

/** Says what the checks find beside the slot at hand. */
function look() {
  clearTimeout(looking);
  looking = window.setTimeout(async () => {
    const response = await fetch(`${url}/fill-checks`, { headers }).catch(() => null);
    if (!response?.ok) return;
    const { said, whole } = await response.json();
    const list = box?.querySelector("[data-checks]");
    if (list) {
      list.replaceChildren(
        ...(said[now] ?? []).map((/** @type {string} */ sentence) => {
          const line = document.createElement("li");
          line.textContent = sentence;
          return line;
        }),
      );
      /** @type {HTMLElement} */ (list).dataset.checks = "done";
    }
    for (const one of buttons()) one.classList.toggle("is-questioned", Boolean(said[one.dataset.slot ?? ""]));
    if (!whole) look();
  }, 300);
}

/** @param {File[]} files */
async function bringIn(files) {
  const list = /** @type {HTMLElement|null} */ (box?.querySelector(".slot-uploads"));
  if (!list || !files.length) {
    note("Turn to a picture or a sound first: words are typed.", { refusal: true });
    return;
  }
  const slot = now;
  const [sent] = await sendFiles(files.slice(0, 1), list);
  if (sent) fillWith({ media: sent.id }, slot);
}

page.addEventListener("input", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  if (field.matches(".slot-words")) {
    const left = box?.querySelector("[data-left]");
    if (left) left.textContent = String(field.maxLength - field.value.length);
    tell("fill-saved", "typing …");
    clearTimeout(typing);
    typing = window.setTimeout(keep, 250);
  }
  if (field.matches("[data-stretch]")) {
    const output = field.closest("label")?.querySelector("output");
    if (output) output.textContent = Number(field.value).toFixed(1);
  }
});
/** @type {number|undefined} */
let finding;
page.addEventListener("input", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  if (!field.matches("[data-find]")) return;
  clearTimeout(finding);
  finding = window.setTimeout(async () => {
    const slot = now;
    const response = await fetch(`${url}/fill/${slot}?find=${encodeURIComponent(field.value)}`, { headers });
    if (!response.ok || now !== slot) return;
    const fresh = new DOMParser().parseFromString(await response.text(), "text/html");
    const found = fresh.querySelector(".slot-material");
    if (found) box?.querySelector(".slot-material")?.replaceWith(found);
  }, 200);
});
page.addEventListener("change", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  if (field.matches("[data-stretch]")) fillWith({ at: field.value });
  if (field.matches("[data-cut]")) fillWith({ cut: field.checked ? "1" : "" });
  if (field.matches("[data-bring]") && field.files) bringIn([...field.files]);
});
page.addEventListener("click", async (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const step = /** @type {HTMLElement|null} */ (target.closest("#fill-steps [data-slot]"));
  if (step) turnTo(step.dataset.slot ?? "");
  const item = /** @type {HTMLElement|null} */ (target.closest("[data-material]"));
  if (item) fillWith({ media: item.dataset.material ?? "" });
  const what = /** @type {HTMLElement|null} */ (target.closest("[data-step], [data-leave-out]"));
  if (what) {
    await keep();
    const answer = await send("fill-step", { what: what.dataset.step ?? what.dataset.leaveOut ?? "" });
    if (!answer) return;
    take(answer);
    turnTo(button(now) ? now : (buttons()[0]?.dataset.slot ?? ""), true);
  }
});
document.getElementById("fill-next")?.addEventListener("click", () => step(1));
document.getElementById("fill-back")?.addEventListener("click", () => step(-1));
page.addEventListener("keydown", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  if (event.key === "Enter" && target.matches(".slot-words") && !event.shiftKey) {
    event.preventDefault();
    step(1);
  }
  if (event.key === "Enter" && event.ctrlKey) step(1);
  const ring = target.closest(".slot-focus");
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (ring && way) {
    event.preventDefault();
    const crop = /** @type {HTMLElement} */ (ring.closest("[data-crop]"));
    place(crop, Number(crop.dataset.across) + way[0] * 0.05, Number(crop.dataset.down) + way[1] * 0.05);
    aim(crop);
  }
});

/* ---- what stays in view ---- */

/** @param {HTMLElement} crop @param {number} across @param {number} down */
function place(crop, across, down) {
  const held = (/** @type {number} */ value) => Math.min(1, Math.max(0, value));
  crop.dataset.across = String(held(across));
  crop.dataset.down = String(held(down));
  const ring = /** @type {HTMLElement} */ (crop.querySelector(".slot-focus"));
  ring.style.left = `${held(across) * 100}%`;
  ring.style.top = `${held(down) * 100}%`;
}
/** @param {HTMLElement} crop */
const aim = (crop) =>
  fillWith({ across: Number(crop.dataset.across).toFixed(3), down: Number(crop.dataset.down).toFixed(3) });

page.addEventListener("pointerdown", (event) => {
  const crop = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest("[data-crop]"));
  if (!crop) return;
  event.preventDefault();
  const rect = crop.getBoundingClientRect();
  const follow = (/** @type {PointerEvent} */ at) =>
    place(crop, (at.clientX - rect.left) / rect.width, (at.clientY - rect.top) / rect.height);
  follow(event);
  const end = () => {
    removeEventListener("pointermove", follow);
    removeEventListener("pointerup", end);
    aim(crop);
  };
  addEventListener("pointermove", follow);
  addEventListener("pointerup", end);
});
new MutationObserver(() => {
  const crop = /** @type {HTMLElement|null} */ (box?.querySelector("[data-crop]"));
  if (crop) place(crop, Number(crop.dataset.across), Number(crop.dataset.down));
}).observe(page, { childList: true, subtree: true });

takeDrops("Drop to fill this slot", ({ files }) => bringIn(files));
document.addEventListener("visibilitychange", () => document.hidden && keep());
const first = buttons().find((one) => !one.classList.contains("is-filled")) ?? buttons()[0];
if (first) turnTo(first.dataset.slot ?? "", true);
