// @ts-check
/** The bench: its two faces, one shown at a time. */

/** @param {"shelf"|"details"} face */
export function showFace(face) {
  for (const name of ["shelf", "details"]) {
    const on = name === face;
    document.getElementById(`bench-${name}`)?.toggleAttribute("hidden", !on);
    const tab = document.getElementById(`tab-${name}`);
    tab?.setAttribute("aria-selected", String(on));
    tab?.setAttribute("tabindex", on ? "0" : "-1");
  }
}
for (const face of /** @type {const} */ (["shelf", "details"])) {
  const tab = document.getElementById(`tab-${face}`);
  tab?.addEventListener("click", () => showFace(face));
  tab?.addEventListener("keydown", (event) => {
    if (event.key !== "ArrowLeft" && event.key !== "ArrowRight") return;
    const other = face === "shelf" ? "details" : "shelf";
    event.stopPropagation();
    showFace(other);
    document.getElementById(`tab-${other}`)?.focus();
  });
}
