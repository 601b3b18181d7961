// What an item is made of at a frame: its drawing, or a shape with the colours, gradients, widths and outline it has then.
import { boundsOfDots } from "./dots.js";
import { flat } from "./drawings.js";
import { cssColour } from "./effects/register.js";
import { columnAt } from "./table.js";
import { drawnPart, outlineAt, parsed, traced } from "./tracing.js";

const rgba = (block, frame) => ({ kind: "solid", colour: cssColour(columnAt(block, frame)) });

// What an item is made of at a frame: its drawing, or the one shape of it with the looks it has then.
export function nodesAt(item, frame) {
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

// Left, top, right and bottom of an item's artwork at a frame, in its px.
export function boundsAt(item, frame) {
  if (item.dots) return boundsOfDots(item.dots, frame);
  return item.look?.bounds ? columnAt(item.look.bounds, frame) : item.drawing.bounds;
}
