// @ts-check
/** The help beside a screen: opened and shut by its button or F1, at the part that somebody is looking at. */

const panel = document.getElementById("help-panel");
const button = document.getElementById("open-help");
const isOpen = () => Boolean(panel?.matches(":popover-open"));

/** The part of the page that belongs to the face of the bench that is shown. */
function here() {
  const face = document.querySelector('.bench-tabs [role="tab"][aria-selected="true"]');
  return face && panel?.querySelector(`#${face.id.replace("tab-", "help-")}`);
}

button?.addEventListener("htmx:beforeRequest", (event) => {
  // Its second press shuts it.
  if (!isOpen()) return;
  event.preventDefault();
  panel?.hidePopover();
});
panel?.addEventListener("htmx:afterSwap", () => {
  const fresh = !isOpen();
  if (fresh) panel.showPopover();
  const words = panel.querySelector(".help-words");
  if (words) words.scrollTop = 0;
  if (fresh) here()?.scrollIntoView({ block: "start" });
});
panel?.addEventListener("toggle", () => button?.setAttribute("aria-expanded", String(isOpen())));
document.addEventListener(
  "keydown",
  (event) => {
    if (event.key === "F1") {
      event.preventDefault();
      // Over a sheet it could be seen and not be read on.
      if (!document.querySelector("dialog[open]")) button?.click();
    } else if (event.key === "Escape" && isOpen() && !document.querySelector("dialog[open]")) {
      event.stopImmediatePropagation();
      panel?.hidePopover();
      button?.focus();
    }
  },
  { capture: true },
);
