// Rings and particles on the canvas. Numbers as docs/format.md has them.
import { cssColour } from "./effects/register.js";

// Stops by which a ring's soft edges are told, and how many standard deviations out these go.
const [STOPS, OUT] = [13, 3];

const last = ({ first, starts }) => first + starts.length - 2;

// Whether a frame's rings or particles are here: those of a long scene come a stretch at a time.
export const hasDots = (dots, frame) =>
  [dots, ...(dots.more || [])].some((part) => frame >= part.first && frame <= last(part));

// As many stretches are kept besides the one that came with the rest.
const MOST = 4;
export function addDots(dots, part) {
  dots.more = [part, ...(dots.more || [])].slice(0, MOST);
}

// The numbers of a frame's rings or particles, nine each; until they are here, of the nearest frame that is.
export function dotsAt(dots, frame) {
  const off = (part) => Math.max(part.first - frame, frame - last(part), 0);
  let part = dots;
  for (const other of dots.more || []) if (off(other) < off(part)) part = other;
  const k = Math.max(0, Math.min(frame - part.first, part.starts.length - 2));
  return part.numbers.subarray(part.starts[k] * dots.wide, part.starts[k + 1] * dots.wide);
}

// Left, top, right and bottom of a frame's rings or particles, in their layer's px.
export function boundsOfDots(dots, frame) {
  const at = dotsAt(dots, frame);
  if (!at.length) return [0, 0, 0, 0];
  const box = [Infinity, Infinity, -Infinity, -Infinity];
  for (let n = 0; n < at.length; n += 9) {
    const reach = dots.kind === "rings" ? at[n + 2] + at[n + 3] / 2 + 3 * at[n + 4] : at[n + 2] / 2;
    for (const axis of [0, 1]) {
      box[axis] = Math.min(box[axis], at[n + axis] - reach);
      box[axis + 2] = Math.max(box[axis + 2], at[n + axis] + reach);
    }
  }
  return box;
}

// `shaped` is what particles look like, where they are no discs or polygons: { bounds, draw(ctx) }.
export function drawDots(ctx, dots, frame, shaped) {
  const at = dotsAt(dots, frame);
  const unit = dots.sides > 2 ? polygon(dots.sides) : null;
  const before = ctx.globalAlpha;
  // A colour is read from words, which takes longer than a disc does: most have the one of the disc before.
  let [red, green, blue] = [-1, -1, -1];
  for (let n = 0; n < at.length; n += 9) {
    const row = at.subarray(n, n + 9);
    if (row[8] <= 0 || row[dots.kind === "rings" ? 3 : 2] <= 0) continue;
    if (dots.kind === "rings") ring(ctx, row);
    else if (shaped) drawn(ctx, row, shaped);
    else {
      if (row[5] !== red || row[6] !== green || row[7] !== blue) {
        [red, green, blue] = [row[5], row[6], row[7]];
        ctx.fillStyle = cssColour([red, green, blue, 1]);
      }
      disc(ctx, row, unit);
    }
  }
  ctx.globalAlpha = before;
}

function disc(ctx, [x, y, size, turn, , , , , a], unit) {
  if (!unit) {
    ctx.globalAlpha = a;
    ctx.beginPath();
    ctx.arc(x, y, size / 2, 0, 2 * Math.PI);
    ctx.fill();
    return;
  }
  ctx.save();
  ctx.globalAlpha = a;
  ctx.translate(x, y);
  ctx.rotate((turn * Math.PI) / 180);
  ctx.scale(size / 2, size / 2);
  ctx.fill(unit);
  ctx.restore();
}

function polygon(sides) {
  const path = new Path2D();
  for (let k = 0; k < sides; k += 1) {
    const way = (2 * Math.PI * k) / sides;
    path.lineTo(Math.sin(way), -Math.cos(way));
  }
  path.closePath();
  return path;
}

function drawn(ctx, [x, y, size, turn, , , , , a], { bounds, draw }) {
  const [left, top, right, bottom] = bounds;
  const side = Math.max(right - left, bottom - top);
  if (side <= 0) return;
  ctx.save();
  ctx.translate(x, y);
  ctx.rotate((turn * Math.PI) / 180);
  ctx.scale(size / side, size / side);
  ctx.translate(-(left + right) / 2, -(top + bottom) / 2);
  draw(ctx, a);
  ctx.restore();
}

function ring(ctx, [x, y, radius, width, soft, r, g, b, a]) {
  ctx.beginPath();
  if (soft <= 0) {
    ctx.strokeStyle = cssColour([r, g, b, a]);
    ctx.lineWidth = width;
    ctx.setLineDash([]);
    ctx.arc(x, y, radius, 0, 2 * Math.PI);
    ctx.stroke();
    return;
  }
  const stops = ringStops(radius - width / 2, radius + width / 2, soft);
  const far = stops.at(-1)[0];
  const made = ctx.createRadialGradient(x, y, 0, x, y, far);
  for (const [at, part] of stops) made.addColorStop(at / far, cssColour([r, g, b, a * part]));
  ctx.fillStyle = made;
  ctx.arc(x, y, far, 0, 2 * Math.PI);
  ctx.fill();
}

// How much of a ring's colour there is at distances from its middle: as a straight band softened by a Gaussian.
function ringStops(inner, outer, soft) {
  const much = (at) => 0.5 * (erf((at - inner) / (soft * Math.SQRT2)) - erf((at - outer) / (soft * Math.SQRT2)));
  const spots = new Set([0]);
  for (const edge of [inner, outer])
    for (let k = 0; k < STOPS; k += 1) spots.add(edge + soft * OUT * ((2 * k) / (STOPS - 1) - 1));
  return [...spots]
    .filter((at) => at >= 0)
    .sort((p, q) => p - q)
    .map((at) => [at, Math.max(0, much(at))]);
}

// Abramowitz & Stegun, 7.1.26: within 1.5e-7.
function erf(x) {
  const t = 1 / (1 + 0.3275911 * Math.abs(x));
  const sum = t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))));
  return Math.sign(x) * (1 - sum * Math.exp(-x * x));
}

// Whether a place in an item's px lies on one of them, within some px.
export function onDots(dots, frame, x, y, slack) {
  const at = dotsAt(dots, frame);
  for (let n = 0; n < at.length; n += 9) {
    const far = Math.hypot(at[n] - x, at[n + 1] - y);
    const hit =
      dots.kind === "rings"
        ? Math.abs(far - at[n + 2]) <= at[n + 3] / 2 + at[n + 4] + slack
        : far <= at[n + 2] / 2 + slack;
    if (hit && at[n + 8] > 0) return true;
  }
  return false;
}
