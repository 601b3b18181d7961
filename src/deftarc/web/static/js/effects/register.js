// How the canvas paints each effect, under its kind. Each effect is a file beside this one that calls `paints`, `treats` or
// `cuts`; the page loads them all.
export const FILTERS = new Map();
export const TREATS = new Map();
export const CUTS = new Map();

function add(to, kind, made) {
  if ([FILTERS, TREATS, CUTS].some((known) => known.has(kind))) throw new Error(`There are two painters of ${kind}.`);
  to.set(kind, made);
}

// `filter(values, space)` answers with the words of a CSS filter, or "" where the effect does nothing. `values` are the
// effect's numbers at a moment, by the fields that keep them; `space` brings what is told in the px of what is treated
// into canvas px: `size` is by how much lengths grow, `sizes` by how much across and down where that is not alike, and
// `turned(x, y)` where a step leads.
export const paints = (kind, filter) => add(FILTERS, kind, filter);

// The same of one that knows no lengths: it does not matter in which space it is done.
export const FLAT = new Set();
export function colours(kind, filter) {
  add(FILTERS, kind, filter);
  FLAT.add(kind);
}

// The standard deviation, in the px of what is treated, by which a kind softens all edges there are.
export const SOFTENS = new Map();

// `treat(values, space)` answers with a filter's words, or with what is done to a sheet: `(sheet, filtered) => sheet`.
export const treats = (kind, treat) => add(TREATS, kind, treat);

// `cut(values, box)` answers with what is left of what has the box, in its px: { draw(ctx), soft, holds({ x, y }) } with
// `soft` the standard deviation in px of its edges, and whether a place is in it; null where all is.
export const cuts = (kind, cut) => add(CUTS, kind, cut);

export const cssColour = ([r, g, b, a]) => `rgb(${r * 255} ${g * 255} ${b * 255} / ${a})`;

const SVG = "http://www.w3.org/2000/svg";
const KEPT = 64;
let shelf = null;
let count = 0;
const made = new Map();

// The words of a filter made of SVG's primitives, as CSS takes it. The same primitives are one filter, and the last few
// dozen are kept: numbers that are keyed ask for others at each frame.
export function svgFilter(primitives) {
  let id = made.get(primitives);
  if (!id) {
    if (!shelf) {
      const svg = document.createElementNS(SVG, "svg");
      for (const [name, value] of [
        ["width", "0"],
        ["height", "0"],
        ["aria-hidden", "true"],
      ])
        svg.setAttribute(name, value);
      svg.style.position = "absolute";
      shelf = svg;
      document.body.append(svg);
    }
    count += 1;
    id = `treat-${count}`;
    const filter = document.createElementNS(SVG, "filter");
    for (const [name, value] of [
      ["id", id],
      ["filterUnits", "userSpaceOnUse"],
      ["x", "-9000"],
      ["y", "-9000"],
      ["width", "30000"],
      ["height", "30000"],
      ["color-interpolation-filters", "sRGB"],
    ])
      filter.setAttribute(name, value);
    filter.innerHTML = primitives;
    shelf.append(filter);
    made.set(primitives, id);
    if (made.size > KEPT) {
      const [oldest, gone] = made.entries().next().value;
      made.delete(oldest);
      document.getElementById(gone).remove();
    }
  } else {
    // The one used last is thrown away last.
    made.delete(primitives);
    made.set(primitives, id);
  }
  return `url(#${id})`;
}
