// Shadow on the canvas.
import { cssColour, paints } from "./register.js";

paints(
  "shadow",
  (
    { distance: [distance], direction: [direction], softness: [softness], colour: [r, g, b, a], opacity: [opacity] },
    { size, turned },
  ) => {
    if (a * opacity <= 0) return "";
    const way = (direction * Math.PI) / 180;
    const [x, y] = turned(distance * Math.cos(way), distance * Math.sin(way));
    return `drop-shadow(${x}px ${y}px ${softness * size}px ${cssColour([r, g, b, a * opacity])})`;
  },
);
