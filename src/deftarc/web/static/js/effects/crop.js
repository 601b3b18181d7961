// Crop on the canvas.
import { cuts } from "./register.js";

// Px beyond all that is painted.
const FAR = 1e5;

cuts("crop", ({ left: [left], top: [top], right: [right], bottom: [bottom], softness: [soft] }, box) => {
  if (!(left || top || right || bottom)) return null;
  const [wide, high] = [box[2] - box[0], box[3] - box[1]];
  const edges = [
    left ? box[0] + left * wide : -FAR,
    top ? box[1] + top * high : -FAR,
    right ? box[2] - right * wide : FAR,
    bottom ? box[3] - bottom * high : FAR,
  ];
  const draw = (ctx) => {
    if (edges[0] < edges[2] && edges[1] < edges[3])
      ctx.fillRect(edges[0], edges[1], edges[2] - edges[0], edges[3] - edges[1]);
  };
  const holds = ({ x, y }) => x >= edges[0] && x <= edges[2] && y >= edges[1] && y <= edges[3];
  return { draw, soft, holds };
});
