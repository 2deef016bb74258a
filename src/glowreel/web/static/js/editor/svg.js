// @ts-check
/** Parts of drawings in the page. */

/**
 * Adds a part to a drawing; attributes that are undefined are left out.
 * @param {Element} svg @param {string} name @param {Record<string, string|number|undefined>} attributes
 */
export function add(svg, name, attributes) {
  const part = document.createElementNS("http://www.w3.org/2000/svg", name);
  for (const [key, value] of Object.entries(attributes))
    if (value !== undefined) part.setAttribute(key, String(value));
  svg.append(part);
  return part;
}
