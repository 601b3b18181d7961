// Paints drawings through a FrameTable's matrices on a 2D canvas. Knows no rule of motion.
import { giveBack, goesAside, layAside, sheetFor, through } from "./branches.js";
import { cssColour } from "./effects/register.js";
import { columnAt, rowAt } from "./table.js";

const pictures = new Map();
let onPicture = () => {};
export function whenPictureArrives(call) {
  onPicture = call;
}

function picture(hash) {
  let found = pictures.get(hash);
  if (!found) {
    found = new Image();
    found.onload = () => onPicture();
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
    if (fill.kind === "solid") {
      ctx.fillStyle = fill.colour;
      ctx.fill(node.path, node.rule);
    } else {
      inGradientSpace(ctx, fill, node.path, (style, path) => {
        ctx.fillStyle = style;
        ctx.fill(path, node.rule);
      });
    }
  }
  if (stroke) {
    strokeStyle(ctx, stroke);
    if (stroke.paint.kind === "radial") strokeRadial(ctx, node);
    else {
      ctx.strokeStyle = stroke.paint.kind === "solid" ? stroke.paint.colour : laidLinear(ctx, stroke.paint);
      ctx.stroke(node.path);
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
  spare.stroke(node.path);
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

// The path of an outline that changes, as it is at a frame.
function traced(outline, frame) {
  const at = columnAt(outline, frame);
  const path = new Path2D();
  let n = 0;
  for (const verb of outline.verbs) {
    if (verb === "M") path.moveTo(at[n], at[n + 1]);
    else if (verb === "L") path.lineTo(at[n], at[n + 1]);
    else if (verb === "C") path.bezierCurveTo(at[n], at[n + 1], at[n + 2], at[n + 3], at[n + 4], at[n + 5]);
    else path.closePath();
    n += { M: 2, L: 2, C: 6, Z: 0 }[verb];
  }
  return path;
}

const rgba = (block, frame) => ({ kind: "solid", colour: cssColour(columnAt(block, frame)) });

// What an item is made of at a frame: its drawing, or the one shape of it with the looks it has then.
function nodesAt(item, frame) {
  const { look, outline, drawing } = item;
  const [node] = drawing.nodes;
  if ((!look && !outline) || node?.kind !== "shape") return drawing.nodes;
  const made = { ...node };
  if (outline) made.path = traced(outline, frame);
  if (look?.fill && made.fill) made.fill = rgba(look.fill, frame);
  if (look && made.stroke) made.stroke = strokeAt(made.stroke, look, frame);
  return [made];
}

// A stroke with what of it is keyed; null where it has no width then.
function strokeAt(stroke, look, frame) {
  const made = { ...stroke };
  if (look.stroke) made.paint = rgba(look.stroke, frame);
  if (look.dash_offset) [made.dash_offset] = columnAt(look.dash_offset, frame);
  if (look.stroke_width) [made.width] = columnAt(look.stroke_width, frame);
  return look.stroke_width && made.width <= 0 ? null : made;
}

export const boundsAt = (item, frame) => (item.look?.bounds ? columnAt(item.look.bounds, frame) : item.drawing.bounds);

// Whether two states of an item look alike at a frame: then the picture need not be painted again for it.
export function alikeAt(one, other, frame) {
  if ([one, other].some((item) => item.look || item.outline || item.effects || item.blend || item.children))
    return false;
  if (one.drawing !== other.drawing) return false;
  const [a, b] = [rowAt(one, frame), rowAt(other, frame)];
  return showsAt(one, frame) === showsAt(other, frame) && a.every((n, k) => n === b[k]);
}

export const showsAt = (item, frame) => frame >= item.shows[0] && frame < item.shows[1];

// Items from the bottom up, each with its prepared drawing, or with the parts that are put together for it; base is the
// matrix from scene px to canvas px.
export function paint(ctx, items, frame, base) {
  ctx.imageSmoothingEnabled = true;
  ctx.imageSmoothingQuality = "high";
  for (const item of items) {
    const at = item.still ? item.frame : frame;
    if (!(item.drawing || item.parts) || !showsAt(item, at)) continue;
    const row = rowAt(item, at);
    if (row[6] <= 0) continue;
    if (item.clip && isPlain(item, row[6])) within(ctx, item, at, base, () => paint(ctx, item.parts, frame, base));
    else if (goesAside(item)) {
      layAside(ctx, item, at, through(item, at, base), row[6], (sheet) => {
        if (item.clip) within(sheet, item, at, base, () => paint(sheet, item.parts, frame, base));
        else if (item.parts) paint(sheet, item.parts, frame, base);
        else drawLeaf(sheet, item, at, base, 1);
      });
    } else drawLeaf(ctx, item, at, base, row[6]);
  }
}

// Whether a scene that is shown can be painted where it lies: nothing of it has to be put together first.
const isPlain = (item, opacity) =>
  opacity >= 1 && !item.blend && !item.effects && item.parts.every((part) => !part.blend);

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
  together(ctx, opacity, nodesAt(item, frame));
}

const probe = typeof document === "undefined" ? null : document.createElement("canvas").getContext("2d");
// Whether a place in the scene lies on an item: on its paint, or, as one takes a text, anywhere in its box.
export function hits(item, frame, x, y, slack, whole = false) {
  const row = rowAt(item, frame);
  if (row[6] <= 0) return false;
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
