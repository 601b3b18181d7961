// The hand on handles for how a layer looks, and the one that draws masks on the picture.
import { hand } from "./hands.js";
import { selectTool } from "./holding.js";
import { attempt, commit, putBack } from "./link.js";
import { hint, say } from "./notice.js";
import { whenMaskDrawn } from "./pen.js";
import { boxAround, frameOf, shownItem } from "./picking.js";
import { holdMask, like, liked, newId, state, timeNow } from "./state.js";
import { rowAt } from "./table.js";
import { toScene, view } from "./view.js";
import { marked } from "./marked.js";

let drag = null;
let pressed = 0;

// A step on the picture as a step in a layer's own px.
function ownStep(item, dx, dy) {
  const [a, b, c, d] = rowAt(item, frameOf(item));
  const area = a * d - b * c || 1e-9;
  return [(d * dx - c * dy) / area, (a * dy - b * dx) / area];
}

function handleDown(event) {
  const id = event.target.dataset?.look;
  const told = state.handles?.list.find((each) => each.id === id);
  if (event.target.dataset?.lookWay) {
    // Twice on a gradient's way puts a stop there; once is taken, so that nothing beneath it is.
    if (event.timeStamp - pressed < 450) addStop(event);
    pressed = event.timeStamp;
    return true;
  }
  if (id === undefined || !told) return false;
  drag = { handle: told, from: toScene(event.clientX, event.clientY), edit: null };
  return true;
}

function handleMove(event) {
  const to = toScene(event.clientX, event.clientY);
  if (Math.hypot(to.x - drag.from.x, to.y - drag.from.y) * view.zoom < 2 && !drag.edit) return;
  const [dx, dy] = ownStep(shownItem(state.handles?.layer || state.layers[0]), to.x - drag.from.x, to.y - drag.from.y);
  drag.edit = {
    kind: "drag_handle",
    scene: state.scene.id,
    layer: state.layers[0],
    handle: drag.handle.id,
    to: [drag.handle.at[0] + dx, drag.handle.at[1] + dy],
    box: state.handles?.box || drag.box,
    time: timeNow(),
    keying: state.keying,
  };
  drag.box = drag.edit.box;
  hint(marked`<b>${drag.handle.words}</b> · <kbd>Esc</kbd> put back`);
  attempt(drag.edit);
}

// -- Masks ------------------------------------------------------------------------------------------------------------

const tidy = (rows) => rows.map((row) => row.map((n) => Math.round(n * 1000) / 1000 || 0));

/** @returns {any} */
const maskOf = (points, id, name) => ({
  kind: "add_mask",
  scene: state.scene.id,
  layer: state.layers[0],
  mask: { id, name, contours: [{ points: tidy(points), closed: true }] },
  in_scene: true,
  time: timeNow(),
});

/** @returns {any} */
const maskBetween = (id, start, to) => ({
  kind: "draw_mask",
  scene: state.scene.id,
  layer: state.layers[0],
  id,
  shape: state.maskHand,
  start,
  to,
  time: timeNow(),
});

function maskDown(event) {
  if (state.tool !== "mask" || state.maskHand === "draw" || event.target.dataset?.look) return false;
  if (!state.layers.length) {
    say("Select the layer that is to be masked first.");
    return true;
  }
  drag = { mask: newId(), from: toScene(event.clientX, event.clientY), edit: null };
  return true;
}

function maskMove(event) {
  const to = toScene(event.clientX, event.clientY);
  let [w, h] = [to.x - drag.from.x, to.y - drag.from.y];
  if (Math.hypot(w, h) * view.zoom < 3) return;
  if (event.shiftKey) {
    const side = Math.max(Math.abs(w), Math.abs(h));
    [w, h] = [Math.sign(w || 1) * side, Math.sign(h || 1) * side];
  }
  const { x, y } = drag.from;
  drag.edit = maskBetween(drag.mask, event.altKey ? [x - w, y - h] : [x, y], [x + w, y + h]);
  hint(
    marked`<b>Mask</b> · <kbd>Shift</kbd> as wide as high · <kbd>Alt</kbd> from the middle · <kbd>Esc</kbd> put back`,
  );
  attempt(drag.edit);
}

async function keepMask(edit) {
  const answer = await commit(edit);
  if (!answer) return;
  unfolded("masks");
  like("page", "look");
  holdMask(edit.id || edit.mask.id);
  selectTool("points");
}

// Without a pointer: around all of the layer. Whether a mask was about to be drawn.
export function maskAround() {
  if (state.tool !== "mask" || state.maskHand === "draw" || !state.layers.length) return false;
  const [left, top, right, bottom] = boxAround([state.layers[0]]) || [];
  if (left === undefined) say("There is nothing to see of it at this frame.");
  else keepMask(maskBetween(newId(), [left, top], [right, bottom]));
  return true;
}

whenMaskDrawn((points) => {
  if (state.layers.length) keepMask(maskOf(points, newId(), "Mask"));
  else say("Select the layer that is to be masked first.");
});

export function drawMask(how) {
  if (!state.layers.length) {
    say("Select the layer that is to be masked.");
    return;
  }
  // Asked for twice, it lies around all of the layer.
  if (how !== "draw" && state.tool === "mask" && state.maskHand === how) {
    maskAround();
    return;
  }
  unfolded("masks");
  like("page", "look");
  holdMask(null, how);
  selectTool("mask");
  const words =
    how === "draw"
      ? marked`<kbd>click</kbd> a corner, <kbd>drag</kbd> a curve, the first point closes`
      : marked`<kbd>drag</kbd> it on the picture · <kbd>Enter</kbd> around all of it`;
  hint(marked`<b>Mask of ${state.info.get(state.layers[0])?.name}</b> · ${words} · <kbd>Esc</kbd> back to moving`);
}

export const unfolded = (id) => {
  if (!liked.folds.includes(id)) like("folds", [...liked.folds, id]);
};

function up() {
  if (!drag) return false;
  const { edit, mask } = drag;
  drag = null;
  if (edit && mask) keepMask(edit);
  else if (edit) commit(edit);
  return true;
}

function cancel() {
  if (drag) {
    drag = null;
    putBack();
    hint("Put back.");
    return true;
  }
  if (state.tool !== "mask") return false;
  selectTool("move");
  return true;
}

// Twice on a gradient's way puts a stop there.
function addStop(event) {
  const of = event.target.dataset.lookWay;
  const [a, b, c, d, e, f] = rowAt(shownItem(state.layers[0]), frameOf(shownItem(state.layers[0])));
  const to = toScene(event.clientX, event.clientY);
  const { x, y } = new DOMMatrix([a, b, c, d, e, f]).inverse().transformPoint(to);
  const edit = { kind: "add_stop", scene: state.scene.id, layer: state.layers[0], of, id: newId() };
  commit(/** @type {any} */ ({ ...edit, near: [x, y], time: timeNow() }));
}

hand("picture", 8, {
  down: (event) => (maskDown(event) || handleDown(event)) && "held",
  move: (event) => {
    if (!drag) {
      if (state.tool === "mask" && state.maskHand !== "draw")
        hint(marked`<b>Mask</b> · <kbd>drag</kbd> it on the picture · <kbd>Esc</kbd> back to moving`);
      return state.tool === "mask" && state.maskHand !== "draw";
    }
    if (drag.mask) maskMove(event);
    else handleMove(event);
    return true;
  },
  up,
  cancel,
  words: (target) => {
    if (target.dataset?.lookWay) return marked`<b>Gradient</b> · <kbd>double click</kbd> puts a stop here`;
    const told = state.handles?.list.find((each) => each.id === target.dataset?.look);
    return told ? marked`<b>${told.words}</b>` : null;
  },
});
