// What the pointer would do here, and what the modifiers change: the words of the hint line.
import { marked } from "./marked.js";
const WORDS = {
  move: marked`<b>Moving</b> · <kbd>Shift</kbd> straight along the axes · <kbd>Alt</kbd> no snapping · <kbd>Esc</kbd> put back`,
  scale: marked`<b>Scaling about the pivot</b> · <kbd>Shift</kbd> whole tenths, or in proportion where the axes are free · <kbd>Esc</kbd> put back`,
  turn: marked`<b>Turning about the pivot</b> · <kbd>Shift</kbd> steps of 15° · <kbd>Esc</kbd> put back`,
  pivot: marked`<b>The pivot</b> · <kbd>drag</kbd> it; the picture stays where it is · <kbd>Esc</kbd> put back`,
  guide: marked`<b>Guide</b> · <kbd>drag</kbd> to move it, off the picture to take it away`,
  ruler: marked`<b>Ruler</b> · <kbd>drag</kbd> a guide out of it`,
  point: marked`<b>Point</b> · <kbd>drag</kbd> to move · <kbd>double click</kbd> corner or smooth · <kbd>Delete</kbd> take away`,
  handle: marked`<b>Handle</b> · <kbd>drag</kbd> to bend · <kbd>Alt</kbd> this side only`,
  way: marked`<b>Outline</b> · <kbd>double click</kbd> puts a point here, the shape unchanged`,
  none: marked`<kbd>click</kbd> select, again one deeper · <kbd>drag</kbd> on empty ground select many · <kbd>Space</kbd> drag to pan · wheel to zoom`,
};

/** @param {string} hand
 * @param {any} told */
export function editWords(hand, told = {}) {
  const { guide, ruler, point, part, way } = told;
  if (hand) return WORDS[hand];
  if (guide !== undefined) return WORDS.guide;
  if (ruler) return WORDS.ruler;
  if (point !== undefined) return part === "point" ? WORDS.point : WORDS.handle;
  return way !== undefined ? WORDS.way : WORDS.none;
}
