// @ts-check
/** Frames in a row as the server sends them: for each a 32-bit length and a JPEG; length 0 repeats the one before. */

/**
 * Takes frames out of a stream as they come, until it ends or nobody wants more.
 * @param {ReadableStreamDefaultReader<Uint8Array>} reader
 * @param {(picture: ImageBitmap) => void} found called for each frame in turn
 * @param {() => boolean} [wanted]
 */
export async function readFrames(reader, found, wanted = () => true) {
  let held = new Uint8Array(0);
  /** @type {ImageBitmap|null} */
  let last = null;
  for (;;) {
    const { done, value } = await reader.read();
    if (value) {
      const joined = new Uint8Array(held.length + value.length);
      joined.set(held);
      joined.set(value, held.length);
      held = joined;
    }
    while (held.length >= 4) {
      const size = new DataView(held.buffer, held.byteOffset).getUint32(0, true);
      if (held.length < 4 + size) break;
      if (size) last = await createImageBitmap(new Blob([held.slice(4, 4 + size)], { type: "image/jpeg" }));
      if (last) found(last);
      held = held.slice(4 + size);
    }
    if (done || !wanted()) return;
  }
}
