// Keys: which are selected, by a press or all at the playhead; keys set, nudged, and what is told of them on their way.
import { http } from "./http.js";
import { commit, look, waitFor } from "./link.js";
import { hint, say } from "./notice.js";
import { nudged } from "./nudging.js";
import { askPair, choose, focusOn, isSelectedKey, keyOf, liked, sameKey, state, timeNow, toldFrame } from "./state.js";
import { marked } from "./marked.js";

const area = document.getElementById("time-area");
const lanes = document.getElementById("lanes");

export function markSelected() {
  const any = (state.shownKeys || state.keys).length > 0;
  for (const bead of area.querySelectorAll(any ? ".bead:not(.bare)" : ".bead.selected:not(.bare)"))
    bead.classList.toggle("selected", any && isSelectedKey(keyOf(bead)));
  for (const bead of lanes.querySelectorAll(".float-bead"))
    bead.classList.toggle(
      "selected",
      bead.dataset.layer === state.layers[0] && state.pathPoints.includes(Number(bead.dataset.float)),
    );
  const times = new Set((state.shownKeys || state.keys).map((key) => String(key.time)));
  for (const dot of lanes.querySelectorAll(any ? ".summary" : ".summary.selected"))
    dot.classList.toggle("selected", times.has(dot.dataset.time) && keysOfSummary(dot).every(isSelectedKey));
}

export const keysOfSummary = (dot) =>
  dot.dataset.summary
    .split(";")
    .map((told) => ({ layer: told.split(" ")[0], property: told.split(" ")[1], time: Number(dot.dataset.time) }));

export function selectKeys(keys, select) {
  const main = state.pair && { layer: state.pair.layer, property: state.pair.property };
  const onMain = (key) => main && key.layer === main.layer && key.property === main.property;
  // The main curve stays the main one while any of its keys is among them; and where several are shown, it stays shown.
  const mainFirst = keys.some(onMain) && !onMain(keys[0]);
  choose({ keys: mainFirst ? [...keys.filter(onMain), ...keys.filter((key) => !onMain(key))] : keys });
  if (keys.length) {
    const { layer, property } = state.keys[0];
    if (main && !onMain(state.keys[0]) && state.pair.curves.length > 1) {
      const { shown } = state.pairAsked;
      askPair({
        ...state.pairAsked,
        shown: [...shown.filter((each) => each.layer !== main.layer || each.property !== main.property), main],
      });
    }
    focusOn({ layer, property });
    select([...new Set(keys.map((key) => key.layer))], { keepKeys: true });
  } else {
    markSelected();
    look();
  }
}

// What pressing keys does to the selection; the first of it is the one under the hand. Added to the selection or taken
// from it, what was selected before stays while the hand is on: only where it did not move do they leave.
export function pressKeys(event, keys, select) {
  const add = event.shiftKey || event.ctrlKey || event.metaKey;
  const all = keys.every(isSelectedKey);
  const rest = state.keys.filter((other) => !keys.some((key) => sameKey(other, key)));
  if (!all) selectKeys(add ? [...keys, ...rest] : keys, select);
  else if (!add && !sameKey(state.keys[0], keys[0])) selectKeys([...keys, ...rest], select);
  return {
    grabbed: keys[0].time,
    keys: [...keys, ...state.keys.filter((other) => !keys.some((key) => sameKey(other, key)))],
    pressed: keys,
    add,
    leaves: add && all,
  };
}

// What a press on keys comes to where the hand did not move: the selection is these alone, or what is left without them.
export function clickedKeys({ pressed, add, leaves }, select) {
  if (leaves)
    selectKeys(
      state.keys.filter((other) => !pressed.some((key) => sameKey(other, key))),
      select,
    );
  else if (!add && state.keys.length > pressed.length) selectKeys(pressed, select);
}

// Near is seven px; with Alt only whole frames count.
export const snapFor = (event, grabbed) => ({
  tolerance: event.altKey ? 0 : (7 / state.axis.width) * (state.axis.end - state.axis.start),
  grabbed,
});

// Keys dropped on others stand beside them; with Ctrl they take their place.
export const ontoOf = (event) => (event.ctrlKey || event.metaKey ? "replace" : "beside");
export const frames = (n) =>
  `${Math.round(n * 100) / 100} frame${Math.abs(Math.round(n * 100) / 100) === 1 ? "" : "s"}`;

// What is moved in time: with Ctrl it replaces what it covers, and it pushes what is chosen to be pushed.
export const retiming = (event) => ({ onto: ontoOf(event), push: liked.push });
const PUSHED = {
  none: "",
  lane: marked` · <b>pushing</b> what is later in the lane`,
  layer: marked` · <b>pushing</b> what is later on the layer`,
  scene: marked` · <b>pushing</b> all that is later in the scene`,
};
const overOthers = (told) =>
  told.passed ? ` · over ${told.passed.length === 1 ? "a key" : `${told.passed.length} keys`}` : "";

// What is told of keys on their way comes with the answer that shows them there.
export function tellMoving(count) {
  const told = state.snapped?.told;
  if (told?.by === undefined) return;
  hint(
    marked`<b>Moving ${count === 1 ? "a key" : `${count} keys`}</b> by ${frames(told.by)}${told.hit ? marked` · <b>${told.what}</b>` : overOthers(told)}${PUSHED[liked.push]} · <kbd>Ctrl</kbd> replaces what it covers · <kbd>Alt</kbd> to frames only · <kbd>Esc</kbd> put back`,
  );
}

// What is told of keys being stretched is what the answer shows, not where the hand is.
export function tellStretching(count, edit) {
  const told = state.snapped?.told;
  if (told?.longer === undefined) return;
  const percent = (n) => `${Math.round(n * 1000) / 10} %`;
  const time = told.longer === 1 ? "" : ` over ${frames(told.frames)}, ${percent(told.longer)} of their time`;
  const tall = edit.taller === undefined || edit.taller === 1 ? "" : ` to ${percent(edit.taller)} of their height`;
  hint(
    marked`<b>Stretching ${count} keys</b>${time}${tall}${overOthers(told)}${PUSHED[liked.push]} · <kbd>Shift</kbd> about the middle · <kbd>Ctrl</kbd> replaces what it covers · <kbd>Alt</kbd> off the frames · <kbd>Esc</kbd> put back`,
  );
}

// Keys that what is dragged goes over are marked, until it is let go.
export function markPassed() {
  const passed = (state.tentative && state.snapped?.told?.passed) || [];
  for (const bead of area.querySelectorAll(passed.length ? ".bead" : ".bead.passed"))
    bead.classList.toggle("passed", passed.length > 0 && passed.some((key) => sameKey(key, keyOf(bead))));
}

export function nudgeKeys(frames, lift = 0) {
  if (!state.keys.length) return;
  nudged(
    () =>
      state.keys.length && {
        kind: "move_keys",
        scene: state.scene.id,
        keys: state.keys,
        by: frames * state.scene.flicks,
        lift,
        push: liked.push,
      },
  );
}

// Keys the outline whose points are edited; else what of the selection moves, was changed or is open in the list.
export function keyHere(properties = []) {
  if (!state.layers.length) return;
  const common = { kind: /** @type {const} */ ("set_keys"), scene: state.scene.id, time: timeNow() };
  const [layer] = state.layers;
  const own = state.mask ? state.outline?.property : state.info.get(layer)?.traits.includes("points") && "outline";
  if (properties.length) commit({ ...common, layers: state.layers, properties });
  else if (state.tool === "points" && own) commit({ ...common, layers: [layer], properties: [own] });
  else {
    const lanes = state.opened.filter(({ layer }) => state.layers.includes(layer));
    commit({ ...common, layers: state.layers, lanes, moving: true });
  }
}

export const keyAll = () => commit({ kind: "set_keys", scene: state.scene.id, layers: state.layers, time: timeNow() });

// The keys of some layers, of all where none is named, as far as they show at a frame; null where the server refused.
export async function keysOf(layers, frame = null) {
  const path = `/api/projects/${state.project}/scenes/${state.scene.id}/keys`;
  const { ok, answer } = await http(path, { method: "POST", json: { layers, frame } });
  if (ok) return answer.lanes.flatMap(({ layer, property, times }) => times.map((time) => ({ layer, property, time })));
  say(answer.detail);
  return null;
}

// Selects all keys of what is selected, in view or not, or those at the playhead; of all layers where nothing is selected.
export const selectAtPlayhead = (all, select) =>
  waitFor(async () => {
    const keys = await keysOf(state.layers, all ? null : state.frame);
    if (!keys) return null;
    if (keys.length) {
      const { layers } = state;
      selectKeys(keys, select);
      // A selected layer stays so, whether it has keys or not.
      if (layers.length) choose({ layers });
    }
    const count = keys.length === 1 ? "1 key" : `${keys.length} keys`;
    const lanes = new Set(keys.map((key) => key.layer)).size;
    const of = lanes > 1 ? ` of ${lanes} layers` : "";
    if (keys.length) hint(`${count}${of} selected`);
    else hint(all ? "There are no keys here to select." : `No key at ${toldFrame(state.frame)} here.`);
    return keys;
  });
