// Drawings, prepared once, and their shapes painted on a canvas: fills, strokes, gradients, groups and pictures.
import { forgetKept } from "./kept.js";
import { giveBack, lay, sheetFor } from "./sheets.js";

const pictures = new Map();
let onPicture = () => {};
export function whenPictureArrives(call) {
  onPicture = call;
}

export function picture(hash) {
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
export function flat(paint) {
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
export function together(ctx, opacity, nodes) {
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
  lay(ctx, spare, "source-over", ctx.globalAlpha * opacity);
  giveBack(spare);
}
