// Lanes and beads: select, drag in time, marquee, set keys, fold, hide, lock, rename.
import { attempt, commit, look, putBack } from "./link.js";
import { hint } from "./notice.js";
import { isSelectedKey, keyOf, sameKey, state, timeNow, timeOf } from "./state.js";
import { areaX, frameAtX, panTime, timeAtX } from "./time.js";

const area = document.getElementById("time-area");
const lanes = document.getElementById("lanes");
const marquee = document.getElementById("marquee");
let drag = null;
let lastClick = { id: null, at: 0 };

export function markSelected() {
  for (const bead of area.querySelectorAll(".bead")) bead.classList.toggle("selected", isSelectedKey(keyOf(bead)));
}

export function selectKeys(keys, select) {
  state.keys = keys;
  if (keys.length) {
    state.focus = { layer: keys[0].layer, property: keys[0].property };
    const layers = [...new Set(keys.map((key) => key.layer))];
    select(layers, { keepKeys: true });
  } else { markSelected(); look(); }
}

function beginKeys(event, bead, select) {
  const key = keyOf(bead);
  const add = event.shiftKey || event.ctrlKey || event.metaKey;
  if (add) selectKeys(isSelectedKey(key) ? state.keys.filter((other) => !sameKey(other, key)) : [key, ...state.keys], select);
  else if (!isSelectedKey(key)) selectKeys([key], select);
  else if (!sameKey(state.keys[0], key)) selectKeys([key, ...state.keys.filter((other) => !sameKey(other, key))], select);
  drag = { kind: "keys", pointer: event.pointerId, x: event.clientX, grabbed: key.time, keys: state.keys, edit: null, moved: false, key, add };
}

function moveKeys(event) {
  const by = timeAtX(areaX(event.clientX)) - timeAtX(areaX(drag.x));
  // The grabbed key lands on whole frames; the others keep their distance from it.
  const { flicks } = state.scene;
  const landed = Math.round((drag.grabbed + by) / flicks) * flicks;
  drag.edit = { kind: "move_keys", scene: state.scene.id, keys: drag.keys, by: Math.round(landed - drag.grabbed) };
  state.keys = drag.keys.map((key) => ({ ...key, time: key.time + drag.edit.by }));
  hint(`<b>Moving ${drag.keys.length === 1 ? "a key" : `${drag.keys.length} keys`}</b> by ${drag.edit.by / flicks} frames · <kbd>Esc</kbd> put back`);
  attempt(drag.edit);
}

function beginMarquee(event, clear) {
  drag = { kind: "marquee", pointer: event.pointerId, x: event.clientX, y: event.clientY, moved: false, before: clear ? [] : state.keys };
}

function moveMarquee(event) {
  const box = area.getBoundingClientRect();
  const [left, right] = [Math.min(drag.x, event.clientX), Math.max(drag.x, event.clientX)];
  const [top, bottom] = [Math.min(drag.y, event.clientY), Math.max(drag.y, event.clientY)];
  marquee.hidden = false;
  Object.assign(marquee.style, { left: `${left - box.left}px`, top: `${top - box.top}px`, width: `${right - left}px`, height: `${bottom - top}px` });
  const caught = [];
  for (const bead of lanes.querySelectorAll(".bead")) {
    const at = bead.querySelector(".hit").getBoundingClientRect();
    const [x, y] = [at.left + at.width / 2, at.top + at.height / 2];
    if (x >= left && x <= right && y >= top && y <= bottom) caught.push(keyOf(bead));
  }
  state.keys = [...drag.before, ...caught.filter((key) => !drag.before.some((other) => sameKey(other, key)))];
  markSelected();
}

export function cancelLaneDrag() {
  if (!drag) return false;
  if (drag.kind === "keys") { state.keys = drag.keys; putBack(); }
  marquee.hidden = true;
  drag = null;
  hint("Put back.");
  return true;
}

async function endDrag(event, select) {
  const done = drag;
  drag = null;
  marquee.hidden = true;
  if (done.kind === "marquee") {
    if (done.moved) selectKeys(state.keys, select);
    else selectKeys([], select);
  } else if (done.kind === "keys") {
    if (done.edit && done.edit.by) {
      const answer = await commit(done.edit);
      if (!answer) { state.keys = done.keys; look(); }
    } else if (done.edit) { state.keys = done.keys; putBack(); }
    else if (!done.add && state.keys.length > 1) selectKeys([done.key], select);
  }
}

export function nudgeKeys(frames) {
  if (!state.keys.length) return;
  commit(() => state.keys.length && { kind: "move_keys", scene: state.scene.id, keys: state.keys, by: frames * state.scene.flicks });
}

function renameInPlace(button) {
  const id = button.dataset.select;
  const field = document.createElement("input");
  field.className = "rename";
  field.value = state.info.get(id).name;
  field.setAttribute("aria-label", "Name");
  button.replaceWith(field);
  field.focus();
  field.select();
  let over = false;
  const finish = (keep) => {
    if (over) return;
    over = true;
    const name = field.value.trim();
    field.replaceWith(button);
    if (keep && name && name !== button.textContent) commit({ kind: "describe_layers", scene: state.scene.id, layers: [id], name });
    else look({ fresh: true });
  };
  field.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.key === "Enter") finish(true);
    if (event.key === "Escape") finish(false);
  });
  field.addEventListener("blur", () => finish(true));
}

export function wireLanes(select) {
  lanes.addEventListener("click", (event) => {
    const at = (name) => event.target.closest(`[data-${name}]`);
    const layer = event.target.closest(".layer")?.dataset.layer;
    if (at("fold")) {
      const id = at("fold").dataset.fold;
      if (!state.folded.delete(id)) state.folded.add(id);
      look();
    } else if (at("toggle")) {
      const which = at("toggle").dataset.toggle;
      commit({ kind: "describe_layers", scene: state.scene.id, layers: [layer], [which]: !state.info.get(layer)[which] });
    } else if (at("select")) {
      const id = at("select").dataset.select;
      // The row is drawn anew after the first click, so a double click is told by the layer, not by the element.
      if (lastClick.id === id && event.timeStamp - lastClick.at < 450) { renameInPlace(at("select")); lastClick = { id: null, at: 0 }; return; }
      lastClick = { id, at: event.timeStamp };
      if (event.ctrlKey || event.metaKey) select(state.layers.includes(id) ? state.layers.filter((other) => other !== id) : [id, ...state.layers]);
      else select([id]);
    } else if (at("focus")) {
      state.focus = { layer, property: at("focus").dataset.focus };
      select([layer, ...state.layers.filter((other) => other !== layer && event.ctrlKey)], { keepKeys: true });
    }
  });
  area.addEventListener("dblclick", (event) => {
    // The pointer is captured while it is down, so what lies under it has to be asked for.
    const under = document.elementFromPoint(event.clientX, event.clientY);
    const lane = under?.closest(".row-line.lane");
    if (lane && under.closest("svg") && !under.closest(".bead")) {
      const frame = frameAtX(areaX(event.clientX));
      commit({ kind: "set_keys", scene: state.scene.id, layers: [lane.dataset.layer], properties: [lane.dataset.property], time: timeOf(frame) });
    }
  });
  area.addEventListener("pointerdown", (event) => {
    if (event.target.closest("#ruler, .gutter, .divider")) return;
    if (event.button === 1) {
      event.preventDefault();
      drag = { kind: "pan", pointer: event.pointerId, x: event.clientX };
      area.setPointerCapture(event.pointerId);
      return;
    }
    if (event.button !== 0) return;
    document.activeElement?.blur?.();
    const bead = event.target.closest(".bead");
    if (bead) beginKeys(event, bead, select);
    else if (event.target.closest("#lanes-scroll")) beginMarquee(event, !(event.ctrlKey || event.metaKey || event.shiftKey));
    if (drag) area.setPointerCapture(event.pointerId);
  });
  area.addEventListener("pointermove", (event) => {
    if (!drag || event.pointerId !== drag.pointer) {
      if (event.target.closest?.(".bead")) hint("<b>Key</b> · <kbd>drag</kbd> in time · <kbd>Ctrl</kbd> add to the selection · <kbd>Delete</kbd> take away");
      else if (event.target.closest?.(".row-line.lane svg")) hint("<kbd>double click</kbd> a key here, the motion unchanged · <kbd>drag</kbd> select many");
      return;
    }
    if (drag.kind === "pan") { panTime(drag.x - event.clientX); drag.x = event.clientX; return; }
    if (!drag.moved && Math.hypot(event.clientX - drag.x, event.clientY - (drag.y ?? event.clientY)) < 3) return;
    drag.moved = true;
    if (drag.kind === "keys") moveKeys(event);
    else moveMarquee(event);
  });
  area.addEventListener("pointerup", (event) => { if (drag && event.pointerId === drag.pointer) endDrag(event, select); });
  area.addEventListener("pointercancel", cancelLaneDrag);
}

export function keyHere(properties = []) {
  if (!state.layers.length) return;
  commit({ kind: "set_keys", scene: state.scene.id, layers: state.layers, properties, time: timeNow() });
}
