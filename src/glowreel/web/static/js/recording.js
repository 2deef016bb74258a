// @ts-check
/** A recording that is kept on the server piece by piece while it runs: whatever ends in between, what came stays. */

import { insist } from "./connection.js";
import { headers, sentenceOf } from "./page.js";

const TUS = { ...headers, "Tus-Resumable": "1.0.0" };
/** A piece is sent so often, in milliseconds: no more than that is lost. */
const EVERY = 1000;

/** What a browser says when it gives no device, in words for whoever asked. @param {unknown} error @param {string} device */
export function refused(error, device) {
  const name = error instanceof DOMException ? error.name : "";
  if (name === "NotAllowedError")
    return `The ${device} may not be used. Allow it beside the address of this page, then try again.`;
  if (name === "NotFoundError" || name === "OverconstrainedError")
    return `No ${device} was found. Plug one in, then try again.`;
  if (name === "NotReadableError") return `Another program has the ${device}. Close that, then try again.`;
  return `The ${device} cannot be used just now. Try again in a moment.`;
}

/** When something was recorded, as a part of its name. */
export const stamp = () => new Date().toISOString().slice(0, 16).replace("T", " ").replace(":", ".");

/** Three, two, one; false where it was given up meanwhile. @param {(number: string) => void} show @param {() => boolean} wanted */
export async function countedDown(show, wanted) {
  for (const number of ["3", "2", "1"]) {
    show(number);
    await new Promise((done) => setTimeout(done, 750));
    if (!wanted()) return false;
  }
  return true;
}

export class Recording {
  /** @param {MediaStream} stream @param {string} name @param {string} mime */
  constructor(stream, name, mime) {
    this.name = name;
    this.recorder = new MediaRecorder(stream, {
      mimeType: mime,
      audioBitsPerSecond: 160000,
      videoBitsPerSecond: 8000000,
    });
    /** When it began, by `performance.now()`. */
    this.began = 0;
    /** When it was told to begin: its first picture is of then. That it began is told once its first sound came too,
     *  which can be a second later. */
    this.told = 0;
    this.offset = 0;
    this.url = "";
    /** @type {Promise<unknown>} */
    this.line = Promise.resolve();
  }

  /** Makes room on the server, then begins. Resolves once samples are taken. */
  async start() {
    const metadata = `filename ${btoa(String.fromCharCode(...new TextEncoder().encode(this.name)))}`;
    const answer = await insist("/shelf/tus", () => ({
      method: "POST",
      headers: { ...TUS, "Upload-Defer-Length": "1", "Upload-Metadata": metadata },
    }));
    if (!answer.ok) throw new Error(sentenceOf(await answer.text()));
    this.url = answer.headers.get("Location") ?? "";
    this.recorder.ondataavailable = (event) => {
      if (event.data.size) this.line = this.line.then(() => this.send(event.data));
    };
    await new Promise((done) => {
      this.recorder.onstart = () => {
        this.began = performance.now();
        done(undefined);
      };
      this.told = performance.now();
      this.recorder.start(EVERY);
    });
  }

  /** Sends a piece; where its answer was lost, what the server has decides. @param {Blob} piece */
  async send(piece) {
    const end = this.offset + piece.size;
    const answer = await insist(this.url, () => ({
      method: "PATCH",
      headers: {
        ...TUS,
        "Content-Type": "application/offset+octet-stream",
        "Upload-Offset": String(this.offset),
      },
      body: piece,
    }));
    if (answer.status === 409) {
      const standing = await insist(this.url, () => ({ method: "HEAD", headers: TUS }));
      if (Number(standing.headers.get("Upload-Offset")) < end)
        throw new Error("A piece of the recording is missing.");
    } else if (!answer.ok) throw new Error(sentenceOf(await answer.text()));
    this.offset = end;
  }

  /** Ends it; resolves to its identifier on the Shelf. @returns {Promise<string>} */
  async stop() {
    if (this.recorder.state !== "inactive")
      await new Promise((done) => {
        this.recorder.onstop = done;
        this.recorder.stop();
      });
    await this.line;
    const answer = await insist(this.url, () => ({
      method: "PATCH",
      headers: {
        ...TUS,
        "Content-Type": "application/offset+octet-stream",
        "Upload-Offset": String(this.offset),
        "Upload-Length": String(this.offset),
      },
    }));
    if (!answer.ok) throw new Error(sentenceOf(await answer.text()));
    return answer.headers.get("Glow-File") ?? "";
  }

  /** Ends it, and nothing of it is kept. */
  async drop() {
    if (this.recorder.state !== "inactive") this.recorder.stop();
    await this.line.catch(() => null);
    if (this.url) await fetch(this.url, { method: "DELETE", headers: TUS }).catch(() => null);
  }
}
