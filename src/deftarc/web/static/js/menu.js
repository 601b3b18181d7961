// What can be done here: one menu for right clicks, the keyboard's menu key, and the buttons with three dots.
import { does, menuOf } from "./actions.js";
import { craft } from "./easing.js";
import { openLanes } from "./figures.js";
import { keyAll, keyHere } from "./keys.js";
import { renameInPlace, toggleOf } from "./rownames.js";
import { commit, look, momentOf, request } from "./link.js";
import { lists } from "./lists.js";
import { ask, say } from "./notice.js";
import { reduceKeys, splitAxes } from "./pathbar.js";
import { pathMenu } from "./pathmenu.js";
import { showMenu } from "./showmenu.js";
import { closePath, deletePoints, roundPoint } from "./pen.js";
import { bringSamples } from "./samples.js";
import { tryInPlace } from "./trial.js";
import { choose, keepOpen, liked, newId, rememberNumbers, state, timeNow, toldFrame } from "./state.js";
import { oneWith } from "./withdata.js";

const scene = () => state.scene.id;
const here = () => ({ scene: scene(), layers: state.layers, time: timeNow() });

async function workBackwards(properties = []) {
  if (!state.layers.length) {
    say("Select a layer whose look is to be kept as its end.");
    return;
  }
  const told = await ask({
    title: "Keep this look as the end pose",
    about: "Keys are set at that time with what shows now, and here for you to change into the start.",
    label: "The end pose stands at",
    value: toldFrame(Math.min(state.scene.frames - 1, state.frame + Math.round(state.scene.rate))),
    act: "Keep it",
  });
  const found = told && (await momentOf(told, true));
  if (found) commit({ kind: "work_backwards", ...here(), properties, end: found.time });
}

const group = () => {
  if (!state.layers.length) {
    say("Select what is to be grouped.");
    return;
  }
  const id = newId();
  commit({ kind: "group_layers", ...here(), id }).then((answer) => {
    if (answer) selectLayers([id]);
  });
};
const ungroup = () => commit({ kind: "ungroup", ...here() });
let selectLayers = (_layers) => {};
export function wireMenu(select) {
  selectLayers = select;
}

const align = (how, toFrame) =>
  request(`/scenes/${scene()}/align`, {
    layers: state.layers,
    how,
    to_frame: toFrame,
    time: timeNow(),
    keying: state.keying,
  });
const size = (how) =>
  request(`/scenes/${scene()}/size`, { layers: state.layers.slice(0, 1), how, time: timeNow(), keying: state.keying });
const spanToPlayhead = (part) =>
  state.layers.length && commit({ kind: "trim_span", scene: scene(), layers: state.layers, [part]: timeNow() });

function copyNumbers() {
  if (!state.layers.length) {
    say("Select the layer whose numbers are to be copied.");
    return;
  }
  rememberNumbers({ layer: state.layers[0], name: state.info.get(state.layers[0]).name });
  say(`The numbers of ${state.copied.name} are copied. Select others and press Ctrl Shift V.`);
}

function giveNumbers(properties = []) {
  if (!state.copied || !state.info.has(state.copied.layer)) {
    say("Copy a layer’s numbers first: Ctrl Shift C.");
    return;
  }
  if (state.layers.length)
    commit({ kind: "copy_numbers", ...here(), source: state.copied.layer, properties, keying: state.keying });
}

const told = () => state.info.get(state.layers[0]);
const can = (trait) => () => Boolean(told()?.traits.includes(trait));
const aLayer = () => state.layers.length > 0;
const not = (trait) => () => aLayer() && !told()?.traits.includes(trait);
const describe = (change) => commit({ kind: "describe_layers", scene: scene(), layers: state.layers, ...change });
const flag = (which) => [() => toggleOf(state.layers, which), { can: aLayer, on: () => Boolean(told()?.[which]) }];
const copied = () => Boolean(state.copied && state.info.has(state.copied.layer));
const treated = (kind) => [
  () => commit({ kind: "add_effect", scene: scene(), layers: state.layers, effect: { kind, id: newId() } }),
  { can: () => aLayer() && (told()?.group || not("empty")()) },
];

// A menu that an entry of another opens.
function under(element, x, y, menu) {
  const box = document.getElementById(element).getBoundingClientRect();
  showMenu(box.left + x, box.top + y, menuOf(menu, {}));
}
const starting = (id, start) => id.startsWith(start) && id.slice(start.length);
// Aligning and spreading, to one another or to the frame, and tags: their menu says before what they are for.
function placed({ id, words }) {
  const [one, frame] = [starting(id, "align-"), starting(id, "frame-")];
  const spread = starting(id, "spread-") || starting(id, "frame-spread-");
  const least = spread && !frame ? 3 : one || spread ? 2 : 1;
  does(id, () => align(spread || one || frame, Boolean(frame)), {
    can: () => state.layers.length >= least,
    words: (at) => (at ? words.replace("Align to", "To") : words),
  });
}
function tagged({ id, words }) {
  const tag = starting(id, "tag-");
  does(id, () => describe({ tag }), {
    can: aLayer,
    words: (at) => (at ? tag[0].toUpperCase() + tag.slice(1) : words),
  });
}
const LISTED = { "align-": placed, "frame-": placed, "spread-": placed, "tag-": tagged };
for (const action of lists.actions.list)
  for (const [start, doing] of Object.entries(LISTED)) if (action.id.startsWith(start)) doing(action);

const LAYER = {
  rename: [() => renameInPlace(state.layers[0]), { can: aLayer }],
  unlink: [
    () => commit({ kind: "unlink", scene: scene(), layers: state.layers }),
    { can: () => Boolean(told()?.shared) },
  ],
  group: [group, { can: aLayer, refused: "Select what is to be grouped." }],
  ungroup: [
    ungroup,
    {
      can: () => state.layers.some((id) => state.info.get(id)?.group),
      refused: "None of what is selected is a group.",
    },
  ],
  "as-one": [
    () => commit({ kind: "paint_as_one", scene: scene(), layers: state.layers, as_one: !told().as_one }),
    { can: () => Boolean(told()?.group), on: () => Boolean(told()?.as_one) },
  ],
  "free-of-parent": [
    () => commit({ kind: "set_parent", ...here(), parent: null }),
    { can: () => Boolean(told()?.parent) },
  ],
  "key-all": [keyAll, { can: aLayer }],
  backwards: [() => workBackwards(), { can: aLayer, refused: "Select a layer whose look is to be kept as its end." }],
  "clear-motion": [() => commit({ kind: "clear_motion", ...here() }), { can: aLayer }],
  "copy-numbers": [copyNumbers, { can: aLayer, refused: "Select the layer whose numbers are to be copied." }],
  "give-numbers": [
    () => giveNumbers(),
    {
      can: () => copied() && aLayer(),
      words: () => (copied() ? `Give it the numbers of ${state.copied.name}` : "Give it the copied numbers"),
      refused: "Copy a layer’s numbers first: Ctrl Shift C.",
    },
  ],
  "span-start": [() => spanToPlayhead("start"), { can: aLayer }],
  "span-end": [() => spanToPlayhead("end"), { can: aLayer }],
  align: [() => under("stage", 60, 20, "align"), { can: aLayer }],
  "size-fit": [() => size("fit"), { can: can("pictured") }],
  "size-fill": [() => size("fill"), { can: can("pictured") }],
  "size-full": [() => size("full"), { can: can("pictured") }],
  "to-outlines": [() => request(`/scenes/${scene()}/layers/${state.layers[0]}/outlines`, {}), { can: can("words") }],
  "letters-apart": [
    () => request(`/scenes/${scene()}/layers/${state.layers[0]}/outlines`, { letters: true }),
    { can: can("words") },
  ],
  "take-apart": [
    () => request(`/scenes/${scene()}/layers/${state.layers[0]}/apart`, {}),
    { can: () => can("parts")() && !can("words")() },
  ],
  "point-round": [(at) => roundPoint(at.point), { can: (at) => at?.point !== undefined }],
  "points-delete": [deletePoints, { can: () => state.points.length > 0 }],
  "outline-close": [() => closePath(true), { can: can("points") }],
  "outline-open": [() => closePath(false), { can: can("points") }],
  hide: flag("hidden"),
  lock: flag("locked"),
  reference: flag("reference"),
  tag: [() => under("figures", 60, -60, "tag"), { can: aLayer }],
  "hand-opacity": [() => describe({ hands_opacity: !told().hands }), { can: aLayer, on: () => Boolean(told()?.hands) }],
};

const first = (at) => at?.properties?.[0] || "";
const scaled = (at) => first(at).startsWith("scale");
const linkOf = (to) => [
  () =>
    commit({
      kind: "link_scale",
      scene: scene(),
      layer: state.layers[0],
      others: state.layers.slice(1),
      link: to,
      time: timeNow(),
    }),
  { can: (at) => scaled(at) && told()?.link !== to },
];
const readIn = (id) => [
  () => oneWith(document, "[data-axes]", { axes: id }).click(),
  { can: (at) => first(at) === "position" && id !== liked.axes },
];
const plainNumber = (at) => first(at) !== "outline";
const PROPERTY = {
  "key-property": [
    (at) => keyHere(at.properties),
    { words: () => (state.layers.length > 1 ? "Set a key here on all selected layers" : "Set a key here") },
  ],
  "open-lane": [(at) => openLanes(at.properties)],
  "there-and-back": [
    (at) =>
      tryInPlace(
        /** @type {any} */ ({
          kind: "there_and_back",
          scene: scene(),
          layers: state.layers,
          property: first(at),
          time: timeNow(),
        }),
      ),
    { can: (at) => Boolean(first(at)) && !/outline$|^position$|^clock$/.test(first(at)) },
  ],
  "backwards-property": [(at) => workBackwards(at.properties)],
  "settle-property": [(at) => craft("settle", { layer: state.layers[0], property: first(at) })],
  "bounce-property": [(at) => craft("bounce", { layer: state.layers[0], property: first(at) })],
  samples: [(at) => bringSamples(first(at)), { can: plainNumber }],
  "split-axes": [() => splitAxes(true), { can: (at) => first(at) === "position" }],
  "combine-axes": [() => splitAxes(false), { can: (at) => first(at) === "position_x" }],
  "reduce-property": [(at) => reduceKeys({ layer: state.layers[0], property: first(at) }), { can: plainNumber }],
  "clear-property": [(at) => commit({ kind: "clear_motion", ...here(), properties: at.properties })],
  "give-property": [
    (at) => giveNumbers(at.properties),
    { can: copied, words: () => `Give it the number of ${state.copied.name}` },
  ],
  "link-linked": linkOf("linked"),
  "link-free": linkOf("free"),
  "link-area": linkOf("area"),
  "axes-own": readIn("own"),
  "axes-parent": readIn("parent"),
  "axes-scene": readIn("scene"),
};
const EFFECTS = Object.fromEntries(lists.effects.map((kind) => [`effect-${kind}`, treated(kind)]));
/** @type {Record<string, any[]>} */
const EVERY = { ...LAYER, ...EFFECTS, ...PROPERTY };
for (const [id, [run, how]] of Object.entries(EVERY)) does(id, run, how);

const closeLane = (at) => [
  [
    "Close its lane, if not keyed",
    () => {
      keepOpen(state.opened.filter((lane) => !(lane.layer === at.layer && lane.property === at.lane)));
      look();
    },
  ],
];

// The menu of what was pointed at.
export function menuAt(event, at) {
  const x = event.clientX || event.target.getBoundingClientRect().left;
  const y = event.clientY || event.target.getBoundingClientRect().bottom;
  let items;
  if (at.path) items = pathMenu(at.path, event);
  else if (at.point !== undefined && state.tool === "points") {
    const point = Number(at.point);
    if (!state.points.includes(point)) choose({ points: [point] });
    items = menuOf("points", { point });
  } else if (at.properties) items = menuOf("property", at);
  else if (at.ruler) items = menuOf("ruler");
  else if (at.pair)
    items = menuOf(["curve", "side", "bead", "segment"].find((what) => at.pair[what]) || "pair", at.pair);
  else if (event.target.closest?.(".bead")) items = menuOf("bead", { bead: state.keys[0] });
  else if (at.lane) items = [...menuOf("property", { properties: [at.lane] }), "-", ...closeLane(at)];
  else if (state.layers.length) items = menuOf("layer");
  else items = menuOf("empty");
  showMenu(x, y, items);
}
