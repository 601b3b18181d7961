// How the canvas paints each effect, under its kind: as one function of a CSS filter, told in canvas px. Each effect is a
// file beside this one that calls `paints`; the page loads them all.
export const FILTERS = new Map();

// `filter(values, space)` answers with the words of a CSS filter, or "" where the effect does nothing. `values` are the
// effect's numbers at a moment, by the fields that keep them; `space` brings what is told in the px of what is treated
// into canvas px: `size` is by how much lengths grow, `turned(x, y)` where a step leads.
export function paints(kind, filter) {
  if (FILTERS.has(kind)) throw new Error(`There are two painters of ${kind}.`);
  FILTERS.set(kind, filter);
}

export const cssColour = ([r, g, b, a]) => `rgb(${r * 255} ${g * 255} ${b * 255} / ${a})`;
