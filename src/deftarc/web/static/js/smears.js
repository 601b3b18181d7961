// Motion blur on the canvas: the mean of an item over moments of a frame. A smear has its items by name at all moments, the
// rows that each frame's `moments` are, and by name how many of these show: `counts`.
import { layAside } from "./branches.js";
import { giveBack, sheetFor } from "./sheets.js";

// The rows of a smear that an item shows at a frame; none where it does not smear. One of a single frame says which.
export function momentsOf(item, frame, smear) {
  const counts = smear.counts[item.layer];
  if (!counts) return [];
  const at = smear.frame === undefined ? Math.min(frame, counts.length - 1) : 0;
  if (counts[at] <= 1) return [];
  const all = smear.moments[at];
  const step = all.length / counts[at];
  return all.filter((_, k) => k % step === Math.floor(step / 2));
}

// Sums up in half floats, which lose nothing of it. `paint(ctx, item, row)` paints an item at a moment.
export function smeared(ctx, item, moments, { frame, base, smear, paint }) {
  const grow = (name) => {
    const found = smear.items.get(name);
    return found?.children ? { ...found, parts: found.children.map(grow).filter(Boolean) } : found;
  };
  const made = grow(item.layer);
  if (!made) return;
  const alone = { ...made, blend: undefined, matte: undefined };
  const total = halfFloats(ctx);
  total.globalCompositeOperation = "lighter";
  total.globalAlpha = 1 / moments.length;
  for (const moment of moments) {
    const one = sheetFor(ctx);
    paint(one, alone, moment);
    total.drawImage(one.canvas, 0, 0);
    giveBack(one);
  }
  const laid = { blend: item.blend, matte: item.matte };
  layAside(ctx, laid, frame, base, new DOMMatrix(), 1, {
    draw: (on) => {
      on.setTransform(1, 0, 0, 1, 0, 0);
      on.drawImage(total.canvas, 0, 0);
    },
    box: () => [0, 0, 0, 0],
    painted: () => null,
    tell: () => false,
    show: (on) => item.matte?.item && paint(on, item.matte.item, frame),
  });
}

let sum = null;
function halfFloats({ canvas: { width, height } }) {
  // A browser that has none sums in bytes, which is nearly as good.
  sum ||= document.createElement("canvas").getContext("2d", /** @type {any} */ ({ colorType: "float16" }));
  if (sum.canvas.width !== width || sum.canvas.height !== height) Object.assign(sum.canvas, { width, height });
  sum.globalCompositeOperation = "source-over";
  sum.globalAlpha = 1;
  sum.clearRect(0, 0, width, height);
  return sum;
}
