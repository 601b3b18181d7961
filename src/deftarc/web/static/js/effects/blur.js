// Blur on the canvas.
import { SOFTENS, svgFilter, treats } from "./register.js";

SOFTENS.set("blur", ({ radius: [radius], along: [along] }) => (along ? 0 : radius));

treats("blur", ({ radius: [radius], angle: [angle], along: [along] }, { size, sizes, turned }) => {
  const sigma = radius * size;
  if (sigma <= 0) return "";
  if (!along && sizes) return svgFilter(`<feGaussianBlur stdDeviation="${radius * sizes[0]} ${radius * sizes[1]}"/>`);
  if (!along) return `blur(${sigma}px)`;
  const way = (angle * Math.PI) / 180;
  const [x, y] = turned(Math.cos(way), Math.sin(way));
  const degrees = (Math.atan2(y, x) * 180) / Math.PI;
  const quarters = Math.round(degrees / 90);
  const one = (across, down) => svgFilter(`<feGaussianBlur stdDeviation="${across} ${down}"/>`);
  // Nothing has to be turned.
  if (Math.abs(degrees - 90 * quarters) < 1e-6) return quarters % 2 ? one(0, sigma) : one(sigma, 0);
  return (sheet, spare) => turnedBlur(sheet, spare, degrees, one(sigma, 0), 3 * sigma);
});

// Turned so that the blur lies level, blurred, and turned back.
function turnedBlur(sheet, spare, degrees, words, reach) {
  const { width, height } = sheet.canvas;
  const side = Math.ceil(Math.hypot(width, height) + 2 * reach) + 4;
  const level = spare(side, side);
  const about = new DOMMatrix()
    .translate(side / 2, side / 2)
    .rotate(-degrees)
    .translate(-width / 2, -height / 2);
  level.setTransform(about);
  level.drawImage(sheet.canvas, 0, 0);
  const blurred = spare(side, side);
  blurred.filter = words;
  blurred.drawImage(level.canvas, 0, 0);
  const out = spare(width, height);
  out.setTransform(about.inverse());
  out.drawImage(blurred.canvas, 0, 0);
  out.setTransform(1, 0, 0, 1, 0, 0);
  return out;
}
