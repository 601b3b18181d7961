// Rows of the lanes: layers named, folded, hidden, locked, isolated; a lane's name chosen.
import { act } from "./actions.js";
import { goToLane } from "./relations.js";
import { commit, look } from "./link.js";
import { renameHere } from "./rename.js";
import { markIsolated } from "./rows.js";
import { say } from "./notice.js";
import { clickedAt, showMenu } from "./showmenu.js";
import { focusOn, foldRows, isolateOnly, state } from "./state.js";
import { oneWith } from "./withdata.js";

const lanes = document.getElementById("lanes");
let lastClick = { id: null, at: 0 };

export function renameInPlace(id) {
  const button = oneWith(lanes, "[data-select]", { select: id });
  if (!button) return;
  renameHere(button, state.info.get(id).name, "Name", (name) => {
    if (name) commit({ kind: "describe_layers", scene: state.scene.id, layers: [id], name });
    else look({ fresh: true });
  });
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

/** @returns {[string, () => void]} */
const chooses = (layer, select) => ["Select it", () => select([layer])];

function clicked(event, select) {
  const at = (name) => event.target.closest(`[data-${name}]`);
  const layer = event.target.closest("[data-layer]")?.dataset.layer;
  if (at("fold")) {
    const id = at("fold").dataset.fold;
    foldRows(new Set(state.folded.has(id) ? [...state.folded].filter((other) => other !== id) : [...state.folded, id]));
    look();
  } else if (at("back")) {
    const by = Number(at("back").dataset.back);
    const back = () => commit({ kind: "move_spans", scene: state.scene.id, layers: [layer], by, keys: true });
    showMenu(...clickedAt(event), [["Bring it back into the scene, with its keys", back], chooses(layer, select)]);
  } else if (at("cover")) {
    const cover = () => commit({ kind: "cover_keys", scene: state.scene.id, layers: [layer] });
    showMenu(...clickedAt(event), [["Stretch its span over these keys", cover], chooses(layer, select)]);
  } else if (at("trouble")) say(at("trouble").dataset.trouble);
  else if (at("enter")) {
    select([layer]);
    act("enter-scene");
  } else if (at("isolate")) isolate([at("isolate").dataset.isolate]);
  else if (at("toggle")) {
    const many = state.layers.includes(layer) ? [layer, ...state.layers.filter((id) => id !== layer)] : [layer];
    toggleOf(many, at("toggle").dataset.toggle);
  } else if (at("follows")) goToLane(...at("follows").dataset.follows.split(" "));
  else if (at("select")) clickedName(event, at("select").dataset.select, select);
  else if (at("focus")) {
    focusOn({ layer, property: at("focus").dataset.focus });
    select([layer, ...state.layers.filter((other) => other !== layer && (event.ctrlKey || event.metaKey))], {
      keepKeys: true,
    });
  }
}

export function wireNames(select) {
  lanes.addEventListener("click", (event) => clicked(event, select));
  // A stroke between two clicks: they are two, and the second selects.
  document.addEventListener(
    "keydown",
    () => {
      lastClick = { id: null, at: 0 };
    },
    true,
  );
}
