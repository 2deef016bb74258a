// @ts-check
/** Colours of a brand: dragged into another order, picked from the screen or from a picture. */

/** @param {HTMLElement} inside @param {string} hex */
function take(inside, hex) {
  const form = /** @type {HTMLFormElement} */ (inside.closest("form"));
  /** @type {HTMLInputElement} */ (form.elements.namedItem("new")).value = hex;
  form.requestSubmit();
}

/** @param {HTMLElement} swatch */
const settle = (swatch) =>
  /** @type {HTMLElement} */ (swatch.querySelector("input")).dispatchEvent(
    new Event("change", { bubbles: true }),
  );

/** @type {HTMLElement|null} */
let carried = null;
/** What it stood before. @type {Element|null} */
let stood = null;
document.body.addEventListener("dragstart", (event) => {
  carried = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest?.(".brand-swatch") ?? null
  );
  stood = carried?.nextElementSibling ?? null;
  if (carried) event.dataTransfer?.setData("text/plain", "");
});
document.body.addEventListener("drop", (event) => {
  if (carried) event.preventDefault();
});
document.body.addEventListener("dragover", (event) => {
  const over = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest(".brand-swatch")
  );
  if (!carried || !over || over.parentElement !== carried.parentElement) return;
  event.preventDefault();
  const box = over.getBoundingClientRect();
  if (event.clientX < box.left + box.width / 2) over.before(carried);
  else over.after(carried);
});
document.body.addEventListener("dragend", (event) => {
  // Let go elsewhere, or escaped: it goes back.
  if (carried && event.dataTransfer?.dropEffect === "none")
    carried.parentElement?.insertBefore(carried, stood);
  else if (carried && carried.nextElementSibling !== stood) settle(carried);
  carried = null;
});
document.body.addEventListener("keydown", (event) => {
  const swatch = /** @type {HTMLElement|null} */ (
    /** @type {Element} */ (event.target).closest(".brand-swatch")
  );
  if (!swatch || !event.shiftKey || !["ArrowLeft", "ArrowRight"].includes(event.key)) return;
  event.preventDefault();
  const back = event.key === "ArrowLeft";
  const beside = back ? swatch.previousElementSibling : swatch.nextElementSibling;
  if (!beside?.matches(".brand-swatch")) return;
  if (back) beside.before(swatch);
  else beside.after(swatch);
  settle(swatch);
});

/** @type {any} */
const Dropper = /** @type {any} */ (window).EyeDropper;
const offer = () => {
  for (const one of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("[data-pick-screen]")))
    one.hidden = !Dropper;
};
offer();
document.body.addEventListener("htmx:afterSettle", offer);

/** @type {HTMLElement|null} */
let wanted = null;
document.body.addEventListener("click", async (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  const screen = /** @type {HTMLElement|null} */ (target.closest("[data-pick-screen]"));
  if (screen) {
    const found = await new Dropper().open().catch(() => null);
    if (found) take(screen, found.sRGBHex);
    return;
  }
  const sheet = /** @type {HTMLDialogElement|null} */ (document.getElementById("pick-sheet"));
  if (!sheet) return;
  const picture = /** @type {HTMLElement|null} */ (target.closest("[data-pick-picture]"));
  if (picture) {
    wanted = picture;
    sheet.showModal();
    return;
  }
  if (target.closest("#pick-sheet [data-close]")) sheet.close();
  const file = /** @type {HTMLElement|null} */ (target.closest(".pick-file"));
  if (file) show(sheet, /** @type {HTMLImageElement} */ (file.querySelector("img")));
  if (target.matches(".pick-canvas") && wanted && inked) {
    const colour = under(/** @type {HTMLCanvasElement} */ (target), event);
    sheet.close();
    take(wanted, colour);
  }
});
document.body.addEventListener("pointermove", (event) => {
  const target = /** @type {HTMLElement} */ (event.target);
  if (!target.matches?.(".pick-canvas") || !inked) return;
  const now = target.parentElement?.querySelector(".pick-now");
  if (now) now.textContent = under(/** @type {HTMLCanvasElement} */ (target), event);
});

let inked = false;
/** @param {HTMLDialogElement} sheet @param {HTMLImageElement} image */
async function show(sheet, image) {
  image.loading = "eager";
  await image.decode().catch(() => undefined);
  if (!image.naturalWidth) return;
  const canvas = /** @type {HTMLCanvasElement} */ (sheet.querySelector("canvas"));
  canvas.width = image.naturalWidth;
  canvas.height = image.naturalHeight;
  canvas.getContext("2d", { willReadFrequently: true })?.drawImage(image, 0, 0);
  inked = true;
}

/** The colour under the pointer. @param {HTMLCanvasElement} canvas @param {MouseEvent} event @returns {string} */
function under(canvas, event) {
  const box = canvas.getBoundingClientRect();
  const x = Math.floor(((event.clientX - box.left) / box.width) * canvas.width);
  const y = Math.floor(((event.clientY - box.top) / box.height) * canvas.height);
  const data = canvas.getContext("2d", { willReadFrequently: true })?.getImageData(x, y, 1, 1).data ?? [
    0, 0, 0,
  ];
  return `#${[...data]
    .slice(0, 3)
    .map((value) => value.toString(16).padStart(2, "0"))
    .join("")}`.toUpperCase();
}
