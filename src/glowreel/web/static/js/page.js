// @ts-check
/** What every page shares: sheets, notes, copied links, times in words, and refusals shown where people look. */

const token = document.querySelector('meta[name="csrf-token"]')?.getAttribute("content") ?? "";

/** Headers that every change needs. */
export const headers = { "X-CSRFToken": token, "X-Glow": "1" };

/**
 * Shows a sentence for a while.
 * @param {string} sentence @param {{refusal?: boolean, action?: string, run?: () => void}} [options]
 */
export function note(sentence, options = {}) {
  const box = document.createElement("div");
  box.className = options.refusal ? "toast-note is-refusal" : "toast-note";
  const text = document.createElement("span");
  text.textContent = sentence;
  box.append(text);
  if (options.action && options.run) {
    const button = document.createElement("button");
    button.className = "btn btn-quiet";
    button.textContent = options.action;
    button.addEventListener("click", () => {
      box.remove();
      options.run?.();
    });
    box.append(button);
  }
  const toasts = document.getElementById("toasts");
  toasts?.append(box);
  // Over any sheet that is open: whoever is refused something there is looking at that.
  if (toasts && document.querySelector("dialog[open]")) {
    toasts.hidePopover();
    toasts.showPopover();
  }
  setTimeout(() => box.remove(), options.refusal ? 7000 : 4500);
}

/** The sentence in an answer that refuses. @param {string} text */
export function sentenceOf(text) {
  try {
    return JSON.parse(text).sentence || "That did not work.";
  } catch {
    return "That did not work. Reload the page and try again.";
  }
}

/** Writes times as this machine's clock says them. */
export function clocks() {
  for (const element of document.querySelectorAll("time[data-clock]"))
    element.textContent = new Date(element.getAttribute("datetime") ?? "").toLocaleTimeString([], {
      hour: "2-digit",
      minute: "2-digit",
      hour12: false,
    });
}

function ago() {
  for (const element of document.querySelectorAll("time[data-ago]")) {
    const minutes = Math.round((Date.now() - Date.parse(element.getAttribute("datetime") ?? "")) / 60000);
    const words =
      minutes < 1
        ? "just now"
        : minutes < 60
          ? `${minutes} min ago`
          : minutes < 1440
            ? `${Math.round(minutes / 60)} h ago`
            : "";
    if (words) element.textContent = words;
  }
}

document.addEventListener("click", async (event) => {
  const target = /** @type {Element} */ (event.target);
  const opener = target.closest("[data-open]");
  if (opener) {
    const sheet = /** @type {HTMLDialogElement} */ (
      document.querySelector(opener.getAttribute("data-open") ?? "")
    );
    sheet.showModal();
    // What it says may have changed since it was last open.
    sheet.dispatchEvent(new Event("opened"));
  }
  if (target.closest("[data-close]")) target.closest("dialog")?.close();
  if (target instanceof HTMLDialogElement) target.close();
  for (const menu of document.querySelectorAll("details.menu[open]"))
    if (!menu.contains(target)) menu.removeAttribute("open");
  const copier = target.closest("[data-copy]");
  if (copier) {
    const link = copier.getAttribute("data-copy") ?? "";
    try {
      await navigator.clipboard.writeText(link);
      note(copier.getAttribute("data-copied") ?? "The link is copied. Anyone who has it can watch.");
    } catch {
      window.prompt("Copy this link", link);
    }
  }
});
document.addEventListener("keydown", (event) => {
  if (event.key === "Escape")
    document.querySelectorAll("details.menu[open]").forEach((menu) => menu.removeAttribute("open"));
});
document.addEventListener("change", (event) => {
  const target = /** @type {HTMLInputElement} */ (event.target);
  if (target.matches("[data-submit]") && (target.type !== "file" || target.files?.length))
    target.form?.requestSubmit();
});
document.body.addEventListener("htmx:configRequest", (event) =>
  Object.assign(/** @type {any} */ (event).detail.headers, headers),
);
document.body.addEventListener("htmx:responseError", (event) =>
  note(sentenceOf(/** @type {any} */ (event).detail.xhr.responseText), { refusal: true }),
);
document.body.addEventListener("htmx:sendError", () =>
  note("The server cannot be reached. Your work up to here is saved.", { refusal: true }),
);
document.body.addEventListener("htmx:afterSettle", ago);
ago();
clocks();
// What is planned is shown in the time of whoever looks.
if (document.querySelector(".face"))
  document.cookie = `zone=${Intl.DateTimeFormat().resolvedOptions().timeZone}; path=/; max-age=31536000; samesite=lax`;
for (const box of document.querySelectorAll("#toasts .toast-note")) setTimeout(() => box.remove(), 8000);

const TWICE = 3000;
/** @type {WeakMap<HTMLFormElement, {said: string, at: number}>} What each form said when it was last sent, and when. */
const pressed = new WeakMap();

/**
 * Names each press of a form that makes something. Pressed twice in a moment, it is the same press: the server makes one.
 * @param {Event} event
 */
function namePress(event) {
  const form = /** @type {HTMLFormElement} */ (event.target);
  if (!(form instanceof HTMLFormElement) || !(form.method === "post" || form.hasAttribute("hx-post"))) return;
  let input = /** @type {HTMLInputElement | null} */ (form.querySelector('input[name="press"]'));
  if (!input) {
    input = document.createElement("input");
    input.type = "hidden";
    input.name = "press";
    form.append(input);
  }
  const old = input.value;
  input.value = "";
  const said = new URLSearchParams(/** @type {any} */ (new FormData(form))).toString();
  const last = pressed.get(form);
  const again = last && last.said === said && Date.now() - last.at < TWICE;
  input.value = again ? old : pressName();
  pressed.set(form, { said, at: Date.now() });
}

/** A name that no other press has. */
export function pressName() {
  return [...crypto.getRandomValues(new Uint32Array(4))].map((part) => part.toString(36)).join("-");
}

document.addEventListener("submit", namePress, { capture: true });
