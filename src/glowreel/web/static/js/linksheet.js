// @ts-check
/** The sheet for files by their address. */

const sheet = /** @type {HTMLDialogElement|null} */ (document.getElementById("link-sheet"));

document.addEventListener("click", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  if (target.closest("[data-by-link]") && sheet) {
    sheet.showModal();
    /** @type {HTMLInputElement} */ (document.getElementById("link-address")).select();
  }
  const address = target.closest("[data-address]")?.getAttribute("data-address");
  const field = /** @type {HTMLInputElement|null} */ (document.getElementById("link-address"));
  if (address && field) {
    field.value = address;
    field.form?.requestSubmit();
  }
  if (target.closest("[data-pick-all]"))
    for (const box of /** @type {NodeListOf<HTMLInputElement>} */ (
      document.querySelectorAll("#link-pick input[name=of]")
    ))
      box.checked = true;
});
document.body.addEventListener("htmx:afterSwap", () => {
  if (document.getElementById("link-begun")) document.body.dispatchEvent(new Event("activity-changed"));
});
