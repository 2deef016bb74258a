// @ts-check
/** The watch page: chapters and moments, the call to action, what is counted of watching, and questions. No cookies. */

const film = /** @type {HTMLVideoElement} */ (document.getElementById("film"));
const action = document.getElementById("action");
const parts = Number(film.dataset.parts);
const said = document.getElementById("said");

const clock = (/** @type {number} */ at) =>
  `${Math.floor(at / 60)}:${String(Math.floor(at % 60)).padStart(2, "0")}`;

/* ---- counting: plays, parts that were seen, presses ---- */

let played = false;
/** @type {Set<number>} */
const seen = new Set();
/** @type {Set<number>} */
let unsaid = new Set();

/** @param {string} what @param {string} [places] */
function count(what, places = "0") {
  const body = new URLSearchParams({ what, places });
  fetch(film.dataset.count ?? "", { method: "POST", body, keepalive: true }).catch(() => {});
}
function sayPlaces() {
  if (!unsaid.size) return;
  count("seen", [...unsaid].join(","));
  unsaid = new Set();
}
film.addEventListener("play", () => {
  if (!played) count("play");
  played = true;
});
film.addEventListener("timeupdate", () => {
  showAction();
  const at = document.getElementById("ask-at");
  if (at) at.textContent = clock(film.currentTime);
  if (film.paused || !film.duration) return;
  const place = Math.min(parts - 1, Math.floor((parts * film.currentTime) / film.duration));
  if (seen.has(place)) return;
  seen.add(place);
  unsaid.add(place);
  if (unsaid.size >= 10) sayPlaces();
});
film.addEventListener("pause", sayPlaces);
film.addEventListener("ended", () => {
  sayPlaces();
  showAction();
});
document.addEventListener("visibilitychange", () => {
  if (document.visibilityState === "hidden") sayPlaces();
});

/** Shows the call to action from its second on; at the end where none is said. */
function showAction() {
  if (!action) return;
  const from = action.dataset.from;
  action.hidden = from ? film.currentTime < Number(from) : !film.ended;
}
for (const one of [action, document.getElementById("action-below")])
  one?.addEventListener("click", () => count("press"));

/* ---- moments, links, questions ---- */

document.addEventListener("click", async (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const moment = /** @type {HTMLElement|null} */ (target.closest("[data-at]"));
  if (moment) {
    film.currentTime = Number(moment.dataset.at);
    film.play().catch(() => {});
    film.scrollIntoView({ block: "nearest" });
  }
  const copied = /** @type {HTMLElement|null} */ (target.closest("[data-copy]"));
  if (!copied || !said) return;
  try {
    await navigator.clipboard.writeText(copied.dataset.copy ?? "");
    said.textContent = "The link is copied.";
  } catch {
    window.prompt("Copy this link", copied.dataset.copy);
  }
});

const form = /** @type {HTMLFormElement|null} */ (document.getElementById("ask"));
form?.addEventListener("submit", async (event) => {
  event.preventDefault();
  const [text, who] = ["ask-text", "ask-who"].map(
    (id) => /** @type {HTMLInputElement} */ (document.getElementById(id)),
  );
  const body = new URLSearchParams({ text: text.value, who: who.value, at: film.currentTime.toFixed(1) });
  try {
    const answer = await fetch(form.dataset.url ?? "", { method: "POST", headers: { "X-Glow": "1" }, body });
    const told = await answer.json();
    if (answer.ok) text.value = "";
    if (said) said.textContent = told.sentence;
  } catch {
    if (said) said.textContent = "That could not be sent. It is still here: try again.";
  }
});
