// @ts-check
/** Lines of text that are being spoken: waited for, with how far they are. */

import { headers } from "./page.js";

/** @typedef {{line: number, state: string, error: string, media: string, waits: boolean}} Line */
const EVERY = 450;

/**
 * Waits until lines are spoken, or failed, or nobody waits any more; answers with them as they are then.
 * @param {Line[]} lines @param {(words: string) => void} tell @param {() => boolean} [wanted]
 */
export async function untilSpoken(lines, tell, wanted = () => true) {
  const query = new URLSearchParams({ lines: lines.map((line) => line.line).join(",") });
  while (wanted() && lines.some((line) => line.state === "queued" || line.state === "running")) {
    const done = lines.filter((line) => line.state === "ready").length;
    tell(
      lines.some((line) => line.waits)
        ? "The voice is being fetched, once …"
        : `Speaking … ${done} of ${lines.length} lines`,
    );
    await new Promise((resolve) => setTimeout(resolve, EVERY));
    const now = await fetch(`/voices/state?${query}`, { headers }).catch(() => null);
    if (now?.ok) lines = await now.json();
  }
  return lines;
}
