// @ts-check
/** The panes' edges: dragged, moved by arrow keys, put back by a double press; remembered on this machine. */

const KEY = "glowreel:panes";
const editor = /** @type {HTMLElement} */ (document.getElementById("editor"));
/** @type {Record<string, number|boolean>} */
const panes = JSON.parse(localStorage.getItem(KEY) ?? "{}");

/**
 * @type {Record<string, {property: string, side: "x"|"y", sign: number, least: number, most: () => number, pane: string}>}
 */
const EDGES = {
  wall: { property: "--wall", side: "x", sign: 1, least: 96, most: () => innerWidth * 0.3, pane: ".wall" },
  bench: {
    property: "--bench",
    side: "x",
    sign: -1,
    least: 240,
    most: () => innerWidth * 0.5,
    pane: ".bench",
  },
  time: {
    property: "--time",
    side: "y",
    sign: -1,
    least: 120,
    most: () => innerHeight * 0.72,
    pane: ".timeline",
  },
};

function apply() {
  for (const [name, edge] of Object.entries(EDGES)) {
    const size = panes[name];
    if (typeof size === "number") {
      const held = Math.min(edge.most(), Math.max(edge.least, size));
      editor.style.setProperty(edge.property, `${held}px`);
    } else editor.style.removeProperty(edge.property);
  }
  for (const handle of document.querySelectorAll("[data-pane]")) {
    const edge = EDGES[handle.getAttribute("data-pane") ?? ""];
    const box = /** @type {Element} */ (document.querySelector(edge.pane)).getBoundingClientRect();
    handle.setAttribute("aria-valuenow", String(Math.round(edge.side === "x" ? box.width : box.height)));
    handle.setAttribute("aria-valuemin", String(edge.least));
    handle.setAttribute("aria-valuemax", String(Math.round(edge.most())));
  }
  editor.classList.toggle("is-bench-high", Boolean(panes.high));
  document.getElementById("bench-high")?.setAttribute("aria-pressed", String(Boolean(panes.high)));
}

/** @param {Record<string, number|boolean|undefined>} values */
function keep(values) {
  Object.assign(panes, values);
  localStorage.setItem(KEY, JSON.stringify(panes));
  apply();
}

for (const handle of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("[data-pane]"))) {
  const name = handle.dataset.pane ?? "";
  const edge = EDGES[name];
  const now = () => {
    const box = /** @type {Element} */ (document.querySelector(edge.pane)).getBoundingClientRect();
    return edge.side === "x" ? box.width : box.height;
  };
  handle.addEventListener("pointerdown", (event) => {
    event.preventDefault();
    handle.setPointerCapture(event.pointerId);
    const start = now();
    const from = edge.side === "x" ? event.clientX : event.clientY;
    const move = (/** @type {PointerEvent} */ pointer) => {
      const by = (edge.side === "x" ? pointer.clientX : pointer.clientY) - from;
      keep({ [name]: Math.round(start + edge.sign * by) });
    };
    handle.addEventListener("pointermove", move);
    const end = () => handle.removeEventListener("pointermove", move);
    handle.addEventListener("pointerup", end, { once: true });
    handle.addEventListener("pointercancel", end, { once: true });
  });
  handle.addEventListener("dblclick", () => keep({ [name]: undefined }));
  handle.addEventListener("keydown", (event) => {
    const step = { ArrowLeft: -16, ArrowUp: -16, ArrowRight: 16, ArrowDown: 16 }[event.key];
    if (event.key === "Home") keep({ [name]: undefined });
    else if (step) keep({ [name]: Math.round(now() + edge.sign * step) });
    else return;
    event.preventDefault();
    event.stopPropagation();
  });
}
document.getElementById("bench-high")?.addEventListener("click", () => keep({ high: !panes.high }));
window.addEventListener("resize", apply);
apply();
