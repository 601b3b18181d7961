// What the workbench's own actions do; those of menus, the path and the pair are said where these are.
import { does } from "./actions.js";
import { addThing, chooseFont, replaceArtwork } from "./add.js";
import { giveRoom } from "./chrome.js";
import { stepCurve } from "./curves.js";
import { deleteScene, duplicateScene, newScene, sceneSettings } from "./dialogs.js";
import { findAction } from "./findaction.js";
import { undoAny } from "./hands.js";
import { goThere, handInPath, select, selectTool, setKeying, toggleKeep, toggleLoop } from "./holding.js";
import { keyHere, selectAtPlayhead } from "./keys.js";
import { isolate } from "./rownames.js";
import { commit, look, momentOf, revealRow, step } from "./link.js";
import { lists } from "./lists.js";
import { deleteMarks } from "./markers.js";
import { ask, say } from "./notice.js";
import { typedNumber } from "./numbers.js";
import { stepOrder } from "./order.js";
import { toggleSegments } from "./pathbar.js";
import { deletePathPoints } from "./pathhand.js";
import { deletePoints } from "./pen.js";
import { openRender } from "./render.js";
import { relayout } from "./room.js";
import { fitSelected } from "./stage.js";
import { foldRows, newId, state, timeNow, toldFrame, unfold } from "./state.js";
import { editText } from "./textedit.js";
import { fitKeys, fitTime, goTo, play, playFromRange, setRange, toKey } from "./time.js";
import { tryInPlace } from "./trial.js";
import { tryOuts } from "./tryouts.js";
import { fit, fullSize } from "./view.js";

const element = (id) => document.getElementById(id);

const removeKeys = (keep_shape) =>
  commit(() => state.keys.length && { kind: "delete_keys", scene: state.scene.id, keys: state.keys, keep_shape });

function remove() {
  if (deleteMarks() || deletePathPoints()) return;
  if (state.keys.length) removeKeys(true);
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
  unfold(state.layers);
  revealRow(state.layers[0]);
  look();
}

function foldAll(on) {
  foldRows(new Set(on ? state.order : []));
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
    () => undoAny() || step("undo", goThere),
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
      can: () =>
        aLayer() || someKeys() || state.marks.length > 0 || state.points.length > 0 || state.pathPoints.length > 0,
      words: () => (state.layers.length > 1 && !someKeys() ? `Delete ${state.layers.length} layers` : "Delete"),
    },
  ],
  "remove-free": [
    () => removeKeys(false),
    {
      can: someKeys,
      refused: "Select keys to delete.",
      words: () => `Delete ${state.keys.length === 1 ? "it" : "them"} and let the curve go`,
    },
  ],
  duplicate: [() => duplicate(), { can: aLayer, refused: "Select a layer to duplicate." }],
  copies: [
    () =>
      tryInPlace({
        kind: "copies_of",
        scene: state.scene.id,
        layers: state.layers,
        time: timeNow(),
      }),
    { can: aLayer, refused: "Select the layers that are to be copied." },
  ],
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

for (const { kind } of lists.artworks) acts[`add-${kind}`] = () => addThing(kind, select, selectTool);
for (const [id, told] of Object.entries(acts)) {
  const [run, how] = /** @type {any[]} */ ([told].flat());
  does(id, run, how);
}
