// What is selected and what is in the hand: layers, tools, keying, and which scene shows.
import { takeBack } from "./dialogs.js";
import { cancelAny } from "./hands.js";
import { markSelected } from "./keys.js";
import { look, revealRow } from "./link.js";
import { hint, say } from "./notice.js";
import { setHand } from "./pathbar.js";
import { cancelPen } from "./pen.js";
import { enter } from "./place.js";
import { repaint, resize } from "./stage.js";
import { choose, focusOn, holdMask, holdTool, keyChanges, setKeep, repeat, standAt, state } from "./state.js";
import { play } from "./time.js";
import { cancelTolerance } from "./tolerance.js";
import { marked } from "./marked.js";

const element = (id) => document.getElementById(id);

export function select(layers, { keepKeys = false } = {}) {
  if (keepKeys) choose({ layers, points: [] });
  else {
    choose({ layers, keys: [], points: [], pathPoints: [] });
    focusOn(null);
  }
  if (layers[0]) revealRow(layers[0]);
  if (!keepKeys) cancelTolerance();
  repaint();
  markSelected();
  look();
}

// Another scene on this page; what was under way in the one before is put back.
export function showScene(id) {
  enter(id, state.axisWidth, () => {
    play(false);
    cancelAny();
    selectTool("move");
  });
  document.dispatchEvent(new CustomEvent("deftarc:trail"));
}

// Where an undo or a redo was: its scene, its frame where it would not be seen at this one, and what it changed.
export function goThere(went) {
  const elsewhere = went.scene !== state.scene.id;
  if (elsewhere) showScene(went.scene);
  const moved = went.frame !== null && went.frame !== state.frame;
  if (moved) {
    play(false);
    standAt(went.frame);
  }
  choose({ layers: went.layers, keys: went.keys, points: [], pathPoints: [] });
  if (went.layers[0] && (elsewhere || moved)) revealRow(went.layers[0]);
  if (elsewhere || moved) say(went.words);
  else hint(went.words);
}

// What Keying changes has keyed since it was switched on, with one way to take it all back.
export function showKeyed(told) {
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

export function setKeying(on) {
  keyChanges(on);
  document.body.classList.toggle("is-keying", on);
  element("keying").setAttribute("aria-pressed", String(on));
  showKeyed([]);
  repaint();
  look();
}

export function toggleLoop() {
  repeat(!state.loop);
  element("loop").setAttribute("aria-pressed", String(state.loop));
}

export function toggleKeep() {
  setKeep(!state.keep);
  element("keep").setAttribute("aria-pressed", String(state.keep));
  hint(
    state.keep
      ? marked`<b>Keep</b> · clicks on the picture leave the selection as it is; a drag anywhere moves it`
      : "Clicks on the picture select again.",
  );
}

export function selectTool(tool) {
  cancelPen();
  holdTool(tool);
  choose({ points: [] });
  element("path-bar").hidden = tool !== "path";
  if (tool === "path") setHand("bend");
  else {
    choose({ pathPoints: [] });
    delete element("stage").dataset.hand;
  }
  element("stage").dataset.tool = tool;
  for (const chip of document.querySelectorAll("[data-tool].chip"))
    chip.setAttribute(
      "aria-pressed",
      String(chip.dataset.tool === tool || (tool === "line" && chip.dataset.tool === "pen")),
    );
  if (tool === "points" && !state.mask && !state.info.get(state.layers[0])?.traits.includes("points")) {
    // What has no points of its own may have masks that do.
    const [mask] = state.items.get(state.layers[0])?.masks || [];
    if (mask) holdMask(mask.id);
    else
      say(
        "Select a free path to edit its points, or a layer with a mask. Draw one with the pen, or take a logo apart.",
      );
  }
  if (tool === "mask" && !state.layers.length) say("Select the layer that is to be masked.");
  resize();
  repaint();
  look({ fresh: tool === "path" });
}

// Draws or records a path, from whatever tool is in the hand.
export function handInPath(what) {
  if (state.tool !== "path") selectTool("path");
  setHand(what);
}
