// @ts-check
/** How frames of several shapes stand side by side in a room: as large as they can be, in rows of one height. */

/** @typedef {{x: number, y: number, width: number, height: number}} Room */

const GAP = 14;
/** Room for a name below each. */
const NAME = 22;

/**
 * @param {{wide: number, high: number}[]} shapes
 * @param {number} width
 * @param {number} height
 * @returns {Room[]} one for each shape, in pixels
 */
export function sideBySide(shapes, width, height) {
  /** @type {Room[]} */
  let best = [];
  let largest = -1;
  for (let rows = 1; rows <= Math.min(4, shapes.length); rows += 1) {
    const made = inRows(shapes, rows, width, height);
    const area = Math.min(...made.map((room) => room.width * room.height));
    if (area > largest) {
      largest = area;
      best = made;
    }
  }
  return best;
}

/** @param {{wide: number, high: number}[]} shapes @param {number} rows @param {number} width @param {number} height */
function inRows(shapes, rows, width, height) {
  const each = Math.ceil(shapes.length / rows);
  const high = (height - GAP * (rows + 1) - NAME * rows) / rows;
  /** @type {Room[]} */
  const made = [];
  for (let row = 0; row < rows; row += 1) {
    const here = shapes.slice(row * each, (row + 1) * each);
    if (!here.length) continue;
    const ratios = here.reduce((sum, shape) => sum + shape.wide / shape.high, 0);
    const tall = Math.max(20, Math.min(high, (width - GAP * (here.length + 1)) / ratios));
    let x = (width - tall * ratios - GAP * (here.length - 1)) / 2;
    const y = GAP + row * (high + GAP + NAME) + (high - tall) / 2;
    for (const shape of here) {
      const wide = (tall * shape.wide) / shape.high;
      made.push({ x, y, width: wide, height: tall });
      x += wide + GAP;
    }
  }
  return made;
}
