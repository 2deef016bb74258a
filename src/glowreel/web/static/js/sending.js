// @ts-check
/** Sending files to the Shelf, one after another, each with its own progress. */

import { headers, sentenceOf } from "./page.js";

const MOST = 2 * 1024 ** 3;
/** @typedef {{id: string, name: string}} Sent */

/**
 * Sends one file; resolves to how the Shelf knows it.
 * @param {File} file
 * @param {(share: number) => void} progress
 * @returns {Promise<Sent>}
 */
function sendFile(file, progress) {
  return new Promise((done, failed) => {
    if (file.size > MOST) {
      failed(new Error(`${file.name} is larger than 2 GB. Export a smaller copy first.`));
      return;
    }
    const request = new XMLHttpRequest();
    request.open("POST", "/shelf/uploads");
    for (const [name, value] of Object.entries(headers)) request.setRequestHeader(name, value);
    request.setRequestHeader("X-File-Name", encodeURIComponent(file.name));
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.upload.onprogress = (event) => progress(event.loaded / Math.max(1, event.total));
    request.onload = () => {
      if (request.status < 300) done(JSON.parse(request.responseText));
      else failed(new Error(`${file.name}: ${sentenceOf(request.responseText)}`));
    };
    request.onerror = () =>
      failed(new Error(`${file.name} could not be sent. Check the connection and try again.`));
    request.send(file);
  });
}

/**
 * Sends files with a line each in a list; one that is refused does not hold up the others.
 * @param {File[]} files @param {HTMLElement} list @param {(sent: Sent) => void} [each] told of each that arrived
 * @returns {Promise<Sent[]>} those that arrived, in order
 */
export async function sendFiles(files, list, each) {
  const rows = files.map((file) => {
    const row = document.createElement("div");
    row.className = "upload";
    const name = document.createElement("span");
    name.textContent = file.name;
    const bar = document.createElement("progress");
    bar.max = 1;
    bar.value = 0;
    bar.setAttribute("aria-label", `Sending ${file.name}`);
    row.append(name, bar);
    list.append(row);
    return { row, bar, name };
  });
  const arrived = [];
  for (const [n, file] of files.entries()) {
    const { row, bar, name } = rows[n];
    try {
      const sent = await sendFile(file, (share) => {
        bar.value = share;
      });
      arrived.push(sent);
      row.remove();
      each?.(sent);
    } catch (error) {
      bar.remove();
      name.textContent = /** @type {Error} */ (error).message;
      row.classList.add("refusal");
      setTimeout(() => row.remove(), 12000);
    }
  }
  return arrived;
}

/**
 * All files of what was dropped, those in folders included, in the order of their names.
 * @param {DataTransfer} dropped
 */
export async function filesOf(dropped) {
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
 * @param {string} sentence @param {(dropped: {files: File[], folder: string}) => void} run
 */
export function takeDrops(sentence, run) {
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
    if (veil) return;
    veil = document.createElement("div");
    veil.className = "drop-veil";
    veil.textContent = sentence;
    document.body.append(veil);
  });
  window.addEventListener("dragleave", (event) => {
    if (!event.relatedTarget) unveil();
  });
  window.addEventListener("drop", async (event) => {
    if (!brings(event) || !event.dataTransfer) return;
    event.preventDefault();
    unveil();
    run(await filesOf(event.dataTransfer));
  });
}
