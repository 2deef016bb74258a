/** The export sheet: a picture is taken at the playhead; what is being made is seen at once. */
import { model } from "./model.js";

document.body.addEventListener("htmx:configRequest", (event) => {
  const detail = /** @type {CustomEvent} */ (event).detail;
  const from = /** @type {Element} */ (detail.elt);
  if (from.id === "export-form" || from.id === "export-expected")
    detail.parameters.frame = String(model.frame);
});

document.body.addEventListener("htmx:afterRequest", (event) => {
  const detail = /** @type {CustomEvent} */ (event).detail;
  if (detail.elt.id === "export-form" && detail.successful)
    document.getElementById("export-list")?.scrollIntoView({ block: "nearest", behavior: "smooth" });
});
