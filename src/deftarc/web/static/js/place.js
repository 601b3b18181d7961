// Where one is: the scene that shows, and for each scene the frame, the selection and how it was looked at. Scenes are
// changed without leaving the page, and a page loaded again is where it was.
import { look } from "./link.js";
import {
  askPair,
  choose,
  focusOn,
  foldRows,
  forget,
  isolateOnly,
  keepOpen,
  showAxis,
  standAt,
  state,
  toScene,
  walkTo,
} from "./state.js";
import { layOut, view } from "./view.js";

const KEPT = `deftarc.place.${state.project}`;
let kept = { scene: null, tool: "move", scenes: {}, trail: [] };
try {
  kept = { ...kept, ...JSON.parse(sessionStorage.getItem(KEPT) || "{}") };
} catch {
  /* nothing kept */
}

const START = {
  frame: 0,
  layers: [],
  keys: [],
  focus: null,
  folded: null,
  opened: [],
  axis: null,
  isolated: [],
  pathPoints: [],
  view: null,
  pair: { shown: [], hidden: [], pinned: [], colours: [], alone: null, value: null, speed: null },
};

function told() {
  const { frame, layers, keys, focus, folded, opened, axis, isolated, pathPoints, pairAsked } = state;
  return {
    frame,
    layers,
    keys,
    focus,
    folded: folded && [...folded],
    opened,
    axis,
    isolated: [...isolated],
    pathPoints,
    pair: pairAsked,
    view: view.fit ? null : { zoom: view.zoom, x: view.x, y: view.y },
  };
}

function keep() {
  kept.scene = state.scene.id;
  kept.tool = state.tool;
  kept.trail = state.trail;
  kept.scenes[state.scene.id] = told();
  try {
    sessionStorage.setItem(KEPT, JSON.stringify(kept));
  } catch {
    /* no room: nothing is kept */
  }
}

function put(place, width) {
  const { frame, layers, keys, focus, folded, opened, axis, isolated, pathPoints, pair } = place;
  standAt(frame);
  choose({ layers, keys, pathPoints });
  focusOn(focus);
  keepOpen(opened);
  askPair(pair);
  foldRows(folded && new Set(folded));
  isolateOnly(new Set(isolated));
  showAxis(axis ? { ...axis, width } : { start: 0, end: 0, width });
  Object.assign(view, place.view ? { ...place.view, fit: false } : { fit: true });
}

// Shows another scene, as it was looked at last; what was remembered of the one before is put away.
export function enter(id, width, over = () => {}) {
  if (id === state.scene.id) return;
  over();
  keep();
  toScene(id);
  forget();
  put({ ...START, ...kept.scenes[id] }, width);
  // Back in one that was come through, one is where one was; elsewhere nothing lies around.
  const through = state.trail.findIndex((step) => step.scene === id);
  walkTo(state.trail.slice(0, Math.max(through, 0)));
  history.replaceState(null, "", `?scene=${id}`);
  document.getElementById("scene").value = id;
  look({ fresh: true });
}

// A page loaded again: what it showed, before anything is asked of the server. Answers the tool that was in the hand.
export function begin(width) {
  if (!new URLSearchParams(location.search).has("scene") && kept.scene) toScene(kept.scene);
  put({ ...START, ...kept.scenes[state.scene.id] }, width);
  if (kept.scene === state.scene.id) walkTo(kept.trail || []);
  addEventListener("pagehide", keep);
  document.addEventListener("visibilitychange", () => {
    if (document.visibilityState === "hidden") keep();
  });
  layOut();
  return kept.tool;
}
