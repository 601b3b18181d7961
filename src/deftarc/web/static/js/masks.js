// What of a sheet is left: by masks, by cuts, and by what it shows through.
import { svgFilter } from "./effects/register.js";
import { LARGEST, madeOnce } from "./kept.js";
import { filtered, giveBack, lay, roomy, sheetFor, spare } from "./sheets.js";
import { around, enlarged, FINE, keepsSoft, spaceOf } from "./spaces.js";
import { columnAt } from "./table.js";
import { outlineAt, traced } from "./tracing.js";

// An effect's or a mask's numbers at a frame, by name.
export const numbersOf = (effect, frame) =>
  Object.fromEntries(Object.entries(effect.values).map(([name, block]) => [name, [...columnAt(block, frame)]]));

// Leaves of a sheet only what its masks show. All of them are one picture of white, of which the alpha counts.
// `name` is that of what has them.
export function keepMasked(sheet, masks, frame, matrix, name) {
  const [first] = masks;
  if (masks.length === 1 && first.mode === "add" && !first.inverted) {
    // It is that picture itself.
    drawMask(sheet, first, frame, matrix, "destination-in", name);
    return;
  }
  const whole = sheetFor(sheet);
  const fill = (ctx) => {
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.fillStyle = "#fff";
    ctx.fillRect(0, 0, ctx.canvas.width, ctx.canvas.height);
  };
  // What is first taken away is taken from all of it.
  if (first.mode !== "add") fill(whole);
  for (const [n, mask] of masks.entries()) {
    const how = /** @type {any} */ (
      { add: "source-over", subtract: "destination-out", intersect: "destination-in" }[mask.mode]
    );
    if (!mask.inverted) {
      drawMask(whole, mask, frame, matrix, how, `${name} ${n}`);
      continue;
    }
    const shape = sheetFor(sheet);
    fill(shape);
    const full = { ...mask, values: { ...mask.values, opacity: FULL } };
    drawMask(shape, full, frame, matrix, "destination-out", `${name} ${n}`);
    lay(whole, shape, how, numbersOf(mask, frame).opacity[0]);
    giveBack(shape);
  }
  lay(sheet, whole, "destination-in");
  giveBack(whole);
}

const FULL = { rows: 1, wide: 1, numbers: new Float32Array([1]) };

// A mask in white, softened in its own px, drawn on a canvas.
function drawMask(ctx, mask, frame, matrix, operation, name) {
  const { feather, opacity } = numbersOf(mask, frame);
  const traces = outlineAt(mask.outline, frame);
  if (feather[0] <= 0) {
    ctx.save();
    ctx.setTransform(matrix);
    ctx.globalCompositeOperation = operation;
    ctx.globalAlpha = opacity[0];
    ctx.fillStyle = "#fff";
    ctx.fill(traced(traces), mask.rule);
    ctx.restore();
    return;
  }
  const size = Math.max(Math.hypot(matrix.a, matrix.b), Math.hypot(matrix.c, matrix.d));
  const [soft, back] = keptMask(mask, feather[0], traces, size, name) || [];
  if (soft) {
    lay(ctx, soft, operation, opacity[0], "none", [0, 0], matrix.multiply(back));
    return;
  }
  // In a space that keeps the mask's shape, and no larger than it: as fine as it is on the canvas.
  const even = spaceOf(matrix);
  const turned = even ? matrix : new DOMMatrix([size, 0, 0, size, 0, 0]);
  const reach = 3 * feather[0] * size + 2;
  const [left, top, right, bottom] = around(boxOfPoints(traces.numbers), turned);
  const { width, height } = ctx.canvas;
  // What is on the canvas as it is need not go far beyond it.
  const near = even ? [-reach, -reach, width + reach, height + reach] : [-Infinity, -Infinity, Infinity, Infinity];
  const [x1, y1] = [Math.max(left - reach, near[0]), Math.max(top - reach, near[1])];
  const [x2, y2] = [Math.min(right + reach, near[2]), Math.min(bottom + reach, near[3])];
  const fit = Math.min(1, FINE / (feather[0] * size), 4096 / Math.max(x2 - x1, y2 - y1, 1e-9));
  const [x, y] = [Math.floor(x1 * fit), Math.floor(y1 * fit)];
  const [far, deep] = [x2 * fit, y2 * fit];
  const into = new DOMMatrix([fit, 0, 0, fit, -x, -y]).multiply(turned);
  const px = feather[0] * size * fit;
  const shape = softShape(traces, mask.rule, [far - x, deep - y], into, px * (fit < 1 ? enlarged(px) : 1));
  lay(ctx, shape, operation, opacity[0], "none", [0, 0], matrix.multiply(into.inverse()));
  giveBack(shape);
}

// An outline in white, softened by so many px of a sheet of a size.
function softShape(traces, rule, [width, height], into, px) {
  const shape = spare(roomy(width), roomy(height));
  shape.setTransform(into);
  shape.filter = `blur(${px}px)`;
  shape.fillStyle = "#fff";
  shape.fill(traced(traces), rule);
  return shape;
}

// A soft mask, as fine as its softness asks whatever it is laid on, and the matrix from that into its px: made once as long as
// it stays as it is.
function keptMask({ rule }, feather, traces, size, name) {
  if (!name || !keepsSoft(feather * size)) return null;
  const fit = FINE / feather;
  const reach = 3 * feather;
  const [left, top, right, bottom] = boxOfPoints(traces.numbers).map((x, k) => (x + (k < 2 ? -reach : reach)) * fit);
  const [x, y] = [Math.floor(left), Math.floor(top)];
  if ((right - x) * (bottom - y) > LARGEST) return null;
  const into = new DOMMatrix([fit, 0, 0, fit, -x, -y]);
  const make = () => softShape(traces, rule, [right - x, bottom - y], into, FINE * enlarged(FINE));
  const sheet = madeOnce(`mask ${name}`, [feather, rule, traces.verbs, ...traces.numbers], make);
  return [sheet, into.inverse()];
}

// The box around points told as x, y in turn.
function boxOfPoints(numbers) {
  const box = [Infinity, Infinity, -Infinity, -Infinity];
  for (let n = 0; n + 1 < numbers.length; n += 2) {
    box[0] = Math.min(box[0], numbers[n]);
    box[1] = Math.min(box[1], numbers[n + 1]);
    box[2] = Math.max(box[2], numbers[n]);
    box[3] = Math.max(box[3], numbers[n + 1]);
  }
  return numbers.length ? box : [0, 0, 0, 0];
}

// What is left of something, drawn in its own px and softened there.
export function drawCut(ctx, { draw, soft }, matrix) {
  let drawn = soft > 0 ? sheetFor(ctx) : ctx;
  drawn.setTransform(matrix);
  drawn.fillStyle = "#fff";
  draw(drawn);
  if (soft > 0) {
    drawn = softened(drawn, soft, matrix);
    lay(ctx, drawn);
    giveBack(drawn);
  }
}

// A sheet blurred by px of a matrix's own space: where that is squeezed or skewed it is taken back into one that is not.
function softened(sheet, px, matrix) {
  const space = spaceOf(matrix);
  if (space) {
    const made = filtered(sheet, `blur(${px * space.size}px)`);
    giveBack(sheet);
    return made;
  }
  const size = Math.max(Math.hypot(matrix.a, matrix.b), Math.hypot(matrix.c, matrix.d));
  const back = matrix.multiply(new DOMMatrix([1 / size, 0, 0, 1 / size, 0, 0])).inverse();
  const { width, height } = sheet.canvas;
  const [left, top, right, bottom] = around([0, 0, width, height], back);
  // A strong squeeze would ask for a space larger than any canvas.
  const fit = Math.min(1, 4096 / Math.max(right - left, bottom - top));
  const own = spare(Math.max(1, Math.ceil((right - left) * fit)), Math.max(1, Math.ceil((bottom - top) * fit)));
  const into = new DOMMatrix([fit, 0, 0, fit, -left * fit, -top * fit]).multiply(back);
  own.setTransform(into);
  own.drawImage(sheet.canvas, 0, 0);
  own.setTransform(1, 0, 0, 1, 0, 0);
  const made = filtered(own, `blur(${px * size * fit}px)`);
  const out = sheetFor(sheet);
  out.setTransform(into.inverse());
  out.drawImage(made.canvas, 0, 0);
  out.setTransform(1, 0, 0, 1, 0, 0);
  for (const each of [own, made, sheet]) giveBack(each);
  return out;
}

// How light what is on black is, W3C Masking's luminance.
const LUMA = '<feColorMatrix values="0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 0.2126 0.7152 0.0722 0 0"/>';

// Leaves of a sheet only what another item shows, or does not; `show(ctx)` paints that.
export function keepMatted(sheet, matte, show) {
  const through = sheetFor(sheet);
  if (matte.by === "luma") {
    through.fillStyle = "#000";
    through.fillRect(0, 0, through.canvas.width, through.canvas.height);
  }
  show(through);
  const how = matte.inverted ? "destination-out" : "destination-in";
  lay(sheet, through, how, 1, matte.by === "luma" ? svgFilter(LUMA) : "none");
  giveBack(through);
}
