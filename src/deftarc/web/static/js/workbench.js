// The workbench: what comes back is put on the page, and gestures are handed to whom they concern.
import { typedNumber } from "./numbers.js";
import { handOn, receives } from "./receivers.js";
import { cancelAny } from "./hands.js";
import { addThing, chooseFont, placing, replaceArtwork, wireAdd } from "./add.js";
import { applyLayout, giveRoom, pairHeight, wireDividers, wireTheme } from "./chrome.js";
import { deleteScene, duplicateScene, newScene, refreshScenes, sceneSettings, takeBack } from "./dialogs.js";
import { stepCurve, wireCurves } from "./curves.js";
import { showHow, wireEasing } from "./easing.js";
import { wireFields } from "./fields.js";
import { cancelNumberDrag, wireFigures } from "./figures.js";
import { isolate, keyHere, markSelected, nudgeKeys, selectAtPlayhead, showSnapLine, wireLanes } from "./lanes.js";
import { putFragments } from "./fragments.js";
import { attempt, commit, connect, look, momentOf, revealRow, settled, step, tellRefused } from "./link.js";
import { clickedAt, closeMenu, showMenu } from "./showmenu.js";
import { menuAt, wireMenu } from "./menu.js";
import { act, actionOf, actOrSay, does, has, menuOf } from "./actions.js";
import { findAction, wireFindAction } from "./findaction.js";
import { ask, hint, say } from "./notice.js";
import { fitPair, showLevel, wirePair } from "./pair.js";
import { stepOrder } from "./order.js";
import { alikeAt, prepare, whenPictureArrives } from "./painter.js";
import { cancelPen, deletePoints, nudgePoints, penKey, wirePen } from "./pen.js";
import { wireGhosts } from "./ghosts.js";
import { drawnPath, setHand, showHand, toggleSegments, wirePathBar } from "./pathbar.js";
import { deletePathPoints, nudgePath, pressPoint, settlePoints, tellOnRuler, wirePathHand } from "./pathhand.js";
import { begin, enter } from "./place.js";
import { openRender, wireRender } from "./render.js";
import { mark, put } from "./renew.js";
import { wireSamples } from "./samples.js";
import { showRefused, showTold } from "./tolerance.js";
import { showRows, tellWindow, wireRows } from "./rows.js";
import { fitSelected, nudge, repaint, resize, wireStage } from "./stage.js";
import { lists } from "./lists.js";
import { liked, like, newId, state, timeNow, timeOf, toldFrame } from "./state.js";
import { dropWords, editText } from "./textedit.js";
import {
  paintBy,
  fitKeys,
  fitTime,
  goTo,
  play,
  playFromRange,
  setRange,
  setSpeed,
  setUnit,
  showFrame,
  showUnit,
  stats,
  toKey,
  wireTime,
} from "./time.js";
import { tryOuts, whereDrawingsAre, wireTryOuts } from "./tryouts.js";
import { fit, fullSize, toClient, viewOf } from "./view.js";

const drawings = new Map();
let width = 0; // of the time axis, px
let sceneNamed = null;
let sceneShown = null;
let toolBefore = null; // what was in the hand before the page was loaded again
const element = (id) => document.getElementById(id);

function select(layers, { keepKeys = false } = {}) {
  state.layers = layers;
  if (!keepKeys) state.keys = [];
  if (!keepKeys) state.focus = null;
  state.points = [];
  if (!keepKeys) state.pathPoints = [];
  if (layers[0]) revealRow(layers[0]);
  repaint();
  markSelected();
  look();
}

// An answer is put on the page: the picture with what is drawn over it, then what follows from that. Under a hand on
// the picture these come one after the other, else as one.
function receive(answer, asked) {
  const { head } = answer;
  if (head.gone) {
    say(head.gone);
    showScene(head.scene.id);
    return;
  }
  state.revision = head.tentative ? Math.max(state.revision, head.revision) : head.revision;
  const alike = head.rest || takePicture(answer, asked);
  if (head.ahead) {
    repaint(!alike);
    tellOnRuler();
    document.dispatchEvent(new CustomEvent("deftarc:moved", { detail: { n: head.n } }));
  } else takeRest(answer, asked, alike);
}

// Returns whether the picture stays as it is, but for what is drawn over it.
function takePicture({ head, items, columns, still }, asked) {
  let alike = mayStay(head, still);
  if (head.scene) takeScene(head);
  takeKeys(head, asked);
  state.snapped = head.snapped || null;
  if (head.layers) takeLayers(head.layers);
  alike = takeItems(head, items) && alike;
  // What did not change did not come: it is kept as it was.
  state.columns = { ...state.columns, ...columns };
  if (head.scene) {
    state.paths = head.paths || [];
    if (!head.tentative) settlePoints();
    state.outline = head.points || null;
  }
  takeStill(still, head);
  if (!state.playing && head.frame !== state.frame && state.frame >= state.scene.frames) state.frame = head.frame;
  return alike;
}

// While keys away from this frame are dragged, the picture stays: only its path and dots move.
function mayStay(head, still) {
  const ordered = !head.layers || String(head.layers.order) === String(state.order);
  const drawn = Boolean(head.tentative && head.scene && !still && !state.still);
  return drawn && ordered && head.scene.background === state.scene.background;
}

// Keys that are gone are no longer selected, unless others have been meanwhile.
function takeKeys(head, asked) {
  if (head.keys && asked?.keys === state.keys) state.keys = head.keys;
  state.shownKeys = (head.tentative && head.selects) || null;
}

function takeScene(head) {
  const resized = head.scene.width !== state.scene.width || head.scene.height !== state.scene.height;
  const told = JSON.stringify([head.scene.id, head.scene.name]);
  state.scene = head.scene;
  state.rounded = head.rounded;
  if (resized || sceneShown !== head.scene.id) resize();
  sceneShown = head.scene.id;
  put(element("project-name"), "textContent", head.project);
  put(element("where-about"), "textContent", `${head.scene.width} × ${head.scene.height}`);
  mark(element("lock-guides"), "aria-checked", head.scene.guides_locked);
  if (sceneNamed !== null && sceneNamed !== told) refreshScenes();
  sceneNamed = told;
}

const drawingOf = (id) => drawings.get(state.info.get(id)?.drawing);

// Whether all items look as they did.
function takeItems(head, items) {
  let alike = true;
  if (head.table) {
    alike = String(head.table.roots) === String(state.roots);
    state.roots = head.table.roots;
  }
  for (const told of items) {
    const item = { ...told, drawing: drawingOf(told.layer) };
    const before = state.items.get(told.layer);
    alike &&= Boolean(before && alikeAt(before, item, state.frame));
    state.items.set(told.layer, item);
  }
  for (const item of state.items.values()) item.drawing = drawingOf(item.layer);
  return alike;
}

function takeStill(still, head) {
  const shown = (item) => ({ ...item, shows: [0, Infinity], still: true, frame: 0, drawing: drawingOf(item.layer) });
  state.still = still && { frame: still.frame, items: new Map(still.items.map((item) => [item.layer, shown(item)])) };
  state.pose = state.still && head.frame === state.frame ? head.pose : null;
}

function takeRest({ head, columns }, asked, alike) {
  if (head.folded && !state.folded) state.folded = new Set(head.folded);
  // An answer to what was asked before the axis was moved on says nothing of where it is now.
  if (head.axis && (!asked || asked.axis === state.axis)) {
    // The page may have been laid out anew while this was on its way: its own width holds.
    const late = head.axis.width !== width;
    state.axis = { ...head.axis, width };
    if (late) look();
  }
  if (head.good) {
    state.columns = Object.fromEntries(head.good.map((name) => [name, columns[name] || state.columns[name]]));
    state.history = head.history;
    if (head.tentative) showTold(head.told);
    state.pair = head.pair || null;
    state.stops = head.stops || [];
  }
  handOn(head);
  putFragments(head.fragments, head.tentative);
  if (head.good) showHistory();
  showFrame({ picture: !alike, over: !head.rest });
  markSelected();
  showSnapLine();
  showLevel();
  showHow();
  showHand();
  tellOnRuler();
  toolAgain();
  document.dispatchEvent(new CustomEvent("deftarc:painted", { detail: { n: head.n, tentative: head.tentative } }));
}

// What was in the hand before the page was loaded again is so once more.
function toolAgain() {
  const tool = toolBefore;
  toolBefore = null;
  if (tool && tool !== "move") selectTool(tool);
}

function takeLayers({ order, changed, drawings: fresh }) {
  for (const [key, drawing] of Object.entries(fresh)) drawings.set(key, prepare(drawing));
  for (const told of changed) {
    if (told.trouble && state.info.get(told.id)?.trouble !== told.trouble) say(`${told.name}: ${told.trouble}`);
    state.info.set(told.id, told);
  }
  state.order = order;
  const here = new Set(order);
  for (const id of [...state.info.keys()])
    if (!here.has(id)) {
      state.info.delete(id);
      state.items.delete(id);
      state.folded?.delete(id);
      state.isolated.delete(id);
    }
  if (state.layers.some((id) => !here.has(id))) {
    state.layers = state.layers.filter((id) => here.has(id));
    look();
  }
  state.keys = state.keys.filter((key) => here.has(key.layer));
  state.opened = state.opened.filter((lane) => here.has(lane.layer));
  put(element("stage-empty"), "hidden", order.length > 0);
}

// Another scene on this page; what was under way in the one before is put back.
function showScene(id) {
  enter(id, width, () => {
    play(false);
    cancelAny();
    selectTool("move");
  });
}

// Where an undo or a redo was: its scene, its frame where it would not be seen at this one, and what it changed.
function goThere(went) {
  const elsewhere = went.scene !== state.scene.id;
  if (elsewhere) showScene(went.scene);
  const moved = went.frame !== null && went.frame !== state.frame;
  if (moved) {
    play(false);
    state.frame = went.frame;
  }
  state.layers = went.layers;
  state.keys = went.keys;
  state.points = [];
  state.pathPoints = [];
  if (went.layers[0] && (elsewhere || moved)) revealRow(went.layers[0]);
  if (elsewhere || moved) say(went.words);
  else hint(went.words);
}

// What Keying changes has keyed since it was switched on, with one way to take it all back.
function showKeyed(told) {
  element("keyed-count").textContent = told.length ? ` · ${told.length}` : "";
  element("keyed-open").hidden = !state.keying || !told.length;
  const menu = element("keyed-menu");
  menu.replaceChildren();
  const list = document.createElement("ul");
  list.className = "keyed-list";
  for (const words of told.slice(-40)) list.append(Object.assign(document.createElement("li"), { textContent: words }));
  const back = Object.assign(document.createElement("button"), {
    className: "dropdown-item",
    textContent: "Take all of these back",
  });
  back.addEventListener("click", takeBack);
  menu.append(
    Object.assign(document.createElement("p"), { textContent: "Keyed since it was switched on:" }),
    list,
    back,
  );
}

function showHistory() {
  const { undo, redo, steps } = state.history;
  put(element("undo"), "disabled", !undo);
  put(element("redo"), "disabled", !redo);
  put(element("undo"), "title", undo ? `Undo: ${undo} (Ctrl Z)` : "Nothing to undo");
  put(element("redo"), "title", redo ? `Redo: ${redo} (Ctrl Shift Z)` : "Nothing to redo");
  if (!state.tentative)
    put(element("saved"), "textContent", steps > 1 ? `All ${steps} steps saved` : steps ? "1 step saved" : "Saved");
}

function setKeying(on) {
  state.keying = on;
  state.keyingSince = on ? state.history.steps : null;
  document.body.classList.toggle("is-keying", on);
  element("keying").setAttribute("aria-pressed", String(on));
  showKeyed([]);
  repaint();
  look();
}

function toggleLoop() {
  state.loop = !state.loop;
  element("loop").setAttribute("aria-pressed", String(state.loop));
}

function toggleKeep() {
  state.keep = !state.keep;
  element("keep").setAttribute("aria-pressed", String(state.keep));
  hint(
    state.keep
      ? "<b>Keep</b> · clicks on the picture leave the selection as it is; a drag anywhere moves it"
      : "Clicks on the picture select again.",
  );
}

function selectTool(tool) {
  cancelPen();
  state.tool = tool;
  state.points = [];
  element("path-bar").hidden = tool !== "path";
  if (tool === "path") setHand("bend");
  else {
    state.pathPoints = [];
    delete element("stage").dataset.hand;
  }
  element("stage").dataset.tool = tool;
  for (const chip of document.querySelectorAll("[data-tool].chip"))
    chip.setAttribute(
      "aria-pressed",
      String(chip.dataset.tool === tool || (tool === "line" && chip.dataset.tool === "pen")),
    );
  if (tool === "points" && !state.info.get(state.layers[0])?.traits.includes("points"))
    say("Select a free path to edit its points. Draw one with the pen, or take a logo apart.");
  resize();
  repaint();
  look({ fresh: tool === "path" });
}

// Draws or records a path, from whatever tool is in the hand.
function handInPath(what) {
  if (state.tool !== "path") selectTool("path");
  setHand(what);
}

function showLiked() {
  for (const item of document.querySelectorAll("[data-view]"))
    item.setAttribute("aria-checked", String(Boolean(liked[item.dataset.view])));
  for (const chip of document.querySelectorAll("[data-axes].chip"))
    chip.setAttribute("aria-pressed", String(chip.dataset.axes === liked.axes));
  for (const chip of document.querySelectorAll("[data-lane-height]"))
    chip.setAttribute("aria-pressed", String(Number(chip.dataset.laneHeight) === liked.laneHeight));
  for (const item of document.querySelectorAll("[data-filter]"))
    item.setAttribute(
      "aria-checked",
      String(Boolean(liked[item.dataset.filter === "keyed" ? "onlyKeyed" : "onlySelected"])),
    );
  for (const item of document.querySelectorAll("[data-liked]"))
    item.setAttribute("aria-checked", String(Boolean(liked[item.dataset.liked])));
  element("lanes-open").classList.toggle("on", liked.onlyKeyed || liked.onlySelected);
  showUnit();
}

function toggleView(name) {
  like(name, !liked[name]);
  showLiked();
  if (name === "showRulers") resize();
  repaint();
}

function remove() {
  if (deletePathPoints()) return;
  if (state.keys.length)
    commit(() => state.keys.length && { kind: "delete_keys", scene: state.scene.id, keys: state.keys });
  else if (!deletePoints() && state.layers.length)
    commit({ kind: "delete_layers", scene: state.scene.id, layers: state.layers, time: timeNow() });
}

async function duplicate(linked = false) {
  if (!state.layers.length) {
    say("Select a layer to duplicate.");
    return;
  }
  const ids = state.layers.map(newId);
  if (await commit({ kind: "duplicate_layers", scene: state.scene.id, layers: state.layers, ids, linked })) select(ids);
}

function openKeyed() {
  if (!state.layers.length) {
    say("Select layers whose keyed lanes are to be opened.");
    return;
  }
  for (const id of state.layers) state.folded?.delete(id);
  revealRow(state.layers[0]);
  look();
}

function foldAll(on) {
  state.folded = new Set(on ? state.order : []);
  look();
}

function stepLayer(direction) {
  const at = state.order.indexOf(state.layers[0]);
  const next =
    state.order[
      at < 0
        ? direction > 0
          ? 0
          : state.order.length - 1
        : Math.max(0, Math.min(state.order.length - 1, at + direction))
    ];
  if (next) select([next]);
}

async function stretchSpans() {
  const told = await ask({
    title: "Give a length",
    about: "The span from its start, and its keys in proportion.",
    label: "How long",
    value: toldFrame(state.scene.frames),
    act: "Stretch",
  });
  const found = told && (await momentOf(told, true));
  if (found)
    commit({
      kind: "set_span_length",
      scene: state.scene.id,
      layers: state.layers,
      length: Math.max(1, found.time),
      keys: true,
    });
}

async function addGuide() {
  window.bootstrap.Dropdown.getInstance(element("view-open"))?.hide();
  const { width, height, guides } = state.scene;
  const told = await ask({
    title: "Add a guide",
    about: "x stands at a place across, y lies at a place down, in px.",
    label: "Where",
    value: `x ${width / 2}`,
    act: "Add it",
  });
  if (told === null) return;
  const found = told
    .trim()
    .toLowerCase()
    .match(/^([xy])\s*=?\s*(-?\d+(?:[.,]\d+)?)$/);
  if (!found) {
    say(`“${told.slice(0, 40)}” is no place for a guide. Type x ${width / 2} or y ${height / 2}.`);
    return;
  }
  commit({
    kind: "set_guides",
    scene: state.scene.id,
    guides: [...guides, { axis: found[1], at: typedNumber(found[2]) }],
  });
}

// The layer's span to the playhead, with its keys or without.
function spanHere(keys) {
  const start = state.info.get(state.layers[0])?.start ?? 0;
  commit({ kind: "move_spans", scene: state.scene.id, layers: state.layers, by: timeNow() - start, keys });
}

const range = (what) => setRange(what === "all" ? {} : what === "start" ? { start: timeNow() } : { end: timeNow() });
const relayout = () => {
  state.pairHeight = pairHeight();
  measure();
  tellWindow();
  look();
};
const openMenu = (event, at) => menuAt(event, at);
const aLayer = () => state.layers.length > 0;
const someKeys = () => state.keys.length > 0;

/** @type {Record<string, any>} */
const acts = {
  play: [() => play(), { on: () => state.playing }],
  "play-range": playFromRange,
  "previous-frame": () => goTo(state.frame - 1),
  "next-frame": () => goTo(state.frame + 1),
  "previous-key": () => toKey(-1),
  "next-key": () => toKey(1),
  "first-frame": () => goTo(0),
  "last-frame": () => goTo(state.scene.frames - 1),
  "range-start": () => range("start"),
  "range-end": () => range("end"),
  "range-all": () => range("all"),
  loop: [toggleLoop, { on: () => state.loop }],
  keying: [() => setKeying(!state.keying), { on: () => state.keying }],
  undo: [
    () => step("undo", goThere),
    {
      always: true,
      can: () => Boolean(state.history.undo),
      words: () => `Undo${state.history.undo ? `: ${state.history.undo}` : ""}`,
    },
  ],
  redo: [
    () => step("redo", goThere),
    {
      always: true,
      can: () => Boolean(state.history.redo),
      words: () => `Redo${state.history.redo ? `: ${state.history.redo}` : ""}`,
    },
  ],
  render: openRender,
  fit,
  "full-size": fullSize,
  "fit-selected": [fitSelected, { can: aLayer }],
  "fit-time": fitTime,
  "fit-keys": fitKeys,
  "key-here": [() => keyHere(), { can: aLayer, refused: "Select a layer to key." }],
  remove: [
    remove,
    {
      can: () => aLayer() || someKeys() || state.points.length > 0 || state.pathPoints.length > 0,
      words: () => (state.layers.length > 1 && !someKeys() ? `Delete ${state.layers.length} layers` : "Delete"),
    },
  ],
  duplicate: [() => duplicate(), { can: aLayer, refused: "Select a layer to duplicate." }],
  "linked-copy": [
    () => duplicate(true),
    {
      can: () => aLayer() && !state.info.get(state.layers[0])?.traits.includes("empty"),
      refused: "Select a layer to duplicate.",
    },
  ],
  clock: () => element("clock").focus(),
  help: () => {
    const sheet = element("keys-dialog");
    sheet.showModal();
    sheet.focus();
    sheet.scrollTop = 0;
  },
  find: () => element("find").focus(),
  "find-action": findAction,
  "room-picture": () => giveRoom("picture", relayout),
  "room-pair": () => giveRoom("pair", relayout),
  keep: [toggleKeep, { on: () => state.keep }],
  "scene-settings": () => sceneSettings(look),
  "new-scene": newScene,
  "duplicate-scene": duplicateScene,
  "delete-scene": deleteScene,
  "add-guide": addGuide,
  "clear-guides": [
    () => commit({ kind: "set_guides", scene: state.scene.id, guides: [] }),
    { can: () => state.scene.guides.length > 0 },
  ],
  "lock-guides": [
    () => commit({ kind: "set_guides", scene: state.scene.id, locked: !state.scene.guides_locked }),
    { on: () => state.scene.guides_locked },
  ],
  "open-keyed": [openKeyed, { can: aLayer, refused: "Select layers whose keyed lanes are to be opened." }],
  "unfold-all": () => foldAll(false),
  "fold-all": () => foldAll(true),
  isolate: () => (state.layers.length ? isolate(state.layers) : isolate([...state.isolated])),
  "keys-here": () => selectAtPlayhead(false, select),
  "all-keys": () => selectAtPlayhead(true, select),
  "layer-above": () => stepLayer(-1),
  "layer-below": () => stepLayer(1),
  "order-up": [() => stepOrder(-1), { can: aLayer }],
  "order-down": [() => stepOrder(1), { can: aLayer }],
  "tool-move": () => selectTool("move"),
  "tool-points": () => selectTool("points"),
  "tool-pen": () => selectTool("pen"),
  "tool-line": () => selectTool("line"),
  "tool-path": [() => selectTool(state.tool === "path" ? "move" : "path"), { on: () => state.tool === "path" }],
  "edit-points": [
    () => selectTool(state.tool === "points" ? "move" : "points"),
    { can: () => Boolean(state.info.get(state.layers[0])?.traits.includes("points")) },
  ],
  segments: toggleSegments,
  "next-curve": () => stepCurve(1),
  "try-outs": [
    tryOuts,
    {
      can: someKeys,
      refused: "Select the keys, or a segment in the pair, whose motion is to be tried under other eases.",
    },
  ],
  "stretch-span": [stretchSpans, { can: aLayer }],
  "span-here": [() => spanHere(true), { can: aLayer }],
  "span-alone-here": [() => spanHere(false), { can: aLayer }],
  "replace-artwork": [
    replaceArtwork,
    { can: () => aLayer() && !state.info.get(state.layers[0])?.traits.includes("empty") },
  ],
  "edit-words": [
    () => editText(state.layers[0]),
    { can: () => Boolean(state.info.get(state.layers[0])?.traits.includes("words")) },
  ],
  "add-text": () => addThing("text", select, selectTool),
  "add-file": () => addThing("file", select, selectTool),
  "add-shelf": () => addThing("shelf", select, selectTool),
  "bring-font": chooseFont,
  "path-draw": () => handInPath("draw"),
  "path-record": () => handInPath("record"),
  theme: [() => element("theme").click()],
};
// What is seen and how it is told: each is one choice kept in this browser.
const VIEWS = {
  "path-shown": "showPath",
  "dots-shown": "showDots",
  ghosts: "ghosts",
  rulers: "showRulers",
  grid: "showGrid",
  "guides-shown": "showGuides",
  snap: "snap",
  "snap-layers": "snapLayers",
  "snap-frame": "snapFrame",
  "snap-guides": "snapGuides",
  "snap-grid": "snapGrid",
};
for (const [id, name] of Object.entries(VIEWS)) acts[id] = [() => toggleView(name), { on: () => liked[name] }];
/** @type {Record<string, [string, () => any, any]>} */
const KEPT = {
  "only-keyed": ["onlyKeyed", () => !liked.onlyKeyed, true],
  "only-selected": ["onlySelected", () => !liked.onlySelected, true],
  "lanes-low": ["laneHeight", () => 22, 22],
  "lanes-usual": ["laneHeight", () => 27, 27],
  "lanes-tall": ["laneHeight", () => 46, 46],
  "in-own": ["axes", () => "own", "own"],
  "in-parent": ["axes", () => "parent", "parent"],
  "in-scene": ["axes", () => "scene", "scene"],
};
for (const [id, [name, next, value]] of Object.entries(KEPT))
  acts[id] = [() => liking(name, next()), { on: () => liked[name] === value }];
for (const unit of ["timecode", "drop", "frames", "seconds"])
  acts[`unit-${unit}`] = [
    () => setUnit(unit),
    { can: () => unit !== "drop" || state.scene.skips, on: () => liked.unit === unit },
  ];
for (const [word, speed] of Object.entries({ full: 1, half: 0.5, quarter: 0.25 }))
  acts[`speed-${word}`] = [() => setSpeed(speed), { on: () => state.speed === speed }];
for (const { kind } of lists.artworks) acts[`add-${kind}`] = () => addThing(kind, select, selectTool);
for (const [id, told] of Object.entries(acts)) {
  const [run, how] = /** @type {any[]} */ ([told].flat());
  does(id, run, how);
}

function dropSelected() {
  state.keys = [];
  state.points = [];
  state.pathPoints = [];
  repaint();
  markSelected();
  look();
}

// One thing at a time: what is under way, keys or points, then the tool, then the layers.
function escape(event) {
  const open = document.querySelector("[data-bs-toggle=dropdown].show");
  if (open) {
    window.bootstrap.Dropdown.getInstance(open)?.hide();
    return;
  }
  if (dropWords(event, () => act("undo")) || closeMenu() || cancelAny()) return;
  if (state.keys.length || state.points.length || state.pathPoints.length) dropSelected();
  else if (state.tool !== "move") selectTool("move");
  else select([]);
}

// Arrows move what is selected: points of a path, keys in time or value, points of an outline, layers.
function arrows([x, y], size) {
  if (nudgePath(x * size, y * size)) return;
  if (state.keys.length && x) nudgeKeys(x * size);
  else if (state.keys.length && state.keys.every((key) => key.property !== "position") && state.pair)
    nudgeKeys(0, (-y * size) / state.pair.factor);
  else if (!nudgePoints(x * size, y * size)) nudge(x * size, y * size);
}

const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

// Keys that mean what is under way or selected; whether it was one of these.
function plainKey(event) {
  if (penKey(event.key)) event.preventDefault();
  else if (event.key === "Escape") escape(event);
  else if (event.key in ARROWS && !event.target.closest(".dropdown-menu, [role=separator]")) {
    event.preventDefault();
    arrows(ARROWS[event.key], event.shiftKey ? 10 : 1);
  } else return false;
  return true;
}

function onKey(event) {
  if (event.target.closest("input, textarea, select, dialog")) {
    if (event.key === "Escape") cancelNumberDrag();
    return;
  }
  const meant = actionOf(event);
  const control = event.ctrlKey || event.metaKey;
  if (!control && plainKey(event)) return;
  if (meant && (control || !(event.key === " " && event.target.closest("button")))) {
    // Space and Enter on a focused button press that button.
    event.preventDefault();
    actOrSay(meant);
  }
}

// What buttons with a choice on them do, by the name of the choice.
const CHOICES = {
  tool: selectTool,
  view: toggleView,
  axes: (axes) => liking("axes", axes),
  laneHeight: (px) => liking("laneHeight", Number(px)),
  filter: (which) => liking(FILTER[which], !liked[FILTER[which]]),
  unit: setUnit,
  fitPair,
  liked: (name) => liking(name, !liked[name]),
  speed: (told) => setSpeed(Number(told)),
};
const FILTER = { keyed: "onlyKeyed", selected: "onlySelected" };

function liking(name, value) {
  like(name, value);
  showLiked();
  look();
}

function onClick(event) {
  const button = event.target.closest("button");
  if (!button) return;
  const asked = event.target.closest("[data-do]")?.dataset.do;
  const choice = Object.keys(CHOICES).find((name) => button.dataset[name]);
  if (asked && has(asked)) actOrSay(asked);
  else if (choice) CHOICES[choice](button.dataset[choice]);
  else if (button.dataset.menu && menuOf(button.dataset.menu).length)
    showMenu(...clickedAt(event), menuOf(button.dataset.menu));
  // A menu keeps its button in mind, to go back to.
  if (event.detail && !button.dataset.menu && (choice || (asked && has(asked))) && !button.closest("#figures"))
    button.blur();
}

function measure() {
  const now = Math.max(60, element("ruler").clientWidth);
  if (now === width) return;
  width = now;
  state.axis = state.axis ? { ...state.axis, width: now } : { start: 0, end: 0, width: now };
}

receives("lanes", showRows);
receives("keyed", showKeyed);
applyLayout();
state.pairHeight = pairHeight();
measure();
toolBefore = begin(width);
tellWindow();
showLiked();
wireTheme(repaint);
wireDividers(relayout);
wireMenu(select);
wireFindAction();
wirePen(
  placing,
  (id) => {
    selectTool("move");
    if (id) select([id]);
  },
  drawnPath,
  select,
);
wirePathHand(select);
wirePathBar();
wireSamples();
wireGhosts(repaint);
tellRefused(showRefused);
wireStage(select, openMenu, editText);
wireTime();
paintBy(repaint);
wireRows();
wireLanes(select, openMenu);
wireFigures(openMenu);
wireFields();
wireEasing();
wirePair(select, openMenu);
wireCurves();
wireTryOuts();
whereDrawingsAre((layer) => drawings.get(state.info.get(layer)?.drawing));
wireAdd(select, selectTool);
wireRender();
whenPictureArrives(repaint);
document.addEventListener("keydown", onKey);
document.addEventListener("click", onClick);
// The browser's own dragging of text and pictures would take the pointer away from ours.
document.addEventListener("dragstart", (event) => event.preventDefault());
document.addEventListener("deftarc:isolated", repaint);
document.addEventListener("deftarc:floating", ({ detail: { layer, point, add } }) => {
  if (layer !== state.layers[0]) select([layer]);
  pressPoint(point, add);
  markSelected();
});
element("scene").addEventListener("change", (event) => {
  event.target.blur();
  showScene(event.target.value);
});
document.addEventListener("deftarc:scene", ({ detail }) => showScene(detail));
element("find").addEventListener("input", (event) => {
  liked.find = event.target.value;
  look();
});
element("find").addEventListener("keydown", (event) => {
  if (event.key !== "Escape") return;
  event.target.value = liked.find = "";
  event.target.blur();
  look();
});
new ResizeObserver(() => {
  applyLayout();
  relayout();
}).observe(element("spread"));
connect(receive);

// For tests and benchmarks: they drive the page with real events and read back what it shows.
window.deftarc = { state, stats, settled, viewOf, toClient, attempt, look, toldFrame, like, timeOf };
