// @ts-check
/** The page of a telephone: sends what is chosen or taken, and says what has come. */

import { note } from "./page.js";
import { sendFiles } from "./sending.js";

const list = /** @type {HTMLElement} */ (document.getElementById("send-list"));
const done = /** @type {HTMLElement} */ (document.getElementById("send-done"));
const left = document.getElementById("send-left");
let more = Number(document.querySelector(".send")?.getAttribute("data-left") ?? 0);

/** @param {File[]} files */
async function take(files) {
  if (files.length > more) {
    note(`${more} more may be sent. Choose those that matter most.`, { refusal: true });
    return;
  }
  more -= files.length;
  if (left) left.textContent = "Leave this page open until all have come.";
  const sent = await sendFiles(files, list, (file) => {
    const line = document.createElement("li");
    line.textContent = file.name;
    done.append(line);
  });
  if (!left) return;
  left.textContent =
    sent.length === files.length ? "All of it has come. Thank you." : "Some could not be sent.";
  if (more > 0) left.textContent += ` ${more} more may follow.`;
}

for (const id of ["send-camera", "send-files"])
  document.getElementById(id)?.addEventListener("change", (event) => {
    const input = /** @type {HTMLInputElement} */ (event.target);
    const files = [...(input.files ?? [])];
    input.value = "";
    if (files.length) take(files);
  });
