// Leaves and groups laid on a canvas: those that are treated or blended, and groups put together first, by way of a
// sheet of their own.
import { FILTERS } from "./effects/register.js";
import { columnAt, rowAt } from "./table.js";

const sheets = [];

// A clean canvas of the same size to paint on aside; whoever takes one gives it back.
export function sheetFor(ctx) {
  const sheet = sheets.pop() || document.createElement("canvas").getContext("2d");
  if (sheet.canvas.width !== ctx.canvas.width || sheet.canvas.height !== ctx.canvas.height) {
    sheet.canvas.width = ctx.canvas.width;
    sheet.canvas.height = ctx.canvas.height;
  } else {
    sheet.setTransform(1, 0, 0, 1, 0, 0);
    sheet.clearRect(0, 0, sheet.canvas.width, sheet.canvas.height);
  }
  sheet.imageSmoothingEnabled = true;
  sheet.imageSmoothingQuality = "high";
  return sheet;
}
export const giveBack = (sheet) => sheets.push(sheet);

const numbersOf = (effect, frame) =>
  Object.fromEntries(Object.entries(effect.values).map(([name, block]) => [name, [...columnAt(block, frame)]]));

// The words of a filter that does all of an item's effects in turn, in a space; "" where they do nothing.
function filterOf(item, frame, space) {
  return (item.effects || [])
    .map((effect) => FILTERS.get(effect.kind)(numbersOf(effect, frame), space))
    .filter(Boolean)
    .join(" ");
}

// What a matrix does to lengths and steps, where it keeps shapes; null where it squeezes or skews them.
function spaceOf({ a, b, c, d }) {
  const size = Math.sqrt(Math.abs(a * d - b * c));
  const even =
    Math.abs(a * c + b * d) <= 1e-6 * size * size && Math.abs(Math.hypot(a, b) - Math.hypot(c, d)) <= 1e-6 * size;
  return even ? { size, turned: (x, y) => [a * x + c * y, b * x + d * y] } : null;
}

// An item painted aside by `draw(ctx)`, treated, and laid on a canvas with one opacity and its way of blending.
// `matrix` is from its own px to canvas px.
export function layAside(ctx, item, frame, matrix, opacity, draw) {
  const area = Math.abs(matrix.a * matrix.d - matrix.b * matrix.c);
  const space = spaceOf(matrix);
  const words =
    !item.effects || area < 1e-12 ? "" : filterOf(item, frame, space || { size: 1, turned: (x, y) => [x, y] });
  const sheet = sheetFor(ctx);
  draw(sheet);
  const treated = !words ? sheet : space ? filtered(sheet, words) : filteredInItsOwn(sheet, item, frame, matrix);
  ctx.save();
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.globalAlpha *= opacity;
  if (item.blend) ctx.globalCompositeOperation = item.blend;
  ctx.drawImage(treated.canvas, 0, 0);
  ctx.restore();
  giveBack(treated);
}

function filtered(sheet, words) {
  const out = sheetFor(sheet);
  out.setTransform(1, 0, 0, 1, 0, 0);
  out.filter = words;
  out.drawImage(sheet.canvas, 0, 0);
  out.filter = "none";
  giveBack(sheet);
  return out;
}

// Where its matrix squeezes or skews, what is treated is taken back into a space that keeps its shape, as fine as it is
// on the canvas, and the outcome goes through the rest of the matrix.
function filteredInItsOwn(sheet, item, frame, matrix) {
  const size = Math.max(Math.hypot(matrix.a, matrix.b), Math.hypot(matrix.c, matrix.d));
  const { width, height } = sheet.canvas;
  const rest = matrix.multiply(new DOMMatrix([1 / size, 0, 0, 1 / size, 0, 0]));
  const back = rest.inverse();
  const corners = [
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
  ].map(([x, y]) => back.transformPoint({ x, y }));
  const [left, top] = [Math.min(...corners.map((p) => p.x)), Math.min(...corners.map((p) => p.y))];
  const [right, bottom] = [Math.max(...corners.map((p) => p.x)), Math.max(...corners.map((p) => p.y))];
  // A strong squeeze would ask for a space larger than any canvas.
  const fit = Math.min(1, 4096 / Math.max(right - left, bottom - top));
  const own = document.createElement("canvas").getContext("2d");
  own.canvas.width = Math.max(1, Math.ceil((right - left) * fit));
  own.canvas.height = Math.max(1, Math.ceil((bottom - top) * fit));
  const into = new DOMMatrix([fit, 0, 0, fit, -left * fit, -top * fit]).multiply(back);
  own.imageSmoothingQuality = "high";
  own.setTransform(into);
  own.drawImage(sheet.canvas, 0, 0);
  own.setTransform(1, 0, 0, 1, 0, 0);
  const treated = filtered(
    own,
    filterOf(item, frame, { size: size * fit, turned: (x, y) => [x * size * fit, y * size * fit] }),
  );
  const out = sheetFor(sheet);
  out.setTransform(into.inverse());
  out.drawImage(treated.canvas, 0, 0);
  out.setTransform(1, 0, 0, 1, 0, 0);
  giveBack(sheet);
  return out;
}

// Whether an item is laid on by way of a sheet.
export const goesAside = (item) => Boolean(item.parts || item.effects || item.blend);

// From an item's own px to canvas px.
export const through = (item, frame, base) =>
  new DOMMatrix(base).multiply(new DOMMatrix([...rowAt(item, frame).subarray(0, 6)]));
