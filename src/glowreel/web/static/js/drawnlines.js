// @ts-check
/** Lines that were drawn by hand over a frame, in shares of its width and height, as they lie in a sheet over it. */

/** @param {Element} sheet an SVG whose view box is 1000 by 1000 @param {number[][][]} lines */
export function showLines(sheet, lines) {
  sheet.replaceChildren(
    ...lines.map((line) => {
      const path = document.createElementNS("http://www.w3.org/2000/svg", "polyline");
      path.setAttribute("points", line.map(([x, y]) => `${x * 1000},${y * 1000}`).join(" "));
      return path;
    }),
  );
}
