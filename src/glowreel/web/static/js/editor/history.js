// @ts-check
/** The history panel: steps in words, going to any, naming, restoring, and comparing two. */

import { clocks } from "../page.js";
import { post } from "./commands.js";
import { clock, model, on } from "./model.js";

const sheet = /** @type {HTMLDialogElement} */ (document.getElementById("history-sheet"));
const compareButton = /** @type {HTMLButtonElement} */ (document.getElementById("history-compare"));

/** @param {string} url @param {string} target @param {string} [verb] @param {Record<string, string>} [values] */
const ask = (url, target, verb = "GET", values = {}) =>
  /** @type {any} */ (window).htmx.ajax(verb, url, { target, swap: "outerHTML", values });

export function openHistory() {
  if (!sheet.open) sheet.showModal();
  ask(`${model.url}/history`, "#steps");
}

/** The two steps that are marked, or one and the step on show. */
function pair() {
  const marked = [...sheet.querySelectorAll('input[name="compare"]:checked')].map(
    (box) => /** @type {HTMLInputElement} */ (box).value,
  );
  if (marked.length === 1 && marked[0] !== String(model.state.rev))
    return [marked[0], String(model.state.rev)];
  return marked.length === 2 ? marked : null;
}

function offer() {
  const both = pair();
  compareButton.disabled = !both;
  const marked = sheet.querySelectorAll('input[name="compare"]:checked').length;
  compareButton.textContent = marked === 1 ? "Compare it with what is on show" : "Compare the two";
}

sheet?.addEventListener("change", (event) => {
  const box = /** @type {HTMLInputElement} */ (event.target);
  if (box.name !== "compare") return;
  const marked = /** @type {HTMLInputElement[]} */ ([
    ...sheet.querySelectorAll('input[name="compare"]:checked'),
  ]);
  const first = marked.find((other) => other !== box);
  if (marked.length > 2 && first) first.checked = false;
  offer();
});
compareButton?.addEventListener("click", () => {
  const both = pair();
  if (both)
    ask(
      `${model.url}/history/compare?first=${both[0]}&second=${both[1]}&frame=${model.frame}&format=${model.format}`,
      "#compared",
    );
});
sheet?.addEventListener("click", async (event) => {
  const target = /** @type {Element} */ (event.target);
  const go = target.closest("[data-go]");
  if (go && (await post((go.getAttribute("data-go") ?? "").split("/").slice(3).join("/")))) openHistory();
  const name = /** @type {HTMLElement|null} */ (target.closest("[data-name-step]"));
  if (name) naming(name);
});

/** Turns the line of a step into a field for its name. @param {HTMLElement} button */
function naming(button) {
  const line = button.closest("li");
  const field = document.createElement("input");
  field.className = "form-control form-control-sm step-naming";
  field.value = button.dataset.name ?? "";
  field.placeholder = "Name of this version";
  field.maxLength = 80;
  field.setAttribute("aria-label", "Name of this version");
  line?.querySelector(".step-go")?.replaceWith(field);
  field.focus();
  let done = false;
  const keep = () => {
    if (!done) {
      done = true;
      ask(`${model.url}/history/${button.dataset.nameStep}/name`, "#steps", "POST", { name: field.value });
    }
  };
  field.addEventListener("keydown", (event) => {
    if (event.key === "Enter") {
      event.preventDefault();
      keep();
    }
    if (event.key === "Escape") {
      event.preventDefault();
      event.stopPropagation();
      done = true;
      openHistory();
    }
  });
  field.addEventListener("blur", keep);
}

/** Says at which time the two are shown. @param {HTMLInputElement|null} slider */
function sayWhen(slider) {
  const out = sheet.querySelector(".compare-when output");
  if (out && slider)
    out.textContent = clock(Number(slider.value) / (model.state.rate[0] / model.state.rate[1]));
}

sheet?.addEventListener("input", (event) => {
  const slider = /** @type {HTMLInputElement} */ (event.target);
  if (slider.id !== "compare-at") return;
  for (const picture of /** @type {NodeListOf<HTMLImageElement>} */ (
    sheet.querySelectorAll(".compare-frame")
  ))
    picture.src = `${model.url}/frame.jpg?rev=${picture.dataset.rev}&format=${slider.dataset.shape}&frame=${slider.value}&short=300`;
  sayWhen(slider);
});
document.getElementById("open-history")?.addEventListener("click", openHistory);
document.body.addEventListener("htmx:afterSwap", () => {
  if (sheet?.open) {
    clocks();
    offer();
    sayWhen(sheet.querySelector("#compare-at"));
  }
});
on("changed", () => {
  if (sheet?.open) openHistory();
});
