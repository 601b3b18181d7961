// Whether a place lies on what is painted.
import { onDots } from "./dots.js";
import { boundsAt, nodesAt } from "./shapes.js";
import { rowAt } from "./table.js";

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
