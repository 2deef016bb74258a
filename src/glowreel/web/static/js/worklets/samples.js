// @ts-nocheck: what runs beside the sound knows other names than a page.
/* global AudioWorkletProcessor, registerProcessor */
/** Passes on what is heard, as samples. */

class Samples extends AudioWorkletProcessor {
  /** @param {Float32Array[][]} inputs */
  process(inputs) {
    const [heard] = inputs[0];
    if (heard) this.port.postMessage(heard.slice());
    return true;
  }
}

registerProcessor("samples", Samples);
