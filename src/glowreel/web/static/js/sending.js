// @ts-check
/** Sending files to the Shelf, a few at once, piece by piece, each with its own progress; what was cut off goes on. */

import { headers, note, sentenceOf } from "./page.js";

/** @typedef {{id: string, name: string}} Sent */
/** @typedef {{file: File, row: HTMLElement, upload: any, rate: number, left: number}} Coming */

const AT_ONCE = 3;
const PIECE = 8 * 1024 ** 2;
/** After a failure, the next try comes after so many milliseconds: a server that is away for an hour loses nothing. */
const PAUSES = [0, 1000, 2000, 4000, 8000, ...Array(240).fill(15000)];

/** What this page is sending, by the name the server has for it. @type {Map<string, Coming>} */
export const coming = new Map();

/** The client of resumable uploads, fetched when the first file is sent. @returns {Promise<any>} */
function client() {
  const there = /** @type {any} */ (window).tus;
  if (there) return Promise.resolve(there);
  return new Promise((done, failed) => {
    const script = document.createElement("script");
    script.src = document.querySelector('meta[name="tus"]')?.getAttribute("content") ?? "";
    script.onload = () => done(/** @type {any} */ (window).tus);
    script.onerror = () => failed(new Error("The server cannot be reached. Try again in a moment."));
    document.head.append(script);
  });
}

/** Where files go: to the Shelf, or by the link that this page was opened with. */
const endpoint = () => document.body.dataset.sendTo || "/shelf/tus";

/** The name the server has for an upload. @param {string} url */
const keyOf = (url) => url.split("/").pop() ?? "";

/** @param {number} bytes a second @param {number} seconds */
export function paceOf(bytes, seconds) {
  if (!bytes) return "";
  const speed = bytes > 1e6 ? `${(bytes / 1e6).toFixed(1)} MB/s` : `${Math.ceil(bytes / 1000)} kB/s`;
  const left = seconds < 90 ? `${Math.ceil(seconds)} s left` : `${Math.round(seconds / 60)} min left`;
  return `${speed} · ${left}`;
}

/**
 * Sends one file piece by piece; what came before, from this page or an earlier one, is not sent again.
 * @param {File} file @param {HTMLElement} row @param {string} [url] of an upload that was cut off
 * @returns {Promise<Sent>}
 */
async function sendFile(file, row, url) {
  const tus = await client();
  return new Promise((done, failed) => {
    const [bar, told] = [row.querySelector("progress"), row.querySelector(".upload-told")];
    let [lastTime, lastBytes] = [performance.now(), -1];
    const one = /** @type {Coming} */ ({ file, row, upload: null, rate: 0, left: 0 });
    const upload = new tus.Upload(file, {
      endpoint: endpoint(),
      uploadUrl: url ?? null,
      headers,
      metadata: { filename: file.name },
      chunkSize: PIECE,
      retryDelays: PAUSES,
      removeFingerprintOnSuccess: true,
      onUploadUrlAvailable: () => {
        coming.set(keyOf(upload.url), one);
        document.body.dispatchEvent(new Event("activity-changed"));
      },
      onProgress: (/** @type {number} */ sent, /** @type {number} */ total) => {
        const now = performance.now();
        if (lastBytes < 0) [lastTime, lastBytes] = [now, sent];
        else if (now - lastTime > 400) {
          const rate = ((sent - lastBytes) / (now - lastTime)) * 1000;
          one.rate = one.rate ? one.rate * 0.7 + rate * 0.3 : rate;
          one.left = (total - sent) / Math.max(1, one.rate);
          [lastTime, lastBytes] = [now, sent];
          if (told) told.textContent = paceOf(one.rate, one.left);
        }
        if (bar) bar.value = sent / Math.max(1, total);
      },
      onShouldRetry: (/** @type {any} */ error) => {
        const status = error.originalResponse?.getStatus() ?? 0;
        const again = !status || status >= 500 || status === 409 || status === 423 || status === 460;
        if (again && status !== 507 && told) told.textContent = "waits for the connection";
        return again && status !== 507;
      },
      onError: (/** @type {any} */ error) => {
        coming.delete(keyOf(upload.url ?? ""));
        const said = error.originalResponse?.getBody();
        failed(
          new Error(said ? sentenceOf(said) : `${file.name} could not be sent. Choose it again to go on.`),
        );
      },
      onSuccess: (/** @type {any} */ { lastResponse }) => {
        coming.delete(keyOf(upload.url));
        const known = lastResponse.getHeader("Glow-Known") === "1" && !document.body.dataset.sendTo;
        if (known) note(`${file.name} is on the Shelf already.`);
        done({ id: lastResponse.getHeader("Glow-File") ?? "", name: file.name });
      },
    });
    one.upload = upload;
    row.querySelector("button")?.addEventListener("click", () => {
      upload.abort(Boolean(upload.url)).catch(() => null);
      coming.delete(keyOf(upload.url ?? ""));
      failed(new Error(`${file.name} is not sent.`));
    });
    if (url) upload.start();
    else
      upload.findPreviousUploads().then((/** @type {any[]} */ before) => {
        if (before.length) upload.resumeFromPreviousUpload(before[0]);
        upload.start();
      });
  });
}

/** A line of a list of uploads. @param {File} file @param {HTMLElement} list */
function line(file, list) {
  const row = document.createElement("div");
  row.className = "upload";
  const name = document.createElement("span");
  name.className = "upload-name";
  name.textContent = file.name;
  const bar = document.createElement("progress");
  bar.max = 1;
  bar.value = 0;
  bar.setAttribute("aria-label", `Sending ${file.name}`);
  const told = document.createElement("span");
  told.className = "upload-told soft";
  const stop = document.createElement("button");
  stop.type = "button";
  stop.className = "btn btn-quiet";
  stop.setAttribute("aria-label", `Do not send ${file.name}`);
  stop.innerHTML = '<i class="bi bi-x-lg" aria-hidden="true"></i>';
  row.append(name, bar, told, stop);
  list.append(row);
  return row;
}

/**
 * Sends files, a few at once, with a line each in a list; one that is refused does not hold up the others.
 * @param {File[]} files @param {HTMLElement} list
 * @param {(sent: Sent, inOrder: Sent[]) => void} [each] told of each that arrived, with all that did so far, in order
 * @param {string} [url] of an upload that was cut off and is gone on with
 * @returns {Promise<Sent[]>} those that arrived, in order
 */
export async function sendFiles(files, list, each, url) {
  const rows = files.map((file) => line(file, list));
  /** @type {(Sent|null)[]} */
  const sent = files.map(() => null);
  const inOrder = () => sent.flatMap((one) => one ?? []);
  let next = 0;
  const work = async () => {
    while (next < files.length) {
      const n = next;
      next += 1;
      try {
        sent[n] = await sendFile(files[n], rows[n], url);
        rows[n].remove();
        each?.(/** @type {Sent} */ (sent[n]), inOrder());
      } catch (error) {
        refuse(rows[n], /** @type {Error} */ (error).message);
      }
      document.body.dispatchEvent(new Event("activity-changed"));
    }
  };
  await Promise.all(Array.from({ length: Math.min(AT_ONCE, files.length) }, work));
  return inOrder();
}

/** Waits until a file has been looked at. @param {string} id @param {number} [tries] @returns {Promise<boolean>} */
export async function looked(id, tries = 80) {
  for (let n = 0; n < tries; n += 1) {
    const response = await fetch(`/shelf/${id}/state`).catch(() => null);
    const state = response?.ok ? (await response.json()).state : "";
    if (state === "ready") return true;
    if (state === "failed") return false;
    await new Promise((done) => setTimeout(done, 400));
  }
  return false;
}

/** Leaves a sentence in the place of a file that was not taken. @param {HTMLElement} row @param {string} sentence */
function refuse(row, sentence) {
  const said = document.createElement("span");
  said.textContent = sentence;
  row.replaceChildren(said);
  row.classList.add("refusal");
  setTimeout(() => row.remove(), 12000);
}

// Whoever leaves while files are on their way is asked: they can be gone on with, but not by themselves.
window.addEventListener("beforeunload", (event) => {
  if (coming.size) event.preventDefault();
});

/**
 * All files of what was dropped, those in folders included, in the order of their names.
 * @param {DataTransfer} dropped
 */
async function filesOf(dropped) {
  const entries = [...dropped.items].flatMap((item) => item.webkitGetAsEntry?.() ?? []);
  if (!entries.some((entry) => entry.isDirectory)) return { files: [...dropped.files], folder: "" };
  /** @type {File[]} */
  const files = [];
  for (const entry of entries) await collect(entry, files);
  const folder = entries.find((entry) => entry.isDirectory)?.name ?? "";
  return { files, folder };
}

/** @param {FileSystemEntry} entry @param {File[]} files */
async function collect(entry, files) {
  if (entry.name.startsWith(".") || files.length >= 500) return;
  if (entry.isFile) {
    files.push(
      await new Promise((done, failed) => /** @type {FileSystemFileEntry} */ (entry).file(done, failed)),
    );
    return;
  }
  const reader = /** @type {FileSystemDirectoryEntry} */ (entry).createReader();
  /** @type {FileSystemEntry[]} */
  const inside = [];
  for (;;) {
    /** @type {FileSystemEntry[]} */
    const some = await new Promise((done, failed) => reader.readEntries(done, failed));
    if (!some.length) break;
    inside.push(...some);
  }
  inside.sort((a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }));
  for (const part of inside) await collect(part, files);
}

/**
 * Lets files be dropped anywhere in the window; says what that would do while they are over it.
 * @param {string} sentence
 * @param {(dropped: {files: File[], folder: string}, event: DragEvent) => void} run
 * @param {(event: DragEvent) => string} [aim] says what dropping here would do
 */
export function takeDrops(sentence, run, aim) {
  /** @type {HTMLElement|null} */
  let veil = null;
  const brings = (/** @type {DragEvent} */ event) => [...(event.dataTransfer?.types ?? [])].includes("Files");
  const unveil = () => {
    veil?.remove();
    veil = null;
  };
  window.addEventListener("dragover", (event) => {
    if (!brings(event)) return;
    event.preventDefault();
    if (!veil) {
      veil = document.createElement("div");
      veil.className = "drop-veil";
      document.body.append(veil);
    }
    veil.textContent = aim?.(event) || sentence;
  });
  window.addEventListener("dragleave", (event) => {
    if (!event.relatedTarget) unveil();
  });
  window.addEventListener("drop", async (event) => {
    if (!brings(event) || !event.dataTransfer) return;
    event.preventDefault();
    unveil();
    // Where it was dropped is known now; the files in folders are read after that.
    const dropped = filesOf(event.dataTransfer);
    run(await dropped, event);
  });
}
