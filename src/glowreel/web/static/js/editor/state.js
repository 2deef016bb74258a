// @ts-check
/** Puts what changed of the promo, as the server tells it, into what the page knows. No rules: only lists and fields. */

/** @typedef {{rows?: Record<string, any>, ids?: string[], from?: number, starts?: number[]}} Difference */

/** Lists of rows: what names a row, and what says where it lies. @type {Record<string, [string, string]>} */
const LISTS = { main: ["id", "start"], cuts: ["after", "at"], scenes: ["id", "start"], notes: ["id", "at"] };

/**
 * @param {any[]} old
 * @param {Difference} difference
 * @param {string} name
 * @param {string} at
 */
function rowsWith(old, difference, name, at) {
  const known = new Map(old.map((row) => [row[name], row]));
  for (const [key, row] of Object.entries(difference.rows ?? {})) known.set(key, row);
  const ids = difference.ids ?? old.map((row) => row[name]);
  const rows = ids.map((key) => known.get(key));
  (difference.starts ?? []).forEach((start, n) => {
    const place = (difference.from ?? 0) + n;
    if (rows[place][at] !== start) rows[place] = { ...rows[place], [at]: start };
  });
  return rows;
}

/** @param {any[]} old @param {{changed?: Record<string, any>, ids?: string[]}} difference */
function tracksWith(old, difference) {
  const known = new Map(old.map((track) => [track.id, track]));
  for (const [key, track] of Object.entries(difference.changed ?? {}))
    known.set(key, { ...track, rows: rowsWith(known.get(key)?.rows ?? [], track.rows, "id", "start") });
  return (difference.ids ?? old.map((track) => track.id)).map((key) => known.get(key));
}

/**
 * The state after an answer; null where the answer leads on from another one than the page has.
 * @param {any} old
 * @param {any} answer
 */
export function stateWith(old, answer) {
  if (answer.base === undefined) return answer;
  if (answer.base !== old.rev) return null;
  const state = { ...old };
  for (const [key, value] of Object.entries(answer)) {
    if (LISTS[key]) state[key] = rowsWith(old[key], value, ...LISTS[key]);
    else if (key === "tracks") state.tracks = tracksWith(old.tracks, value);
    else if (key === "boxes") {
      // Only the format in which somebody works is told; what is known of others is old, and asked for then.
      state.boxes = {};
      for (const [format, boxes] of Object.entries(value))
        if (old.boxes[format])
          state.boxes[format] = { ...old.boxes[format], .../** @type {object} */ (boxes) };
    } else if (key !== "base") state[key] = value?.to === undefined ? value : value.to;
  }
  return state;
}
