// The bar over the picture while a path is edited, and times by segment.
import { typedNumber } from "./numbers.js";
import { hand } from "./hands.js";
import { keysOf } from "./keys.js";
import { attempt, commit, look, putBack, waitFor } from "./link.js";
import { say } from "./notice.js";
import { common, join } from "./pathhand.js";
import { chosenPoints } from "./paths.js";
import { mark } from "./renew.js";
import { uploadPath } from "./samples.js";
import { holdPathHand, like, liked, state, timeNow, timeOf } from "./state.js";
import { tryTolerance } from "./tolerance.js";
import { unitOf } from "./withdata.js";

const bar = document.getElementById("path-bar");
const table = document.getElementById("segments");
let rounding = null;
export const pathHere = () => state.paths.find((each) => each.layer === state.layers[0]);
export const positionKeys = () =>
  state.keys.filter((key) => key.property === "position" && key.layer === state.layers[0]);
export const allKeys = () =>
  (pathHere()?.keys || []).map((key) => ({ layer: state.layers[0], property: "position", time: key.time }));

export function setHand(hand) {
  holdPathHand(hand);
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

export function splitAxes(split) {
  const make = (tolerance) => ({ kind: /** @type {const} */ ("split_axes"), ...common(), split, tolerance });
  // What stands still is the same either way: there is nothing to be off.
  const row = /** @type {any} */ (document.querySelector('#figures .figure[data-row^="position"]'));
  if (row?.dataset.state === "none") return commit(make(0.5));
  const title = split ? "Split the axes into x and y" : "Combine x and y as a path";
  return tryTolerance({ title, value: 0.5, act: split ? "Split" : "Combine", make });
}

// The keys that are selected, or all of the main lane where fewer than three are.
export async function reduceKeys(told = null) {
  const lane = told || state.keys[0] || state.pair;
  if (!lane) {
    say("Select keys to reduce, or a lane that has too many.");
    return;
  }
  const mine = state.keys.filter((key) => key.layer === lane.layer && key.property === lane.property);
  // All of the lane, in view or not.
  const found = await waitFor(() => keysOf([lane.layer]));
  if (!found) return;
  const all = found.filter((key) => key.layer === lane.layer && key.property === lane.property);
  const keys = mine.length > 2 && lane.property !== "position" ? state.keys : all;
  if (keys.length < 3) {
    say("There are no keys too many here: it takes three or more.");
    return;
  }
  const unit = unitOf(lane.property);
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
  if (event.detail && !button.dataset.menu) button.blur();
}

/** @returns {import("../../../../../types/models").Edit} */
const roundEdit = (value) => ({
  kind: "join_path",
  ...common(),
  points: chosenPoints(),
  joint: "automatic",
  roundness: Number(value) / 100,
});
function cancelRounding() {
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
