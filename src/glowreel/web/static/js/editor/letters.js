// @ts-check
/**
 * A text and its parts in another manner, letter by letter: from what the promo holds to spans, and back. Letters are
 * counted as the server counts them: by code points.
 */

/**
 * @typedef {{font?: string, weight?: number, italic?: boolean, colour?: string, size?: number, mark?: string}} Manner
 * @typedef {Manner & {start: number, end: number}} Run
 */

/** The manner of each letter. @param {string} text @param {Run[]} runs @returns {Manner[]} */
export function manners(text, runs) {
  const found = /** @type {Manner[]} */ ([...text].map(() => ({})));
  for (const { start, end, ...manner } of runs)
    for (let at = start; at < Math.min(end, found.length); at++) found[at] = manner;
  return found;
}

/** The parts that letters of the same manner make. @param {Manner[]} letters @returns {Run[]} */
export function runsOf(letters) {
  /** @type {Run[]} */
  const runs = [];
  letters.forEach((manner, at) => {
    const key = JSON.stringify(manner);
    const last = runs[runs.length - 1];
    if (key === "{}") return;
    if (last && last.end === at && JSON.stringify({ ...last, start: undefined, end: undefined }) === key)
      last.end = at + 1;
    else runs.push({ ...manner, start: at, end: at + 1 });
  });
  // The order in which they are compared is that in which they are said.
  return runs.map(({ start, end, ...manner }) => ({ start, end, ...manner }));
}

/** Letters `from` to `to` changed; what is as in the rest is not said. @param {Manner[]} letters @param {number} from @param {number} to @param {Manner} change @returns {Manner[]} */
export function changed(letters, from, to, change) {
  return letters.map((manner, at) => {
    if (at < from || at >= to) return manner;
    const entries = Object.entries({ ...manner, ...change }).filter(
      ([name, value]) => value !== undefined && value !== "" && !(name === "size" && value === 1),
    );
    return Object.fromEntries(entries.sort(([a], [b]) => (a < b ? -1 : 1)));
  });
}

/**
 * Reads a text and the manner of each letter from the spans in which it was edited.
 * @param {HTMLElement} field
 * @returns {{text: string, letters: Manner[]}}
 */
export function read(field) {
  let text = "";
  /** @type {Manner[]} */
  const letters = [];
  const walk = (/** @type {Node} */ node, /** @type {Manner} */ manner) => {
    if (node instanceof Text) {
      for (const letter of node.data) {
        letters.push(manner);
        text += letter;
      }
    } else if (node instanceof HTMLBRElement) {
      if (node.nextSibling || node.parentElement !== field) {
        text += "\n";
        letters.push(manner);
      }
    } else if (node instanceof HTMLElement) {
      const own = node.dataset.manner ? JSON.parse(node.dataset.manner) : manner;
      for (const child of node.childNodes) walk(child, own);
    }
  };
  walk(field, {});
  return { text, letters };
}

/** Where a place of the selection lies in the text. @param {HTMLElement} field @param {Node} node @param {number} offset */
export function placeOf(field, node, offset) {
  const range = document.createRange();
  range.selectNodeContents(field);
  range.setEnd(node, offset);
  const part = document.createElement("div");
  part.append(range.cloneContents());
  return [...read(part).text].length;
}

/** Selects letters `from` to `to`. @param {HTMLElement} field @param {number} from @param {number} to */
export function selectLetters(field, from, to) {
  const walker = document.createTreeWalker(field, NodeFilter.SHOW_TEXT);
  const range = document.createRange();
  range.selectNodeContents(field);
  range.collapse(true);
  let at = 0;
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const points = [.../** @type {Text} */ (node).data];
    const units = (/** @type {number} */ count) => points.slice(0, count).join("").length;
    if (from >= at && from <= at + points.length) range.setStart(node, units(from - at));
    if (to >= at && to <= at + points.length) {
      range.setEnd(node, units(to - at));
      break;
    }
    at += points.length;
  }
  const selection = getSelection();
  selection?.removeAllRanges();
  selection?.addRange(range);
}
