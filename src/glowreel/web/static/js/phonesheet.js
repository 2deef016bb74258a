// @ts-check
/** The sheet with the code for telephones: fetched when it is opened, and made where there is none yet. */

document.addEventListener("click", (event) => {
  const opener = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest("[data-phone]")
  );
  const sheet = /** @type {HTMLDialogElement|null} */ (document.getElementById("phone-sheet"));
  if (!opener || !sheet) return;
  sheet.showModal();
  const { htmx } = /** @type {any} */ (window);
  const place = { target: "#phone-links", swap: "outerHTML" };
  htmx.ajax("GET", `/upload-links?promo=${opener.dataset.phone}`, place).then(() => {
    if (sheet.open && !sheet.querySelector(".phone-code")) htmx.trigger("#make-phone-link", "submit");
  });
});
