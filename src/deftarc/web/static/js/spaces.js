// Matrices from an item's px to the canvas's, and how finely what is soft is drawn in them.

export const area = (matrix) => Math.abs(matrix.a * matrix.d - matrix.b * matrix.c);

// What a matrix does to lengths and steps, where it keeps shapes; null where it squeezes or skews them.
export function spaceOf({ a, b, c, d }) {
  const size = Math.sqrt(Math.abs(a * d - b * c));
  const even =
    Math.abs(a * c + b * d) <= 1e-6 * size * size && Math.abs(Math.hypot(a, b) - Math.hypot(c, d)) <= 1e-6 * size;
  return even ? { size, turned: (x, y) => [a * x + c * y, b * x + d * y] } : null;
}

export const PLAIN = { size: 1, turned: (x, y) => [x, y] };

// The box around a box that a matrix moves.
/** @param {number[]} box
 * @returns {number[]} */
export function around([left, top, right, bottom], matrix) {
  const spots = [left, right].flatMap((x) => [top, bottom].map((y) => matrix.transformPoint({ x, y })));
  const [xs, ys] = [spots.map((p) => p.x), spots.map((p) => p.y)];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

// A Gaussian of so many px is as good as one drawn finer and enlarged. Browsers make it of three boxes of whole px: this is where
// they are just seven wide, once it is made as much narrower as it will be widened.
export const FINE = Math.hypot((7 * 4) / (3 * Math.sqrt(2 * Math.PI)), 0.5);

// Whether what is softened by so many px of the canvas can be drawn once and then laid on through any matrix: made so coarse that
// FINE of its px are what it is softened by, it must not come to be much larger than it is on the canvas.
export const keepsSoft = (px) => px > FINE / 2;

// By what a Gaussian of px is made narrower that will be enlarged: drawing it in larger steps, and going evenly from one to the
// next, widen it as Gaussians whose variances are 1/12 and 1/6 of a step's square would.
export const enlarged = (px) => Math.sqrt(Math.max(0.25, 1 - 1 / 4 / (px * px)));
