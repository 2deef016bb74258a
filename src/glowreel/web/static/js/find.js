// @ts-check
/** Find anything (Ctrl K): what the server finds, and on a page with keys every command with its key. */

import { commands } from "./commandlist.js";
import { headers } from "./page.js";

const dialog = /** @type {HTMLDialogElement} */ (document.getElementById("find-anything"));
const field = /** @type {HTMLInputElement} */ (document.getElementById("find-words"));
const list = /** @type {HTMLElement} */ (document.getElementById("find-list"));
const MOST_COMMANDS = 8;
/** @type {number|undefined} */
let soon;
let asked = 0;

const rows = () => /** @type {HTMLElement[]} */ ([...list.querySelectorAll(".found")]);
const chosen = () => /** @type {HTMLElement|null} */ (list.querySelector(".found[aria-selected='true']"));

function openFinder() {
  if (dialog.open) return;
  dialog.showModal();
  field.value = "";
  ask();
}

/** @param {HTMLElement|undefined} row */
function choose(row) {
  for (const one of rows()) one.setAttribute("aria-selected", String(one === row));
  row?.scrollIntoView({ block: "nearest" });
  if (row) {
    row.id ||= `found-${rows().indexOf(row)}`;
    field.setAttribute("aria-activedescendant", row.id);
  }
}

/** Commands whose name has every word, those that begin with it first. @param {string} query */
function named(query) {
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  if (!words.length) return [];
  return commands
    .filter((one) => words.every((word) => one.label.toLowerCase().includes(word)))
    .sort(
      (a, b) =>
        Number(b.label.toLowerCase().startsWith(words[0])) -
        Number(a.label.toLowerCase().startsWith(words[0])),
    )
    .slice(0, MOST_COMMANDS);
}

/** @param {import("./commandlist.js").Command} command */
function commandRow(command) {
  const row = document.createElement("button");
  row.type = "button";
  row.className = "found";
  row.setAttribute("role", "option");
  row.tabIndex = -1;
  const icon = document.createElement("i");
  icon.className = "bi bi-command";
  const name = document.createElement("span");
  name.className = "found-name";
  name.textContent = command.label;
  const key = document.createElement("kbd");
  key.textContent = command.shown;
  row.append(icon, name, key);
  row.addEventListener("click", () => {
    dialog.close();
    command.run(new KeyboardEvent("keydown", { key: command.keys[0].split("+").pop() }));
  });
  return row;
}

async function ask() {
  asked += 1;
  const mine = asked;
  const query = field.value;
  const response = await fetch(`/find?q=${encodeURIComponent(query)}`, { headers }).catch(() => null);
  if (mine !== asked || !response?.ok) return;
  const answer = document.createElement("template");
  answer.innerHTML = await response.text();
  const found = [...answer.content.children];
  list.replaceChildren(...named(query).map(commandRow), ...found);
  if (!list.children.length) {
    const none = document.createElement("p");
    none.className = "soft find-none";
    none.textContent = query ? "Nothing is called like that." : "What you worked on last will stand here.";
    list.append(none);
  }
  choose(rows()[0]);
}

field.addEventListener("input", () => {
  clearTimeout(soon);
  soon = window.setTimeout(ask, 90);
});
dialog.addEventListener("keydown", (event) => {
  const all = rows();
  const now = all.indexOf(/** @type {HTMLElement} */ (chosen()));
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (step) {
    event.preventDefault();
    choose(all[(now + step + all.length) % all.length]);
  } else if (event.key === "Enter") {
    event.preventDefault();
    chosen()?.click();
  }
  event.stopPropagation();
});
list.addEventListener("click", (event) => {
  const row = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest("a.found"));
  const shelf = /** @type {HTMLInputElement|null} */ (document.getElementById("shelf-find"));
  // In the editor, a file is shown on the Shelf that is at hand.
  if (row?.dataset.sort !== "file" || !shelf) return;
  event.preventDefault();
  dialog.close();
  document.getElementById("tab-shelf")?.click();
  shelf.value = row.dataset.name ?? "";
  shelf.dispatchEvent(new Event("input", { bubbles: true }));
  shelf.focus();
});
list.addEventListener("mousemove", (event) => {
  const row = /** @type {HTMLElement|null} */ (/** @type {Element} */ (event.target).closest(".found"));
  if (row && row !== chosen()) choose(row);
});
document.addEventListener(
  "keydown",
  (event) => {
    if (
      (event.ctrlKey || event.metaKey) &&
      !event.shiftKey &&
      !event.altKey &&
      event.key.toLowerCase() === "k"
    ) {
      event.preventDefault();
      event.stopPropagation();
      openFinder();
    }
  },
  true,
);
document.addEventListener("click", (event) => {
  if (/** @type {Element} */ (event.target).closest("[data-find-anything]")) openFinder();
});
