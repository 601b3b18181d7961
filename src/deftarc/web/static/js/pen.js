// The pen, the line, and the points of a free path: drawing artwork, and editing it, as against moving a layer.
import { hand } from "./hands.js";
import { attempt, commit, commitTried, putBack } from "./link.js";
import { hint, say } from "./notice.js";
import { nudged } from "./nudging.js";
import { showDraft } from "./overlay.js";
import { frameOf, shownItem, stackAt } from "./picking.js";
import { choose, liked, newId, state, timeNow } from "./state.js";
import { rowAt } from "./table.js";
import { stretchMarquee, toScene, view } from "./view.js";
import { marked } from "./marked.js";

let pen = null; // { points: [{ x, y, lx, ly }], down, at }
let drag = null;
let placing = () => ({});
let done = (_id) => {};
let lastPress = { point: null, at: 0 };
let wayDone = null;
let maskDone = (_points) => {};
export const whenMaskDrawn = (call) => {
  maskDone = call;
};
export function wirePen(placed, selectTool, drawn, select) {
  selectLayers = select;
  placing = placed;
  done = selectTool;
  wayDone = drawn;
}
let selectLayers = (_layers) => {};
// Whether clicks draw: artwork with the pen or the line, or a motion path.
const isDrawing = () =>
  ["pen", "line"].includes(state.tool) ||
  (state.tool === "path" && state.pathHand === "draw") ||
  (state.tool === "mask" && state.maskHand === "draw");

const near = (a, b) => Math.hypot(a.x - b.x, a.y - b.y) * view.zoom < 8;

function straightened(from, to) {
  const angle = Math.round(Math.atan2(to.y - from.y, to.x - from.x) / (Math.PI / 4)) * (Math.PI / 4);
  const length = Math.hypot(to.x - from.x, to.y - from.y);
  return { x: from.x + Math.cos(angle) * length, y: from.y + Math.sin(angle) * length };
}

function penDown(event) {
  let at = toScene(event.clientX, event.clientY);
  pen ||= { points: [], down: false, at: null };
  const first = pen.points[0];
  if (pen.points.length > 1 && near(first, at)) {
    finish(true);
    return;
  }
  if (event.shiftKey && pen.points.length) at = straightened(pen.points.at(-1), at);
  pen.points.push({ x: at.x, y: at.y, lx: 0, ly: 0 });
  pen.down = true;
  pen.at = null;
  showDraft(pen);
}

function penMove(event) {
  if (!isDrawing()) return false;
  if (!pen && state.tool === "path") {
    hint(marked`<b>Draw the path</b> · <kbd>click</kbd> a corner, <kbd>drag</kbd> a curve · <kbd>Enter</kbd> done`);
    return true;
  }
  if (!pen) {
    hint(
      state.tool === "line"
        ? marked`<b>Line</b> · <kbd>drag</kbd> from one end to the other · <kbd>Shift</kbd> steps of 45°`
        : marked`<b>Pen</b> · <kbd>click</kbd> a corner, <kbd>drag</kbd> a curve`,
    );
    return true;
  }
  let at = toScene(event.clientX, event.clientY);
  const last = pen.points.at(-1);
  if (event.shiftKey) at = straightened(last, at);
  if (pen.down && state.tool !== "line") {
    const [lx, ly] = [at.x - last.x, at.y - last.y];
    if (Math.hypot(lx, ly) * view.zoom > 4) Object.assign(last, { lx, ly });
  } else pen.at = at;
  hint(
    marked`<b>Pen</b> · <kbd>click</kbd> a corner, <kbd>drag</kbd> a curve · first point closes · <kbd>Enter</kbd> done · <kbd>Backspace</kbd> one back · <kbd>Esc</kbd> put away`,
  );
  showDraft(pen);
  return true;
}

function penUp() {
  if (!isDrawing()) return false;
  if (!pen) return true;
  pen.down = false;
  if (state.tool === "line") {
    const [from, to] = [pen.points[0], pen.at];
    if (!to || Math.hypot(to.x - from.x, to.y - from.y) * view.zoom < 4) {
      pen = null;
      showDraft(null);
      say("Drag from one end of the line to the other.");
      return true;
    }
    pen.points.push({ x: to.x, y: to.y, lx: 0, ly: 0 });
    finish(false);
  }
  return true;
}

export function cancelPen() {
  if (drag) {
    if (drag.box) {
      choose({ points: drag.before });
      document.getElementById("picture-marquee").hidden = true;
      showDraft(null);
    }
    drag = null;
    putBack();
    return true;
  }
  if (!pen) return false;
  pen = null;
  showDraft(null);
  hint("Put away.");
  return true;
}

// Enter ends an open path, Backspace takes the last point back; true where the key was the pen's.
export function penKey(key) {
  if (!pen) return false;
  if (key === "Enter") finish(false);
  else if (key === "Backspace" || key === "Delete") {
    pen.points.pop();
    if (!pen.points.length) pen = null;
    showDraft(pen);
  } else return false;
  return true;
}

async function finish(closed) {
  const { points } = pen;
  const line = state.tool === "line";
  pen = null;
  showDraft(null);
  if (points.length < 2) {
    say("A path needs two points at least.");
    return;
  }
  if (state.tool === "mask") {
    maskDone(points.map((p) => [p.x, p.y, -p.lx, -p.ly, p.lx, p.ly].map((n) => Math.round(n * 1000) / 1000)));
    return;
  }
  if (state.tool === "path") {
    wayDone(
      points.map((p) => [p.x, p.y, -p.lx, -p.ly, p.lx, p.ly].map((n) => Math.round(n * 1000) / 1000)),
      closed,
    );
    return;
  }
  const [xs, ys] = [points.map((p) => p.x), points.map((p) => p.y)];
  const middle = { x: (Math.min(...xs) + Math.max(...xs)) / 2, y: (Math.min(...ys) + Math.max(...ys)) / 2 };
  const round = (n) => Math.round(n * 1000) / 1000;
  const row = points.map((p) => [p.x - middle.x, p.y - middle.y, -p.lx, -p.ly, p.lx, p.ly].map(round));
  const artwork = {
    kind: "free",
    contours: [{ points: row, closed }],
    fill: closed ? "#22577a" : null,
    stroke: closed ? null : "#22577a",
    stroke_width: 8,
  };
  const id = newId();
  const answer = await commit(
    /** @type {any} */ ({
      kind: "add_layer",
      scene: state.scene.id,
      name: line ? "Line" : "Path",
      artwork,
      id,
      at: [middle.x, middle.y],
      ...(await placing()),
    }),
  );
  done(answer ? id : null);
}

// Points: pressed, dragged, let go. True where the press was theirs.
function pointsDown(event) {
  const { point, part } = event.target.dataset || {};
  if (point === undefined) return besideDown(event);
  const k = Number(point);
  if (part === "point" && doubled(event, k)) {
    roundPoint(k);
    return true;
  }
  const add = event.ctrlKey || event.metaKey || event.shiftKey;
  const had = state.points.includes(k);
  if (part === "point") {
    if (!had) choose({ points: add ? [...state.points, k] : [k] });
  } else choose({ points: [k] });
  drag = {
    point: k,
    part,
    leaves: part === "point" && add && had,
    x: event.clientX,
    y: event.clientY,
    from: toScene(event.clientX, event.clientY),
    edit: null,
  };
  showDraft(null);
  return true;
}

// A press beside the points: twice on the way it adds one, on the outline's own shape or on empty ground it begins a box
// around points; others are layers.
function besideDown(event) {
  const way = event.target.dataset?.way;
  if (way !== undefined) {
    if (doubled(event, `way ${way}`)) addPoint(event);
    return true;
  }
  const marquee = onGround(event);
  if (!(event.ctrlKey || event.metaKey || event.shiftKey) && state.points.length) {
    choose({ points: [] });
    showDraft(null);
  }
  if (!marquee) return false;
  drag = { box: true, x: event.clientX, y: event.clientY, before: state.points, moved: false };
  return true;
}

function doubled(event, what) {
  const twice = lastPress.point === what && event.timeStamp - lastPress.at < 450;
  lastPress = { point: what, at: event.timeStamp };
  return twice;
}

// A step on the picture as a step in the layer's own px.
function ownStep(dx, dy) {
  const item = shownItem(state.layers[0]);
  const [a, b, c, d] = rowAt(item, frameOf(item));
  const area = a * d - b * c || 1e-9;
  return { dx: (d * dx - c * dy) / area, dy: (a * dy - b * dx) / area };
}

const common = () => ({
  scene: state.scene.id,
  layer: state.layers[0],
  mask: state.mask,
  time: timeNow(),
  keying: state.keying,
});

// Whether a press would take no other layer: then it may begin a box around points.
function onGround(event) {
  if (!state.outline) return false;
  const stack = stackAt(event.clientX, event.clientY);
  return !stack.length || stack[0] === state.layers[0];
}

// The points that lie in a box of scene px.
function pointsIn([left, top, right, bottom]) {
  const { numbers } = state.outline;
  const item = shownItem(state.layers[0]);
  const [a, b, c, d, e, f] = rowAt(item, frameOf(item));
  const out = [];
  for (let k = 0; 6 * k < numbers.length; k += 1) {
    const [x, y] = [numbers[6 * k], numbers[6 * k + 1]];
    const at = { x: a * x + c * y + e, y: b * x + d * y + f };
    if (at.x >= left && at.x <= right && at.y >= top && at.y <= bottom) out.push(k);
  }
  return out;
}

function moveBox(event) {
  if (!drag.moved && Math.hypot(event.clientX - drag.x, event.clientY - drag.y) < 3) return;
  drag.moved = true;
  const [left, top, right, bottom] = stretchMarquee(drag, event);
  const [p, q] = [toScene(left, top), toScene(right, bottom)];
  choose({ points: [...new Set([...drag.before, ...pointsIn([p.x, p.y, q.x, q.y])])] });
  hint(marked`<b>Selecting</b> ${state.points.length} point${state.points.length === 1 ? "" : "s"}`);
  showDraft(null);
}

function pointsMove(event) {
  if (!drag) return false;
  if (drag.box) {
    moveBox(event);
    return true;
  }
  if (Math.hypot(event.clientX - drag.x, event.clientY - drag.y) < 3 && !drag.edit) return true;
  const to = toScene(event.clientX, event.clientY);
  let [dx, dy] = [to.x - drag.from.x, to.y - drag.from.y];
  if (event.shiftKey) [dx, dy] = Math.abs(dx) > Math.abs(dy) ? [dx, 0] : [0, dy];
  const points = drag.part === "point" ? state.points : [drag.point];
  drag.edit = { kind: "drag_points", ...common(), points, part: drag.part, ...ownStep(dx, dy), apart: event.altKey };
  attempt(drag.edit, drag.part === "point" && !event.altKey ? drawnTo() : null);
  return true;
}

function pointsUp(event, select) {
  if (!drag) return false;
  document.getElementById("picture-marquee").hidden = true;
  if (drag.box) {
    const { moved } = drag;
    drag = null;
    // A click beside all points and shapes selects as ever.
    if (!moved && !stackAt(event.clientX, event.clientY).length) select([]);
    return true;
  }
  const { edit, leaves, point } = drag;
  drag = null;
  if (edit) commitTried(edit);
  else if (leaves) {
    choose({ points: state.points.filter((n) => n !== point) });
    showDraft(null);
  }
  return true;
}

// What points are drawn to: guides, the grid and each other; Alt leaves them free.
const drawnTo = () =>
  liked.snap
    ? {
        tolerance: 7 / view.zoom,
        grid: liked.snapGrid && liked.showGrid,
        guides: liked.snapGuides && liked.showGuides,
        layers: liked.snapLayers,
      }
    : null;

export function nudgePoints(dx, dy) {
  if (state.tool !== "points" || !state.points.length) return false;
  nudged(() => ({ kind: "drag_points", ...common(), points: state.points, ...ownStep(dx, dy) }));
  return true;
}

export function deletePoints() {
  if (state.tool !== "points" || !state.points.length) return false;
  const { points } = state;
  choose({ points: [] });
  commit({ kind: "delete_points", ...common(), points });
  return true;
}

export function roundPoint(k) {
  const all = state.outline?.numbers;
  if (!all) return;
  const smooth = !(all[6 * k + 2] || all[6 * k + 3] || all[6 * k + 4] || all[6 * k + 5]);
  commit({ kind: "round_points", ...common(), points: state.points.includes(k) ? state.points : [k], smooth });
}

export const closePath = (closed) => commit({ kind: "close_contours", ...common(), closed });

function addPoint(event) {
  const after = Number(event.target.dataset.way);
  choose({ points: [after + 1] });
  commit({ kind: "add_point", ...common(), after, share: nearestOnWay(event.target, event) });
  return true;
}

// Where on a drawn way, a line or a Bézier, the pointer is nearest: its parameter.
export function nearestOnWay(way, event) {
  const matrix = way.getScreenCTM().inverse();
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
  const row = way
    .getAttribute("d")
    .match(/-?[\d.]+(?:e-?\d+)?/g)
    .map(Number)
    .reduce((out, n, k) => {
      if (k % 2) out.at(-1).push(n);
      else out.push([n]);
      return out;
    }, []);
  const between = (share) => [0, 1].map((k) => row[0][k] + (row.at(-1)[k] - row[0][k]) * share);
  const [p0, p1, p2, p3] = row.length === 4 ? row : [row[0], between(1 / 3), between(2 / 3), row.at(-1)];
  let best = [0.5, Infinity];
  for (let u = 0.01; u < 1; u += 0.01) {
    const v = 1 - u;
    const spot = [0, 1].map((k) => v ** 3 * p0[k] + 3 * v * v * u * p1[k] + 3 * v * u * u * p2[k] + u ** 3 * p3[k]);
    const off = Math.hypot(spot[0] - at.x, spot[1] - at.y);
    if (off < best[1]) best = [u, off];
  }
  return Math.round(best[0] * 100) / 100;
}

hand("picture", 10, {
  down: (event) => isDrawing() && (penDown(event), "held"),
  move: penMove,
  up: penUp,
  cancel: cancelPen,
  undo: () => penKey("Backspace"),
});
hand("picture", 20, {
  down: (event) => state.tool === "points" && pointsDown(event) && "held",
  move: pointsMove,
  up: (event) => pointsUp(event, selectLayers),
});
