// Lanes: beads and spans dragged in time, marquee, keys set, layers folded, hidden, locked, renamed, reordered.
import { hand, listen } from "./hands.js";
import { attempt, attempted, commit, look, putBack } from "./link.js";
import { hint } from "./notice.js";
import { atEdges, leaveEdges } from "./edges.js";
import { put } from "./renew.js";
import { markIsolated } from "./rows.js";
import {
  askPair,
  choose,
  focusOn,
  foldRows,
  isolateOnly,
  isSelectedKey,
  keyOf,
  sameKey,
  state,
  timeNow,
  timeOf,
  toldFrame,
} from "./state.js";
import { areaX, frameAtX, panTime, timeAtX, xOf } from "./time.js";

const area = document.getElementById("time-area");
const lanes = document.getElementById("lanes");
const marquee = document.getElementById("marquee");
const snapLine = document.getElementById("snap-line");
let drag = null;
let selectLayers = (_layers) => {};
let lastClick = { id: null, at: 0 };

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

// The line a drag in time has snapped to, and to what.
export function showSnapLine() {
  const told = drag && state.snapped?.told;
  if (drag?.kind === "keys" && drag.edit) tellMoving(drag.keys.length);
  const shown = Boolean(told && told.time !== null && told.time !== undefined);
  put(snapLine, "hidden", !shown);
  if (!shown) return;
  snapLine.style.left = `calc(var(--gutter) + ${xOf(told.time)}px)`;
  snapLine.firstElementChild.textContent = told.what;
  snapLine.classList.toggle("replaces", Boolean(told.hit) && drag.edit?.onto === "replace");
}

const keysOfSummary = (dot) =>
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

// What pressing keys does to the selection; the first of it is the one under the hand.
export function pressKeys(event, keys, select) {
  const add = event.shiftKey || event.ctrlKey || event.metaKey;
  const all = keys.every(isSelectedKey);
  const rest = state.keys.filter((other) => !keys.some((key) => sameKey(other, key)));
  if (add) selectKeys(all ? rest : [...keys, ...rest], select);
  else if (!all) selectKeys(keys, select);
  else if (!sameKey(state.keys[0], keys[0])) selectKeys([...keys, ...rest], select);
  return {
    grabbed: keys[0].time,
    keys: [...keys.filter(isSelectedKey), ...state.keys.filter((other) => !keys.some((key) => sameKey(other, key)))],
    pressed: keys,
    add,
  };
}

// A floating point pressed in its lane: the point on the path is selected.
function pressFloating(event, { dataset: { layer, float } }) {
  document.dispatchEvent(
    new CustomEvent("deftarc:floating", {
      detail: { layer, point: Number(float), add: event.ctrlKey || event.metaKey || event.shiftKey },
    }),
  );
}

function beginKeys(event, keys, select) {
  drag = {
    kind: "keys",
    pointer: event.pointerId,
    x: event.clientX,
    at: timeAtX(areaX(event.clientX)),
    edit: null,
    moved: false,
    ...pressKeys(event, keys, select),
  };
}

const stepOf = (event) => Math.round(timeAtX(areaX(event.clientX)) - drag.at);

// Near is seven px; with Alt only whole frames count.
export const snapFor = (event, grabbed) => ({
  tolerance: event.altKey ? 0 : (7 / state.axis.width) * (state.axis.end - state.axis.start),
  grabbed,
});

function moveKeys(event) {
  if (!drag.keys.length) return;
  drag.edit = { kind: "move_keys", scene: state.scene.id, keys: drag.keys, by: stepOf(event), onto: ontoOf(event) };
  attempt(drag.edit, snapFor(event, drag.grabbed));
}

// Keys dropped on others stand beside them; with Ctrl they take their place.
export const ontoOf = (event) => (event.ctrlKey || event.metaKey ? "replace" : "beside");
export const frames = (n) =>
  `${Math.round(n * 100) / 100} frame${Math.abs(Math.round(n * 100) / 100) === 1 ? "" : "s"}`;

// What is told of keys on their way comes with the answer that shows them there.
export function tellMoving(count) {
  const told = state.snapped?.told;
  if (told?.by === undefined) return;
  hint(
    `<b>Moving ${count === 1 ? "a key" : `${count} keys`}</b> by ${frames(told.by)}${told.hit ? ` · <b>${told.what}</b>` : ""} · <kbd>Ctrl</kbd> replaces what it lands on · <kbd>Alt</kbd> to frames only · <kbd>Esc</kbd> put back`,
  );
}

function beginSpan(event, part, layer, select) {
  if (!state.layers.includes(layer)) select([layer]);
  const layers = [layer, ...state.layers.filter((id) => id !== layer)];
  drag = {
    kind: "span",
    part,
    pointer: event.pointerId,
    x: event.clientX,
    at: timeAtX(areaX(event.clientX)),
    layers,
    edit: null,
    moved: false,
  };
}

function moveSpan(event) {
  const { part, layers } = drag;
  const scene = state.scene.id;
  const time = Math.round(timeAtX(areaX(event.clientX)));
  if (part === "start" || part === "end") drag.edit = { kind: "trim_span", scene, layers: [layers[0]], [part]: time };
  else drag.edit = { kind: "move_spans", scene, layers, by: stepOf(event), keys: part === "move" };
  hint(
    {
      start: "<b>Trimming the start</b> · keys stay · <kbd>Alt</kbd> to frames only · <kbd>Esc</kbd> put back",
      end: "<b>Trimming the end</b> · keys stay · <kbd>Alt</kbd> to frames only · <kbd>Esc</kbd> put back",
      move: "<b>Moving the layer in time, its keys with it</b> · take the grip in the middle to move the span alone · <kbd>Esc</kbd> put back",
      window: "<b>Moving the span alone</b> · the keys stay where they are · <kbd>Esc</kbd> put back",
    }[part],
  );
  attempt(drag.edit, snapFor(event, null));
}

function beginMarquee(event, clear) {
  drag = {
    kind: "marquee",
    pointer: event.pointerId,
    x: event.clientX,
    y: event.clientY,
    moved: false,
    before: clear ? [] : state.keys,
  };
}

function moveMarquee(event) {
  const box = area.getBoundingClientRect();
  const [left, right] = [Math.min(drag.x, event.clientX), Math.max(drag.x, event.clientX)];
  const [top, bottom] = [Math.min(drag.y, event.clientY), Math.max(drag.y, event.clientY)];
  marquee.hidden = false;
  Object.assign(marquee.style, {
    left: `${left - box.left}px`,
    top: `${top - box.top}px`,
    width: `${right - left}px`,
    height: `${bottom - top}px`,
  });
  const caught = [];
  for (const bead of lanes.querySelectorAll(".bead, .summary")) {
    const at = bead.querySelector(".hit").getBoundingClientRect();
    const [x, y] = [at.left + at.width / 2, at.top + at.height / 2];
    if (x >= left && x <= right && y >= top && y <= bottom)
      caught.push(...(bead.dataset.summary ? keysOfSummary(bead) : [keyOf(bead)]));
  }
  choose({ keys: [...drag.before, ...caught.filter((key) => !drag.before.some((other) => sameKey(other, key)))] });
  markSelected();
}

function cancel() {
  if (!drag) return false;
  if (drag.kind === "keys" || drag.kind === "span") {
    if (drag.keys) choose({ keys: drag.keys });
    putBack();
  }
  marquee.hidden = true;
  drag = null;
  showSnapLine();
  hint("Put back.");
  return true;
}

async function endDrag(select) {
  const done = drag;
  // The hand has let go; what it tried last is still being answered.
  done.over = true;
  leaveEdges();
  marquee.hidden = true;
  if (done.kind === "marquee") {
    drag = null;
    selectKeys(done.moved ? state.keys : [], select);
    return;
  }
  const edit = done.edit && (await attempted(done.edit));
  drag = null;
  showSnapLine();
  if (done.kind === "span") {
    if (edit && edit.by !== 0) commit(edit);
    else putBack();
    return;
  }
  if (done.kind !== "keys") return;
  if (edit && edit.by) {
    const answer = await commit(edit);
    if (!answer) {
      choose({ keys: done.keys });
      look();
    }
  } else if (done.edit) {
    choose({ keys: done.keys });
    putBack();
  } else if (!done.add && state.keys.length > done.pressed.length) selectKeys(done.pressed, select);
}

export function nudgeKeys(frames, lift = 0) {
  if (!state.keys.length) return;
  commit(
    () =>
      state.keys.length && {
        kind: "move_keys",
        scene: state.scene.id,
        keys: state.keys,
        by: frames * state.scene.flicks,
        lift,
      },
  );
}

export function renameInPlace(id) {
  const button = lanes.querySelector(`[data-select="${id}"]`);
  if (!button) return;
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
    if (keep && name && name !== button.textContent)
      commit({ kind: "describe_layers", scene: state.scene.id, layers: [id], name });
    else look({ fresh: true });
  };
  field.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.key === "Enter") finish(true);
    if (event.key === "Escape") finish(false);
  });
  field.addEventListener("blur", () => finish(true));
}

export function isolate(ids) {
  const all = ids.length > 0 && ids.every((id) => state.isolated.has(id));
  const others = [...state.isolated].filter((id) => !ids.includes(id));
  isolateOnly(new Set(all ? others : [...others, ...ids]));
  markIsolated();
  document.dispatchEvent(new CustomEvent("deftarc:isolated"));
}

export const toggleOf = (layers, which) =>
  commit({ kind: "describe_layers", scene: state.scene.id, layers, [which]: !state.info.get(layers[0])[which] });

// A click on a layer's name: with Ctrl it comes or goes, with Shift all up to it come, twice it is renamed.
function clickedName(event, id, select) {
  // The row is drawn anew after the first click, so a double click is told by the layer, not by the element.
  if (lastClick.id === id && event.timeStamp - lastClick.at < 450) {
    renameInPlace(id);
    lastClick = { id: null, at: 0 };
    return;
  }
  lastClick = { id, at: event.timeStamp };
  if (event.ctrlKey || event.metaKey)
    select(state.layers.includes(id) ? state.layers.filter((other) => other !== id) : [id, ...state.layers]);
  else if (event.shiftKey && state.layers.length) {
    const [a, b] = [state.order.indexOf(state.layers[0]), state.order.indexOf(id)].sort((x, y) => x - y);
    select([state.layers[0], ...state.order.slice(a, b + 1).filter((other) => other !== state.layers[0])]);
  } else select([id]);
}

function clicked(event, select) {
  const at = (name) => event.target.closest(`[data-${name}]`);
  const layer = event.target.closest("[data-layer]")?.dataset.layer;
  if (at("fold")) {
    const id = at("fold").dataset.fold;
    foldRows(new Set(state.folded.has(id) ? [...state.folded].filter((other) => other !== id) : [...state.folded, id]));
    look();
  } else if (at("back"))
    commit({
      kind: "move_spans",
      scene: state.scene.id,
      layers: [layer],
      by: Number(at("back").dataset.back),
      keys: true,
    });
  else if (at("cover")) commit({ kind: "cover_keys", scene: state.scene.id, layers: [at("cover").dataset.cover] });
  else if (at("isolate")) isolate([at("isolate").dataset.isolate]);
  else if (at("toggle")) {
    const many = state.layers.includes(layer) ? [layer, ...state.layers.filter((id) => id !== layer)] : [layer];
    toggleOf(many, at("toggle").dataset.toggle);
  } else if (at("select")) clickedName(event, at("select").dataset.select, select);
  else if (at("focus")) {
    focusOn({ layer, property: at("focus").dataset.focus });
    select([layer, ...state.layers.filter((other) => other !== layer && (event.ctrlKey || event.metaKey))], {
      keepKeys: true,
    });
  }
}

function down(event) {
  if (event.target.closest("#ruler, .divider, .rename, #pair")) return false;
  if (event.button === 1) {
    event.preventDefault();
    drag = { kind: "pan", pointer: event.pointerId, x: event.clientX };
    area.setPointerCapture(event.pointerId);
    return true;
  }
  if (event.button !== 0 || event.target.closest(".gutter")) return false;
  document.activeElement?.blur?.();
  const floating = event.target.closest(".float-bead");
  if (floating) pressFloating(event, floating);
  else begun(event, selectLayers);
  if (drag && !floating) area.setPointerCapture(event.pointerId);
  return true;
}

function move(event) {
  if (!drag || drag.over || event.pointerId !== drag.pointer) return false;
  if (drag.kind === "pan") {
    panTime(drag.x - event.clientX);
    drag.x = event.clientX;
    return true;
  }
  if (!drag.moved && Math.hypot(event.clientX - drag.x, event.clientY - (drag.y ?? event.clientY)) < 3) return true;
  drag.moved = true;
  follow(event);
  return true;
}

function follow(event) {
  if (!drag || drag.over) return;
  if (drag.kind === "keys") moveKeys(event);
  else if (drag.kind === "span") moveSpan(event);
  else moveMarquee(event);
  atEdges(event, { move: follow, time: drag.kind !== "marquee" });
}

function up(event) {
  if (!drag || drag.over || event.pointerId !== drag.pointer) return false;
  endDrag(selectLayers);
  return true;
}

// What a press in the lanes takes: keys, all keys of a summary, a span, or a box around keys.
function begun(event, select) {
  const bead = event.target.closest(".bead");
  const summary = event.target.closest(".summary");
  const span = event.target.closest("[data-span]");
  if (bead) beginKeys(event, [keyOf(bead)], select);
  else if (summary) beginKeys(event, keysOfSummary(summary), select);
  else if (span) beginSpan(event, span.dataset.span, span.closest("[data-layer]").dataset.layer, select);
  else if (event.target.closest("#lanes-scroll"))
    beginMarquee(event, !(event.ctrlKey || event.metaKey || event.shiftKey));
}

export function wireLanes(select, openMenu) {
  selectLayers = select;
  lanes.addEventListener("click", (event) => clicked(event, select));
  // A stroke between two clicks: they are two, and the second selects.
  document.addEventListener(
    "keydown",
    () => {
      lastClick = { id: null, at: 0 };
    },
    true,
  );
  area.addEventListener("dblclick", async (event) => {
    // The pointer is captured while it is down, so what lies under it has to be asked for.
    const under = document.elementFromPoint(event.clientX, event.clientY);
    const lane = under?.closest(".row-line.lane");
    const floating = under?.closest(".float-bead");
    if (floating)
      commit({
        kind: "set_points",
        scene: state.scene.id,
        layer: floating.dataset.layer,
        points: [Number(floating.dataset.float)],
      });
    else if (lane && under.closest("svg") && !under.closest(".bead")) {
      const frame = frameAtX(areaX(event.clientX));
      const { layer, property } = lane.dataset;
      const answer = await commit({
        kind: "set_keys",
        scene: state.scene.id,
        layers: [layer],
        properties: [property],
        time: timeOf(frame),
      });
      if (answer) selectKeys(answer.selects || [{ layer, property, time: timeOf(frame) }], select);
    } else if (under?.closest("#lanes .bead"))
      commit({
        kind: "bend_keys",
        scene: state.scene.id,
        keys: state.keys.length ? state.keys : [keyOf(under.closest(".bead"))],
      });
  });
  area.addEventListener("contextmenu", (event) => {
    event.preventDefault();
    if (event.target.closest("#pair")) return;
    const bead = event.target.closest(".bead");
    if (bead && !isSelectedKey(keyOf(bead))) selectKeys([keyOf(bead)], select);
    const floating = event.target.closest(".float-bead");
    if (floating) {
      pressFloating(event, floating);
      openMenu(event, { path: { pathPoint: floating.dataset.float } });
      return;
    }
    const layer = event.target.closest("[data-layer]")?.dataset.layer;
    if (layer && !bead && !state.layers.includes(layer)) select([layer]);
    openMenu(event, {
      lane: event.target.closest(".lane")?.dataset.property,
      layer,
      ruler: Boolean(event.target.closest("#ruler")),
    });
  });
  listen("lanes", area, hover);
}

function hover(event) {
  const on = (what) => event.target.closest?.(what);
  if (on("#pair")) return;
  if (on(".float-bead"))
    hint(
      `<b>Floating point</b> · ${on(".float-bead").querySelector("title").textContent} · <kbd>double click</kbd> gives it a key at that time, the motion unchanged`,
    );
  else if (on(".bead"))
    hint(
      `<b>${on(".bead").querySelector("title")?.textContent || "Key"}</b> · <kbd>drag</kbd> in time · <kbd>Ctrl</kbd> add to the selection · <kbd>double click</kbd> straight or curve · <kbd>Delete</kbd> take away`,
    );
  else if (on(".summary")) hint(`<b>Keys of what is folded</b> · ${on(".summary").querySelector("title").textContent}`);
  else if (on("[data-span=window]")) hint("<b>The span alone</b> · <kbd>drag</kbd> moves it and leaves the keys");
  else if (on("[data-span=move]")) hint("<b>The layer in time</b> · <kbd>drag</kbd> moves its span with its keys");
  else if (on("[data-span]")) hint("<b>End of the span</b> · <kbd>drag</kbd> to trim");
  else if (on("[data-select]"))
    hint(
      "<b>Layer</b> · <kbd>drag</kbd> to reorder, onto another to be carried by it · <kbd>double click</kbd> rename",
    );
  else if (on(".row-line.lane svg"))
    hint("<kbd>double click</kbd> a key here, the motion unchanged · <kbd>drag</kbd> select many");
}

// Keys what is open of the selection: its lanes in the list; where none is, all of its transform.
export function keyHere(properties = []) {
  if (!state.layers.length) return;
  const time = timeNow();
  const scene = state.scene.id;
  if (properties.length) {
    commit({ kind: "set_keys", scene, layers: state.layers, properties, time });
    return;
  }
  const open = [...lanes.querySelectorAll(".row-line.lane")].filter((row) => state.layers.includes(row.dataset.layer));
  if (open.length)
    commit({
      kind: "set_keys",
      scene,
      lanes: open.map((row) => ({ layer: row.dataset.layer, property: row.dataset.property })),
      time,
    });
  else keyAll();
}

export const keyAll = () => commit({ kind: "set_keys", scene: state.scene.id, layers: state.layers, time: timeNow() });

// The keys at the playhead, or all, of what is selected; of every lane in view where nothing is.
export function selectAtPlayhead(all, select) {
  const beads = [...lanes.querySelectorAll(".bead")].filter(
    (bead) => !state.layers.length || state.layers.includes(bead.dataset.layer),
  );
  const summaries = [...lanes.querySelectorAll(".summary")]
    .filter((dot) => !state.layers.length || state.layers.includes(dot.dataset.layer))
    .flatMap(keysOfSummary);
  const keys = [...beads.map(keyOf), ...summaries].filter(
    (key) => all || Math.round(key.time / state.scene.flicks) === state.frame,
  );
  const once = keys.filter((key, k) => keys.findIndex((other) => sameKey(other, key)) === k);
  if (once.length) selectKeys(once, select);
  hint(once.length ? `${once.length} keys selected` : `No key at ${toldFrame(state.frame)} here.`);
}

hand("lanes", 60, { down, move, up, cancel });
