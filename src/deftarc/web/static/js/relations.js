// Relations: what follows what, made from a list, by dropping lanes, or for several at once; carriers followed late; stretch.
import { act, does } from "./actions.js";
import { closeDrawer, isOpen, toggleDrawer } from "./drawer.js";
import { openLanes } from "./figures.js";
import { commit, look, momentOf, revealRow } from "./link.js";
import { say } from "./notice.js";
import { focusOn, like, state, timeNow, unfold } from "./state.js";
import { tryInPlace } from "./trial.js";
import { triesIn, withEdits } from "./trylist.js";

const figures = document.getElementById("figures");
let select = (_layers) => {};

const here = () => ({ scene: state.scene.id, layers: state.layers });
const info = (id) => state.info.get(id);
const aLayer = () => state.layers.length > 0;
const selectedThat = (is) => state.layers.filter((id) => info(id) && is(info(id)));

// The lane that is meant: what was pointed at, else the one in focus, else the rotation.
function meant(at) {
  if (at?.properties?.length) return at.properties[0];
  return state.focus && state.layers.includes(state.focus.layer) ? state.focus.property : "rotation";
}
const lanesOf = (property, layers = state.layers) => layers.map((layer) => ({ layer, property }));
const linked = (at) => {
  const property = meant(at);
  return selectedThat((each) => each.follows.includes(property)).map((layer) => ({ layer, property }));
};
// All links of what is selected, or those of the lane that was pointed at.
const links = (at) =>
  at?.properties?.length
    ? linked(at)
    : state.layers.flatMap((layer) => (info(layer)?.follows || []).map((property) => ({ layer, property })));

export function showRelations() {
  like("page", "relations");
  look({ light: true });
}

// What can be followed, in the drawer.
function choose(property = null) {
  if (!aLayer()) {
    say("Select the layer that is to follow something.");
    return;
  }
  if (property) focusOn({ layer: state.layers[0], property });
  if (!isOpen("follow")) toggleDrawer("follow");
  else look();
}

// A length of time as it is typed, with a minus for what goes ahead; null where it means none.
async function lagOf(text) {
  const plain = text.trim();
  const ahead = /^[-−]/.test(plain);
  const found = await momentOf(plain.replace(/^[-−+]/, ""), true);
  return found && (ahead ? -found.time : found.time);
}

// By how much each comes later at first: it is tried, and typed in the bar.
const firstLag = () => 3 * state.scene.flicks;

// What the others do the same of: the lane that was pointed at of the one that leads, or one it has keys on.
function ledBy(leads) {
  const { keyed } = info(leads);
  if (state.focus?.layer === leads) return state.focus.property;
  const same = state.focus && keyed.includes(state.focus.property) && state.focus.property;
  return same || (keyed.includes("rotation") ? "rotation" : keyed.find((name) => !name.includes("/"))) || meant();
}

// The one selected first leads, the others follow it as they were selected, each a step later than the one before.
function sameLater(at) {
  const [leads, ...others] = state.clicked;
  if (!others.length) {
    say("Select two layers or more: the first leads, the others do the same later.");
    return;
  }
  const property = at?.properties?.length ? meant(at) : ledBy(leads);
  tryInPlace({
    kind: "link_lanes",
    scene: state.scene.id,
    lanes: lanesOf(property, others),
    to: { layer: leads, what: property },
    lag: firstLag(),
    step: null,
    time: timeNow(),
  });
}

async function counterTurn() {
  for (const layer of selectedThat((each) => each.parent))
    await commit({
      kind: "link_lanes",
      scene: state.scene.id,
      lanes: [{ layer, property: "rotation" }],
      to: { layer: info(layer).parent, what: "rotation" },
      factor: -1,
      time: timeNow(),
    });
}

function carryLater() {
  const layers = selectedThat((each) => each.parent);
  tryInPlace({ kind: "carry_later", scene: state.scene.id, layers, all: firstLag(), step: null });
}

function tail() {
  if (state.layers.length < 2) {
    say("Select two layers or more, from the one that leads to the end of the tail.");
    return;
  }
  tryInPlace({ kind: "chain_layers", ...here(), layers: [...state.clicked], lag: firstLag(), time: timeNow() });
}

const carried = {
  can: () => selectedThat((each) => each.parent).length > 0,
  refused: "Nothing carries what is selected.",
};
const stretches = () => selectedThat((each) => each.stretches).length > 0;
const cut = (keys) => (at) =>
  commit({ kind: "cut_links", scene: state.scene.id, lanes: links(at), keys, time: timeNow() });
const follows = { can: (at) => links(at).length > 0, refused: "What is selected follows nothing." };

does("follow", (at) => (isOpen("follow") && !at ? closeDrawer() : choose(at?.properties?.[0])), {
  can: aLayer,
  on: () => isOpen("follow"),
  refused: "Select the layer that is to follow something.",
});
does("follow-later", sameLater, {
  can: () => state.layers.length > 1,
  refused: "Select two layers or more: the first leads, the others do the same later.",
});
does("counter-turn", counterTurn, carried);
does("links-keys", cut(true), follows);
does("cut-links", cut(false), follows);
does("carry-later", carryLater, carried);
does("later-keys", () => commit({ kind: "lay_relations", ...here(), what: "later" }), {
  can: () => selectedThat((each) => each.later).length > 0,
});
does("tail", tail, { can: () => state.layers.length > 1, refused: "Select two layers or more." });
does(
  "stretch-with-speed",
  async () => {
    const on = !stretches();
    if ((await commit({ kind: "stretch_layers", ...here(), on })) && on) showRelations();
  },
  { can: aLayer, on: stretches },
);
does(
  "stretch-keys-of",
  () =>
    commit({
      kind: "lay_relations",
      scene: state.scene.id,
      layers: selectedThat((each) => each.stretches),
      what: "stretch",
    }),
  { can: stretches },
);
does("page-relations", showRelations);

const change = (property, fields) =>
  commit({
    kind: "change_links",
    scene: state.scene.id,
    lanes: lanesOf(
      property,
      selectedThat((each) => each.follows.includes(property)),
    ),
    time: timeNow(),
    ...fields,
  });

export function goToLane(layer, property) {
  select([layer]);
  unfold([layer]);
  revealRow(layer);
  if (property) openLanes([property]);
  else look();
}

const DO = {
  opposite: (property) => change(property, { field: "factor", told: "*=-1" }),
  ranged: (property, on) => change(property, { ranged: !on }),
  held: (property, on) => change(property, { held: !on }),
  keys: (property) => act("links-keys", { properties: [property] }),
  cut: (property) => act("cut-links", { properties: [property] }),
};

function clicked(event) {
  const at = (name) => event.target.closest(`[data-${name}]`);
  if (at("follow-do")) {
    const button = at("follow-do");
    const property = button.closest("[data-follow-row]").dataset.followRow;
    DO[button.dataset.followDo](property, button.getAttribute("aria-pressed") === "true");
  } else if (at("follow-go")) goToLane(...at("follow-go").dataset.followGo.split(" "));
  else if (at("follow-choose")) choose(at("follow-choose").dataset.followChoose);
  else if (at("later-apart")) apart(at("later-apart").getAttribute("aria-pressed") === "true");
  else if (at("go-layer")) goToLane(at("go-layer").dataset.goLayer, at("go-layer").dataset.goProperty);
}

// One lag for place, turn and size, or one each: told apart they start half a frame's breadth from each other.
function apart(was) {
  const carriedOnes = selectedThat((each) => each.parent);
  const lag = info(state.layers[0])?.later || [0, 0, 0];
  const fields = was ? { all: lag[0] } : { position: lag[0], rotation: lag[0] + state.scene.flicks, scale: lag[0] };
  commit({ kind: "carry_later", scene: state.scene.id, layers: carriedOnes, ...fields });
}

async function typedLag(field, made) {
  const lag = await lagOf(field.value);
  if (lag === null || !(await made(lag))) look({ fresh: true });
}

function changed({ target }) {
  const { later, followLag, followAxes, followNew } = target.dataset;
  if (later)
    typedLag(target, (lag) =>
      commit({ kind: "carry_later", scene: state.scene.id, layers: selectedThat((each) => each.parent), [later]: lag }),
    );
  else if (followLag) typedLag(target, (lag) => change(followLag, { lag }));
  else if (followAxes) {
    const row = target.closest("[data-follow-row]");
    const [layer, what] = row.querySelector("[data-follow-asked]").dataset.followAsked.split(" ");
    change(followAxes, { to: { layer, what, axes: target.value } });
  } else if (followNew !== undefined && target.value) {
    const property = target.value;
    openLanes([property]);
    choose(property);
  }
}

export function wireRelations(chooseLayers) {
  select = chooseLayers;
  figures.addEventListener("click", clicked);
  figures.addEventListener("change", changed);
  triesIn(
    "follow",
    "[data-follow-edit]",
    withEdits("data-follow-edit", { before: (edit) => focusOn(edit.lanes[0]), after: showRelations }),
  );
}
