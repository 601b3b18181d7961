// The workbench: what comes back is put on the page, and gestures are handed to whom they concern.
import { wireAdd } from "./add.js";
import { applyLayout, giveRoom, pairHeight, wireDividers, wireTheme } from "./chrome.js";
import { cancelNumberDrag, wireFigures } from "./figures.js";
import { cancelLaneDrag, keyHere, markSelected, nudgeKeys, wireLanes } from "./lanes.js";
import { attempt, commit, connect, look, settled, step } from "./link.js";
import { say } from "./notice.js";
import { prepare, whenPictureArrives } from "./painter.js";
import { openRender, wireRender } from "./render.js";
import { cancelDrag, fit, nudge, repaint, resize, toClient, viewOf, wireStage } from "./stage.js";
import { state } from "./state.js";
import { fitKeys, fitTime, goTo, play, showFrame, stats, toKey, wireTime } from "./time.js";

const drawings = new Map();
let reveal = null; // the layer whose row is to be brought into view
let width = 0; // of the time axis, px
const element = (id) => document.getElementById(id);

function select(layers, { keepKeys = false } = {}) {
  state.layers = layers;
  if (!keepKeys) state.keys = [];
  if (!keepKeys) state.focus = null;
  reveal = layers[0] || null;
  repaint();
  markSelected();
  look();
}

// A fragment replaces what is there; a field being typed in keeps its words and its caret.
function swap(id, html) {
  if (id.startsWith("layer-")) {
    const old = element(id);
    // A name being typed is left alone; the row is drawn when it is done.
    if (old && !old.querySelector(".rename")) old.outerHTML = html;
    return;
  }
  const place = element(id);
  const active = document.activeElement;
  const name = place.contains(active) ? active.dataset.id : null;
  const kept = name ? { value: active.value, before: active.dataset.before, start: active.selectionStart, end: active.selectionEnd, dirty: active.value !== active.dataset.before } : null;
  const range = place.contains(active) && active.matches("[data-strength]");
  if (range) {
    // A slider under the pointer must stay the same element: only what stands around it is renewed.
    const fresh = document.createElement("div");
    fresh.innerHTML = html;
    const about = fresh.querySelector(".segment .about");
    if (about && place.querySelector(".segment .about")) place.querySelector(".segment .about").textContent = about.textContent;
    if (state.tentative) return;
  }
  place.innerHTML = html;
  if (range) place.querySelector("[data-strength]")?.focus();
  const again = name && place.querySelector(`[data-id="${name}"]`);
  if (again) {
    again.focus({ preventScroll: true });
    if (kept.dirty && !again.matches("textarea")) { again.value = kept.value; again.dataset.before = kept.before; }
    try { again.setSelectionRange(kept.start, kept.end); } catch { /* not a text field */ }
  }
}

function receive({ head, items, columns, still }, asked) {
  state.revision = head.tentative ? Math.max(state.revision, head.revision) : head.revision;
  if (head.scene) {
    const resized = head.scene.width !== state.scene.width || head.scene.height !== state.scene.height;
    state.scene = head.scene;
    state.history = head.history;
    if (resized) resize();
    element("project-name").textContent = head.project;
  }
  if (head.folded && !state.folded) state.folded = new Set(head.folded);
  if (head.axis) {
    // The page may have been laid out anew while this was on its way: its own width holds.
    const late = head.axis.width !== width;
    state.axis = { ...head.axis, width };
    if (late) look();
  }
  if (head.layers) takeLayers(head.layers);
  for (const item of items) state.items.set(item.layer, { ...item, drawing: drawings.get(state.info.get(item.layer)?.drawing) });
  for (const item of state.items.values()) item.drawing = drawings.get(state.info.get(item.layer)?.drawing);
  if (!asked?.light || head.scene) { state.columns = columns; state.path = head.path || []; state.pair = head.pair || null; }
  state.pose = head.pose;
  state.still = still && { frame: still.frame, items: new Map(still.items.map((item) => [item.layer, { ...item, shows: [0, Infinity], still: true, frame: 0, drawing: drawings.get(state.info.get(item.layer)?.drawing) }])) };
  for (const [id, html] of Object.entries(head.fragments)) swap(id, html);
  if (!state.playing && head.frame !== state.frame && state.frame >= state.scene.frames) state.frame = head.frame;
  if (reveal && head.scene) { element(`layer-${reveal}`)?.scrollIntoView({ block: "nearest" }); reveal = null; }
  showHistory();
  showFrame();
  markSelected();
  document.dispatchEvent(new CustomEvent("deftarc:painted", { detail: { n: head.n, tentative: head.tentative } }));
}

function takeLayers({ order, changed, drawings: fresh }) {
  for (const [key, drawing] of Object.entries(fresh)) drawings.set(key, prepare(drawing));
  for (const told of changed) state.info.set(told.id, told);
  state.order = order;
  const here = new Set(order);
  for (const id of [...state.info.keys()]) if (!here.has(id)) { state.info.delete(id); state.items.delete(id); state.folded?.delete(id); }
  if (state.layers.some((id) => !here.has(id))) { state.layers = state.layers.filter((id) => here.has(id)); look(); }
  state.keys = state.keys.filter((key) => here.has(key.layer));
  element("stage-empty").hidden = order.length > 0;
}

function showHistory() {
  const { undo, redo, steps } = state.history;
  element("undo").disabled = !undo;
  element("redo").disabled = !redo;
  element("undo").title = undo ? `Undo: ${undo} (Ctrl Z)` : "Nothing to undo";
  element("redo").title = redo ? `Redo: ${redo} (Ctrl Shift Z)` : "Nothing to redo";
  if (!state.tentative) element("saved").textContent = steps > 1 ? `All ${steps} steps saved` : steps ? "1 step saved" : "Saved";
}

function setKeying(on) {
  state.keying = on;
  document.body.classList.toggle("is-keying", on);
  element("keying").setAttribute("aria-pressed", String(on));
  repaint();
}

function toggle(name, button) {
  state[name] = !state[name];
  element(button).setAttribute("aria-pressed", String(state[name]));
  repaint();
}

function remove() {
  if (state.keys.length) commit(() => state.keys.length && { kind: "delete_keys", scene: state.scene.id, keys: state.keys });
  else if (state.layers.length) commit({ kind: "delete_layers", scene: state.scene.id, layers: state.layers });
}

async function duplicate() {
  if (!state.layers.length) { say("Select a layer to duplicate."); return; }
  const ids = state.layers.map(() => Array.from(crypto.getRandomValues(new Uint8Array(5)), (n) => n.toString(16).padStart(2, "0")).join(""));
  if (await commit({ kind: "duplicate_layers", scene: state.scene.id, layers: state.layers, ids })) select(ids);
}

const relayout = () => { state.pairHeight = pairHeight(); measure(); look(); };
const acts = {
  play: () => play(), "previous-frame": () => goTo(state.frame - 1), "next-frame": () => goTo(state.frame + 1),
  "previous-key": () => toKey(-1), "next-key": () => toKey(1), "first-frame": () => goTo(0), "last-frame": () => goTo(state.scene.frames - 1),
  loop: () => toggle("loop", "loop"), keying: () => setKeying(!state.keying), undo: () => step("undo"), redo: () => step("redo"),
  render: openRender, fit, "fit-time": fitTime, "fit-keys": fitKeys, "show-path": () => toggle("showPath", "show-path"),
  "show-dots": () => toggle("showDots", "show-dots"), "key-here": () => (state.layers.length ? keyHere() : say("Select a layer to key.")),
  remove, duplicate, clock: () => element("clock").focus(), help: () => element("keys-dialog").showModal(),
  "room-picture": () => giveRoom("picture", relayout), "room-pair": () => giveRoom("pair", relayout),
};

const KEYS = {
  " ": "play", ",": "previous-frame", ".": "next-frame", "<": "previous-key", ">": "next-key", Home: "first-frame", End: "last-frame",
  "#": "clock", "+": "key-here", "!": "keying", o: "loop", O: "loop", 0: "fit", Delete: "remove", Backspace: "remove", "?": "help", "(": "room-picture", ")": "room-pair",
};

function onKey(event) {
  if (event.target.closest("input, textarea, select, dialog")) {
    if (event.key === "Escape") cancelNumberDrag();
    return;
  }
  const control = event.ctrlKey || event.metaKey;
  if (control) {
    const name = event.key.toLowerCase();
    const act = name === "z" ? (event.shiftKey ? "redo" : "undo") : name === "y" ? "redo" : name === "d" ? "duplicate" : null;
    if (act) { event.preventDefault(); acts[act](); }
    return;
  }
  if (event.key === "Escape") {
    if (!cancelDrag() && !cancelLaneDrag() && !cancelNumberDrag()) select([]);
    return;
  }
  const arrow = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (arrow) {
    event.preventDefault();
    const size = event.shiftKey ? 10 : 1;
    if (state.keys.length && arrow[0]) nudgeKeys(arrow[0] * size);
    else nudge(arrow[0] * size, arrow[1] * size);
    return;
  }
  let act = KEYS[event.key];
  if (event.shiftKey && event.code === "Digit0") act = "fit-time";
  else if (event.shiftKey && event.code === "Comma") act = "previous-key";
  else if (event.shiftKey && event.code === "Period") act = "next-key";
  // Space and Enter on a focused button press that button.
  if (!act || (event.key === " " && event.target.closest("button"))) return;
  event.preventDefault();
  acts[act]();
}

function measure() {
  const now = Math.max(60, element("ruler").clientWidth);
  if (now === width) return;
  width = now;
  state.axis = state.axis ? { ...state.axis, width: now } : { start: 0, end: 0, width: now };
}

applyLayout();
state.pairHeight = pairHeight();
measure();
wireTheme(repaint);
wireDividers(relayout);
wireStage(select);
wireTime();
wireLanes(select);
wireFigures();
wireAdd(select);
wireRender();
whenPictureArrives(repaint);
document.addEventListener("keydown", onKey);
document.addEventListener("click", (event) => {
  const act = event.target.closest("button[data-do]")?.dataset.do;
  if (act && acts[act]) { acts[act](); if (event.detail) event.target.closest("button").blur(); }
});
element("scene").addEventListener("change", (event) => { location.href = `/projects/${state.project}?scene=${event.target.value}`; });
new ResizeObserver(() => { applyLayout(); relayout(); }).observe(element("spread"));
connect(receive);

// For tests and benchmarks: they drive the page with real events and read back what it shows.
window.deftarc = { state, stats, settled, viewOf, toClient, attempt, look };
