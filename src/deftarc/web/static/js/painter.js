// Paints drawings through a FrameTable's matrices on a 2D canvas. Knows no rule of motion.
import { goesAside, layAside, placed, reachOf, wash } from "./branches.js";
import { boundsOfDots, drawDots, hasDots, onDots } from "./dots.js";
import { cssColour } from "./effects/register.js";
import { forgetKept, told } from "./kept.js";
import { giveBack, sheetFor } from "./sheets.js";
import { momentsOf, smeared } from "./smears.js";
import { around } from "./spaces.js";
import { columnAt, rowAt, showsAt } from "./table.js";
import { drawnPart, outlineAt, parsed, traced } from "./tracing.js";

const pictures = new Map();
let onPicture = () => {};
export function whenPictureArrives(call) {
  onPicture = call;
}

function picture(hash) {
  let found = pictures.get(hash);
  if (!found) {
    found = new Image();
    found.onload = () => {
      forgetKept();
      onPicture();
    };
    found.src = `/api/assets/${hash}`;
    pictures.set(hash, found);
  }
  return found;
}
export const picturesReady = () => Promise.all([...pictures.values()].map((image) => image.decode().catch(() => {})));

// A gradient of one stop or of no size is its last colour, as SVG 2 has it.
function flat(paint) {
  if (paint.kind === "solid") return paint;
  const still = paint.kind === "linear" ? paint.x1 === paint.x2 && paint.y1 === paint.y2 : paint.r <= 0;
  return still || paint.stops.length === 1 ? { kind: "solid", colour: paint.stops.at(-1).colour } : paint;
}

export function prepare(drawing) {
  const node = (told) => {
    if (told.kind === "group")
      return {
        ...told,
        clip: typeof told.clip === "string" ? new Path2D(told.clip) : null,
        nodes: told.nodes.map(node),
      };
    if (told.kind === "bitmap") {
      picture(told.asset);
      return told;
    }
    const stroke = told.stroke && { ...told.stroke, paint: flat(told.stroke.paint) };
    return { ...told, fill: told.fill && flat(told.fill), stroke, path: new Path2D(told.outline) };
  };
  return { bounds: drawing.bounds, nodes: drawing.nodes.map(node) };
}

function gradient(ctx, paint) {
  const made =
    paint.kind === "linear"
      ? ctx.createLinearGradient(paint.x1, paint.y1, paint.x2, paint.y2)
      : ctx.createRadialGradient(paint.fx, paint.fy, paint.fr, paint.cx, paint.cy, paint.r);
  for (const stop of paint.stops) made.addColorStop(stop.offset, stop.colour);
  return made;
}

// A gradient's own matrix: the pen is put into gradient space and the path brought back out of it.
function inGradientSpace(ctx, paint, path, draw) {
  const matrix = new DOMMatrix(paint.matrix);
  if (Math.abs(matrix.a * matrix.d - matrix.b * matrix.c) < 1e-12) return;
  const moved = new Path2D();
  moved.addPath(path, matrix.inverse());
  ctx.save();
  ctx.transform(...paint.matrix);
  draw(gradient(ctx, paint), moved);
  ctx.restore();
}

function strokeStyle(ctx, stroke) {
  ctx.lineWidth = stroke.width;
  ctx.lineCap = stroke.cap;
  ctx.lineJoin = stroke.join;
  ctx.miterLimit = stroke.miter_limit;
  ctx.setLineDash(stroke.dash);
  ctx.lineDashOffset = stroke.dash_offset;
}

function drawShape(ctx, node) {
  ctx.save();
  ctx.transform(...node.matrix);
  const { fill, stroke } = node;
  if (fill) {
    const before = ctx.globalAlpha;
    ctx.globalAlpha = before * (node.filled ?? 1);
    if (fill.kind === "solid") {
      ctx.fillStyle = fill.colour;
      ctx.fill(node.path, node.rule);
    } else {
      inGradientSpace(ctx, fill, node.path, (style, path) => {
        ctx.fillStyle = style;
        ctx.fill(path, node.rule);
      });
    }
    ctx.globalAlpha = before;
  }
  if (stroke) {
    strokeStyle(ctx, stroke);
    if (stroke.paint.kind === "radial") strokeRadial(ctx, node);
    else {
      ctx.strokeStyle = stroke.paint.kind === "solid" ? stroke.paint.colour : laidLinear(ctx, stroke.paint);
      ctx.stroke(node.line || node.path);
    }
  }
  ctx.restore();
}

// A linear gradient through its matrix is a linear gradient again: its lines of one colour go where the matrix puts them,
// and it runs square to those.
function laidLinear(ctx, paint) {
  const [a, b, c, d, e, f] = paint.matrix;
  const at = (x, y) => [a * x + c * y + e, b * x + d * y + f];
  const [p, q] = [at(paint.x1, paint.y1), at(paint.x2, paint.y2)];
  const [wx, wy] = [-(paint.y2 - paint.y1), paint.x2 - paint.x1];
  const [lx, ly] = [a * wx + c * wy, b * wx + d * wy];
  const size = lx * lx + ly * ly;
  if (size < 1e-18) return "transparent";
  const along = ((q[0] - p[0]) * -ly + (q[1] - p[1]) * lx) / size;
  return gradient(ctx, { ...paint, x1: p[0], y1: p[1], x2: p[0] - ly * along, y2: p[1] + lx * along });
}

// A pen keeps its shape while its paint has a space of its own: the stroke is painted aside, and filled with its paint.
function strokeRadial(ctx, node) {
  const { paint } = node.stroke;
  const [a, b, c, d] = paint.matrix;
  if (Math.abs(a * d - b * c) < 1e-12) return;
  const spare = sheetFor(ctx);
  spare.save();
  spare.setTransform(ctx.getTransform());
  strokeStyle(spare, node.stroke);
  spare.strokeStyle = "#000";
  spare.stroke(node.line || node.path);
  spare.globalCompositeOperation = "source-in";
  spare.transform(...paint.matrix);
  const back = spare.getTransform().inverse();
  const corners = [
    [0, 0],
    [spare.canvas.width, 0],
    [spare.canvas.width, spare.canvas.height],
    [0, spare.canvas.height],
  ].map(([x, y]) => back.transformPoint({ x, y }));
  spare.fillStyle = gradient(spare, paint);
  spare.beginPath();
  for (const corner of corners) spare.lineTo(corner.x, corner.y);
  spare.fill();
  spare.restore();
  ctx.save();
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.drawImage(spare.canvas, 0, 0);
  ctx.restore();
  giveBack(spare);
}

function drawNode(ctx, node) {
  if (node.kind === "group") {
    ctx.save();
    if (node.clip) ctx.clip(node.clip, node.clip_rule);
    together(ctx, node.opacity, node.nodes);
    ctx.restore();
  } else if (node.kind === "bitmap") {
    const image = picture(node.asset);
    if (image.complete && image.naturalWidth) ctx.drawImage(image, node.x, node.y, node.width, node.height);
  } else drawShape(ctx, node);
}

// Several things under one opacity are painted aside and laid on as one; a single fill needs no detour.
function together(ctx, opacity, nodes) {
  if (opacity <= 0) return;
  const single =
    nodes.length === 1 &&
    (nodes[0].kind === "bitmap" || (nodes[0].kind === "shape" && !(nodes[0].fill && nodes[0].stroke)));
  if (opacity >= 1 || single) {
    const before = ctx.globalAlpha;
    ctx.globalAlpha = before * opacity;
    for (const node of nodes) drawNode(ctx, node);
    ctx.globalAlpha = before;
    return;
  }
  const spare = sheetFor(ctx);
  spare.setTransform(ctx.getTransform());
  spare.imageSmoothingQuality = "high";
  for (const node of nodes) drawNode(spare, node);
  ctx.save();
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.globalAlpha *= opacity;
  ctx.drawImage(spare.canvas, 0, 0);
  ctx.restore();
  giveBack(spare);
}

const rgba = (block, frame) => ({ kind: "solid", colour: cssColour(columnAt(block, frame)) });

// What an item is made of at a frame: its drawing, or the one shape of it with the looks it has then.
function nodesAt(item, frame) {
  const { look, outline, drawing } = item;
  const [node] = drawing.nodes;
  if ((!look && !outline) || node?.kind !== "shape") return drawing.nodes;
  const traces = outline ? outlineAt(outline, frame) : null;
  const made = { ...node, path: traces ? traced(traces) : node.path };
  return [look ? looksAt(made, node, { look, traces, frame }) : made];
}

// A shape with the looks it has at a frame.
function looksAt(made, node, { look, traces, frame }) {
  if (made.fill) made.fill = paintAt(made.fill, look, "fill", frame);
  if (look.filled) [made.filled] = columnAt(look.filled, frame);
  if (made.stroke) made.stroke = strokeAt(made.stroke, look, frame);
  if (look.drawn && made.stroke) {
    node.parsed ||= traces ? null : parsed(node.cubics || node.outline);
    made.line = drawnPart(traces || node.parsed, columnAt(look.drawn, frame));
  }
  return made;
}

// A fill's or a stroke's paint at a frame: its colour, or its gradient's ends and stops.
function paintAt(paint, look, of, frame) {
  const [ends, stops] = [look[`${of}_ends`], look[`${of}_stops`]];
  if (ends && stops && paint.kind !== "solid") {
    const [x1, y1, x2, y2] = columnAt(ends, frame);
    const rows = columnAt(stops, frame);
    const made = { ...paint, stops: [] };
    for (let n = 0; n < rows.length; n += 5)
      made.stops.push({ offset: Math.min(1, rows[n]), colour: cssColour(rows.subarray(n + 1, n + 5)) });
    if (paint.kind === "linear") return flat(Object.assign(made, { x1, y1, x2, y2 }));
    return flat(Object.assign(made, { cx: x1, cy: y1, fx: x1, fy: y1, r: Math.hypot(x2 - x1, y2 - y1) }));
  }
  return look[of] && paint.kind === "solid" ? rgba(look[of], frame) : paint;
}

// A stroke with what of it is keyed; null where it has no width then.
function strokeAt(stroke, look, frame) {
  const made = { ...stroke };
  made.paint = paintAt(made.paint, look, "stroke", frame);
  if (look.dash) made.dash = [...columnAt(look.dash, frame)];
  if (look.dash_offset) [made.dash_offset] = columnAt(look.dash_offset, frame);
  if (look.stroke_width) [made.width] = columnAt(look.stroke_width, frame);
  return look.stroke_width && made.width <= 0 ? null : made;
}

export function boundsAt(item, frame) {
  if (item.dots) return boundsOfDots(item.dots, frame);
  return item.look?.bounds ? columnAt(item.look.bounds, frame) : item.drawing.bounds;
}

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
  ctx.save();
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.globalAlpha *= opacity;
  ctx.drawImage(spare.canvas, 0, 0);
  ctx.restore();
  giveBack(spare);
}

const probe = typeof document === "undefined" ? null : document.createElement("canvas").getContext("2d");
// Whether a place in the scene lies on an item: on its paint, or, as one takes a text, anywhere in its box.
export function hits(item, frame, x, y, slack, whole = false) {
  const row = rowAt(item, frame);
  if (row[6] <= 0) return false;
  if (item.dots) {
    const back = new DOMMatrix([...row.subarray(0, 6)]).inverse();
    const at = back.transformPoint({ x, y });
    return onDots(item.dots, frame, at.x, at.y, slack / (Math.hypot(row[0], row[1]) || 1));
  }
  if (whole) {
    const [left, top, right, bottom] = boundsAt(item, frame);
    const box = new Path2D();
    box.rect(left, top, right - left, bottom - top);
    probe.setTransform(row[0], row[1], row[2], row[3], row[4], row[5]);
    return probe.isPointInPath(box, x, y);
  }
  const test = (nodes) =>
    nodes.some((node) => {
      if (node.kind === "group") {
        probe.setTransform(row[0], row[1], row[2], row[3], row[4], row[5]);
        return (!node.clip || probe.isPointInPath(node.clip, x, y, node.clip_rule)) && test(node.nodes);
      }
      probe.setTransform(row[0], row[1], row[2], row[3], row[4], row[5]);
      if (node.kind === "bitmap") {
        const path = new Path2D();
        path.rect(node.x, node.y, node.width, node.height);
        return probe.isPointInPath(path, x, y);
      }
      const [a, b, c, d, e, f] = node.matrix;
      probe.transform(a, b, c, d, e, f);
      if (node.fill && probe.isPointInPath(node.path, x, y, node.rule)) return true;
      const scale = Math.hypot(row[0], row[1]) * Math.hypot(node.matrix[0], node.matrix[1]) || 1;
      probe.lineWidth = (node.stroke ? node.stroke.width : 0) + (2 * slack) / scale;
      return probe.isPointInStroke(node.path, x, y);
    });
  return test(nodesAt(item, frame));
}
