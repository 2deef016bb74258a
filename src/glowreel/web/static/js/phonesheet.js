// @ts-check
/** The sheet with the code for telephones: fetched when it is opened. */

document.addEventListener("click", (event) => {
  const opener = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-phone]")
  );
  const sheet = /** @type {HTMLDialogElement|null} */ (document.getElementById("phone-sheet"));
  if (!opener || !sheet) return;
  sheet.showModal();
  /** @type {any} */ (window).htmx.ajax("GET", `/upload-links?promo=${opener.dataset.phone}`, {
    target: "#phone-links",
    swap: "outerHTML",
  });
});
