// Small pictures that move: candidates with tables of their own, painted on a canvas of 300 by 150 each.
import { paint } from "./painter.js";
import { grown } from "./table.js";

export const WIDE = 300;
export const HIGH = 150;

// Candidates as they are painted: each item with its drawing.
export function dress(candidates, drawingOf) {
  for (const candidate of candidates)
    if (candidate.items) {
      for (const item of candidate.items) item.drawing = drawingOf(item.layer);
      candidate.tree = grown(candidate.items, candidate.table.roots);
    }
}

// Where what boxes sweep over lies on such a canvas, with a little room around it.
export function baseFor(boxes, [width, height]) {
  const known = boxes.filter(Boolean);
  const box = known.length
    ? [0, 1, 2, 3].map((n) => Math[n < 2 ? "min" : "max"](...known.map((each) => each[n])))
    : [0, 0, width, height];
  const room = 0.06 * Math.max(box[2] - box[0], box[3] - box[1], 40);
  const zoom = Math.min(WIDE / (box[2] - box[0] + 2 * room), HIGH / (box[3] - box[1] + 2 * room));
  return [zoom, 0, 0, zoom, (WIDE - zoom * (box[0] + box[2])) / 2, (HIGH - zoom * (box[1] + box[3])) / 2];
}

export function paintSmall(ctx, background, tree, frame, base) {
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.globalAlpha = 1;
  ctx.fillStyle = background || "#d2cec4";
  ctx.fillRect(0, 0, WIDE, HIGH);
  paint(ctx, tree, frame, base);
}
