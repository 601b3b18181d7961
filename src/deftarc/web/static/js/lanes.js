// Lanes: beads and spans dragged in time, marquee, what a double click or the menu does there.
import { hand, listen } from "./hands.js";
import { attempt, commit, commitTried, look, putBack } from "./link.js";
import { boxed, joined, unbox } from "./marquee.js";
import { hint } from "./notice.js";
import { atEdges, leaveEdges } from "./edges.js";
import {
  clickedKeys,
  keysOfSummary,
  markSelected,
  pressKeys,
  retiming,
  selectKeys,
  snapFor,
  tellMoving,
} from "./keys.js";
import { put } from "./renew.js";
import { wireNames } from "./rownames.js";
import { choose, isSelectedKey, keyOf, state, timeOf } from "./state.js";
import { areaX, frameAtX, panTime, timeAtX, xOf } from "./time.js";
import { marked } from "./marked.js";

const area = document.getElementById("time-area");
const lanes = document.getElementById("lanes");
const snapLine = document.getElementById("snap-line");
let drag = null;
let selectLayers = (_layers) => {};

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

function moveKeys(event) {
  drag.edit = { kind: "move_keys", scene: state.scene.id, keys: drag.keys, by: stepOf(event), ...retiming(event) };
  attempt(drag.edit, snapFor(event, drag.grabbed), true);
}

function beginSpan(event, part, layer, select) {
  const add = event.shiftKey || event.ctrlKey || event.metaKey;
  const had = state.layers.includes(layer);
  if (!had) select(add ? [layer, ...state.layers] : [layer]);
  const layers = [layer, ...state.layers.filter((id) => id !== layer)];
  drag = {
    kind: "span",
    part,
    pointer: event.pointerId,
    x: event.clientX,
    at: timeAtX(areaX(event.clientX)),
    layers,
    leaves: add && had,
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
      start: marked`<b>Trimming the start</b> · keys stay · <kbd>Alt</kbd> to frames only · <kbd>Esc</kbd> put back`,
      end: marked`<b>Trimming the end</b> · keys stay · <kbd>Alt</kbd> to frames only · <kbd>Esc</kbd> put back`,
      move: marked`<b>Moving the layer in time, its keys with it</b> · take the grip in the middle to move the span alone · <kbd>Esc</kbd> put back`,
      window: marked`<b>Moving the span alone</b> · the keys stay where they are · <kbd>Esc</kbd> put back`,
    }[part],
  );
  attempt(drag.edit, snapFor(event, null), true);
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
  const caught = boxed(drag, event, lanes.querySelectorAll(".bead, .summary"));
  const keys = caught.flatMap((bead) => (bead.dataset.summary ? keysOfSummary(bead) : [keyOf(bead)]));
  choose({ keys: joined(drag.before, keys) });
  markSelected();
}

function cancel() {
  if (!drag || drag.over) return false;
  if (drag.kind === "keys" || drag.kind === "span") {
    if (drag.keys) choose({ keys: drag.keys });
    putBack();
  }
  unbox();
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
  unbox();
  if (done.kind === "marquee") {
    drag = null;
    selectKeys(done.moved ? state.keys : [], select);
    return;
  }
  const answer = done.edit && (await commitTried(done.edit, (edit) => edit.by === 0));
  if (drag === done) drag = null;
  showSnapLine();
  if (done.edit && !answer) {
    if (done.keys) choose({ keys: done.keys });
    if (!drag) putBack();
    look();
  } else if (done.edit) return;
  else if (done.kind === "keys") clickedKeys(done, select);
  else if (done.leaves) select(state.layers.filter((id) => id !== done.layers[0]));
}

function down(event) {
  if (event.target.closest("#ruler, .divider, .rename, #pair")) return false;
  if (event.button === 1) {
    event.preventDefault();
    drag = { kind: "pan", pointer: event.pointerId, x: event.clientX };
    area.setPointerCapture(event.pointerId);
    return true;
  }
  if (event.button !== 0 || event.target.closest(".gutter, [data-follows]")) return false;
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
  wireNames(select);
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
        own: true,
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
      marked`<b>Floating point</b> · ${on(".float-bead").querySelector("title").textContent} · <kbd>double click</kbd> gives it a key at that time, the motion unchanged`,
    );
  else if (on(".bead"))
    hint(
      marked`<b>${on(".bead").querySelector("title")?.textContent || "Key"}</b> · <kbd>drag</kbd> in time · <kbd>Ctrl</kbd> add to the selection · <kbd>double click</kbd> straight or curve · <kbd>Delete</kbd> take away`,
    );
  else if (on("[data-follows]"))
    hint(marked`<b>It follows</b> · ${on("[data-follows]").querySelector("title").textContent}`);
  else if (on(".summary"))
    hint(marked`<b>Keys of what is folded</b> · ${on(".summary").querySelector("title").textContent}`);
  else if (on("[data-span=window]")) hint(marked`<b>The span alone</b> · <kbd>drag</kbd> moves it and leaves the keys`);
  else if (on("[data-span=move]"))
    hint(marked`<b>The layer in time</b> · <kbd>drag</kbd> moves its span with its keys`);
  else if (on("[data-span]")) hint(marked`<b>End of the span</b> · <kbd>drag</kbd> to trim`);
  else if (on("[data-select]"))
    hint(
      marked`<b>Layer</b> · <kbd>drag</kbd> to reorder, onto another to be carried by it · <kbd>double click</kbd> rename`,
    );
  else if (on(".row-line.lane .gutter"))
    hint(
      marked`<b>Lane</b> · <kbd>drag</kbd> onto another lane or layer to let it follow that · <kbd>Alt</kbd> the opposite`,
    );
  else if (on(".row-line.lane svg"))
    hint(marked`<kbd>double click</kbd> a key here, the motion unchanged · <kbd>drag</kbd> select many`);
}

hand("lanes", 60, { down, move, up, cancel });
