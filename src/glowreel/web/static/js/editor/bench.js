// @ts-check
/** The bench: its faces, one shown at a time. */

/** @typedef {"shelf"|"music"|"transcript"|"details"} Face */
/** @type {Face[]} */
const FACES = ["shelf", "music", "transcript", "details"];

/** @param {Face} face */
export function showFace(face) {
  for (const name of FACES) {
    const on = name === face;
    document.getElementById(`bench-${name}`)?.toggleAttribute("hidden", !on);
    const tab = document.getElementById(`tab-${name}`);
    tab?.setAttribute("aria-selected", String(on));
    tab?.setAttribute("tabindex", on ? "0" : "-1");
  }
}
for (const [place, face] of FACES.entries()) {
  const tab = document.getElementById(`tab-${face}`);
  tab?.addEventListener("click", () => showFace(face));
  tab?.addEventListener("keydown", (event) => {
    const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!way) return;
    const other = FACES[(place + way + FACES.length) % FACES.length];
    event.stopPropagation();
    showFace(other);
    document.getElementById(`tab-${other}`)?.focus();
  });
}
/* Whoever presses something on the timeline wants to see what it is, whichever face is open. */
document.getElementById("lanes")?.parentElement?.addEventListener("click", (event) => {
  if (/** @type {Element} */ (event.target).closest("#lanes .item.is-chosen")) showFace("details");
});
