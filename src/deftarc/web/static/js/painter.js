// Paints drawings through a FrameTable's matrices on a 2D canvas. Knows no rule of motion.
import { goesAside, layAside, placed, reachOf, wash } from "./branches.js";
import { drawDots, hasDots } from "./dots.js";
import { together } from "./drawings.js";
import { told } from "./kept.js";
import { boundsAt, nodesAt } from "./shapes.js";
import { giveBack, lay, sheetFor } from "./sheets.js";
import { momentsOf, smeared } from "./smears.js";
import { around } from "./spaces.js";
import { columnAt, rowAt, showsAt } from "./table.js";
import { outlineAt, traced } from "./tracing.js";

// Whether two states of an item look alike at a frame: then the picture need not be painted again for it.
export function alikeAt(one, other, frame) {
  if (
    [one, other].some((item) => item.look || item.outline || item.dots || item.children || goesAside(item) || item.wash)
  )
    return false;
  if (one.drawing !== other.drawing) return false;
  const [a, b] = [rowAt(one, frame), rowAt(other, frame)];
  return showsAt(one, frame) === showsAt(other, frame) && a.every((n, k) => n === b[k]);
}

// Items from the bottom up, each with its prepared drawing, or with the parts that are put together for it; base is the
// matrix from scene px to canvas px.
// `size` is the scene's in its px: washes treat what lies in that.
// `smear` is what smears then: see smears.js.
export function paint(ctx, items, frame, base, size = null, smear = null) {
  ctx.imageSmoothingEnabled = true;
  ctx.imageSmoothingQuality = "high";
  for (const item of items) paintItem(ctx, item, frame, base, { size, smear });
}

function paintItem(ctx, item, frame, base, how) {
  const { size, smear } = how;
  const moments = smear ? momentsOf(item, frame, smear) : [];
  if (moments.length) {
    smeared(ctx, item, moments, {
      frame,
      base,
      smear,
      paint: (on, one, at) => paintItem(on, one, at, base, { size, smear: null }),
    });
    return;
  }
  const at = item.still ? item.frame : frame;
  if (!(item.drawing || item.parts || item.wash) || !showsAt(item, at)) return;
  const row = rowAt(item, at);
  if (row[6] <= 0) return;
  const show = (sheet, into = base) => item.matte?.item && paintItem(sheet, item.matte.item, frame, into, how);
  if (item.wash) {
    const { width, height } = ctx.canvas;
    const frameBox = size ? [base[4], base[5], size.width * base[0], size.height * base[3]] : [0, 0, width, height];
    wash(ctx, item, at, placed(item, at, base), row[6], { frameBox, show });
  } else if (isCut(item, at)) {
    // What is inside one hard outline needs no sheet.
    const [mask] = item.masks;
    ctx.save();
    ctx.setTransform(placed(item, at, base));
    ctx.clip(traced(outlineAt(mask.outline, at)), mask.rule);
    drawLeaf(ctx, item, at, base, row[6]);
    ctx.restore();
  } else if (item.clip && isPlain(item, row[6]))
    within(ctx, item, at, base, () => paint(ctx, item.parts, frame, base, size, smear));
  else if (goesAside(item)) {
    const draw = (sheet, into) => {
      if (item.clip) within(sheet, item, at, into, () => paint(sheet, item.parts, frame, into, size, smear));
      else if (item.parts) paint(sheet, item.parts, frame, into, size, smear);
      else drawLeaf(sheet, item, at, into, 1);
    };
    const bare = (sheet, into) => {
      sheet.setTransform(into);
      drawOwn(sheet, item, at, 1);
    };
    const own = new DOMMatrix([...row.subarray(0, 6)]);
    const painted = () => (item.parts && (smear || washes(item)) ? null : boxOf(item, frame, reachOf));
    const tell = (facts) => toldAlone(item, smear) && told(item, frame, facts);
    layAside(ctx, item, at, base, own, row[6], { draw, bare, box: () => boxOf(item, frame), painted, show, tell });
  } else drawLeaf(ctx, item, at, base, row[6]);
}

// Whether nothing of an item hangs on other moments.
const toldAlone = (item, smear) => !smear || !(item.parts || item.matte);

// Whether a leaf is only cut off at one hard outline.
function isCut(item, frame) {
  if (item.masks?.length !== 1 || item.parts || item.effects || item.blend || item.matte) return false;
  const [{ mode, inverted, values }] = item.masks;
  const { feather, opacity } = values;
  return mode === "add" && !inverted && columnAt(feather, frame)[0] <= 0 && columnAt(opacity, frame)[0] >= 1;
}

// Whether a scene that is shown can be painted where it lies: nothing of it has to be put together first.
const isPlain = (item, opacity) =>
  opacity >= 1 &&
  !(item.blend || item.effects || item.masks || item.matte) &&
  item.parts.every((part) => !part.blend && !part.wash);

// Whether anything in a group treats what is beneath it there, wherever that is.
const washes = (item) => Boolean(item.wash || item.parts?.some(washes));

// What an item paints in, in its own px: left, top, right, bottom, pens included; of a group's members so much more as
// `more(part, frame)` says.
/** @returns {number[]} */
export function boxOf(item, frame, more = (_part, _frame) => 0) {
  const at = item.still ? item.frame : frame;
  if (item.clip) return [...item.clip];
  if (item.parts) {
    const back = new DOMMatrix([...rowAt(item, at).subarray(0, 6)]).inverse();
    const spots = item.parts.flatMap((part) => {
      const when = part.still ? part.frame : frame;
      if (!(part.drawing || part.parts) || !showsAt(part, when) || rowAt(part, when)[6] <= 0) return [];
      const through = back.multiply(new DOMMatrix([...rowAt(part, when).subarray(0, 6)]));
      const out = more(part, when);
      const [left, top, right, bottom] = boxOf(part, frame, more);
      return [around([left - out, top - out, right + out, bottom + out], through)];
    });
    if (!spots.length) return [0, 0, 0, 0];
    return [0, 1, 2, 3].map((k) => (k < 2 ? Math.min : Math.max)(...spots.map((each) => each[k])));
  }
  const [left, top, right, bottom] = boundsAt(item, at);
  const out = item.look?.stroke_width ? columnAt(item.look.stroke_width, at)[0] / 2 : penReach(item.drawing.nodes);
  return [left - out, top - out, right + out, bottom + out];
}

// How far pens paint beyond outlines.
const penReach = (nodes) =>
  nodes.reduce((most, node) => {
    if (node.kind === "group") return Math.max(most, penReach(node.nodes));
    if (node.kind !== "shape" || !node.stroke) return most;
    const [a, b, c, d] = node.matrix;
    const widest = Math.max(Math.hypot(a, b), Math.hypot(c, d));
    return Math.max(most, (node.stroke.width / 2) * Math.max(1.5, node.stroke.miter_limit) * widest);
  }, 0);

// Paints within the frame of a scene that is shown: nothing shows outside of it.
function within(ctx, item, frame, base, draw) {
  const row = rowAt(item, frame);
  const [left, top, right, bottom] = item.clip;
  ctx.save();
  ctx.setTransform(base[0], base[1], base[2], base[3], base[4], base[5]);
  ctx.transform(row[0], row[1], row[2], row[3], row[4], row[5]);
  ctx.beginPath();
  ctx.rect(left, top, right - left, bottom - top);
  ctx.clip();
  draw();
  ctx.restore();
}

function drawLeaf(ctx, item, frame, base, opacity) {
  const row = rowAt(item, frame);
  ctx.setTransform(base[0], base[1], base[2], base[3], base[4], base[5]);
  ctx.transform(row[0], row[1], row[2], row[3], row[4], row[5]);
  drawOwn(ctx, item, frame, opacity);
}

// A leaf where the canvas's matrix has its px.
function drawOwn(ctx, item, frame, opacity) {
  if (item.dots) layDots(ctx, item, frame, opacity);
  else together(ctx, opacity, nodesAt(item, frame));
}

// Who gives the drawing that particles are shaped by: of a layer, or of one in the same scene as another.
let drawingFor = (_name) => null;
export const shapesBy = (call) => {
  drawingFor = call;
};

// Who is told that rings or particles of a frame are not here.
let missed = (_frame) => {};
export const whenDotsAreMissed = (call) => {
  missed = call;
};

function layDots(ctx, item, frame, opacity) {
  const { dots } = item;
  if (!hasDots(dots, frame)) missed(frame);
  const within = item.layer.includes("/") ? `${item.layer.slice(0, item.layer.lastIndexOf("/"))}/` : "";
  const drawing = dots.shaped ? drawingFor(within + dots.shaped) : null;
  const shaped = drawing?.nodes.length && {
    bounds: drawing.bounds,
    draw: (on, alpha) => together(on, alpha, drawing.nodes),
  };
  if (opacity >= 1) {
    drawDots(ctx, dots, frame, shaped);
    return;
  }
  const spare = sheetFor(ctx);
  spare.setTransform(ctx.getTransform());
  drawDots(spare, dots, frame, shaped);
  lay(ctx, spare, "source-over", ctx.globalAlpha * opacity);
  giveBack(spare);
}
