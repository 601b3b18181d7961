// What lies where on the picture: items as they show, boxes of layers, and what is under the pointer.
import { isLeft } from "./cutaway.js";
import { hits } from "./hits.js";
import { boundsAt } from "./shapes.js";
import { groupsOf, isHidden, isLocked, isInside, isolatedOut, state } from "./state.js";
import { columnAt, rowAt, showsAt } from "./table.js";
import { onStage, toScene, view } from "./view.js";

export const shownItem = (id) => {
  const still = !state.playing && state.still && state.still.frame === state.frame ? state.still.items.get(id) : null;
  return still || state.items.get(id);
};
export const frameOf = (item) => (item.still ? 0 : state.frame);

// What smears at this frame: at rest, and while playing where that is chosen; never under a hand.
export function smearNow() {
  const { smear, playing, tentative } = state;
  if (tentative || playing) return playing && !tentative ? state.smearing : null;
  return smear?.frame === state.frame ? smear : null;
}

// What shows, from the bottom up; groups painted as one with what is put together for them.
export const itemsShown = () => (state.roots || [...state.order].reverse()).map((id) => wholeOf(id)).filter(Boolean);

// An item with what it is put together from and what it shows through; `of` gives each by its name.
export function wholeOf(name, of = shownItem) {
  const built = (id, forMatte = false) => {
    const item = of(id);
    if (!item) return null;
    if (item.children) {
      if (item.clip && isolatedOut(id) && !forMatte) return null;
      return matted({ ...item, parts: item.children.map((child) => built(child, forMatte)).filter(Boolean) });
    }
    if (isolatedOut(id) && !forMatte) return null;
    return matted(state.recording?.layer === item.layer ? followed(item) : item);
  };
  const matted = (item) =>
    item.matte ? { ...item, matte: { ...item.matte, item: built(item.matte.layer, true) } } : item;
  return built(name);
}

// A layer that follows the hand while it is recorded.
function followed(item) {
  const numbers = Float32Array.from(rowAt(item, state.frame));
  numbers[4] += state.recording.dx;
  numbers[5] += state.recording.dy;
  return { ...item, numbers, rows: 1 };
}

const through = (row, x, y) => ({ x: row[0] * x + row[2] * y + row[4], y: row[1] * x + row[3] * y + row[5] });

// What carries the first selected layer, as six numbers.
const carriedNow = () => (state.columns.carried ? columnAt(state.columns.carried, state.frame) : [1, 0, 0, 1, 0, 0]);

// Where the first selected layer's pivot lies, in scene px.
export function pivotNow() {
  const spot = state.pose?.position || (state.columns.spot && columnAt(state.columns.spot, state.frame));
  return spot ? through(carriedNow(), spot[0], spot[1]) : null;
}

// A layer's corners in scene px; a group's are those around all its members.
export function cornersOf(id) {
  const told = state.info.get(id);
  if (told?.traits.includes("empty"))
    return told.group ? around(state.order.filter((other) => isInside(other, id))) : null;
  const item = shownItem(id);
  if (!item?.drawing && !item?.clip) return null;
  const row = rowAt(item, frameOf(item));
  const [left, top, right, bottom] = item.clip || boundsAt(item, frameOf(item));
  return [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ].map(([x, y]) => through(row, x, y));
}

export function boxAround(ids) {
  const spots = ids.flatMap((id) => cornersOf(id) || []);
  if (!spots.length) return null;
  const [xs, ys] = [spots.map((p) => p.x), spots.map((p) => p.y)];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

function around(ids) {
  const box = boxAround(ids.filter((id) => !state.info.get(id)?.traits.includes("empty")));
  if (!box) return null;
  const [left, top, right, bottom] = box;
  return [
    { x: left, y: top },
    { x: right, y: top },
    { x: right, y: bottom },
    { x: left, y: bottom },
  ];
}

// A member of a folded group stands for the group: keys go where the hand is.
const asOne = (id) =>
  groupsOf(id)
    .filter((group) => state.folded?.has(group))
    .at(-1) || id;

// Whether a place lies on anything of a scene that is shown, within its frame.
function inside(item, at) {
  const corners = cornersOf(item.layer);
  const signs = corners.map((p, k) => {
    const q = corners[(k + 1) % 4];
    return Math.sign((q.x - p.x) * (at.y - p.y) - (q.y - p.y) * (at.x - p.x));
  });
  const within = signs.every((sign) => sign >= 0) || signs.every((sign) => sign <= 0);
  const on = (id) => {
    const leaf = shownItem(id);
    if (!leaf || !showsAt(leaf, leaf.still ? leaf.frame : state.frame)) return false;
    return leaf.children
      ? leaf.children.some(on)
      : Boolean(leaf.drawing) && hits(leaf, frameOf(leaf), at.x, at.y, 3 / view.zoom);
  };
  return within && item.children.some(on);
}

// Whether a place in the scene lies on a layer.
function isAt(id, at) {
  const item = shownItem(id);
  const { traits } = state.info.get(id);
  if (traits.includes("empty")) {
    const pivot = state.layers[0] === id ? pivotNow() : null;
    return Boolean(pivot) && Math.hypot(pivot.x - at.x, pivot.y - at.y) * view.zoom < 9;
  }
  if (!item || !showsAt(item, item.still ? item.frame : state.frame)) return false;
  if (item.clip) return inside(item, at);
  return Boolean(item.drawing) && hits(item, frameOf(item), at.x, at.y, 3 / view.zoom, traits.includes("boxed"));
}

// Whether a place is left of a layer, and of the groups it is in, by what masks and cuts them.
function isSeen(id, at) {
  return [id, ...groupsOf(id)].every((each) => {
    const item = wholeOf(each);
    return !item || isLeft(item, item.parts ? state.frame : frameOf(item), at);
  });
}

// All that can be picked at a place, the topmost first, each once.
export function stackAt(clientX, clientY) {
  const at = toScene(clientX, clientY);
  const out = [];
  for (const id of state.order) {
    if (isHidden(id) || isLocked(id) || isolatedOut(id)) continue;
    const hit = isAt(id, at) && isSeen(id, at);
    if (hit && !out.includes(asOne(id))) out.push(asOne(id));
  }
  return out;
}

// Layers whose boxes touch a rectangle in scene px.
export function caughtBy([left, top, right, bottom]) {
  const touches = (box) => box && box[0] < right && box[2] > left && box[1] < bottom && box[3] > top;
  const caught = state.order.filter((id) => {
    if (isHidden(id) || isLocked(id) || isolatedOut(id) || state.info.get(id)?.traits.includes("empty")) return false;
    const item = shownItem(id);
    return item && showsAt(item, item.still ? item.frame : state.frame) && touches(boxAround([id]));
  });
  return [...new Set(caught.map(asOne))];
}

export const stageCorners = (corners) => corners.map((p) => onStage(p.x, p.y));
