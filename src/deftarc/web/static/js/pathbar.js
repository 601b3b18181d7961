// The bar over the picture while a path is edited, the menu of what can be done to it, and times by segment.
import { typedNumber } from "./numbers.js";
import { hand } from "./hands.js";
import { attempt, commit, look, putBack, request } from "./link.js";
import { clickedAt, showMenu } from "./showmenu.js";
import { ask, say } from "./notice.js";
import { addPoint, common, deletePathPoints, join, selectPoints } from "./pathhand.js";
import { chosenPoints } from "./paths.js";
import { mark } from "./renew.js";
import { uploadPath } from "./samples.js";
import { liked, like, state, timeNow, timeOf } from "./state.js";
import { tryTolerance } from "./tolerance.js";

const bar = document.getElementById("path-bar");
const table = document.getElementById("segments");
let rounding = null;
const path = () => state.paths.find((each) => each.layer === state.layers[0]);
const positionKeys = () => state.keys.filter((key) => key.property === "position" && key.layer === state.layers[0]);
const allKeys = () =>
  (path()?.keys || []).map((key) => ({ layer: state.layers[0], property: "position", time: key.time }));

export function setHand(hand) {
  state.pathHand = hand;
  document.getElementById("stage").dataset.hand = hand;
  showHand();
}
export function showHand() {
  const keep = table.querySelector("[data-keep-total]");
  if (keep) keep.checked = liked.keepTotal;
  for (const chip of bar.querySelectorAll("[data-hand]"))
    mark(chip, "aria-pressed", chip.dataset.hand === state.pathHand);
}

export function toggleSegments() {
  like("showSegments", !liked.showSegments);
  table.hidden = !liked.showSegments;
  look({ fresh: liked.showSegments });
}

const along = () =>
  commit({
    kind: "set_value",
    scene: state.scene.id,
    layer: state.layers[0],
    others: state.layers.slice(1),
    property: "along",
    value: bar.querySelector("[data-path=along]")?.getAttribute("aria-pressed") === "true" ? 0 : 1,
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

export async function spreadPoints() {
  const points = chosenPoints();
  const last = (path()?.rests.length || 1) - 1;
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

export const splitAxes = (split) =>
  tryTolerance({
    title: split ? "Split the axes into x and y" : "Combine x and y as a path",
    value: 0.5,
    act: split ? "Split" : "Combine",
    make: (tolerance) => ({ kind: "split_axes", ...common(), split, tolerance }),
  });

// The keys that are selected, or all of the main lane where fewer than three are.
export function reduceKeys(told = null) {
  const lane = told || state.keys[0] || state.pair;
  if (!lane) {
    say("Select keys to reduce, or a lane that has too many.");
    return;
  }
  const mine = state.keys.filter((key) => key.layer === lane.layer && key.property === lane.property);
  const beads = [
    ...document.querySelectorAll(`#lanes .bead[data-layer="${lane.layer}"][data-property="${lane.property}"]`),
  ].map((bead) => Number(bead.dataset.time));
  const all =
    lane.property === "position" && lane.layer === state.layers[0]
      ? allKeys()
      : beads.map((time) => ({ layer: lane.layer, property: lane.property, time }));
  const keys = mine.length > 2 && lane.property !== "position" ? state.keys : all;
  if (keys.length < 3) {
    say("There are no keys too many here: it takes three or more.");
    return;
  }
  const { unit } = document.querySelector(`#figures .well[data-property="${lane.property}"]`)?.dataset || { unit: "" };
  tryTolerance({
    title: "Fewer keys",
    unit,
    value: 1,
    act: "Reduce",
    make: (tolerance) => ({ kind: "reduce_keys", scene: state.scene.id, keys, tolerance }),
  });
}

// Where a new path ends in time: with the play range, or two seconds on where that is over.
export function endTime() {
  const last = timeOf(state.scene.range[1] - 1);
  return last > timeNow() ? last : timeNow() + timeOf(Math.round(2 * state.scene.rate));
}

function takeFrom() {
  const [layer] = state.layers;
  const sources = state.order.filter((id) => id !== layer && !["carrier", "picture"].includes(state.info.get(id).kind));
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

const rounded = (share) => commit({ kind: "set_rounding", rounded: share });
const takeFile = () => {
  const field = document.getElementById("path-file");
  field.value = "";
  field.click();
};

const newPaths = () =>
  [
    ["rounded", 0.5],
    ["straight", null],
  ].map(([word, share]) => [
    `New paths are ${word}`,
    () => rounded(share),
    (state.rounded === null) === (share === null) ? "✓ in this project" : "in this project",
  ]);

// All that can be done to the first selected layer's path.
function pathItems() {
  if (!path())
    return [
      ["Take the path of another layer…", takeFrom],
      ["Take the path of an SVG file…", takeFile],
      "-",
      ...newPaths(),
    ];
  const between = path().keys.length > 2;
  return [
    ["One speed all the way", () => even("speed"), positionKeys().length > 1 ? "between the selected keys" : ""],
    between && ["Keys at even distances", () => even("distances")],
    path().floats.length > 0 && [
      state.pathPoints.length ? "Set the time of these points" : "Set the times of all floating points",
      setTimes,
    ],
    between && [positionKeys().length ? "Let these keys float" : "Let all keys between float", floatKeys],
    ["Insert points evenly…", spreadPoints],
    "-",
    [
      path().closed ? "Open the path" : "Close the path",
      () => commit({ kind: "close_path", ...common(), closed: !path().closed }),
    ],
    ["Turn the path round", () => commit({ kind: "reverse_path", ...common() })],
    ["Lean into its curves…", lean],
    "-",
    ["Split into x and y…", () => splitAxes(true)],
    ["Fewer keys…", () => reduceKeys()],
    ["Take the path of another layer…", takeFrom],
    ["Take the path of an SVG file…", takeFile],
    "-",
    ...newPaths(),
  ];
}

// A right click on a point, a key or the way.
function pathPointItems(told, event) {
  const points = chosenPoints();
  const floats = points.filter((k) => path()?.rests[k] === null);
  const span = told.pathSpan !== undefined;
  return [
    span && ["Add a point here", () => addPoint(event), "double click"],
    points.length > 0 && ["Straight here", () => join("straight")],
    points.length > 0 && ["Corner, each handle its own", () => join("corner")],
    points.length > 0 && ["Smooth", () => join("smooth")],
    points.length > 0 && ["Automatic", () => join("automatic")],
    "-",
    floats.length > 0 && ["Set the time it has now", setTimes],
    positionKeys().length > 0 && ["Let it float", floatKeys],
    positionKeys().length > 0 && [
      "Release from its point, to be a pace key",
      () => commit({ kind: "release_keys", scene: state.scene.id, keys: positionKeys() }),
    ],
    points.length > 0 && [
      points.length > 1 ? `Delete ${points.length} points` : "Delete this point",
      deletePathPoints,
      "Delete",
    ],
    "-",
    ...pathItems(),
  ];
}

// What is under the pointer is selected first, as everywhere.
export function pathMenu(told, event) {
  if (told.pathPoint === undefined && told.pathKey === undefined && told.pathSpan === undefined) return pathItems();
  const path = state.paths[0];
  const k = told.pathPoint !== undefined ? Number(told.pathPoint) : null;
  if (
    k !== null &&
    !state.pathPoints.includes(k) &&
    !state.keys.some((key) => key.property === "position" && key.time === path.rests[k])
  )
    selectPoints([k]);
  else if (k === null && told.pathKey !== undefined && !state.keys.some((key) => key.time === Number(told.pathKey)))
    state.keys = [{ layer: path.layer, property: "position", time: Number(told.pathKey) }];
  return pathPointItems(told, event);
}

// A path drawn by clicks; the layer goes along it from the playhead on, or between the keys it has.
export async function drawnPath(points, closed) {
  if (!state.layers.length) {
    say("Select the layer that is to go along this path.");
    return;
  }
  setHand("bend");
  await commit({ kind: "take_path", ...common(), points, closed, time: timeNow(), end: endTime() });
}
function clicked(event) {
  const button = event.target.closest("button");
  if (!button) return;
  if (button.dataset.hand) setHand(button.dataset.hand);
  if (button.dataset.pathJoint)
    join(
      button.dataset.pathJoint,
      chosenPoints(),
      button.dataset.pathJoint === "automatic" ? Number(bar.querySelector("[data-roundness]").value) / 100 : null,
    );
  if (button.dataset.path === "along") along();
  if (button.dataset.path === "segments") toggleSegments();
  if (button.dataset.path === "combine") splitAxes(false);
  if (button.dataset.path === "more") {
    showMenu(...clickedAt(event), pathItems());
    return;
  }
  if (event.detail) button.blur();
}

/** @returns {import("../../../../../types/models").Edit} */
const roundEdit = (value) => ({
  kind: "join_path",
  ...common(),
  points: chosenPoints(),
  joint: "automatic",
  roundness: Number(value) / 100,
});
export function cancelRounding() {
  if (!rounding) return false;
  rounding = null;
  putBack();
  return true;
}

export function wirePathBar() {
  bar.addEventListener("click", clicked);
  bar.addEventListener("input", (event) => {
    if (!event.target.matches("[data-roundness]")) return;
    event.target.nextElementSibling.value = `${event.target.value}%`;
    rounding = roundEdit(event.target.value);
    attempt(rounding);
  });
  bar.addEventListener("change", (event) => {
    if (event.target.matches("[data-roundness-number]")) {
      const n = typedNumber(event.target.value);
      if (event.target.value.trim() && n >= 0 && n <= 100) commit(roundEdit(n));
      else {
        say(`“${event.target.value.slice(0, 30)}” is no roundness: it runs from 0 to 100 %.`);
        look({ fresh: true });
      }
      return;
    }
    if (!event.target.matches("[data-roundness]") || !rounding) return;
    // The hand has let go: the keyboard is the workbench's again.
    event.target.blur();
    const done = rounding;
    rounding = null;
    commit(done);
  });
  table.hidden = !liked.showSegments;
  table.addEventListener("click", (event) => {
    if (event.target.closest("[data-path=segments]")) toggleSegments();
  });
  table.addEventListener("change", async (event) => {
    if (event.target.matches("[data-keep-total]")) {
      like("keepTotal", event.target.checked);
      return;
    }
    const field = event.target.closest("[data-segment]");
    if (!field) return;
    const { layer, property, segment } = field.dataset;
    const keep = liked.keepTotal;
    if (
      !(await commit({
        kind: "time_segment",
        scene: state.scene.id,
        layer,
        property,
        time: Number(segment),
        told: field.value,
        keep,
      }))
    )
      look({ fresh: true });
  });
  document.getElementById("path-file").addEventListener("change", (event) => {
    if (event.target.files[0]) uploadPath(event.target.files[0], endTime());
  });
}

hand("picture", 7, { cancel: cancelRounding });
