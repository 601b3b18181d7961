// Blur on the canvas.
import { paints } from "./register.js";

paints("blur", ({ radius: [radius] }, { size }) => (radius > 0 ? `blur(${radius * size}px)` : ""));
