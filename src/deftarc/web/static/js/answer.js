// An answer put on the page: the picture with what is drawn over it, then what follows from that.
import { refreshScenes } from "./dialogs.js";
import { showHow } from "./easing.js";
import { putFragments } from "./fragments.js";
import { selectTool, showScene } from "./holding.js";
import { showKeyBox, tellKeyBox } from "./keybox.js";
import { markSelected } from "./keys.js";
import { showSnapLine } from "./lanes.js";
import { look } from "./link.js";
import { say } from "./notice.js";
import { prepare } from "./drawings.js";
import { alikeAt, shapesBy } from "./painter.js";
import { showLevel } from "./pair.js";
import { showHand } from "./pathbar.js";
import { settlePoints, tellOnRuler } from "./pathhand.js";
import { tellSaved } from "./queue.js";
import { handOn } from "./receivers.js";
import { mark, put } from "./renew.js";
import { repaint, resize } from "./stage.js";
import {
  choose,
  dropLayers,
  foldRows,
  keepOpen,
  knowItem,
  knowLayer,
  knowWithin,
  knowRevision,
  learn,
  showAxis,
  showSnapped,
  standAt,
  state,
} from "./state.js";
import { drawnAs } from "./table.js";
import { showFrame } from "./time.js";
import { showTold } from "./tolerance.js";

const element = (id) => document.getElementById(id);

const drawings = new Map();

let sceneNamed = null;
let sceneShown = null;

let toolBefore = null;

// What was in the hand before the page was loaded again; taken up with the first answer.
export const takeUp = (tool) => {
  toolBefore = tool;
};

// An answer is put on the page: the picture with what is drawn over it, then what follows from that. Under a hand on
// the picture these come one after the other, else as one.
export function receive(answer, asked) {
  const { head } = answer;
  if (head.gone) {
    say(head.gone);
    showScene(head.scene.id);
    return;
  }
  knowRevision(head.tentative ? Math.max(state.revision, head.revision) : head.revision);
  if (head.brief) {
    takeBrief(answer, asked);
    return;
  }
  const alike = head.rest || takePicture(answer, asked);
  if (head.ahead) {
    repaint(!alike);
    tellOnRuler();
    document.dispatchEvent(new CustomEvent("deftarc:moved", { detail: { n: head.n } }));
  } else takeRest(answer, asked, alike);
}

// What lies under a hand in the lanes, that moves too many for all the rest to keep up with it: the rows in view, and
// the picture where that came along.
function takeBrief(answer, asked) {
  const { head } = answer;
  if (head.scene) {
    const alike = takePicture(answer, asked);
    repaint(!alike);
  } else {
    takeKeys(head, asked);
    showSnapped(head.snapped || null);
  }
  // Rows come with what is selected marked: there is nothing to point at in them meanwhile.
  handOn(head);
  showKeyBox();
  tellKeyBox();
  showSnapLine();
  document.dispatchEvent(new CustomEvent("deftarc:moved", { detail: { n: head.n } }));
}

// Returns whether the picture stays as it is, but for what is drawn over it.
function takePicture({ head, items, columns, still, smear }, asked) {
  let alike = mayStay(head, still);
  if (head.scene) takeScene(head);
  takeKeys(head, asked);
  showSnapped(head.snapped || null);
  if (head.layers) takeLayers(head.layers);
  if (head.within) takeWithin(head.within);
  alike = takeItems(head, items) && alike;
  // What did not change did not come: it is kept as it was.
  learn({ columns: { ...state.columns, ...columns } });
  if (head.scene) {
    learn({ paths: head.paths || [], outline: head.points || null });
    if (!head.tentative) settlePoints();
  }
  takeStill(still, head);
  learn({ smear: drawnSmear(smear) });
  learn({ handles: head.handles || null });
  if (!state.playing && head.frame !== state.frame && state.frame >= state.scene.frames) standAt(head.frame);
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
  if (head.keys && asked?.keys === state.keys) choose({ keys: head.keys });
  learn({ shownKeys: (head.tentative && head.selects) || null });
}

function takeScene(head) {
  const resized = head.scene.width !== state.scene.width || head.scene.height !== state.scene.height;
  const told = JSON.stringify([head.scene.id, head.scene.name]);
  learn({ scene: head.scene, rounded: head.rounded });
  if (resized || sceneShown !== head.scene.id) resize();
  sceneShown = head.scene.id;
  put(element("project-name"), "textContent", head.project);
  put(element("where-about"), "textContent", `${head.scene.width} × ${head.scene.height}`);
  mark(element("lock-guides"), "aria-checked", head.scene.guides_locked);
  if (sceneNamed !== null && sceneNamed !== told) refreshScenes();
  sceneNamed = told;
}

export function drawingOf(name) {
  const id = drawnAs(name);
  return drawings.get(state.info.get(id)?.drawing || state.within.get(id));
}

shapesBy(drawingOf);

// What leaves in scenes shown within this one are painted with.
function takeWithin({ keys, drawings: fresh }) {
  for (const [key, drawing] of Object.entries(fresh)) drawings.set(key, prepare(drawing));
  knowWithin(keys);
}

// Whether all items look as they did.
function takeItems(head, items) {
  let alike = true;
  if (head.table) {
    alike = String(head.table.roots) === String(state.roots);
    learn({ roots: head.table.roots });
  }
  for (const told of items) {
    const item = { ...told, drawing: drawingOf(told.layer) };
    const before = state.items.get(told.layer);
    alike &&= Boolean(before && alikeAt(before, item, state.frame));
    knowItem(item);
  }
  for (const item of state.items.values()) item.drawing = drawingOf(item.layer);
  return alike;
}

function takeStill(still, head) {
  const shown = (item) => ({ ...item, shows: [0, Infinity], still: true, frame: 0, drawing: drawingOf(item.layer) });
  learn({
    still: still && { frame: still.frame, items: new Map(still.items.map((item) => [item.layer, shown(item)])) },
  });
  learn({ pose: state.still && head.frame === state.frame ? head.pose : null });
}

// What smears, its items by name and with their drawings.
export const drawnSmear = (smear) =>
  smear && {
    ...smear,
    items: new Map(smear.items.map((item) => [item.layer, { ...item, drawing: drawingOf(item.layer) }])),
  };

function takeRest({ head, columns }, asked, alike) {
  if (head.folded && !state.folded) foldRows(new Set(head.folded));
  // An answer to what was asked before the axis was moved on says nothing of where it is now.
  if (head.axis && (!asked || asked.axis === state.axis)) {
    // The page may have been laid out anew while this was on its way: its own width holds.
    const late = head.axis.width !== state.axisWidth;
    showAxis({ ...head.axis, width: state.axisWidth });
    if (late) look();
  }
  if (head.cut) learn({ columns: { ...state.columns, ...columns } });
  if (head.good) {
    learn({ columns: Object.fromEntries(head.good.map((name) => [name, columns[name] || state.columns[name]])) });
    if (head.tentative) showTold(head.told);
    learn({ history: head.history, pair: head.pair || null, stops: head.stops || [] });
  }
  handOn(head);
  putFragments(head.fragments, head.tentative);
  if (head.good) showHistory();
  showFrame({ picture: !alike, over: !head.rest });
  markSelected();
  showKeyBox();
  tellKeyBox();
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
    knowLayer(told);
  }
  learn({ order });
  const here = new Set(order);
  dropLayers([...state.info.keys()].filter((id) => !here.has(id)));
  if (state.layers.some((id) => !here.has(id))) {
    choose({ layers: state.layers.filter((id) => here.has(id)) });
    look();
  }
  choose({ keys: state.keys.filter((key) => here.has(key.layer)) });
  keepOpen(state.opened.filter((lane) => here.has(lane.layer)));
  put(element("stage-empty"), "hidden", order.length > 0);
}

function showHistory() {
  const { undo, redo, steps } = state.history;
  put(element("undo"), "disabled", !undo);
  put(element("redo"), "disabled", !redo);
  put(element("undo"), "title", undo ? `Undo: ${undo} (Ctrl Z)` : "Nothing to undo");
  put(element("redo"), "title", redo ? `Redo: ${redo} (Ctrl Shift Z)` : "Nothing to redo");
  tellSaved(steps);
}
