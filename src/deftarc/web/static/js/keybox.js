// The box around several selected keys in the lanes: its edges stretch them in time, about the other end, the middle or
// the playhead. Around what is tried in place its right edge drags how often that is played.
import { hand } from "./hands.js";
import { markPassed, retiming, tellStretching } from "./keys.js";
import { attempt, commitTried, look, putBack } from "./link.js";
import { put } from "./renew.js";
import { choose, groupsOf, liked, state, timeNow } from "./state.js";
import { areaX, timeAtX, xOf } from "./time.js";
import { changeTrial, trying } from "./trial.js";

const lanes = document.getElementById("lanes");
const area = document.getElementById("time-area");
const box = document.getElementById("lanes-box");
let drag = null;

// The height of a layer's own row, in px, as the server has it.
const HEAD = 27;

// The rows of what is selected: its lanes, and of layers and groups that are folded their own. While it is moved in time
// they are the same.
let known = { keys: null, order: null, rows: new Set() };
function rowsOf(keys) {
  const { order } = state;
  if (known.keys !== keys || known.order !== order) {
    const lanes = keys.map(({ layer, property }) => `lane-${layer}-${property}`);
    const layers = new Set(keys.map(({ layer }) => layer));
    const heads = [...layers].flatMap((id) => [id, ...groupsOf(id)]);
    known = { keys, order, rows: new Set([...lanes, ...heads.map((id) => `layer-${id}`)]) };
  }
  return known.rows;
}
const isFolded = (head) => head.querySelector(".fold")?.getAttribute("aria-expanded") === "false";
const tellsOf = (row, wanted) => wanted.has(row.id) && (row.dataset.property || isFolded(row));

// What is selected, or tried, from the first to the last in time.
function around() {
  const keys = state.shownKeys || state.keys;
  if (keys.length < 2) return null;
  let [start, end] = [Infinity, -Infinity];
  for (const { time } of keys) {
    start = Math.min(start, time);
    end = Math.max(end, time);
  }
  // What is tried may be of other lanes than what is selected: pasted, say.
  const same = ({ layer, property }, k) => layer === state.keys[k]?.layer && property === state.keys[k].property;
  const own = keys.every(same) ? state.keys : keys;
  return start < end ? { start, end, wanted: rowsOf(own) } : null;
}

// Drawn around the rows of these keys that are in the list, in its own place, so that it rolls along.
export function showKeyBox() {
  const found = around();
  const rows = found ? [...lanes.children].filter((row) => tellsOf(row, found.wanted)) : [];
  put(box, "hidden", rows.length === 0);
  if (!rows.length) return;
  let [top, bottom] = [Infinity, 0];
  for (const row of rows) {
    const at = parseFloat(row.style.top);
    top = Math.min(top, at);
    bottom = Math.max(bottom, at + Number(row.dataset.height || HEAD));
  }
  // What lies beyond the axis has its edge where that ends: it can be taken there.
  const within = (x) => Math.max(-12, Math.min(state.axis.width - 22, x));
  const [left, right] = [within(xOf(found.start)), within(xOf(found.end))];
  const words = [box.style.left, box.style.top, box.style.width, box.style.height].join();
  const told = [`calc(var(--gutter) + ${left}px)`, `${top}px`, `${right - left}px`, `${bottom - top}px`];
  if (words !== told.join()) [box.style.left, box.style.top, box.style.width, box.style.height] = told;
  box.classList.toggle("counts", Boolean(trying()?.turn));
  box.classList.toggle("still", Boolean(trying()) && !trying().turn);
}

function down(event) {
  const grip = event.target.closest?.(".key-grip");
  if (!grip || event.button !== 0) return false;
  const found = around();
  if (!found) return false;
  document.activeElement?.blur?.();
  const side = grip.dataset.grip;
  const at = side === "start" ? found.start : found.end;
  drag = {
    side,
    pointer: event.pointerId,
    keys: state.keys,
    found,
    off: trying() ? 0 : areaX(event.clientX) - xOf(at),
    x: event.clientX,
    edit: null,
    trial: trying(),
  };
  area.setPointerCapture(event.pointerId);
  return true;
}

// About what the keys are stretched: the other end, unless the middle or the playhead is chosen or Shift is held.
export function stretchAbout({ start, end }, side, shift = false) {
  if (shift || liked.stretchAbout === "middle") return (start + end) / 2;
  if (liked.stretchAbout === "playhead") return timeNow();
  return side === "start" ? end : start;
}

function move(event) {
  if (!drag || drag.over || event.pointerId !== drag.pointer) return false;
  const time = timeAtX(areaX(event.clientX) - drag.off);
  if (drag.trial) {
    countTurns(time);
    return true;
  }
  if (!drag.edit && Math.abs(event.clientX - drag.x) < 3) return true;
  const { side, found } = drag;
  const about = Math.round(stretchAbout(found, side, event.shiftKey));
  const from = (side === "start" ? found.start : found.end) - about;
  if (!from) return true;
  drag.edit = {
    kind: "stretch_keys",
    scene: state.scene.id,
    keys: drag.keys,
    about,
    longer: Math.min(1000, Math.max(0.001, (time - about) / from)),
    on_frames: !event.altKey,
    ...retiming(event),
  };
  attempt(drag.edit, { tolerance: 0 }, true);
  return true;
}

// The right edge of what is tried tells how often it is played; the left one where it begins.
function countTurns(time) {
  const { turn } = trying() || {};
  if (!turn) return;
  const [begins, length, path] = turn;
  if (drag.side === "start") changeTrial("time", Math.round(time / state.scene.flicks) * state.scene.flicks);
  else changeTrial(path, Math.max(1, Math.min(1000, Math.round((time - begins) / length))));
}

function up(event) {
  if (!drag || drag.over || event.pointerId !== drag.pointer) return false;
  drag.over = true;
  letGo(drag);
  return true;
}

async function letGo(done) {
  const answer = done.edit && (await commitTried(done.edit, (edit) => edit.longer === 1));
  if (drag === done) drag = null;
  if (done.edit && !answer) {
    choose({ keys: done.keys });
    if (!drag) putBack();
    look();
  }
}

function cancel() {
  if (!drag || drag.trial) return false;
  choose({ keys: drag.keys });
  drag = null;
  putBack();
  return true;
}

// What is told of keys on their way comes with the answer that shows them there.
export function tellKeyBox() {
  markPassed();
  if (drag?.edit) tellStretching(drag.keys.length, drag.edit);
}

hand("lanes", 50, { down, move, up, cancel });
