// What can be done to the motion path of the first selected layer, as actions: for its menus and for the list of actions.
import { does, menuOf } from "./actions.js";
import { commit, request } from "./link.js";
import { ask, say } from "./notice.js";
import { typedNumber } from "./numbers.js";
import { allKeys, endTime, pathHere, positionKeys, reduceKeys, splitAxes } from "./pathbar.js";
import { addPoint, common, deletePathPoints, join, selectPoints } from "./pathhand.js";
import { chosenPoints } from "./paths.js";
import { showMenu } from "./showmenu.js";
import { choose, state, timeNow } from "./state.js";

const bar = document.getElementById("path-bar");

const turn = () => bar.querySelector("[data-path=along]");
const turned = () => turn()?.getAttribute("aria-pressed") === "true";
const along = () =>
  commit({
    kind: "set_value",
    scene: state.scene.id,
    layer: state.layers[0],
    others: state.layers.slice(1),
    property: "along",
    value: turned() ? 0 : 1,
    time: timeNow(),
    keying: state.keying,
  });

async function number(title, about, label, value, act, most) {
  const told = await ask({ title, about, label, value, act });
  if (told === null) return null;
  const n = typedNumber(told);
  if (Number.isFinite(n) && Math.abs(n) <= most) return n;
  say(`“${told.slice(0, 30)}” is no number for this. Nothing was changed.`);
  return null;
}

async function lean() {
  const now = state.columns.lean ? state.columns.lean.numbers[0] : 0;
  const n = await number(
    "Lean into the curves",
    "At 100 % a sideways pull of 1000 px/s² leans it by 45°. Below nought it leans outwards; 0 % stands upright.",
    "In %",
    String(Math.round(now) || 100),
    "Lean",
    1000,
  );
  if (n !== null)
    commit({
      kind: "set_value",
      scene: state.scene.id,
      layer: state.layers[0],
      others: state.layers.slice(1),
      property: "lean",
      value: n / 100,
      time: timeNow(),
      keying: state.keying,
    });
}

async function spreadPoints() {
  const points = chosenPoints();
  const last = (pathHere()?.rests.length || 1) - 1;
  const [from, to] = points.length > 1 ? [points[0], points.at(-1)] : [0, last];
  const n = await number(
    "Insert points",
    "Evenly along the way between the two outer points selected, or along the whole path. They float: the motion stays.",
    "How many",
    "3",
    "Insert",
    500,
  );
  if (n !== null)
    commit({ kind: "spread_points", ...common(), first: from, last: to, count: Math.max(1, Math.round(n)) });
}

const even = (what) =>
  commit({
    kind: "even_pace",
    ...common(),
    what,
    times: positionKeys().length > 1 ? positionKeys().map((key) => key.time) : [],
  });
const setTimes = () => commit({ kind: "set_points", ...common(), points: state.pathPoints });
const floatKeys = () => {
  const keys = positionKeys().length ? positionKeys() : allKeys().slice(1, -1);
  if (keys.length) commit({ kind: "float_keys", scene: state.scene.id, keys });
  else say("There are no keys between the first and the last to float.");
};

const hasOutline = (id) => state.info.get(id).traits.some((trait) => trait === "painted" || trait === "parts");
function takeFrom() {
  const [layer] = state.layers;
  const sources = state.order.filter((id) => id !== layer && hasOutline(id));
  if (!sources.length) {
    say("There is no other layer with an outline. Draw one with the pen, or bring in an SVG.");
    return;
  }
  const box = bar.getBoundingClientRect();
  showMenu(
    box.left + 40,
    box.bottom + 4,
    sources.slice(0, 40).map((id) => [
      state.info.get(id).name,
      () =>
        request(`/scenes/${state.scene.id}/layers/${layer}/path-from`, {
          source: id,
          time: timeNow(),
          end: endTime(),
        }),
    ]),
  );
}

const takeFile = () => {
  const field = document.getElementById("path-file");
  field.value = "";
  field.click();
};

const aLayer = () => state.layers.length > 0;
const aPath = () => Boolean(pathHere());
const between = () => pathHere()?.keys.length > 2;
const some = () => chosenPoints().length > 0;
const afloat = () => chosenPoints().some((k) => pathHere()?.rests[k] === null);
const ofKeys = () => positionKeys().length > 0;
const closed = () => Boolean(pathHere()?.closed);
const joins = (joint) => [() => join(joint), { can: some }];
const newPaths = (share) => [
  () => commit({ kind: "set_rounding", rounded: share }),
  { on: () => (state.rounded === null) === (share === null) },
];
const ACTS = {
  "path-along": [along, { can: () => aPath() && turn(), on: turned }],
  "path-add-point": [(at) => addPoint(at.event), { can: (at) => at?.span }],
  "path-straight": joins("straight"),
  "path-corner": joins("corner"),
  "path-smooth": joins("smooth"),
  "path-automatic": joins("automatic"),
  "path-point-time": [setTimes, { can: afloat }],
  "path-point-float": [floatKeys, { can: ofKeys }],
  "path-point-release": [
    () => commit({ kind: "release_keys", scene: state.scene.id, keys: positionKeys() }),
    { can: ofKeys },
  ],
  "path-point-delete": [
    deletePathPoints,
    {
      can: some,
      words: () => (chosenPoints().length > 1 ? `Delete ${chosenPoints().length} points` : "Delete this point"),
    },
  ],
  "path-even-speed": [
    () => even("speed"),
    {
      can: aPath,
      words: () => `One speed all the way${positionKeys().length > 1 ? " between the selected keys" : ""}`,
    },
  ],
  "path-even-distances": [() => even("distances"), { can: between }],
  "path-times": [
    setTimes,
    {
      can: () => pathHere()?.floats.length > 0,
      words: () => (state.pathPoints.length ? "Set the time of these points" : "Set the times of all floating points"),
    },
  ],
  "path-float": [
    floatKeys,
    { can: between, words: () => (ofKeys() ? "Let these keys float" : "Let all keys between float") },
  ],
  "path-spread": [spreadPoints, { can: aPath }],
  "path-close": [
    () => commit({ kind: "close_path", ...common(), closed: !closed(), back: !closed() }),
    { can: aPath, on: closed },
  ],
  "path-turn": [() => commit({ kind: "reverse_path", ...common() }), { can: aPath }],
  "path-lean": [lean, { can: aPath }],
  "path-split": [() => splitAxes(true), { can: aPath }],
  "path-combine": [() => splitAxes(false), { can: () => state.info.get(state.layers[0])?.apart }],
  "path-reduce": [() => reduceKeys(), { can: aPath }],
  "path-from-layer": [takeFrom, { can: aLayer }],
  "path-from-file": [takeFile, { can: aLayer }],
  "paths-rounded": newPaths(0.5),
  "paths-straight": newPaths(null),
};
for (const [id, [run, how]] of Object.entries(/** @type {Record<string, any[]>} */ (ACTS))) does(id, run, how);

// What is under the pointer is selected first, as everywhere.
export function pathMenu(told, event) {
  if (told.pathPoint === undefined && told.pathKey === undefined && told.pathSpan === undefined) return menuOf("path");
  const path = state.paths[0];
  const k = told.pathPoint !== undefined ? Number(told.pathPoint) : null;
  if (
    k !== null &&
    !state.pathPoints.includes(k) &&
    !state.keys.some((key) => key.property === "position" && key.time === path.rests[k])
  )
    selectPoints([k]);
  else if (k === null && told.pathKey !== undefined && !state.keys.some((key) => key.time === Number(told.pathKey)))
    choose({ keys: [{ layer: path.layer, property: "position", time: Number(told.pathKey) }] });
  return [...menuOf("path-point", { span: told.pathSpan !== undefined, event }), "-", ...menuOf("path")];
}
