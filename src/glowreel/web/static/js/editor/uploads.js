// @ts-check
/** Bringing files in: chosen, or dropped anywhere in the window. An empty promo then offers to lay them all in. */

import { sendFiles, takeDrops } from "../sending.js";
import { showFace } from "./bench.js";
import { send } from "./commands.js";
import { model, on } from "./model.js";

const uploads = /** @type {HTMLElement} */ (document.getElementById("uploads"));
const input = /** @type {HTMLInputElement} */ (document.getElementById("file-input"));
const offer = /** @type {HTMLElement} */ (document.getElementById("stage-offer"));
const button = /** @type {HTMLButtonElement} */ (document.getElementById("put-all"));

/** What came in while the promo was empty, in order: from here, or from the Desk. @type {string[]} */
let arrived = (new URLSearchParams(location.search).get("arrived") ?? "").split(",").filter(Boolean);

/** @param {File[]} files */
async function bringIn(files) {
  showFace("shelf");
  await sendFiles(files, uploads, (sent) => {
    if (!arrived.includes(sent.id)) arrived.push(sent.id);
    reload();
  });
  reload();
}

export function reload() {
  /** @type {any} */ (window).htmx.ajax("GET", "/shelf/list", {
    target: "#shelf-list",
    swap: "outerHTML",
    source: "#shelf-filter",
  });
}

/** What the Shelf shows of a file. @param {string} id */
const onShelf = (id) =>
  /** @type {HTMLElement|null} */ (document.querySelector(`#shelf-list [data-media="${CSS.escape(id)}"]`));

/** What can stand on the timeline of all that came in; looks are put on what stands there. */
const layable = () =>
  arrived.flatMap((id) => onShelf(id) ?? []).filter((item) => item.dataset.kind !== "look");

/** Says on the empty stage what to do next. */
function offerAll() {
  const items = layable();
  const ready = items.filter((item) => item.classList.contains("is-ready"));
  const waiting = items.filter(
    (item) => item.classList.contains("is-queued") || item.classList.contains("is-running"),
  );
  const empty = !model.state.length;
  const names = document.getElementById("offer-names");
  if (names) names.textContent = items.map((item) => item.dataset.name).join(" · ");
  offer.hidden = !empty || !items.length;
  document.getElementById("stage-empty")?.toggleAttribute("hidden", !empty || items.length > 0);
  const many = ready.length === 1 ? "it" : `all ${ready.length}`;
  button.disabled = !ready.length || waiting.length > 0;
  button.textContent = waiting.length
    ? `${ready.length} of ${ready.length + waiting.length} ready …`
    : `Put ${many} on the timeline in this order`;
}

button.addEventListener("click", () => {
  const items = layable().filter((item) => item.classList.contains("is-ready"));
  const sounds = items.filter((item) => item.dataset.kind === "sound");
  const media = items.filter((item) => item.dataset.kind !== "sound").map((item) => item.dataset.media);
  if (media.length) send({ do: "insert-clips", media });
  for (const sound of sounds) send({ do: "add-sound", media: sound.dataset.media, whole: media.length > 0 });
  arrived = [];
});

document.getElementById("add-files")?.addEventListener("click", () => input.click());
input.addEventListener("change", () => {
  bringIn([...(input.files ?? [])]);
  input.value = "";
});
takeDrops("Drop to put them on the Shelf", ({ files }) => bringIn(files));
document.body.addEventListener("htmx:afterSwap", offerAll);
on("changed", offerAll);
