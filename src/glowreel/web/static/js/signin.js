// @ts-check
/** Signing in where one is: the page stays as it is, and what waits is sent afterwards. */

import { headers, sentenceOf } from "./page.js";

/** @type {Promise<void>|null} */
let asking = null;

/** @param {string} token */
function use(token) {
  headers["X-CSRFToken"] = token;
  document.querySelector('meta[name="csrf-token"]')?.setAttribute("content", token);
}

/** Fetches a token that the server takes. */
export async function renewToken() {
  const response = await fetch("/token", { headers }).catch(() => null);
  if (response?.ok) use((await response.json()).token);
}

/** Asks to sign in, once however many wait for it; resolves when that has been done. */
export function signIn() {
  asking ??= ask().finally(() => {
    asking = null;
  });
  return asking;
}

const FORM = `
  <form method="dialog">
    <h2 id="again-title">You are signed out</h2>
    <p>Sign in to go on. What you did here is kept, and sent then.</p>
    <p class="refusal" role="alert" hidden></p>
    <label for="again-email">E-mail</label>
    <input class="form-control" id="again-email" name="email" type="email" autocomplete="username" required />
    <label for="again-password">Password</label>
    <input class="form-control" id="again-password" name="password" type="password" autocomplete="current-password" required />
    <div id="again-second" hidden>
      <label for="again-code">Code of your device</label>
      <input class="form-control num" id="again-code" name="code" inputmode="numeric" autocomplete="one-time-code" maxlength="20" />
    </div>
    <div class="sheet-foot"><button class="btn btn-main">Sign in</button></div>
  </form>`;

/** @returns {Promise<void>} */
function ask() {
  const sheet = document.createElement("dialog");
  sheet.className = "sheet";
  sheet.id = "sign-in-again";
  sheet.setAttribute("aria-labelledby", "again-title");
  sheet.innerHTML = FORM;
  document.body.append(sheet);
  sheet.showModal();
  // Only signing in closes it: without that nothing on the page can be kept.
  sheet.addEventListener("cancel", (event) => event.preventDefault());
  const form = /** @type {HTMLFormElement} */ (sheet.querySelector("form"));
  const problem = /** @type {HTMLElement} */ (sheet.querySelector(".refusal"));
  return new Promise((done) => {
    form.addEventListener("submit", async (event) => {
      event.preventDefault();
      await renewToken();
      const body = new URLSearchParams(/** @type {any} */ (new FormData(form)));
      const response = await fetch("/sign-in", { method: "POST", headers, body }).catch(() => null);
      const text = (await response?.text()) ?? "";
      if (response?.ok) {
        use(JSON.parse(text).token);
        sheet.remove();
        done();
        return;
      }
      problem.hidden = false;
      if (text.includes("second-factor")) {
        /** @type {HTMLElement} */ (sheet.querySelector("#again-second")).hidden = false;
        /** @type {HTMLElement} */ (sheet.querySelector("#again-code")).focus();
      }
      problem.textContent = response
        ? sentenceOf(text)
        : "The server cannot be reached. Try again in a moment.";
    });
  });
}
