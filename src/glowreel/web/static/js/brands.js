// @ts-check
/** The brand book: refusals are said where everything is said. */

import { note, sentenceOf } from "./page.js";

document.body.addEventListener("htmx:responseError", (event) => {
  const { xhr } = /** @type {CustomEvent<{xhr: XMLHttpRequest}>} */ (event).detail;
  note(sentenceOf(xhr.responseText), { refusal: true });
});
