// Leaves and groups laid on a canvas: those that are treated, masked or blended, and groups put together first, by way of a
// sheet of their own.
import { CUTS, FILTERS, FLAT, SOFTENS, svgFilter, TREATS } from "./effects/register.js";
import { columnAt, rowAt } from "./table.js";
import { outlineAt, traced } from "./tracing.js";

const sheets = [];

// Without a graphics card sheets that are painted at once, and not told to it first, come at half the time.
let told = null;
function sheetOptions() {
  told ||= {
    willReadFrequently: !document.createElement("canvas").getContext("webgl", { failIfMajorPerformanceCaveat: true }),
  };
  return told;
}

// A clean canvas to paint on aside, of a size or as large as another; whoever takes one gives it back.
export function sheetFor({ canvas: { width, height } }) {
  const at = sheets.findLastIndex(({ canvas }) => canvas.width === width && canvas.height === height);
  const sheet =
    at < 0
      ? sheets.pop() || document.createElement("canvas").getContext("2d", sheetOptions())
      : sheets.splice(at, 1)[0];
  if (sheet.canvas.width !== width || sheet.canvas.height !== height) {
    sheet.canvas.width = width;
    sheet.canvas.height = height;
  } else sheet.reset();
  sheet.imageSmoothingEnabled = true;
  sheet.imageSmoothingQuality = "high";
  return sheet;
}
// So many are kept for the next time.
const MOST_SHEETS = 24;
export const giveBack = (sheet) => {
  sheets.push(sheet);
  if (sheets.length > MOST_SHEETS) sheets.shift();
};

const numbersOf = (effect, frame) =>
  Object.fromEntries(Object.entries(effect.values).map(([name, block]) => [name, [...columnAt(block, frame)]]));

// What a matrix does to lengths and steps, where it keeps shapes; null where it squeezes or skews them.
function spaceOf({ a, b, c, d }) {
  const size = Math.sqrt(Math.abs(a * d - b * c));
  const even =
    Math.abs(a * c + b * d) <= 1e-6 * size * size && Math.abs(Math.hypot(a, b) - Math.hypot(c, d)) <= 1e-6 * size;
  return even ? { size, turned: (x, y) => [a * x + c * y, b * x + d * y] } : null;
}

// An item's effects at a frame in their order: words of a filter for those that can be one, what is done to a sheet, cuts.
function stepsOf(item, frame, space, box) {
  const steps = [];
  const add = (words) => {
    if (typeof steps.at(-1) === "string") steps.push(`${steps.pop()} ${words}`);
    else steps.push(words);
  };
  for (const effect of item.effects || []) {
    const values = numbersOf(effect, frame);
    const cut = CUTS.get(effect.kind);
    const made = cut ? cut(values, box()) : (FILTERS.get(effect.kind) || TREATS.get(effect.kind))(values, space);
    if (typeof made === "string" && made) add(made);
    else if (made) steps.push(cut ? { cut: made } : made);
  }
  return steps;
}

const area = (matrix) => Math.abs(matrix.a * matrix.d - matrix.b * matrix.c);

// Lays one sheet on another as it is, or through a matrix, its corner at a place.
function lay(ctx, sheet, operation = "source-over", alpha = 1, filter = "none", [x, y] = [0, 0], matrix = null) {
  ctx.save();
  ctx.setTransform(1, 0, 0, 1, x, y);
  if (matrix) {
    ctx.transform(matrix.a, matrix.b, matrix.c, matrix.d, matrix.e, matrix.f);
    // A sheet is as fine as the canvas, and what is softened asks for no more.
    ctx.imageSmoothingQuality = "low";
  }
  ctx.globalCompositeOperation = operation;
  ctx.globalAlpha = alpha;
  ctx.filter = filter;
  ctx.drawImage(sheet.canvas, 0, 0);
  ctx.restore();
}

// Sheets come in sizes of so many px, so that one fits the next item, too.
const SIZES = 32;
const roomy = (px) => Math.max(1, Math.ceil(px / SIZES)) * SIZES;

// Where on a canvas an item is painted: left, top, width and height in its px, a little of what lies beyond included where that
// is drawn in; null where it is not on it at all. `painted` is a box in the item's px, null for all there is.
function spotOf({ canvas: { width, height } }, item, frame, matrix, painted) {
  if (!painted || area(matrix) < 1e-12) return [0, 0, width, height];
  const size = Math.max(Math.hypot(matrix.a, matrix.b), Math.hypot(matrix.c, matrix.d));
  const reach = item.effects ? reachOf(item, frame) * size + 4 : 2;
  const beyond = item.effects ? Math.min(Math.ceil(reach), 2048) : 0;
  const [left, top, right, bottom] = around(painted, matrix);
  const x = Math.max(-beyond, Math.floor(left - reach));
  const y = Math.max(-beyond, Math.floor(top - reach));
  const across = Math.min(width + beyond, Math.ceil(right + reach)) - x;
  const down = Math.min(height + beyond, Math.ceil(bottom + reach)) - y;
  if (!(across > 0 && down > 0)) return null;
  return [x, y, roomy(across), roomy(down)];
}

// An item painted aside by `draw(ctx, base)`, masked, treated, and laid on a canvas with one opacity and its way of blending.
// `base` is from scene px to canvas px, `own` from the item's to scene px; `box()` tells what it is in its px, `painted()` what
// it paints in, null for anywhere, and `show(ctx, base)` paints what it shows through.
export function layAside(ctx, item, frame, base, own, opacity, { draw, box, painted, show }) {
  const spot = spotOf(ctx, item, frame, new DOMMatrix(base).multiply(own), painted());
  if (!spot) return;
  const [x, y, width, height] = spot;
  const moved = [base[0], base[1], base[2], base[3], base[4] - x, base[5] - y];
  const { sheet, through } = treated([width, height], item, frame, { base: moved, own, draw, box, painted });
  let made = sheet;
  if (item.matte?.item) {
    if (through) {
      made = spare(width, height);
      lay(made, sheet, "source-over", 1, "none", [0, 0], through);
      giveBack(sheet);
    }
    keepMatted(made, item.matte, (on) => show(on, moved));
  }
  const left = made === sheet ? through : null;
  lay(ctx, made, item.blend || "source-over", ctx.globalAlpha * opacity, "none", [x, y], left);
  giveBack(made);
}

// An item on a sheet of a size, masked and treated; where it is not yet as `base` has it, what it is still to go `through`.
function treated([width, height], item, frame, { base, own, draw, box, painted }) {
  const matrix = new DOMMatrix(base).multiply(own);
  const sized = area(matrix) >= 1e-12;
  const space = spaceOf(matrix);
  const apart = sized && lengthy(item) && (!space || (softOf(item, frame) * space.size > FINE && painted()));
  if (apart) return inItsOwn(item, frame, { base, own, draw, box, painted });
  let sheet = spare(width, height);
  draw(sheet, base);
  if (sized && item.masks) keepMasked(sheet, item.masks, frame, matrix);
  if (sized && item.effects)
    sheet = through(sheet, stepsOf(item, frame, space || PLAIN, box), (left, cut) => drawCut(left, cut, matrix));
  return { sheet, through: null };
}

// A Gaussian of so many px is as good as one drawn finer and enlarged. Browsers make it of three boxes of whole px: this is where
// they are just seven wide, once it is made as much narrower as it will be widened.
const FINE = Math.hypot((7 * 4) / (3 * Math.sqrt(2 * Math.PI)), 0.5);

// By what a Gaussian of px is made narrower that will be enlarged: drawing it in larger steps, and going evenly from one to the
// next, widen it as Gaussians whose variances are 1/12 and 1/6 of a step's square would.
const enlarged = (px) => Math.sqrt(Math.max(0.25, 1 - 1 / 4 / (px * px)));

// The largest standard deviation, in an item's px, by which its effects soften all edges of it; 0 where one does not.
function softOf(item, frame) {
  const each = (item.effects || []).map(({ kind, values }) => SOFTENS.get(kind)?.(numbersOf({ values }, frame)) || 0);
  return each.every((px) => px > 0) ? Math.max(...each) : 0;
}

const PLAIN = { size: 1, turned: (x, y) => [x, y] };
// Whether any of an item's effects is told in lengths, and so hangs on the space it is done in.
const lengthy = (item) => (item.effects || []).some(({ kind }) => !CUTS.has(kind) && !FLAT.has(kind));

// Where its matrix squeezes or skews, an item is painted in a space that keeps its shape, as fine as it is on the canvas, and
// the outcome is to go `through` the rest of the matrix.
function inItsOwn(item, frame, { base, own, draw, box, painted }) {
  const matrix = new DOMMatrix(base).multiply(own);
  const sizes = [Math.hypot(matrix.a, matrix.b), Math.hypot(matrix.c, matrix.d)];
  const most = Math.max(...sizes);
  const reach = reachOf(item, frame) + 2 / most;
  const [left, top, right, bottom] = (painted() || box()).map((x, k) => x + (k < 2 ? -reach : reach));
  // As fine on either way as it is on the canvas, and no larger than that can be.
  const held = Math.min(1, 4096 / Math.max((right - left) * sizes[0], (bottom - top) * sizes[1], 1e-9));
  const turns = (item.effects || []).some(({ values }) => values.along && columnAt(values.along, frame)[0]);
  // What leaves nothing sharp needs it on neither way, and is quicker done where both are alike.
  const soft = softOf(item, frame) * most;
  const fine = most * held * Math.min(1, FINE / Math.max(soft, FINE));
  const [across, down] = turns || soft > 1 ? [fine, fine] : sizes.map((each) => each * held);
  // On whole px, as Skia has it.
  const [x, y] = [Math.floor(left * across), Math.floor(top * down)];
  const into = new DOMMatrix([across, 0, 0, down, -x, -y]);
  let sheet = spare(roomy(right * across - x), roomy(bottom * down - y));
  const { a, b, c, d, e, f } = into.multiply(own.inverse());
  draw(sheet, [a, b, c, d, e, f]);
  if (item.masks) keepMasked(sheet, item.masks, frame, into);
  const space = {
    size: across * (fine < most * held ? enlarged(softOf(item, frame) * fine) : 1),
    sizes: across === down ? null : [across, down],
    turned: (x, y) => [x * across, y * down],
  };
  sheet = through(sheet, stepsOf(item, frame, space, box), (cutting, cut) => drawCut(cutting, cut, into));
  return { sheet, through: matrix.multiply(into.inverse()) };
}

function through(sheet, steps, cutting) {
  for (const step of steps) {
    if (step.cut) {
      const left = sheetFor(sheet);
      cutting(left, step.cut);
      lay(sheet, left, "destination-in");
      giveBack(left);
    } else {
      const made = typeof step === "string" ? filtered(sheet, step) : step(sheet, spare);
      giveBack(sheet);
      sheet = made;
    }
  }
  return sheet;
}

// A sheet of a size, which whoever takes it need not give back.
const spare = (width, height) => sheetFor({ canvas: { width, height } });

function filtered(sheet, words) {
  const out = sheetFor(sheet);
  lay(out, sheet, "source-over", 1, words);
  return out;
}

// What is left of something, drawn in its own px and softened there.
function drawCut(ctx, { draw, soft }, matrix) {
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

// Leaves of a sheet only what its masks show. All of them are one picture of white, of which the alpha counts.
function keepMasked(sheet, masks, frame, matrix) {
  const [first] = masks;
  if (masks.length === 1 && first.mode === "add" && !first.inverted) {
    // It is that picture itself.
    drawMask(sheet, first, frame, matrix, "destination-in");
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
  for (const mask of masks) {
    const how = /** @type {any} */ (
      { add: "source-over", subtract: "destination-out", intersect: "destination-in" }[mask.mode]
    );
    if (!mask.inverted) {
      drawMask(whole, mask, frame, matrix, how);
      continue;
    }
    const shape = sheetFor(sheet);
    fill(shape);
    drawMask(shape, { ...mask, values: { ...mask.values, opacity: FULL } }, frame, matrix, "destination-out");
    lay(whole, shape, how, numbersOf(mask, frame).opacity[0]);
    giveBack(shape);
  }
  lay(sheet, whole, "destination-in");
  giveBack(whole);
}

const FULL = { rows: 1, wide: 1, numbers: new Float32Array([1]) };

// A mask in white, softened in its own px, drawn on a canvas.
function drawMask(ctx, mask, frame, matrix, operation) {
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
  // In a space that keeps the mask's shape, and no larger than it: as fine as it is on the canvas.
  const size = Math.max(Math.hypot(matrix.a, matrix.b), Math.hypot(matrix.c, matrix.d));
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
  const shape = spare(roomy(far - x), roomy(deep - y));
  const into = new DOMMatrix([fit, 0, 0, fit, -x, -y]).multiply(turned);
  shape.setTransform(into);
  const px = feather[0] * size * fit;
  shape.filter = `blur(${px * (fit < 1 ? enlarged(px) : 1)}px)`;
  shape.fillStyle = "#fff";
  shape.fill(traced(traces), mask.rule);
  lay(ctx, shape, operation, opacity[0], "none", [0, 0], matrix.multiply(into.inverse()));
  giveBack(shape);
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

// The box around a box that a matrix moves.
/** @param {number[]} box
 * @returns {number[]} */
export function around([left, top, right, bottom], matrix) {
  const spots = [left, right].flatMap((x) => [top, bottom].map((y) => matrix.transformPoint({ x, y })));
  const [xs, ys] = [spots.map((p) => p.x), spots.map((p) => p.y)];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

// How light what is on black is, W3C Masking's luminance.
const LUMA = '<feColorMatrix values="0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 0.2126 0.7152 0.0722 0 0"/>';

// Leaves of a sheet only what another item shows, or does not; `show(ctx)` paints that.
function keepMatted(sheet, matte, show) {
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

// What lies on a canvas within the frame, treated. The picture goes on past the frame's edges as it is there, so that nothing
// of what is outside comes in. `frameBox` is in canvas px: left, top, width, height.
export function wash(ctx, item, frame, matrix, opacity, { frameBox, show }) {
  if (opacity <= 0 || area(matrix) < 1e-12) return;
  // What lies beyond the canvas is not seen, however large the frame is drawn.
  const near = (from, size, most) => {
    const start = Math.max(0, Math.round(from));
    return [start, Math.min(most, Math.round(from + size)) - start];
  };
  const [left, width] = near(frameBox[0], frameBox[2], ctx.canvas.width);
  const [top, height] = near(frameBox[1], frameBox[3], ctx.canvas.height);
  if (width < 1 || height < 1) return;
  const size = Math.max(Math.hypot(matrix.a, matrix.b), Math.hypot(matrix.c, matrix.d));
  const reach = Math.ceil(Math.min(Math.max(width, height), reachOf(item, frame) * size + 2));
  let made = spare(width + 2 * reach, height + 2 * reach);
  goneOn(made, ctx.canvas, [left, top, width, height], reach);
  const box = () => around([left, top, left + width, top + height], matrix.inverse());
  const steps = stepsOf(item, frame, spaceOf(matrix) || PLAIN, box);
  made = through(
    made,
    steps.filter((step) => !step.cut),
  );
  const sheet = sheetFor(ctx);
  sheet.drawImage(made.canvas, reach, reach, width, height, left, top, width, height);
  giveBack(made);
  const cut = (on) => {
    if (item.masks) keepMasked(on, item.masks, frame, matrix);
    // What is cut of a wash is where it treats nothing.
    through(
      on,
      steps.filter((step) => step.cut),
      (cutting, each) => drawCut(cutting, each, matrix),
    );
    if (item.matte?.item) keepMatted(on, item.matte, show);
  };
  cut(sheet);
  if (item.blend) lay(ctx, sheet, item.blend, opacity);
  else {
    // In the place of what was there, as far as there is a wash: laid over it, what is clear would show through.
    const there = sheetFor(ctx);
    there.fillRect(left, top, width, height);
    cut(there);
    lay(ctx, there, "destination-out", opacity);
    lay(ctx, sheet, "lighter", opacity);
    giveBack(there);
  }
  giveBack(sheet);
}

// How far an item's effects look, at most, in its px.
export function reachOf(item, frame) {
  const lengths = ["radius", "softness", "spread", "distance"];
  return (item.effects || []).reduce((sum, effect) => {
    const values = numbersOf(effect, frame);
    return sum + lengths.reduce((all, name) => all + 3 * Math.abs(values[name]?.[0] || 0), 0);
  }, 0);
}

// A part of a canvas with its edges drawn out on all sides.
function goneOn(on, canvas, [left, top, width, height], reach) {
  on.imageSmoothingEnabled = false;
  const draw = (sx, sy, sw, sh, dx, dy, dw, dh) => on.drawImage(canvas, left + sx, top + sy, sw, sh, dx, dy, dw, dh);
  draw(0, 0, width, height, reach, reach, width, height);
  draw(0, 0, 1, height, 0, reach, reach, height);
  draw(width - 1, 0, 1, height, reach + width, reach, reach, height);
  const all = width + 2 * reach;
  on.drawImage(on.canvas, 0, reach, all, 1, 0, 0, all, reach);
  on.drawImage(on.canvas, 0, reach + height - 1, all, 1, 0, reach + height, all, reach);
  on.imageSmoothingEnabled = true;
}

// Whether an item is laid on by way of a sheet.
export const goesAside = (item) => Boolean(item.parts || item.effects || item.blend || item.masks || item.matte);

// From an item's own px to canvas px.
export const placed = (item, frame, base) =>
  new DOMMatrix(base).multiply(new DOMMatrix([...rowAt(item, frame).subarray(0, 6)]));
