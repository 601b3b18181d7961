// The hand on a motion path: points, handles and keys pressed, dragged, added, joined; pulled onto the ruler, in time.
import { hand } from "./hands.js";
import { attempt, commit, commitTried, look, putBack } from "./link.js";
import { clickedKeys, pressKeys, selectKeys } from "./keys.js";
import { hint } from "./notice.js";
import { nudged } from "./nudging.js";
import { drawOverlay } from "./overlay.js";
import { chosenPoints, placer } from "./paths.js";
import { stackAt } from "./picking.js";
import { nearestOnWay } from "./pen.js";
import { choose, isLocked, state, timeNow, timeLabel } from "./state.js";
import { areaX, timeAtX } from "./time.js";
import { stretchMarquee, toScene } from "./view.js";
import { marked } from "./marked.js";

const stage = document.getElementById("stage");
const ruler = document.getElementById("ruler");
const marquee = document.getElementById("picture-marquee");
let drag = null;
let selectLayers = (_layers) => {};
let lastPress = { what: "", at: 0 };
export function wirePathHand(select) {
  selectLayers = select;
}

const first = () => state.paths.find((each) => each.layer === state.layers[0]);
export const common = () => ({ scene: state.scene.id, layer: state.layers[0] });
const keyAt = (time) => ({ layer: state.layers[0], property: "position", time: Number(time) });

// Whether a press on the path is meant for it: always while the path is edited; else where no selected layer lies.
function meant(event) {
  const { pathPoint, pathKey, pathSpan } = event.target.dataset || {};
  // Of a locked layer too: it stays as it is, and says so; nothing that lies beneath is taken instead.
  if (state.tool === "path") return true;
  if (isLocked(state.layers[0])) return false;
  if (
    state.tool !== "move" ||
    state.keep ||
    (pathPoint === undefined && pathKey === undefined) ||
    pathSpan !== undefined
  )
    return false;
  // A bead of the selected path is taken before the layer that lies under it; Alt takes the layer.
  return !event.altKey;
}

function doubled(event, what) {
  const twice = lastPress.what === what && event.timeStamp - lastPress.at < 450;
  lastPress = { what: twice ? "" : what, at: event.timeStamp };
  return twice;
}

function begin(event, told) {
  drag = {
    ruler: ruler.getBoundingClientRect(),
    pointer: event.pointerId,
    x: event.clientX,
    y: event.clientY,
    from: toScene(event.clientX, event.clientY),
    edit: null,
    moved: false,
    ...told,
  };
  stage.setPointerCapture(event.pointerId);
  return true;
}

// True where the press was the path's.
function pathDown(event) {
  if (!meant(event)) return false;
  const { pathPoint, pathPart, pathKey, pathSpan } = event.target.dataset;
  if (pathPart) return armDown(event, Number(pathPoint), pathPart);
  if (pathKey !== undefined) return keyDown(event, pathKey, pathPoint);
  if (pathPoint !== undefined) return pointDown(event, Number(pathPoint));
  if (state.tool !== "path") return false;
  const before = adds(event) ? chosenPoints() : [];
  if (pathSpan !== undefined)
    return twice(event, `span ${pathSpan}`, () => addPoint(event)) || begin(event, { kind: "marquee", before });
  const stack = stackAt(event.clientX, event.clientY);
  const under = stack.length && !state.keep && !stack.some((id) => state.layers.includes(id)) ? stack[0] : null;
  return begin(event, { kind: "marquee", before, under });
}

const adds = (event) => event.ctrlKey || event.metaKey || event.shiftKey;
// What the second of two presses on one thing does; whether this was one.
function twice(event, what, act) {
  if (!doubled(event, what)) return false;
  act();
  return true;
}

const armDown = (event, k, part) =>
  twice(event, `arm ${k} ${part}`, () => join("automatic", [k])) || begin(event, { kind: "arm", points: [k], part });

// A key that rests at a point bends the path; one that does not goes along it.
function keyDown(event, time, point) {
  if (point !== undefined && twice(event, `point ${point}`, () => join("toggle", [Number(point)]))) return true;
  const held = pressKeys(event, [keyAt(time)], selectLayers);
  if (!adds(event)) choose({ pathPoints: held.keys.length > 1 ? state.pathPoints : [] });
  const kind = point === undefined ? "slide" : "point";
  return begin(event, { ...held, kind, key: Number(time), points: chosenPoints() });
}

function pointDown(event, k) {
  if (twice(event, `point ${k}`, () => join("toggle", [k]))) return true;
  // One that is selected stays so while the hand is on: with those beside it, it may be dragged.
  const leaves = adds(event) && state.pathPoints.includes(k);
  if (!leaves) pressPoint(k, adds(event));
  return begin(event, { kind: "point", points: chosenPoints(), point: k, leaves });
}

// A floating point is selected by itself; with Ctrl it comes to what is selected, or goes.
export function pressPoint(k, add) {
  const has = state.pathPoints.includes(k);
  if (add) choose({ pathPoints: has ? state.pathPoints.filter((n) => n !== k) : [...state.pathPoints, k] });
  else if (!has) {
    choose({ pathPoints: [k], keys: [] });
  }
  drawOverlay();
  look();
}

function pathMove(event) {
  if (!drag || event.pointerId !== drag.pointer) return false;
  if (!drag.moved && Math.hypot(event.clientX - drag.x, event.clientY - drag.y) < 3) return true;
  drag.moved = true;
  lastPress.what = "";
  if (drag.kind === "marquee") {
    moveMarquee(event);
    return true;
  }
  const to = toScene(event.clientX, event.clientY);
  const box = drag.ruler;
  const overRuler =
    drag.key !== undefined &&
    event.clientX > box.left &&
    event.clientX < box.right &&
    event.clientY > box.top - 20 &&
    event.clientY < box.bottom + 8;
  if (overRuler) {
    // Pulled onto the ruler, the key is moved in time instead.
    const by = Math.round((timeAtX(areaX(event.clientX)) - drag.key) / state.scene.flicks) * state.scene.flicks;
    drag.edit = { kind: "move_keys", scene: state.scene.id, keys: state.keys, by };
    attempt(drag.edit, { tolerance: 0, grabbed: drag.key });
    return true;
  } else if (drag.kind === "slide") {
    drag.edit = { kind: "slide_key", ...common(), key: drag.key, to: [to.x, to.y], time: timeNow() };
    hint(marked`<b>Pace key</b> · it stays on the path and keeps its time · <kbd>Esc</kbd> put back`);
  } else if (closes(event)) {
    drag.edit = { kind: "close_path", ...common(), closed: true };
    hint(marked`<b>Closed</b> · the end lies on the start`);
  } else {
    const part = drag.kind === "arm" ? drag.part : "point";
    drag.edit = {
      kind: "bend_path",
      ...common(),
      points: drag.points,
      part,
      dx: to.x - drag.from.x,
      dy: to.y - drag.from.y,
      time: timeNow(),
      apart: event.altKey,
      constrain: event.shiftKey,
    };
    hint(
      part === "point"
        ? marked`<b>Bending the path</b> · times stay · <kbd>Shift</kbd> level, upright, 45° · <kbd>Esc</kbd> put back`
        : marked`<b>Handle</b> · <kbd>Alt</kbd> this side only · <kbd>Shift</kbd> level, upright, 45° · <kbd>Esc</kbd> put back`,
    );
  }
  attempt(drag.edit);
  return true;
}

// The last point of an open path, dragged onto its first.
function closes(event) {
  const path = first();
  const last = path.rests.length - 1;
  if (path.closed || last < 2 || drag.kind !== "point" || drag.points.length !== 1 || drag.points[0] !== last)
    return false;
  const start = placer(path.layer)(path.points[0], path.points[1]);
  const box = stage.getBoundingClientRect();
  return Math.hypot(start.x + box.left - event.clientX, start.y + box.top - event.clientY) < 8;
}

function moveMarquee(event) {
  const [left, top, right, bottom] = stretchMarquee(drag, event);
  const box = stage.getBoundingClientRect();
  const path = first();
  if (!path) return;
  const place = placer(path.layer);
  const caught = path.rests.flatMap((_, k) => {
    const p = place(path.points[6 * k], path.points[6 * k + 1]);
    return p.x + box.left >= left && p.x + box.left <= right && p.y + box.top >= top && p.y + box.top <= bottom
      ? [k]
      : [];
  });
  drag.caught = [...new Set([...drag.before, ...caught])];
  hint(marked`<b>Selecting</b> ${drag.caught.length} point${drag.caught.length === 1 ? "" : "s"} of the path`);
}

function pathUp(event) {
  if (!drag || event.pointerId !== drag.pointer) return false;
  const done = drag;
  drag = null;
  marquee.hidden = true;
  if (done.kind === "marquee" && !done.moved && done.under) selectLayers([done.under]);
  else if (done.kind === "marquee") selectPoints(done.moved ? done.caught || [] : done.before);
  else if (done.edit) commitTried(done.edit);
  else if (done.leaves && done.pressed) clickedKeys(done, selectLayers);
  else if (done.leaves) pressPoint(done.point, true);
  return true;
}

function cancelPathDrag() {
  if (!drag) return false;
  drag = null;
  marquee.hidden = true;
  putBack();
  hint("Put back.");
  return true;
}

// Points by number: those keys rest on are selected as keys, the others as what floats.
export function selectPoints(points) {
  const path = first();
  if (!path) return;
  choose({ pathPoints: points.filter((k) => path.rests[k] === null) });
  selectKeys(
    points.filter((k) => path.rests[k] !== null).map((k) => keyAt(path.rests[k])),
    selectLayers,
  );
  drawOverlay();
}

export const join = (joint, points = chosenPoints(), roundness = null) =>
  commit({ kind: "join_path", ...common(), points, joint, roundness });

export function addPoint(event) {
  const span = Number(event.target.dataset.pathSpan);
  commit({ kind: "add_path_point", ...common(), span, u: nearestOnWay(event.target, event) }).then((answer) => {
    if (answer) {
      choose({ pathPoints: [span + 1], keys: [] });
      look();
    }
  });
}

export function nudgePath(dx, dy) {
  const points = state.tool === "path" ? chosenPoints() : [];
  if (!points.length) return false;
  nudged(() => ({ kind: "bend_path", ...common(), points: chosenPoints(), dx, dy, time: timeNow() }));
  return true;
}

// Points of the path taken away, with the keys that rest on them; pace keys go by themselves.
export function deletePathPoints() {
  const points = chosenPoints();
  if (!points.length || (state.tool !== "path" && !state.pathPoints.length)) return false;
  choose({ pathPoints: [] });
  commit({ kind: "delete_path_points", ...common(), points }).then((answer) => {
    if (answer) {
      choose({ keys: [] });
      look();
    }
  });
  return true;
}

const WORDS = {
  arm: marked`<b>Handle</b> · <kbd>drag</kbd> to bend · <kbd>Alt</kbd> this side only · <kbd>Shift</kbd> 45° · <kbd>double click</kbd> back to automatic`,
  span: marked`<b>The path</b> · <kbd>double click</kbd> puts a point here, the motion unchanged · <kbd>drag</kbd> select many points`,
  none: marked`<b>Path</b> · <kbd>drag</kbd> points and handles · <kbd>double click</kbd> a point corner or smooth, the way a new point · <kbd>drag</kbd> on empty ground select many`,
};

// What the pointer is over, where it is the path.
function pathWords(target) {
  const { pathPoint, pathPart, pathKey, pathSpan } = target.dataset || {};
  const path = first();
  if (!path) return state.tool === "path" ? WORDS.none : null;
  if (pathPart) return WORDS.arm;
  if (pathKey !== undefined) return keyWords(path.keys.find((each) => each.time === Number(pathKey)));
  if (pathPoint !== undefined) {
    const told = path.floats.find((each) => each.point === Number(pathPoint))?.told;
    return marked`<b>Floating point, passed at ${told}</b> · <kbd>drag</kbd> bends the path · <kbd>double click</kbd> corner or smooth · <kbd>Delete</kbd> take away`;
  }
  if (state.tool !== "path") return null;
  return pathSpan !== undefined ? WORDS.span : WORDS.none;
}

function keyWords(key) {
  if (!key) return WORDS.none;
  const tenths = (n) => Math.round(n * 10) / 10;
  const [what, does, more] = key.rests
    ? ["Key", "bends the path", marked` · <kbd>double click</kbd> corner or smooth`]
    : ["Pace key", "goes along the path", ""];
  const layer = state.tool === "move" ? marked` · <kbd>Alt</kbd> takes the layer instead` : "";
  return marked`<b>${what} at ${key.told}: ${tenths(key.x)}, ${tenths(key.y)} px</b> · <kbd>drag</kbd> ${does}, onto the ruler moves it in time${layer}${more}`;
}

// A key pulled onto the ruler: where it comes to stand is told from the answer that shows it there.
export function tellOnRuler() {
  const by = state.snapped?.told?.by;
  if (drag?.edit?.kind !== "move_keys" || by === undefined) return;
  hint(
    marked`<b>In time</b> · this key at ${timeLabel(drag.key + by * state.scene.flicks)}${state.snapped.told.hit ? `, ${state.snapped.told.what}` : ""}`,
  );
}

// A selected point that floated and has a key now is selected as that key.
export function settlePoints() {
  const path = state.paths[0];
  if (!path || path.layer !== state.layers[0] || !state.pathPoints.length) return;
  const set = state.pathPoints.filter((k) => path.rests[k] !== null && path.rests[k] !== undefined);
  choose({ pathPoints: state.pathPoints.filter((k) => path.rests[k] === null) });
  if (set.length)
    choose({
      keys: [...state.keys, ...set.map((k) => ({ layer: path.layer, property: "position", time: path.rests[k] }))],
    });
}

hand("picture", 40, {
  down: (event) => !event.target.dataset?.hand && pathDown(event),
  move: pathMove,
  up: pathUp,
  cancel: cancelPathDrag,
  words: pathWords,
});
