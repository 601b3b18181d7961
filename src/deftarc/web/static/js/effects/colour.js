// Colour on the canvas: CSS's own functions, and a tint.
import { colours, svgFilter } from "./register.js";

const [R, G, B] = [0.213, 0.715, 0.072];

colours("colour", (values) => {
  const { brightness, contrast, saturation, hue, invert, tinted, tint } = Object.fromEntries(
    Object.entries(values).map(([name, numbers]) => [name, numbers.length > 1 ? numbers : numbers[0]]),
  );
  const words = [];
  if (brightness !== 1) words.push(`brightness(${brightness})`);
  if (contrast !== 1) words.push(`contrast(${contrast})`);
  if (saturation !== 1) words.push(`saturate(${saturation})`);
  if (hue % 360) words.push(`hue-rotate(${hue}deg)`);
  if (invert > 0) words.push(`invert(${invert})`);
  if (tinted > 0) words.push(tinting(tinted, tint));
  return words.join(" ");
});

// So much of a colour as light as what it tints.
function tinting(amount, tint) {
  const rows = [0, 1, 2].map((k) =>
    [R, G, B, 0, 0].map((part, n) => amount * part * tint[k] + (n === k ? 1 - amount : 0)),
  );
  return svgFilter(`<feColorMatrix values="${rows.flat().join(" ")} 0 0 0 1 0"/>`);
}
