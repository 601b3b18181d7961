// What this page shows, in one place: read by all, written by the functions below and nothing else. Everything that
// happens changes this and asks for a look.
/** @type {Record<string, any>} */
const held = {
  project: document.body.dataset.project,
  revision: 0,
  scene: {
    id: document.body.dataset.scene,
    width: 1,
    height: 1,
    frames: 1,
    flicks: 1,
    rate: 25,
    nominal: 25,
    digits: 2, // of frames in a timecode
    skips: null, // where drop-frame timecode skips labels: { every, at, labels }
    background: null,
    range: [0, 1],
    guides: [],
    grid: 120,
  },
  frame: 0,
  layers: [], // selected layer ids, the last one chosen first
  clicked: [], // the same in the order they were chosen; those chosen at once as they were listed
  keys: [], // selected keys: { layer, property, time }
  clickedLanes: [], // the lanes they are of, in the order these were chosen: “layer property”
  shownKeys: null, // where a tentative edit has them meanwhile
  paths: [], // motion paths of what is selected, the first layer's first
  pathPoints: [], // selected floating points of the first path, by number
  pathHand: "bend", // bend, draw, record
  rounded: null, // the roundness of new paths in this project; null makes them straight
  recording: null, // the layer that follows the hand, and by how far
  marks: [], // selected markers: { layer or null, id }
  points: [], // selected points of the path being edited, by number
  mask: null, // the mask whose points are edited; null edits the artwork's
  maskHand: "rectangle", // rectangle, ellipse, draw: what the mask tool draws
  handles: null, // those for how the first layer looks
  focus: null, // the lane the pair shows: { layer, property }
  folded: null, // ids of folded layers, once the server has said which open folded
  opened: [], // lanes shown although not keyed: { layer, property }
  axisWidth: 0, // px the time axis has on the page
  axis: null, // { start, end, width } in flicks and px; null asks the server to fit
  keying: false,
  keyingSince: null, // the step of the history at which it was switched on
  playing: false,
  loop: true,
  speed: 1,
  tool: "move", // move, path, points, pen, line, mask
  keep: false, // clicks on the picture leave the selection alone
  isolated: new Set(), // while it has members, only these show at work
  trail: [], // the scenes one came through into this one: { scene, layer, frame, name }
  ghost: null, // the take that is laid over what shows: { set, take }
  drawer: "", // the list that is open over the pair
  drawerText: "", // what is looked for in it
  copied: null, // the layer whose numbers were copied
  tentative: null, // the edit under the pointer
  onPicture: false, // whether a hand is pressed on the picture
  snapAsked: null,
  snapped: null, // the tentative edit as it snapped, and what to draw of that
  stops: [], // frames of keys, to step through
  order: [], // layer ids, the topmost first
  info: new Map(), // layer id → { name, drawing, hidden, locked, link, kind, parent, group, … }
  within: new Map(), // leaves of scenes shown within this one: name → the name of its drawing
  items: new Map(), // layer id → rows over time, with its prepared drawing
  roots: null, // what lies outside all groups painted as one, from the bottom up; null where there are none
  still: null, // values changed but not keyed, at one frame
  smear: null, // what smears at one frame: { frame, moments, counts, items by name }
  columns: {},
  visit: 0, // how often all that an answer tells was forgotten: an answer asked before that knows of what is gone
  outline: null, // the points of the path being edited
  pair: null,
  pairAsked: { shown: [], hidden: [], pinned: [], colours: [], alone: null, value: null, speed: null },
  history: { undo: null, redo: null, steps: 0 },
};

/** What others read of it; what it holds is as little theirs to change.
 * @type {Readonly<Record<string, any>> & {
 *   readonly opened: readonly any[], readonly folded: ReadonlySet<string> | null, readonly isolated: ReadonlySet<string>,
 *   readonly info: ReadonlyMap<string, any>, readonly items: ReadonlyMap<string, any> }} */
export const state = /** @type {any} */ (held);

// What an answer tells of the document; what it does not tell stays.
const ANSWERED = [
  "scene",
  "rounded",
  "order",
  "roots",
  "paths",
  "outline",
  "handles",
  "smear",
  "still",
  "pose",
  "columns",
  "shownKeys",
];
const FOLLOWS = ["history", "pair", "stops"];
export function learn(news) {
  for (const name of Object.keys(news))
    if (!ANSWERED.includes(name) && !FOLLOWS.includes(name)) throw new Error(`No answer tells ${name}.`);
  Object.assign(held, news);
}
// What an answer tells of one layer, and of how it looks over time.
export const knowLayer = (told) => held.info.set(told.id, told);
export const knowWithin = (keys) => {
  for (const [name, key] of Object.entries(keys)) held.within.set(name, key);
};
export const knowItem = (item) => held.items.set(item.layer, item);
// Layers that are no longer in the scene.
export function dropLayers(ids) {
  const gone = new Set(ids);
  for (const kept of [held.items, held.within])
    for (const name of kept.keys()) if (gone.has(outermost(name))) kept.delete(name);
  for (const id of ids) for (const kept of [held.info, held.folded, held.isolated]) kept?.delete(id);
}
export const knowRevision = (revision) => {
  held.revision = revision;
};
// Another scene is to be shown: what was known of the one before is forgotten.
export function toScene(id) {
  held.scene = { ...held.scene, id };
}
export const forget = () =>
  Object.assign(held, {
    visit: held.visit + 1,
    order: [],
    items: new Map(),
    within: new Map(),
    info: new Map(),
    columns: {},
    still: null,
    pose: null,
    outline: null,
    mask: null,
    handles: null,
    smear: null,
    paths: [],
    points: [],
    marks: [],
    ghost: null,
    pair: null,
    stops: [],
    tentative: null,
    snapAsked: null,
    snapped: null,
    shownKeys: null,
  });

// What is selected: layers, keys, points of the path (floating ones by number) and of the outline; what is not told stays.
/** @param {{ layers?: string[], keys?: any[], pathPoints?: number[], points?: number[] }} chosen */
export function choose({ layers = held.layers, keys = held.keys, pathPoints = held.pathPoints, points = held.points }) {
  const mask = layers[0] === held.layers[0] ? held.mask : null;
  const before = held.clicked.filter((id) => layers.includes(id));
  const clicked = [...before, ...layers.filter((id) => !before.includes(id))];
  if (keys !== held.keys) {
    const lanes = new Set(keys.map(({ layer, property }) => `${layer} ${property}`));
    held.clickedLanes = [...new Set([...held.clickedLanes.filter((lane) => lanes.has(lane)), ...lanes])];
  }
  Object.assign(held, { layers, clicked, keys, pathPoints, points, mask });
}
export const holdMask = (mask, hand = held.maskHand) => Object.assign(held, { mask, maskHand: hand, points: [] });
export const smearWith = (smearing) => {
  held.smearing = smearing;
};
export const focusOn = (lane) => {
  held.focus = lane;
};
// The lane that was pointed at last, in the list, the figures or the pair, of what is selected; else the one in the pair.
export function pointedLane() {
  const { focus, pair, layers } = held;
  if (focus && layers.includes(focus.layer)) return { layer: focus.layer, property: focus.property };
  return pair && { layer: pair.layer, property: pair.property };
}
export const chooseMarks = (marks) => {
  held.marks = marks;
};
export const walkTo = (trail) => {
  held.trail = trail;
};
export const layOver = (ghost) => {
  held.ghost = ghost;
};
export const findInDrawer = (text) => {
  held.drawerText = text;
};
export const openDrawer = (name) => {
  Object.assign(held, { drawer: name, drawerText: "" });
};
export const rememberNumbers = (copied) => {
  held.copied = copied;
};

// The edit under the pointer, and to what it is to snap; null puts it back.
export function tryEdit(edit, snap = held.snapAsked) {
  held.tentative = edit;
  held.snapAsked = snap;
  if (!snap) held.snapped = null;
}
export const showSnapped = (snapped) => {
  held.snapped = snapped;
};
export function forgetSnap() {
  held.snapped = held.snapAsked = null;
}

export const standAt = (frame) => {
  held.frame = frame;
};
export const setPlaying = (on) => {
  held.playing = on;
};
export const playAt = (speed) => {
  held.speed = speed;
};
export const repeat = (on) => {
  held.loop = on;
};

export const holdTool = (tool) => {
  held.tool = tool;
};
export const holdPathHand = (hand) => {
  held.pathHand = hand;
};
// Keying changes, from this step of the history on.
export function keyChanges(on) {
  held.keying = on;
  held.keyingSince = on ? held.history.steps : null;
}
export const setKeep = (on) => {
  held.keep = on;
};
export const pressOnPicture = (pressed) => {
  held.onPicture = pressed;
};
export const followHand = (recording) => {
  held.recording = recording;
};

export const foldRows = (ids) => {
  held.folded = ids;
};
export const unfold = (ids) => {
  for (const id of ids) held.folded?.delete(id);
};
export const keepOpen = (lanes) => {
  held.opened = lanes;
};
export const isolateOnly = (ids) => {
  held.isolated = ids;
};
export const askPair = (asked) => {
  held.pairAsked = asked;
};
export const showAxis = (axis) => {
  held.axis = axis;
};
// Axes of the pair, shown at once where they are put; the answer says the same.
export const showScales = (scales) => {
  for (const [name, scale] of Object.entries(scales)) Object.assign(held.pair[name], scale);
};
export const measureAxis = (px) => {
  held.axisWidth = px;
};
export const measurePair = (px) => {
  held.pairHeight = px;
};

// How one likes to look at things: remembered in this browser.
const LIKED = {
  showPath: true,
  showDots: true,
  showRulers: false,
  showGrid: false,
  showGuides: true,
  snap: true,
  snapLayers: true,
  snapFrame: true,
  snapGuides: true,
  snapGrid: false,
  unit: "timecode",
  axes: "parent",
  page: "motion",
  folds: ["effects", "gradient-fill", "gradient-stroke"], // sections of the figures that are unfolded
  laneHeight: 27,
  onlyKeyed: false,
  onlySelected: false,
  pairFit: "all",
  pairApart: false,
  find: "",
  showSegments: false,
  keepTotal: false,
  push: "none", // what is moved along with keys: none, lane, layer, scene
  stretchAbout: "end", // the other end, middle, playhead
  around: true, // what lies around a scene that was entered is seen faintly
  ghosts: false,
  ghostsBefore: 3,
  ghostsAfter: 3,
  ghostStep: 4,
  smearPlays: false, // what moves is blurred while it plays, too
};
let kept = {};
try {
  kept = JSON.parse(localStorage.getItem("deftarc.liked") || "{}");
} catch {
  /* nothing remembered */
}
/** @type {Record<string, any>} */
const preferred = { ...LIKED, ...kept, find: "" };
/** @type {Readonly<Record<string, any>>} */
export const liked = preferred;
export function like(name, value) {
  preferred[name] = value;
  localStorage.setItem("deftarc.liked", JSON.stringify({ ...preferred, find: "" }));
}

export const sameKey = (a, b) => a.layer === b.layer && a.property === b.property && a.time === b.time;
// Asked of each key in view, with thousands selected: looked up by name in what is made once of a selection.
const nameOf = ({ layer, property, time }) => `${layer} ${property} ${time}`;
let selected = { keys: null, names: new Set() };
export function isSelectedKey(key) {
  const keys = state.shownKeys || state.keys;
  if (selected.keys !== keys) selected = { keys, names: new Set(keys.map(nameOf)) };
  return selected.names.has(nameOf(key));
}
export const keyOf = (element) => ({
  layer: element.dataset.layer,
  property: element.dataset.property,
  time: Number(element.dataset.time),
});
export const timeOf = (frame) => frame * state.scene.flicks;
export const timeNow = () => timeOf(state.frame);
export const newId = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(5)), (n) => n.toString(16).padStart(2, "0")).join("");

// Groups a layer is in, the nearest first.
export function groupsOf(id) {
  const out = [];
  for (let up = state.info.get(id)?.parent; up; up = state.info.get(up)?.parent)
    if (state.info.get(up)?.group) out.push(up);
  return out;
}
export const isInside = (id, above) => {
  for (let up = state.info.get(id)?.parent; up; up = state.info.get(up)?.parent) if (up === above) return true;
  return false;
};
export const isHidden = (id) =>
  state.info.get(id)?.hidden || groupsOf(id).some((group) => state.info.get(group).hidden);
export const isLocked = (id) =>
  state.info.get(id)?.locked || groupsOf(id).some((group) => state.info.get(group).locked);
// What lies in a scene that is shown within this one goes by its layer here.
export const outermost = (id) => id.split("/", 1)[0];
export const isolatedOut = (name) => {
  const id = outermost(name);
  return (
    state.isolated.size > 0 && !state.isolated.has(id) && ![...state.isolated].some((other) => isInside(id, other))
  );
};

// A moment in flicks; one between frames with hundredths of a frame, as the server shows it.
export function timeLabel(time) {
  const exact = time / state.scene.flicks;
  if (Math.abs(exact - Math.round(exact)) < 1e-4) return toldFrame(Math.round(exact));
  if (liked.unit === "seconds") return `${(exact / state.scene.rate).toFixed(4)} s`.replace("-", "−");
  const whole = Math.floor(Math.abs(exact));
  const hundredths = Math.min(Math.max(Math.round((Math.abs(exact) - whole) * 100), 1), 99);
  return `${exact < 0 ? "−" : ""}${toldFrame(whole)}.${String(hundredths).padStart(2, "0")}`;
}

// Shown only; which frame a typed text means is decided by the server.
export function toldFrame(frame) {
  const { nominal, rate, digits, skips } = state.scene;
  const minus = frame < 0 ? "−" : "";
  let count = Math.abs(frame);
  if (liked.unit === "frames") return minus + count;
  if (liked.unit === "seconds") return `${minus}${(count / rate).toFixed(2)} s`;
  const drop = liked.unit === "drop" && skips;
  if (drop) {
    const rest = count % skips.every;
    const passed = skips.at.filter((frame) => frame <= rest).length;
    count += skips.labels * (skips.at.length * Math.floor(count / skips.every) + passed);
  }
  const two = (n) => String(n).padStart(2, "0");
  const seconds = Math.floor(count / nominal);
  const hours = Math.floor(seconds / 3600);
  const minutes = Math.floor(seconds / 60) % 60;
  const tail = `${two(seconds % 60)}${drop ? ";" : ":"}${String(count % nominal).padStart(digits, "0")}`;
  return minus + (hours ? `${hours}:${two(minutes)}:${tail}` : `${minutes}:${tail}`);
}
