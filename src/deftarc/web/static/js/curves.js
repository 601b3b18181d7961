// Which curves the pair shows, and what can be done to keys, sides, segments and whole curves, from menus and keys.
import { bendKeys, cycleJoint, keepWithin, release, setJoint } from "./shape.js";
import { does } from "./actions.js";
import { copyEase, craft, keepEase, pasteEase } from "./easing.js";
import { keyAll } from "./keys.js";
import { commit, look } from "./link.js";
import { lists } from "./lists.js";
import { ask, hint, say } from "./notice.js";
import { fitPair, fitPairRange, fitPairSelected, toggleFit } from "./pairaxes.js";
import { reduceKeys } from "./pathbar.js";
import { askPair, focusOn, like, liked, state, timeNow } from "./state.js";
import { fitTime } from "./time.js";
import { marked } from "./marked.js";
import { oneWith } from "./withdata.js";

const row = document.getElementById("pair");
const scene = () => state.scene.id;
const same = (a, b) => a.layer === b.layer && a.property === b.property;
const laneTold = (told) => ({ layer: told.split(" ")[0], property: told.split(" ")[1] });
const listed = () =>
  [...row.querySelectorAll("[data-curve]")].map((item) => ({
    ...laneTold(item.dataset.curve),
    shown: item.classList.contains("shown"),
    main: item.classList.contains("main"),
  }));

function askFor(change) {
  askPair({ ...state.pairAsked, ...change });
  look();
}
const without = (list, lane) => list.filter((each) => !same(each, lane));
const plain = ({ layer, property }) => ({ layer, property });

function showCurve(lane, on) {
  const { shown, hidden, alone } = state.pairAsked;
  askFor({
    shown: on ? [...without(shown, lane), plain(lane)] : without(shown, lane),
    hidden: on ? without(hidden, lane) : [...without(hidden, lane), plain(lane)],
    alone: on || (alone && same(alone, lane)) ? null : alone,
  });
}

// The main curve stays shown beside the new one where several were, else it gives way.
function makeMain(lane) {
  const now = listed();
  const several = now.filter((each) => each.shown).length > 1;
  const before = now.find((each) => each.main);
  focusOn(plain(lane));
  const { shown, hidden } = state.pairAsked;
  askFor({
    hidden: without(hidden, lane),
    shown:
      several && before && before.shown && !same(before, lane) ? [...without(shown, before), plain(before)] : shown,
    alone: null,
  });
}

function pinCurve(lane, on = !state.pairAsked.pinned.some((each) => same(each, lane))) {
  askFor({
    pinned: on ? [...without(state.pairAsked.pinned, lane), plain(lane)] : without(state.pairAsked.pinned, lane),
    hidden: without(state.pairAsked.hidden, lane),
  });
  hint(
    on
      ? marked`<b>Pinned</b> · this curve stays in the pair while the selection changes`
      : "The curve comes and goes with the selection again.",
  );
}

function aloneCurve(lane) {
  const { alone } = state.pairAsked;
  askFor({ alone: alone && same(alone, lane) ? null : plain(lane) });
}

export function stepCurve(direction) {
  const now = listed();
  if (now.length < 2) {
    say("There is no other curve here. Select a layer with more keyed lanes.");
    return;
  }
  const at = now.findIndex((each) => each.main);
  makeMain(now[(at + direction + now.length) % now.length]);
}

function colourCurve(lane, colour) {
  askFor({ colours: [...without(state.pairAsked.colours, lane), { ...plain(lane), colour }] });
}

function setCurve(change) {
  if (!state.pair) {
    say("Show a curve in the pair first.");
    return;
  }
  commit({ kind: "set_curve", scene: scene(), lanes: state.pair.curves.slice(0, 1).map(plain), ...change });
}

async function typeSide(key, side, what) {
  const field = oneWith(document, `#figures [data-side-${what}]`, {
    [what === "speed" ? "sideSpeed" : "sideReach"]: side,
  });
  if (field) {
    field.focus();
    field.select();
    return;
  }
  const told = await ask({ title: `Type the ${side} ${what}`, about: "", label: what, value: "", act: "Set it" });
  if (told) commit({ kind: "type_side", scene: scene(), keys: [key], side, [what]: told });
}

const laneAt = (at) => laneTold(at.curve);
const keyAt = ({ side }) => ({ layer: side.layer, property: side.property, time: side.time });
const asked = (list, lane) => list.some((each) => same(each, lane));
const grows = () => Boolean(state.pair && lists.growing.includes(state.pair.property));
const someKeys = () => state.keys.length > 0;
const pair = () => Boolean(state.pair);
const NO_KEYS = "Select keys first: click a bead, or a segment in the pair.";
const NO_CURVE = "Show a curve in the pair first.";
const whole = (change, more = {}) => [() => setCurve(change()), { can: pair, ...more }];

const ACTS = {
  bend: [() => bendKeys(), { can: someKeys, refused: NO_KEYS }],
  joint: [cycleJoint, { can: someKeys, refused: NO_KEYS }],
  "joint-corner": [() => setJoint("corner"), { can: someKeys }],
  "joint-smooth": [() => setJoint("smooth"), { can: someKeys }],
  "joint-automatic": [() => setJoint("automatic"), { can: someKeys }],
  "keep-within": [
    keepWithin,
    {
      can: someKeys,
      refused: NO_KEYS,
      words: (at) => (at?.segment ? "Keep it within its keys" : "Keep the selected ways within their keys"),
    },
  ],
  "copy-ease": [copyEase, { can: someKeys }],
  "paste-ease": [pasteEase, { can: someKeys }],
  "keep-ease": [() => keepEase(false), { can: someKeys }],
  "keep-ease-everywhere": [() => keepEase(true), { can: someKeys }],
  "settle-playhead": [() => craft("settle", state.pair), { can: pair, refused: NO_CURVE }],
  "bounce-playhead": [() => craft("bounce", state.pair), { can: pair, refused: NO_CURVE }],
  settle: [() => craft("settle"), { can: someKeys }],
  bounce: [() => craft("bounce"), { can: someKeys }],
  reduce: [() => reduceKeys(), { can: someKeys }],
  "delete-keys": [
    () => commit({ kind: "delete_keys", scene: scene(), keys: state.keys }),
    {
      can: someKeys,
      words: () => `Delete ${state.keys.length === 1 ? "this key" : `these ${state.keys.length} keys`}`,
    },
  ],
  "keys-to-playhead": [
    () => commit({ kind: "move_keys", scene: scene(), keys: state.keys, by: timeNow() - state.keys[0].time }),
    { can: someKeys },
  ],
  "type-key": [() => document.querySelector("[data-key-time]")?.select(), { can: someKeys }],
  release: [release, { can: () => state.keys[0]?.property === "position" }],
  "type-speed": [(at) => typeSide(keyAt(at), at.side.side, "speed")],
  "type-reach": [(at) => typeSide(keyAt(at), at.side.side, "reach")],
  "side-straight": [
    (at) => commit({ kind: "bend_keys", scene: scene(), keys: [keyAt(at)], to: "straight", on: at.side.side }),
  ],
  "side-level": [(at) => commit({ kind: "shape_side", scene: scene(), ...keyAt(at), side: at.side.side, rise: 0 })],
  "side-apart": [(at) => commit({ kind: "choose_joint", scene: scene(), keys: [keyAt(at)], joint: "corner" })],
  "side-smooth": [(at) => commit({ kind: "choose_joint", scene: scene(), keys: [keyAt(at)], joint: "smooth" })],
  "fit-pair-all": [
    () => {
      fitTime();
      fitPair("all");
    },
  ],
  "fit-pair-selected": [fitPairSelected, { can: () => someKeys() || state.layers.length > 0 }],
  "fit-pair-range": [fitPairRange],
  "fit-pair-off": [toggleFit, { on: () => Boolean(liked.pairFit) }],
  "scales-apart": [
    () => {
      like("pairApart", !liked.pairApart);
      look();
    },
    { on: () => liked.pairApart },
  ],
  "key-all-pair": [keyAll, { can: () => state.layers.length > 0 }],
  "curve-within": whole(() => ({ within: true })),
  "curve-past": whole(() => ({ within: false })),
  "grow-evenly": [
    () => setCurve({ evenly: !state.pair.growth }),
    { can: grows, on: () => Boolean(state.pair?.growth) },
  ],
  "curve-alone": [() => aloneCurve(state.pair), { can: pair, refused: NO_CURVE }],
  "curve-pin": [() => pinCurve(state.pair), { can: pair, refused: NO_CURVE }],
  "show-curve": [(at) => showCurve(laneAt(at), !shownNow(at)), { on: shownNow }],
  "main-curve": [(at) => makeMain(laneAt(at))],
  "this-curve-alone": [
    (at) => aloneCurve(laneAt(at)),
    { on: (at) => Boolean(state.pairAsked.alone && same(state.pairAsked.alone, laneAt(at))) },
  ],
  "this-curve-pin": [(at) => pinCurve(laneAt(at)), { on: (at) => asked(state.pairAsked.pinned, laneAt(at)) }],
};
function shownNow(at) {
  return Boolean(listed().find((each) => same(each, laneAt(at)))?.shown);
}
for (const [id, [run, how]] of Object.entries(/** @type {Record<string, any[]>} */ (ACTS))) does(id, run, how);
for (let n = 0; n < 7; n += 1) does(`tint-${n}`, (at) => colourCurve(laneAt(at), n));
for (const { id } of lists.actions.list.filter((action) => action.id.startsWith("ease-"))) {
  const ease = id.slice("ease-".length);
  const run = () => commit({ kind: "ease_keys", scene: scene(), keys: state.keys, ease, strength: 50 });
  does(id, run, { can: someKeys });
}

export function wireCurves() {
  row.addEventListener("click", (event) => {
    const on = (name) => event.target.closest(`[data-${name}]`);
    if (on("pair-fit")) {
      toggleFit();
      return;
    }
    const item = on("curve");
    if (!item) return;
    const lane = laneTold(item.dataset.curve);
    if (on("curve-pin")) pinCurve(lane, false);
    else if (on("curve-show")) showCurve(lane, !item.classList.contains("shown"));
    else if (on("curve-main")) {
      if (event.ctrlKey || event.metaKey || event.shiftKey) showCurve(lane, !item.classList.contains("shown"));
      else makeMain(lane);
    }
  });
}
