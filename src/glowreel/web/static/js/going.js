// @ts-check
/** What goes out: planned posts are dragged to other days, letters are counted, the page follows what happens. */

import { follow } from "./connection.js";
import { headers, note, sentenceOf } from "./page.js";

/* ---- letters left, by each field ---- */

/** @param {HTMLInputElement|HTMLTextAreaElement} field */
function counted(field) {
  const most = Number(field.dataset.most);
  const label = document.querySelector(`label[for="${field.id}"]`);
  let count = label?.querySelector(".going-count");
  if (!count && label) {
    count = document.createElement("span");
    count.className = "going-count num";
    label.append(count);
  }
  if (!count) return;
  const left = most - [...field.value.trim()].length;
  count.textContent = left < 0 ? `${-left} too many` : `${left} left`;
  count.classList.toggle("is-over", left < 0);
}
for (const field of document.querySelectorAll("[data-most]"))
  counted(/** @type {HTMLInputElement} */ (field));
document.addEventListener("input", (event) => {
  const field = /** @type {HTMLInputElement} */ (event.target);
  if (field.matches("[data-most]")) counted(field);
  if (field.name?.startsWith("still-")) still(field);
  if (field.id === "publish-at")
    /** @type {HTMLInputElement|null} */ (document.querySelector('[name="when"][value="planned"]'))?.click();
});

/* ---- the picture before it plays ---- */

/** @type {WeakMap<HTMLInputElement, number>} */
const waiting = new WeakMap();
/** @param {HTMLInputElement} field */
function still(field) {
  const account = field.name.slice("still-".length);
  clearTimeout(waiting.get(field));
  const show = () => {
    const picture = /** @type {HTMLImageElement|null} */ (
      document.querySelector(`[data-still="${CSS.escape(account)}"]`)
    );
    const format = /** @type {HTMLSelectElement|null} */ (document.getElementById(`format-${account}`));
    if (!picture || !format) return;
    const asked = new URLSearchParams({
      frame: String(Math.floor(Number(field.value) * Number(picture.dataset.rate))),
      format: format.value,
      rev: picture.dataset.rev ?? "",
    });
    picture.src = `${picture.dataset.frames}?${asked}`;
  };
  waiting.set(field, window.setTimeout(show, 120));
}
for (const field of document.querySelectorAll('[name^="still-"]'))
  still(/** @type {HTMLInputElement} */ (field));
document.addEventListener("change", (event) => {
  const select = /** @type {HTMLSelectElement} */ (event.target);
  if (!select.name?.startsWith("format-")) return;
  const range = document.querySelector(`[name="still-${CSS.escape(select.name.slice("format-".length))}"]`);
  if (range) still(/** @type {HTMLInputElement} */ (range));
});

/* ---- time zone ---- */

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
for (const field of document.querySelectorAll("[data-zone]"))
  /** @type {HTMLInputElement} */ (field).value = zone;
for (const said of document.querySelectorAll("[data-zone-said]")) said.textContent = zone;

/* ---- dragging to another day ---- */

let held = "";
/** @param {DragEvent} event */
const dayUnder = (event) =>
  /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest?.("[data-day]"));
document.addEventListener("dragstart", (event) => {
  const post = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest?.("[data-post]")
  );
  held = post?.dataset.post ?? "";
});
document.addEventListener("dragover", (event) => {
  const day = dayUnder(event);
  for (const over of document.querySelectorAll(".is-over[data-day]")) over.classList.remove("is-over");
  if (!held || !day || day.classList.contains("is-past")) return;
  event.preventDefault();
  day.classList.add("is-over");
});
document.addEventListener("drop", async (event) => {
  const day = dayUnder(event);
  if (!held || !day) return;
  event.preventDefault();
  const body = new URLSearchParams({ day: day.dataset.day ?? "" });
  const answer = await fetch(`/posts/${held}/move`, { method: "POST", headers, body }).catch(() => null);
  held = "";
  if (!answer?.ok)
    note(answer ? sentenceOf(await answer.text()) : "That could not be kept.", { refusal: true });
  document.body.dispatchEvent(new Event("desk-changed"));
});

/* ---- live, and told by the browser ---- */

let first = true;
follow("/desk/events", () => {
  if (!first) document.body.dispatchEvent(new Event("desk-changed"));
  first = false;
});
const tell = document.getElementById("tell-me");
if (tell && "Notification" in window && Notification.permission === "default") {
  tell.hidden = false;
  tell.addEventListener("click", async () => {
    const answer = await Notification.requestPermission();
    tell.hidden = true;
    note(answer === "granted" ? "You are told, also in another window." : "The browser does not allow that.");
  });
}
