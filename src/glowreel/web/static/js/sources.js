// @ts-check
/** What comes from outside: offers that are seen moving and heard, licensed, taken on to the Shelf; files of a drive. */

import { headers, note, sentenceOf } from "./page.js";

const LOOK_EVERY = 700;
const TRIES = 1200;
const hearing = new Audio();
/** @type {HTMLElement|null} */
let heard = null;

/** The promo that an offer is seen in, if in one. */
const promo = () =>
  /** @type {HTMLInputElement|null} */ (document.querySelector(".source [name=promo]"))?.value ?? "";

/** Asks whether somebody takes the licence of what is paid for. @param {HTMLElement} item @returns {Promise<boolean>} */
function agreed(item) {
  const sheet = /** @type {HTMLDialogElement} */ (document.getElementById("licence-sheet"));
  /** @type {[string, string|undefined][]} */
  const said = [
    ["licence-name", item.dataset.name],
    ["licence-price", item.dataset.price],
    ["licence-credit", item.dataset.credit],
  ];
  for (const [id, text] of said)
    /** @type {HTMLElement} */ (document.getElementById(id)).textContent = text ?? "";
  sheet.returnValue = "";
  sheet.showModal();
  return new Promise((done) => {
    const agree = /** @type {HTMLElement} */ (document.getElementById("licence-agree"));
    agree.onclick = () => sheet.close("agreed");
    sheet.onclose = () => done(sheet.returnValue === "agreed");
  });
}

/** @param {HTMLElement} item @param {string} icon @param {string} title */
function tell(item, icon, title) {
  const button = item.querySelector("[data-take]");
  button?.querySelector("i")?.setAttribute("class", `bi bi-${icon}`);
  button?.setAttribute("title", title);
  button?.setAttribute("aria-label", `${item.dataset.name}: ${title.toLowerCase()}`);
}

/** Waits for what was asked for, until it can be used. @param {string} upload @returns {Promise<string>} its file */
async function arrived(upload) {
  for (let n = 0; n < TRIES; n++) {
    const answer = await fetch(`/sources/${upload}`, { headers }).catch(() => null);
    if (answer?.ok) {
      const { media, error } = await answer.json();
      if (error) throw new Error(error);
      if (media) return media;
    } else if (answer && answer.status < 500) throw new Error("It was ended.");
    await new Promise((next) => setTimeout(next, LOOK_EVERY));
  }
  throw new Error("It takes too long. The activity tray says how far it is.");
}

/**
 * Brings an offer on to the Shelf, unless it is there; the same one is brought once, however often it is pressed.
 * @param {HTMLElement} item
 * @returns {Promise<string>} its file, nothing where it did not come
 */
export async function have(item) {
  if (item.dataset.media) return item.dataset.media;
  if (item.classList.contains("is-coming")) return "";
  const body = new URLSearchParams({ ...JSON.parse(item.dataset.wish ?? "{}"), promo: promo() });
  if (item.dataset.price) {
    if (!(await agreed(item))) return "";
    body.set("agreed", "1");
  }
  item.classList.add("is-coming");
  tell(item, "hourglass-split", "Is on its way");
  note(`“${item.dataset.name}” is on its way.`);
  try {
    const answer = await fetch(item.dataset.offer ?? "", { method: "POST", headers, body });
    if (!answer.ok) throw new Error(sentenceOf(await answer.text()));
    document.body.dispatchEvent(new Event("activity-changed"));
    const { media, upload } = await answer.json();
    item.dataset.media = media || (await arrived(upload));
    tell(item, "check2", "On the Shelf");
    return item.dataset.media ?? "";
  } catch (error) {
    tell(item, "plus-lg", "To the Shelf");
    note(/** @type {Error} */ (error).message, { refusal: true });
    return "";
  } finally {
    item.classList.remove("is-coming");
  }
}

/** Brings files of the drive in, in the order in which they were picked. @param {HTMLFormElement} form */
async function bringIn(form) {
  const body = new URLSearchParams({ promo: promo() });
  for (const key of picked)
    if (form.querySelector(`[value="${CSS.escape(key)}"]:checked`)) body.append("of", key);
  const answer = await fetch(form.dataset.takeMany ?? "", { method: "POST", headers, body });
  if (!answer.ok) {
    note(sentenceOf(await answer.text()), { refusal: true });
    return;
  }
  const { uploads } = await answer.json();
  document.body.dispatchEvent(new Event("activity-changed"));
  note(
    `${uploads.length === 1 ? "The file is" : `${uploads.length} files are`} on the way to the Shelf. The activity tray says how far.`,
  );
  for (const box of /** @type {NodeListOf<HTMLInputElement>} */ (form.querySelectorAll("[name=of]")))
    box.checked = false;
  picked.length = 0;
}
/** The keys of files, in the order in which they were picked. @type {string[]} */
const picked = [];

/** @param {HTMLElement} button */
function hear(button) {
  if (heard === button && !hearing.paused) {
    hearing.pause();
    return;
  }
  quiet();
  heard = button;
  hearing.src = button.dataset.hear ?? "";
  hearing.play().catch(() => note("That cannot be heard just now.", { refusal: true }));
}
function quiet() {
  hearing.pause();
  heard?.querySelector("i")?.setAttribute("class", "bi bi-play-fill");
}
hearing.addEventListener("play", () => heard?.querySelector("i")?.setAttribute("class", "bi bi-pause-fill"));
for (const end of ["pause", "ended"]) hearing.addEventListener(end, quiet);

document.addEventListener("click", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const item = /** @type {HTMLElement|null} */ (target.closest(".offer"));
  const sound = /** @type {HTMLElement|null} */ (target.closest("[data-hear^='/']"));
  if (sound) hear(sound);
  else if (item && (target.closest("[data-take]") || !document.getElementById("stage"))) {
    if (!target.closest("[data-seed]")) have(item);
  }
  const seed = target.closest("[data-seed]")?.getAttribute("data-seed");
  if (seed) {
    const field = /** @type {HTMLInputElement} */ (document.getElementById("make-seed"));
    field.value = seed;
    field.form?.requestSubmit();
  }
  if (target.closest("[data-all-stock]")) {
    const form = /** @type {HTMLFormElement} */ (document.getElementById("stock-filter"));
    for (const field of /** @type {NodeListOf<HTMLInputElement>} */ (
      form.querySelectorAll("select, [type=search]")
    ))
      field.value = "";
    form.requestSubmit();
  }
  if (target.closest("#drive-found [data-pick-all]"))
    for (const box of /** @type {NodeListOf<HTMLInputElement>} */ (
      document.querySelectorAll("#drive-found [name=of]")
    ))
      if (!box.checked) box.click();
});
document.addEventListener("change", (event) => {
  const box = /** @type {HTMLInputElement} */ (event.target);
  if (!box.matches("#drive-found [name=of]")) return;
  if (box.checked) picked.push(box.value);
  else picked.splice(picked.indexOf(box.value), 1);
});
document.addEventListener("submit", (event) => {
  const form = /** @type {HTMLFormElement} */ (event.target);
  if (form.id !== "drive-found") return;
  event.preventDefault();
  bringIn(form);
});
document.addEventListener("keydown", (event) => {
  const item = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest?.(".offer .shelf-pick")?.parentElement ?? null
  );
  if (item && (event.key === "Enter" || event.key === " ") && !document.getElementById("stage")) {
    event.preventDefault();
    have(item);
  }
});

/* Footage moves while the pointer is over it. */
document.addEventListener("pointerover", (event) => {
  const item = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest?.(".offer[data-loop]")
  );
  const picture = item?.querySelector("img");
  if (!item || !picture || picture.dataset.still) return;
  picture.dataset.still = picture.src;
  picture.src = item.dataset.loop ?? "";
  item.addEventListener(
    "pointerleave",
    () => {
      picture.src = picture.dataset.still ?? "";
      delete picture.dataset.still;
    },
    { once: true },
  );
});
