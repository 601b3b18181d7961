// Leaves and groups laid on a canvas: those that are treated, masked or blended, and groups put together first, by way of a
// sheet of their own.
import { CUTS, FILTERS, FLAT, SOFTENS, TREATS } from "./effects/register.js";
import { kept, LARGEST, madeOnce, told } from "./kept.js";
import { drawCut, keepMasked, keepMatted, numbersOf } from "./masks.js";
import { filtered, giveBack, lay, roomy, sheetFor, spare } from "./sheets.js";
import { area, around, enlarged, FINE, keepsSoft, PLAIN, spaceOf } from "./spaces.js";
import { columnAt, rowAt } from "./table.js";

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

// An item painted aside by `draw(ctx, base)`, a leaf in its own px by `bare(ctx, matrix)`, masked, treated, and laid on a canvas
// with one opacity and its way of blending. `base` is from scene px to canvas px, `own` from the item's to scene px; `box()`
// tells what it is in its px, `painted()` what it paints in, null for anywhere, and `show(ctx, base)` paints what it shows
// through. `tell(facts)` tells all it looks like by, where that can be told.
export function layAside(ctx, item, frame, base, own, opacity, { draw, bare = null, box, painted, show, tell }) {
  const spot = spotOf(ctx, item, frame, new DOMMatrix(base).multiply(own), painted());
  if (!spot) return;
  const [x, y, width, height] = spot;
  const moved = [base[0], base[1], base[2], base[3], base[4] - x, base[5] - y];
  const make = () => shown([width, height], item, frame, { base: moved, own, draw, bare, box, painted, show });
  const facts = [...spot, ...base];
  /** @type {any} */
  let made = null;
  // What is to go through a matrix yet is kept as it is before.
  const whole =
    tell(facts) &&
    kept(`whole ${item.layer}`, facts, () => {
      made = make();
      return made.through || made.kept ? null : made.sheet;
    });
  if (whole) made = { sheet: whole, kept: true };
  made ||= make();
  lay(ctx, made.sheet, item.blend || "source-over", ctx.globalAlpha * opacity, "none", [x, y], made.through);
  if (!made.kept) giveBack(made.sheet);
}

// An item masked, treated, and shown through another.
function shown(size, item, frame, how) {
  const made = treated(size, item, frame, how);
  if (!item.matte?.item) return made;
  const sheet = onSheet(made, size[0], size[1]);
  keepMatted(sheet, item.matte, (on) => how.show(on, how.base));
  return { sheet };
}

// What was made, on a sheet that is no one else's, and where it is to be.
function onSheet(made, width, height) {
  if (!made.through && !made.kept) return made.sheet;
  const sheet = spare(width, height);
  lay(sheet, made.sheet, "source-over", 1, "none", [0, 0], made.through);
  if (!made.kept) giveBack(made.sheet);
  return sheet;
}

// An item on a sheet of a size, masked and treated; where it is not yet as `base` has it, what it is still to go `through`.
/** @returns {{ sheet: any, through?: DOMMatrix | null, kept?: boolean }} */
function treated([width, height], item, frame, { base, own, draw, bare, box, painted }) {
  const matrix = new DOMMatrix(base).multiply(own);
  const sized = area(matrix) >= 1e-12;
  const soft = sized && keptSoft(item, frame, matrix, { bare, box, painted });
  if (soft) return soft;
  const space = spaceOf(matrix);
  const apart = sized && lengthy(item) && (!space || (softOf(item, frame) * space.size > FINE && painted()));
  if (apart) return inItsOwn(item, frame, { base, own, draw, box, painted });
  let sheet = spare(width, height);
  draw(sheet, base);
  if (sized && item.masks) keepMasked(sheet, item.masks, frame, matrix, item.layer);
  if (sized && item.effects)
    sheet = through(sheet, stepsOf(item, frame, space || PLAIN, box), (left, cut) => drawCut(left, cut, matrix));
  return { sheet, through: null };
}

// The largest standard deviation, in an item's px, by which its effects soften all edges of it; 0 where one does not.
function softOf(item, frame) {
  const each = (item.effects || []).map(({ kind, values }) => SOFTENS.get(kind)?.(numbersOf({ values }, frame)) || 0);
  return each.every((px) => px > 0) ? Math.max(...each) : 0;
}

// Whether any of an item's effects is told in lengths, and so hangs on the space it is done in.
const lengthy = (item) => (item.effects || []).some(({ kind }) => !CUTS.has(kind) && !FLAT.has(kind));

// Where its matrix squeezes or skews, an item is painted in a space that keeps its shape, as fine as it is on the canvas, and
// the outcome is to go `through` the rest of the matrix.
function inItsOwn(item, frame, { base, own, draw, box, painted }) {
  const matrix = new DOMMatrix(base).multiply(own);
  const sizes = [Math.hypot(matrix.a, matrix.b), Math.hypot(matrix.c, matrix.d)];
  const most = Math.max(...sizes);
  const [left, top, right, bottom] = reached(item, frame, painted() || box(), 2 / most);
  // As fine on either way as it is on the canvas, and no larger than that can be.
  const held = Math.min(1, 4096 / Math.max((right - left) * sizes[0], (bottom - top) * sizes[1], 1e-9));
  const turns = (item.effects || []).some(({ values }) => values.along && columnAt(values.along, frame)[0]);
  // What leaves nothing sharp needs it on neither way, and is quicker done where both are alike.
  const soft = softOf(item, frame) * most;
  const fine = most * held * Math.min(1, FINE / Math.max(soft, FINE));
  const [across, down] = turns || soft > 1 ? [fine, fine] : sizes.map((each) => each * held);
  const inOwn = (on, into) => {
    const { a, b, c, d, e, f } = into.multiply(own.inverse());
    draw(on, [a, b, c, d, e, f]);
  };
  const narrower = fine < most * held ? enlarged(softOf(item, frame) * fine) : 1;
  const { sheet, into } = madeIn([across, down], [left, top, right, bottom], item, frame, {
    draw: inOwn,
    box,
    narrower,
  });
  return { sheet, through: matrix.multiply(into.inverse()) };
}

// A box with all that effects look at around it, and a little more.
function reached(item, frame, box, more) {
  const reach = reachOf(item, frame) + more;
  return box.map((x, k) => x + (k < 2 ? -reach : reach));
}

// An item in its own px, so and so fine across and down; what softens it is made so much narrower.
function madeIn([across, down], [left, top, right, bottom], item, frame, { draw, box, narrower }) {
  // On whole px, as Skia has it.
  const [x, y] = [Math.floor(left * across), Math.floor(top * down)];
  const into = new DOMMatrix([across, 0, 0, down, -x, -y]);
  let sheet = spare(roomy(right * across - x), roomy(bottom * down - y));
  draw(sheet, into);
  if (item.masks) keepMasked(sheet, item.masks, frame, into, item.layer);
  const space = {
    size: across * narrower,
    sizes: across === down ? null : [across, down],
    turned: (x, y) => [x * across, y * down],
  };
  sheet = through(sheet, stepsOf(item, frame, space, box), (cutting, cut) => drawCut(cutting, cut, into));
  return { sheet, into };
}

// A soft item in its own px: made once as long as nothing but its place changes.
function keptSoft(item, frame, matrix, { bare, box, painted }) {
  const soft = item.parts ? 0 : softOf(item, frame);
  const size = Math.max(Math.hypot(matrix.a, matrix.b), Math.hypot(matrix.c, matrix.d));
  if (!soft || !keepsSoft(soft * size)) return null;
  const fine = FINE / soft;
  const around = reached(item, frame, painted() || box(), 2 / fine);
  const [left, top, right, bottom] = around;
  if ((right - left) * (bottom - top) * fine * fine > LARGEST) return null;
  const facts = [];
  const make = () => madeIn([fine, fine], around, item, frame, { draw: bare, box, narrower: enlarged(FINE) }).sheet;
  const whole = told(item, frame, facts, false);
  const sheet = whole ? madeOnce(`soft ${item.layer}`, facts, make) : make();
  const into = new DOMMatrix([fine, 0, 0, fine, -Math.floor(left * fine), -Math.floor(top * fine)]);
  return { sheet, through: matrix.multiply(into.inverse()), kept: whole };
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
    if (item.masks) keepMasked(on, item.masks, frame, matrix, item.layer);
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
