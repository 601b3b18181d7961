// The pair: keys, handles, speeds and peaks dragged in its two curves; boxes, zoom, and what stands at the pointer.
import { hand, listen } from "./hands.js";
import { told } from "./told.js";
import { attempt, commit, commitTried, look, putBack } from "./link.js";
import { hint } from "./notice.js";
import { clickedKeys, pressKeys, retiming, selectKeys, snapFor, tellMoving, tellStretching } from "./keys.js";
import { boxed, joined, unbox } from "./marquee.js";
import {
  curveOf,
  holdStill,
  inSpeed,
  laneOf,
  letGo,
  localY,
  panAxes,
  perPx,
  svg,
  valueAt,
  wheel,
  yOf,
} from "./pairaxes.js";
import { hover, read } from "./pairreading.js";
import { choose, keyOf, sameKey, state, timeOf } from "./state.js";
import { areaX, frameAtX, timeAtX, xOf } from "./time.js";
import { marked } from "./marked.js";
import { oneWith } from "./withdata.js";

const row = document.getElementById("pair");
const scene = () => state.scene.id;
let drag = null;
let selectLayers = (_layers) => {};

function begin(event, kind, rest) {
  drag = { kind, pointer: event.pointerId, x: event.clientX, y: event.clientY, moved: false, edit: null, ...rest };
  row.setPointerCapture(event.pointerId);
  holdStill();
}

function down(event) {
  const on = (what) => event.target.closest?.(what);
  if (!on(".pair-area") || !svg()) return false;
  if (event.button === 1) {
    event.preventDefault();
    begin(event, "pan", {});
    return true;
  }
  if (event.button !== 0) return false;
  document.activeElement?.blur?.();
  for (const [what, take] of Object.entries(TAKEN))
    if (on(what)) {
      begin(event, ...take(event, on(what), selectLayers));
      return true;
    }
  const segment = segmentAt(event);
  const add = event.ctrlKey || event.metaKey || event.shiftKey;
  // A curve is taken where it is pressed and bent; one that goes in steps has nothing to bend.
  if (segment && !add && !on(".segment-way").dataset.steps) begin(event, "bend", bendTaken(event, segment));
  else begin(event, "marquee", { before: add ? state.keys : [], segment });
  return true;
}

const MOVES = {
  side: moveSide,
  speed: moveSpeed,
  peak: movePeak,
  keys: moveKeys,
  box: moveBox,
  bend: moveBend,
  marquee: moveMarquee,
};
function move(event) {
  if (!drag || drag.over || event.pointerId !== drag.pointer) return false;
  if (drag.kind === "pan") {
    panAxes(drag, event);
    drag.moved = true;
    return true;
  }
  if (!drag.moved && Math.hypot(event.clientX - drag.x, event.clientY - drag.y) < 3) return true;
  if (!drag.moved) read(null);
  drag.moved = true;
  MOVES[drag.kind](event);
  return true;
}

function up(event) {
  if (!drag || drag.over || event.pointerId !== drag.pointer) return false;
  if (drag.kind === "pan") {
    drag = null;
    letGo();
  } else endDrag(selectLayers);
  return true;
}

// What a press takes, by what lies under it: the kind of drag it begins, and what that needs to know.
const TAKEN = {
  ".side-handle": (event, side) => {
    const { time, side: which, span, level, at } = side.dataset;
    const [x, y] = at.split(" ").map(Number);
    // What is grabbed beside its middle, or drawn beside its place, does not jump to the pointer.
    const off = { x: areaX(event.clientX) - x, y: localY(event.clientY) - y };
    const speed = side.classList.contains("in-speed");
    const numbers = { time: Number(time), span: Number(span), level: Number(level) };
    return ["side", { lane: laneOf(side), side: which, ...numbers, speed, alt: event.altKey, off }];
  },
  ".peak": (_, peak) => ["peak", { lane: laneOf(peak), time: Number(peak.dataset.time) }],
  ".bead.in-speed[data-sides]": (event, bead, select) => {
    const was = pressKeys(event, [keyOf(bead)], select);
    return ["speed", { lane: laneOf(bead), time: Number(bead.dataset.time), sides: bead.dataset.sides, ...was }];
  },
  ".bead": (event, bead, select) => ["keys", { lane: laneOf(bead), ...pressKeys(event, [keyOf(bead)], select) }],
  ".box-grip": (event, grip) => ["box", boxGrabbed(event, grip.dataset.box)],
  ".around-hit": () => {
    const { pair, keys } = state;
    return ["keys", { lane: pair, keys, grabbed: keys[0].time, pressed: keys, add: false }];
  },
};

function bendTaken(event, segment) {
  const { time, end } = event.target.closest(".segment-way").dataset;
  return {
    lane: segment,
    segment,
    before: [],
    from: Number(time),
    end: Number(end),
    at: timeAtX(areaX(event.clientX)),
  };
}

// A curve between two keys, dragged up and down: both its sides take part, the nearer by more.
function moveBend(event) {
  const curve = curveOf(drag.lane);
  if (!curve) return;
  const lift = (-(event.clientY - drag.y) * perPx(curve.value)) / curve.factor;
  const share = Math.max(0.02, Math.min(0.98, (drag.at - drag.from) / (drag.end - drag.from)));
  drag.edit = {
    kind: "bend_segment",
    scene: scene(),
    layer: drag.lane.layer,
    property: drag.lane.property,
    time: drag.from,
    share,
    lift,
  };
  hint(
    marked`<b>Bending the curve</b> · both sides take part, the nearer one by more · <kbd>Shift</kbd> and drag selects many · <kbd>Esc</kbd> put back`,
  );
  attempt(drag.edit);
}

function segmentAt(event) {
  const way = event.target.closest?.(".segment-way");
  return way && { ...laneOf(way), time: Number(way.dataset.time) };
}

// Where the selected keys of the main curve lie, in time and in its shown measure.
function boxAround() {
  const grips = [...row.querySelectorAll(".key-box .around")];
  const box = grips[0];
  const read = (name) => Number(box.getAttribute(name));
  const [left, top] = [read("x") + 9, read("y") + 9];
  const { value } = state.pair;
  return {
    start: Math.round(timeAtX(left)),
    end: Math.round(timeAtX(left + read("width") - 18)),
    high: valueAt(value, top),
    low: valueAt(value, top + read("height") - 18),
  };
}

// Grips stand a little outside of what they pull, and are taken beside their middle.
function boxGrabbed(event, grip) {
  const around = boxAround();
  const x = grip.includes("left") ? xOf(around.start) : xOf(around.end);
  const y = yOf(state.pair.value, grip.includes("top") ? around.high : around.low);
  return { grip, keys: state.keys, around, off: { x: areaX(event.clientX) - x, y: localY(event.clientY) - y } };
}

function moveSide(event) {
  const { lane, time, side, span, level, speed } = drag;
  const curve = curveOf(lane);
  if (!curve) return;
  const sign = side === "leaving" ? 1 : -1;
  const edit = { kind: "shape_side", scene: scene(), ...lane, time, side, apart: drag.alt || event.altKey };
  const along = Math.abs(event.clientX - drag.x) > Math.abs(event.clientY - drag.y);
  const reach = Math.max(0, Math.min(1, (sign * (timeAtX(areaX(event.clientX) - drag.off.x) - time)) / span));
  if (!event.shiftKey || along) edit.reach = reach;
  if (!event.shiftKey || !along) {
    const y = localY(event.clientY) - drag.off.y;
    if (speed) edit.speed = rounded(valueAt(curve.speed, y), curve.speed_round, event) / curve.speed_factor;
    else edit.rise = (sign * (valueAt(curve.value, y) - level)) / curve.factor;
  }
  drag.edit = edit;
  hint(
    marked`<b>${side === "leaving" ? "Leaving" : "Arriving"} side</b> · reach ${Math.round(reach * 100)} % · <kbd>Shift</kbd> only sideways or only up and down · <kbd>Alt</kbd> apart from the other side · <kbd>Esc</kbd> put back`,
  );
  attempt(edit);
}

// Speeds land on round numbers, rest above all, as the curve says; Alt leaves them where the hand is.
function rounded(value, { rest, step }, event) {
  if (event.altKey) return value;
  return Math.abs(value) < rest ? 0 : Math.round(value / step) * step;
}

function moveSpeed(event) {
  const { lane, time, sides } = drag;
  const curve = curveOf(lane);
  if (!curve) return;
  const speed = rounded(valueAt(curve.speed, localY(event.clientY)), curve.speed_round, event);
  // One bead for both sides: on a smooth joint one edit moves both, on a corner that happens to meet as well.
  const side = sides === "both" ? "leaving" : sides;
  drag.edit = {
    kind: "shape_side",
    scene: scene(),
    ...lane,
    time,
    side,
    speed: speed / curve.speed_factor,
    together: sides === "both",
  };
  hint(
    marked`<b>Speed</b> ${told(speed, curve.speed_unit)}${sides === "both" ? " on both sides" : `, ${sides}`} · <kbd>Alt</kbd> not to round numbers · <kbd>Esc</kbd> put back`,
  );
  attempt(drag.edit);
}

// When the segment ends that begins at a time; null where none is drawn.
function endOf({ layer, property }, time) {
  const one = oneWith(row, ".one", { layer, property });
  const way = one && oneWith(one, ".segment-way", { time });
  return way && Number(way.dataset.end);
}

function movePeak(event) {
  const next = drag.next ?? endOf(drag.lane, drag.time);
  if (next === null) return;
  drag.next = next;
  const to = Math.max(0.01, Math.min(0.99, (timeAtX(areaX(event.clientX)) - drag.time) / (next - drag.time)));
  drag.edit = { kind: "shift_peak", scene: scene(), ...drag.lane, time: drag.time, to };
  hint(
    marked`<b>Top speed</b> after ${Math.round(to * 100)} % of the segment · the speeds at its keys stay · <kbd>Esc</kbd> put back`,
  );
  attempt(drag.edit);
}

function moveKeys(event) {
  const curve = curveOf(drag.lane) || state.pair;
  const [dx, dy] = [event.clientX - drag.x, event.clientY - drag.y];
  const level = event.shiftKey && Math.abs(dx) >= Math.abs(dy);
  const upright = event.shiftKey && !level;
  const by = upright ? 0 : Math.round(timeAtX(areaX(event.clientX)) - timeAtX(areaX(drag.x)));
  const lift = level ? 0 : (-dy * perPx(curve.value)) / curve.factor;
  drag.edit = { kind: "move_keys", scene: scene(), keys: drag.keys, by, lift, ...retiming(event) };
  hint(
    marked`<b>Moving ${drag.keys.length === 1 ? "a key" : `${drag.keys.length} keys`}</b> · <kbd>Shift</kbd> level or upright · <kbd>Alt</kbd> without snapping to values · <kbd>Esc</kbd> put back`,
  );
  const near = event.altKey ? 0 : (6 * perPx(curve.value)) / curve.factor;
  attempt(drag.edit, {
    ...snapFor(event, drag.grabbed),
    tolerance: event.altKey || upright ? 0 : snapFor(event).tolerance,
    level: near,
  });
}

// A grip of the box stretches away from the opposite side; with Shift, in proportion on corners.
function moveBox(event) {
  const { grip, around, keys, off } = drag;
  const { value, factor } = state.pair;
  const [left, right, top, bottom] = ["left", "right", "top", "bottom"].map((side) => grip.includes(side));
  const about = left ? around.end : around.start;
  const level = top ? around.low : around.high;
  let longer = 1;
  let taller = 1;
  const at = timeAtX(areaX(event.clientX) - off.x);
  if ((left || right) && around.end > around.start)
    longer = Math.max(0.02, (at - about) / ((left ? around.start : around.end) - about));
  if ((top || bottom) && around.high !== around.low)
    taller = (valueAt(value, localY(event.clientY) - off.y) - level) / ((top ? around.high : around.low) - level);
  if (event.shiftKey && longer !== 1 && taller !== 1) longer = taller = Math.max(longer, Math.abs(taller));
  drag.edit = {
    kind: "stretch_keys",
    scene: scene(),
    keys,
    about,
    longer,
    level: level / factor,
    taller,
    on_frames: !event.altKey,
    ...retiming(event),
  };
  attempt(drag.edit, { tolerance: 0 });
}

function moveMarquee(event) {
  const caught = boxed(drag, event, row.querySelectorAll(".bead"));
  drag.caught = joined(drag.before, caught.map(keyOf));
}

function cancel() {
  if (!drag || drag.over) return false;
  if (drag.keys) choose({ keys: drag.keys });
  unbox();
  drag = null;
  letGo();
  showLevel();
  putBack();
  look();
  hint("Put back.");
  return true;
}

async function endDrag(select) {
  const done = drag;
  done.over = true;
  letGo();
  unbox();
  if (done.kind === "marquee" || (done.kind === "bend" && !done.edit)) {
    drag = null;
    selectUnder(done, select);
    return;
  }
  const answer = done.edit && (await commitTried(done.edit, isIdle));
  if (drag === done) drag = null;
  showLevel();
  if (!done.edit && done.pressed) clickedKeys(done, select);
  else if (!answer && done.keys) choose({ keys: done.keys });
  if (done.edit && !answer) {
    if (!drag) putBack();
    look();
  }
}

// A box that was drawn selects what it caught; a press that went nowhere, the segment under it or what was before.
function selectUnder(done, select) {
  if (done.moved && done.kind === "marquee") selectKeys(done.caught || [], select);
  else if (done.segment) selectSegment(done.segment, done.before, select);
  else selectKeys(done.before, select);
}

// Whether an edit of keys would leave them where they are.
const isIdle = (edit) =>
  (edit.kind === "move_keys" && !edit.by && !edit.lift) ||
  (edit.kind === "stretch_keys" && edit.longer === 1 && edit.taller === 1);

// A click on a segment selects the two keys it lies between.
function selectSegment({ layer, property, time }, before, select) {
  const pair = [time, endOf({ layer, property }, time)]
    .filter((each) => each !== null)
    .map((each) => ({ layer, property, time: each }));
  selectKeys(joined(pair, before), select);
}

// The line of the value that a drag has snapped to.
export function showLevel() {
  const line = svg()?.querySelector(".level-line");
  if (!line) return;
  if (drag?.kind === "keys" && drag.edit) tellMoving(drag.keys.length);
  if (drag?.kind === "box" && drag.edit) tellStretching(drag.keys.length, drag.edit);
  const level = drag ? state.snapped?.told?.level : null;
  const shown = typeof level === "number";
  line.toggleAttribute("hidden", !shown);
  if (!shown) return;
  const curve = curveOf(drag.lane) || state.pair;
  line.setAttribute("transform", `translate(0 ${yOf(curve.value, level * curve.factor)})`);
}

// A double click: a bead turns straight or curved, a handle mends its joint; elsewhere a key, on the curve or off it.
function doubled(event, select) {
  const under = document.elementFromPoint(event.clientX, event.clientY);
  if (!under?.closest(".pair-area") || !state.pair || !svg()) return;
  const bead = under.closest(".bead");
  const side = under.closest(".side-handle");
  if (bead) commit({ kind: "bend_keys", scene: scene(), keys: [keyOf(bead)] });
  else if (side)
    commit({
      kind: "choose_joint",
      scene: scene(),
      keys: [{ ...laneOf(side), time: Number(side.dataset.time) }],
      joint: "smooth",
    });
  else if (!under.closest(".peak, .key-box")) putKey(event, under.closest(".segment-way"), select);
}

async function putKey(event, way, select) {
  const y = localY(event.clientY);
  const curve = (way && curveOf(laneOf(way))) || state.pair;
  if (inSpeed(y)) return;
  const frame = frameAtX(areaX(event.clientX));
  const at = valueAt(curve.value, y);
  const { layer, property } = curve;
  const answer = await commit({
    kind: "put_key",
    scene: scene(),
    layer,
    property,
    time: timeOf(frame),
    value: way ? null : curve.growth ? Math.exp(at) : at / curve.factor,
  });
  if (answer) selectKeys(answer.selects || [{ layer, property, time: timeOf(frame) }], select);
}

export function wirePair(select, openMenu) {
  selectLayers = select;
  listen("pair", row, (event) => hover(event, drag === null));
  row.addEventListener("pointerleave", () => read(null));
  row.addEventListener("dblclick", (event) => doubled(event, select));
  row.addEventListener("wheel", wheel, { passive: false });
  row.addEventListener("contextmenu", (event) => {
    event.preventDefault();
    const on = (what) => event.target.closest?.(what);
    const bead = on(".bead");
    const at = {
      event,
      bead: bead && keyOf(bead),
      side: on(".side-handle") && {
        ...laneOf(on(".side-handle")),
        time: Number(on(".side-handle").dataset.time),
        side: on(".side-handle").dataset.side,
      },
      segment: segmentAt(event),
      curve: on("[data-curve]")?.dataset.curve,
      area: Boolean(on(".pair-area")),
    };
    if (at.bead && !state.keys.some((key) => sameKey(key, at.bead))) selectKeys([at.bead], select);
    else if (at.segment && !bead) selectSegment(at.segment, [], select);
    openMenu(event, { pair: at });
  });
}

hand("pair", 70, { down, move, up, cancel });
