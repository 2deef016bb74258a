// @ts-check
/** The welcome page's three films: they start together, stay together, and stand still where motion is not wanted. */

const films = /** @type {HTMLVideoElement[]} */ ([...document.querySelectorAll(".welcome-films video")]);
const button = document.getElementById("films-toggle");
const calm = matchMedia("(prefers-reduced-motion: reduce)");

const loaded = (/** @type {HTMLVideoElement} */ film) =>
  new Promise((done) => {
    if (film.readyState >= 3) done(undefined);
    film.addEventListener("canplay", done, { once: true });
    film.addEventListener("error", done, { once: true });
  });

/** @param {boolean} on */
function play(on) {
  for (const film of films) {
    if (on) film.play().catch(() => undefined);
    else film.pause();
  }
  if (button) button.textContent = on ? "Pause" : "Play";
  button?.setAttribute("aria-pressed", String(!on));
}

Promise.all(films.map(loaded)).then(() => play(!calm.matches));
button?.addEventListener("click", () => play(Boolean(films[0]?.paused)));
setInterval(() => {
  const [first, ...others] = films;
  for (const film of others)
    if (Math.abs(film.currentTime - first.currentTime) > 0.12) film.currentTime = first.currentTime;
}, 2000);

export {};
