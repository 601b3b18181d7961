// Ghosts: what is selected as it is some frames before and after, faint, cool before and warm after.
import { paint } from "./painter.js";
import { shownItem, wholeOf } from "./picking.js";
import { like, liked, state } from "./state.js";

// The frames that ghosts show, the furthest first.
export function ghostFrames() {
  if (!liked.ghosts || state.playing) return [];
  const out = [];
  for (let n = Math.max(liked.ghostsBefore, liked.ghostsAfter); n > 0; n -= 1) {
    for (const [after, most, sign] of [
      [false, liked.ghostsBefore, -1],
      [true, liked.ghostsAfter, 1],
    ]) {
      const frame = state.frame + sign * n * liked.ghostStep;
      if (n <= most && frame >= 0 && frame < state.scene.frames) out.push({ frame, after, far: n });
    }
  }
  return out;
}

const sheet = document.createElement("canvas");
const TINTS = { before: "#2f6fb0", after: "#c2621c", take: "#5b4bb3" };

function fitSheet(ctx) {
  if (sheet.width === ctx.canvas.width && sheet.height === ctx.canvas.height) return;
  sheet.width = ctx.canvas.width;
  sheet.height = ctx.canvas.height;
}

// What is on the sheet, tinted, laid down faintly.
function layDown(ctx, pen, tint, strength) {
  pen.setTransform(1, 0, 0, 1, 0, 0);
  pen.globalCompositeOperation = "source-atop";
  pen.globalAlpha = 0.62;
  pen.fillStyle = tint;
  pen.fillRect(0, 0, sheet.width, sheet.height);
  pen.globalAlpha = 1;
  ctx.save();
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.globalAlpha = strength;
  ctx.drawImage(sheet, 0, 0);
  ctx.restore();
}

// Painted between the picture and what is laid over it: each on a sheet of its own, tinted, then laid down faintly.
export function paintGhosts(ctx, base) {
  const frames = ghostFrames();
  if (!frames.length || !state.layers.length) return;
  fitSheet(ctx);
  const pen = sheet.getContext("2d");
  const items = state.order
    .filter((id) => state.layers.includes(id))
    .reverse()
    .map((id) => wholeOf(id, (each) => state.items.get(each) || shownItem(each)))
    .filter(Boolean);
  for (const { frame, after, far } of frames) {
    pen.setTransform(1, 0, 0, 1, 0, 0);
    pen.globalCompositeOperation = "source-over";
    pen.clearRect(0, 0, sheet.width, sheet.height);
    pen.setTransform(...base);
    for (const item of items) paint(pen, [item], frame, base);
    layDown(ctx, pen, TINTS[after ? "after" : "before"], 0.42 / (1 + 0.35 * (far - 1)));
  }
}

// Another take laid over what shows: its layers by themselves, tinted, at the same frame; the takes say which.
let beside = null;
export const layTakeOver = (tree) => {
  beside = tree;
};
export function paintTakeGhost(ctx, base) {
  if (!beside) return;
  fitSheet(ctx);
  const pen = sheet.getContext("2d");
  pen.setTransform(1, 0, 0, 1, 0, 0);
  pen.globalCompositeOperation = "source-over";
  pen.clearRect(0, 0, sheet.width, sheet.height);
  pen.setTransform(...base);
  paint(pen, beside, state.frame, base);
  layDown(ctx, pen, TINTS.take, 0.5);
}

export function wireGhosts(changed) {
  const menu = document.getElementById("view-menu");
  const show = () => {
    for (const field of menu.querySelectorAll("[data-ghost]")) field.value = liked[field.dataset.ghost];
  };
  menu.addEventListener("change", (event) => {
    const field = event.target.closest("[data-ghost]");
    if (!field) return;
    const [least, most] = field.dataset.ghost === "ghostStep" ? [1, 50] : [0, 12];
    const n = Math.round(Number(field.value));
    if (Number.isFinite(n)) like(field.dataset.ghost, Math.max(least, Math.min(most, n)));
    show();
    changed();
  });
  show();
}
