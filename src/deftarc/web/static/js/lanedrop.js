// A lane's name dragged onto another lane, or onto a layer for its lane of the same kind: it follows that, and is seen to
// while the hand is still there. With Alt it follows the opposite.
import { atEdges } from "./edges.js";
import { hand } from "./hands.js";
import { attempt, commit, putBack } from "./link.js";
import { hint } from "./notice.js";
import { state, timeNow } from "./state.js";
import { marked } from "./marked.js";

const area = document.getElementById("time-area");
const line = document.getElementById("drop-line");
let drag = null;

function down(event) {
  const lane = event.target.closest(".row-line.lane");
  if (!lane || event.button !== 0 || !event.target.closest(".gutter")) return false;
  const { layer, property } = lane.dataset;
  const label = lane.querySelector(".lane-name").textContent;
  drag = { layer, property, label, pointer: event.pointerId, x: event.clientX, y: event.clientY, edit: null, told: "" };
  return true;
}

// What lies under the hand: a lane, or a layer's own row; the lane itself is none.
function targetAt(event) {
  const row = document.elementFromPoint(event.clientX, event.clientY)?.closest(".row-line");
  if (!row?.dataset.layer) return null;
  // A position follows a position, whichever lane of the layer lies under the hand.
  const property = drag.property === "position" ? "position" : row.dataset.property || drag.property;
  if (row.dataset.layer === drag.layer && property === drag.property) return null;
  return { layer: row.dataset.layer, property, box: row.getBoundingClientRect() };
}

// The lanes that are to follow: of all that is selected, where the one that is dragged is among that.
function following(target) {
  const layers = state.layers.includes(drag.layer) ? [...state.layers] : [drag.layer];
  return layers
    .filter((layer) => layer !== target.layer || target.property !== drag.property)
    .map((layer) => ({ layer, property: drag.property }));
}

/** @returns {import("../../../../../types/models").Edit} */
const edit = (target, opposite) => ({
  kind: "link_lanes",
  scene: state.scene.id,
  lanes: following(target),
  to: { layer: target.layer, what: target.property },
  factor: opposite ? -1 : 1,
  time: timeNow(),
});

function move(event) {
  if (!follow(event)) return false;
  atEdges(event, { move: (again) => follow(again) && atEdges(again, { move: () => {} }) });
  return true;
}

function follow(event) {
  if (!drag || event.pointerId !== drag.pointer) return false;
  if (!drag.moved && Math.hypot(event.clientX - drag.x, event.clientY - drag.y) < 5) return true;
  if (!drag.moved) area.setPointerCapture(event.pointerId);
  drag.moved = true;
  const target = targetAt(event);
  line.hidden = !target;
  line.classList.add("onto");
  if (!target) {
    hint(marked`<b>Let it follow</b> · drop it on another lane, or on a layer · <kbd>Esc</kbd> put back`);
    if (drag.told) putBack();
    Object.assign(drag, { edit: null, told: "" });
    return true;
  }
  const base = area.getBoundingClientRect();
  Object.assign(line.style, { top: `${target.box.top - base.top}px`, height: `${target.box.height}px` });
  const name = state.info.get(target.layer).name;
  const told = `${target.layer} ${target.property} ${event.altKey}`;
  hint(
    marked`<b>Let ${drag.label} follow ${event.altKey ? "the opposite of " : ""}${name}</b> · <kbd>Alt</kbd> the opposite · <kbd>Esc</kbd> put back`,
  );
  if (told === drag.told) return true;
  Object.assign(drag, { told, edit: edit(target, event.altKey) });
  attempt(drag.edit);
  return true;
}

function cancel() {
  if (!drag?.moved) {
    drag = null;
    return false;
  }
  drag = null;
  line.hidden = true;
  putBack();
  hint("Put back.");
  return true;
}

function up(event) {
  if (!drag || event.pointerId !== drag.pointer) return false;
  const done = drag;
  drag = null;
  line.hidden = true;
  if (!done.moved) return false;
  if (done.edit) commit(done.edit);
  return true;
}

hand("lanes", 55, { down, move, up, cancel });
