// @ts-check
/** What each grip on the stage does to a box. Fractions of the frame's short side. */

/** @typedef {import("./model.js").Box} Box */
/**
 * One drag: how far (fractions of the short side), the keys that are held, the pointer's place over the frame, whether
 * the ratio is kept, and a function that snaps.
 * @typedef {{dx: number, dy: number, shift: boolean, ctrl: boolean, x: number, y: number, kept: boolean,
 *   snap: (box: Box, axes?: ("x"|"y")[]) => import("./stagesnap.js").Guide[]}} Drag
 * @typedef {{words: string, guides?: import("./stagesnap.js").Guide[]}} Shown
 */

const percent = (/** @type {number} */ share) => `${Math.round(share * 100)} %`;

/** Takes the way along the box's own axes, however it is turned. @param {Box} box @param {Drag} drag */
function along(box, drag) {
  const angle = (-box.turn * Math.PI) / 180;
  return [
    drag.dx * Math.cos(angle) - drag.dy * Math.sin(angle),
    drag.dx * Math.sin(angle) + drag.dy * Math.cos(angle),
  ];
}

/** A box of another size whose opposite side or corner stays, however it is turned. @param {Box} box @param {Box} start @param {string} grip */
function held(box, start, grip) {
  const right = grip.includes("w") ? -1 : grip.includes("e") ? 1 : 0;
  const down = grip.includes("n") ? -1 : grip.includes("s") ? 1 : 0;
  const angle = (start.turn * Math.PI) / 180;
  const [x, y] = [((box.w - start.w) / 2) * right, ((box.h - start.h) / 2) * down];
  const middle = {
    x: start.x + start.w / 2 + x * Math.cos(angle) - y * Math.sin(angle),
    y: start.y + start.h / 2 + x * Math.sin(angle) + y * Math.cos(angle),
  };
  box.x = middle.x - box.w / 2;
  box.y = middle.y - box.h / 2;
}

/** @param {Box} box @param {Box} start @param {Drag} drag @returns {Shown} */
export function move(box, start, drag) {
  // With Shift straight across or straight down.
  const straight = drag.shift ? Math.abs(drag.dx) > Math.abs(drag.dy) : null;
  Object.assign(box, {
    x: start.x + (straight === false ? 0 : drag.dx),
    y: start.y + (straight === true ? 0 : drag.dy),
  });
  const guides = drag.ctrl ? [] : drag.snap(box, straight === null ? ["x", "y"] : straight ? ["x"] : ["y"]);
  return { guides, words: `${percent(box.x)}, ${percent(box.y)}` };
}

/** @param {Box} box @param {Box} start @param {Drag} drag @returns {Shown} */
export function turn(box, start, drag) {
  const angle = Math.atan2(drag.y - (start.y + start.h / 2), drag.x - (start.x + start.w / 2));
  box.turn = Math.round((angle * 180) / Math.PI + 90);
  const step = drag.shift ? 15 : 45;
  const near = Math.round(box.turn / step) * step;
  if (drag.shift || (!drag.ctrl && Math.abs(box.turn - near) < 4)) box.turn = near;
  // By the shortest way from where it was.
  while (box.turn - start.turn > 180) box.turn -= 360;
  while (box.turn - start.turn < -180) box.turn += 360;
  return { words: `${box.turn}°` };
}

/** @param {Box} box @param {Box} start @param {Drag} drag @returns {Shown} */
export function wrap(box, start, drag) {
  box.wrap = Math.max(0.1, start.w + along(start, drag)[0]);
  box.w = box.wrap;
  return { words: `${percent(box.wrap)} wide` };
}

/** How round the corners are: the grip lies on the diagonal. @param {Box} box @param {Box} start @param {Drag} drag @returns {Shown} */
export function corner(box, start, drag) {
  const [dx, dy] = along(start, drag);
  const half = Math.min(start.w, start.h) / 2;
  box.corner = Math.min(1, Math.max(0, (start.corner ?? 0) + (dx + dy) / 2 / half));
  box.corner = Math.round(box.corner * 50) / 50;
  return { words: `corners ${percent(box.corner)}` };
}

/** A corner or a side is dragged: the opposite one stays. @param {string} grip */
export const sized =
  (grip) => (/** @type {Box} */ box, /** @type {Box} */ start, /** @type {Drag} */ drag) => {
    const [dx, dy] = along(start, drag);
    const across = grip.includes("e") ? dx : grip.includes("w") ? -dx : 0;
    const down = grip.includes("s") ? dy : grip.includes("n") ? -dy : 0;
    const corner = grip.length === 2;
    const free = !drag.kept && (!corner || drag.shift);
    let wide = Math.max(0.05, 1 + across / start.w);
    let high = Math.max(0.05, 1 + down / start.h);
    if (!free) {
      const scale = corner
        ? Math.max(0.05, 1 + (across / start.w + down / start.h) / 2)
        : grip === "e" || grip === "w"
          ? wide
          : high;
      wide = high = scale;
    }
    Object.assign(box, {
      w: start.w * wide,
      h: start.h * high,
      size: start.size * high,
      wrap: start.wrap * high,
      stretch: (start.stretch ?? 1) * (wide / high),
    });
    held(box, start, grip);
    const words = free ? `${percent(box.w)} × ${percent(box.h)}` : `${(box.size * 100).toFixed(1)} %`;
    return { words };
  };

/** An edge of the crop is dragged: what is left stays where it is. @param {string} grip */
export const cropped =
  (grip) => (/** @type {Box} */ box, /** @type {Box} */ start, /** @type {Drag} */ drag) => {
    const [dx, dy] = along(start, drag);
    const [left, top, right, bottom] = start.crop ?? [0, 0, 0, 0];
    const whole = { w: start.w / (1 - left - right), h: start.h / (1 - top - bottom) };
    const crop = [left, top, right, bottom];
    const most = (/** @type {number} */ other) => Math.min(0.95, 0.97 - other);
    const within = (/** @type {number} */ value, /** @type {number} */ other) =>
      Math.min(most(other), Math.max(0, value));
    if (grip.includes("w")) crop[0] = within(left + dx / whole.w, right);
    if (grip.includes("e")) crop[2] = within(right - dx / whole.w, left);
    if (grip.includes("n")) crop[1] = within(top + dy / whole.h, bottom);
    if (grip.includes("s")) crop[3] = within(bottom - dy / whole.h, top);
    box.crop = crop.map((value) => Number(value.toFixed(4)));
    box.w = whole.w * (1 - crop[0] - crop[2]);
    box.h = whole.h * (1 - crop[1] - crop[3]);
    held(box, start, grip);
    const shown = box.crop.map((value) => Math.round(value * 100));
    return { words: `cut off: ${shown[0]} left, ${shown[1]} top, ${shown[2]} right, ${shown[3]} bottom` };
  };
