// Shadow on the canvas.
import { cssColour, paints, svgFilter } from "./register.js";

// How much of a Gaussian lies beyond one standard deviation, and how steep it is there; px that are no spread.
const [BEYOND, STEEP, LEAST] = [0.15865525393145707, 0.24197072451914337, 0.05];

paints("shadow", (values, { size, sizes, turned }) => {
  const { distance, direction, softness, spread, colour, opacity, only } = values;
  const alpha = colour[3] * opacity[0];
  if (alpha <= 0 && !only[0]) return "";
  const way = (direction[0] * Math.PI) / 180;
  const [x, y] = turned(distance[0] * Math.cos(way), distance[0] * Math.sin(way));
  const by = sizes || [size, size];
  const soft = by.map((each) => softness[0] * each);
  const far = spread[0] * size;
  const paint = cssColour([colour[0], colour[1], colour[2], alpha]);
  if (Math.abs(far) < LEAST && !only[0] && !sizes) return `drop-shadow(${x}px ${y}px ${soft[0]}px ${paint})`;
  return svgFilter(
    `${grown(spread[0], by, sizes ? 1 : size)}<feOffset dx="${x}" dy="${y}"/>${soft[0] > 0 ? `<feGaussianBlur stdDeviation="${soft[0]} ${soft[1]}"/>` : ""}` +
      `<feColorMatrix values="0 0 0 0 ${colour[0]} 0 0 0 0 ${colour[1]} 0 0 0 0 ${colour[2]} 0 0 0 ${alpha} 0" result="shadow"/>` +
      (only[0] ? "" : '<feMerge><feMergeNode in="shadow"/><feMergeNode in="SourceGraphic"/></feMerge>'),
  );
});

// Its shape, moved out: blurred and cut where a straight edge has moved by just so much. `by` is what lengths grow by across
// and down, `fine` by what its edge is as sharp as it was.
function grown(px, by, fine) {
  const far = px * fine;
  if (Math.abs(far) < LEAST) return '<feOffset in="SourceAlpha" dx="0" dy="0"/>';
  const slope = Math.max(Math.abs(far) / STEEP, 0.5 / BEYOND);
  const more = 0.5 - slope * (far > 0 ? BEYOND : 1 - BEYOND);
  return (
    `<feGaussianBlur in="SourceAlpha" stdDeviation="${Math.abs(px) * by[0]} ${Math.abs(px) * by[1]}"/>` +
    `<feColorMatrix values="0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 ${slope} ${more}"/>`
  );
}
