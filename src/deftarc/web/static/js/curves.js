// Which curves the pair shows, and what can be done to keys, sides, segments and whole curves, from menus and keys.
import { commit, look } from "./link.js";
import { ask, hint, say } from "./notice.js";
import { keyAll } from "./lanes.js";
import { toggleFit } from "./pair.js";
import { like, liked, state } from "./state.js";

const row = document.getElementById("pair");
const scene = () => state.scene.id;
const same = (a, b) => a.layer === b.layer && a.property === b.property;
const laneTold = (told) => ({ layer: told.split(" ")[0], property: told.split(" ")[1] });
const listed = () => [...row.querySelectorAll("[data-curve]")].map((item) => ({ ...laneTold(item.dataset.curve), shown: item.classList.contains("shown"), main: item.classList.contains("main") }));

function askFor(change) {
  state.pairAsked = { ...state.pairAsked, ...change };
  look();
}
const without = (list, lane) => list.filter((each) => !same(each, lane));
const plain = ({ layer, property }) => ({ layer, property });

export function showCurve(lane, on) {
  const { shown, hidden, alone } = state.pairAsked;
  askFor({
    shown: on ? [...without(shown, lane), plain(lane)] : without(shown, lane),
    hidden: on ? without(hidden, lane) : [...without(hidden, lane), plain(lane)],
    alone: on || (alone && same(alone, lane)) ? null : alone,
  });
}

// The main curve stays shown beside the new one where several were, else it gives way.
export function makeMain(lane) {
  const now = listed();
  const several = now.filter((each) => each.shown).length > 1;
  const before = now.find((each) => each.main);
  state.focus = plain(lane);
  const { shown, hidden } = state.pairAsked;
  askFor({ hidden: without(hidden, lane), shown: several && before && before.shown && !same(before, lane) ? [...without(shown, before), plain(before)] : shown, alone: null });
}

export function pinCurve(lane, on = !state.pairAsked.pinned.some((each) => same(each, lane))) {
  askFor({ pinned: on ? [...without(state.pairAsked.pinned, lane), plain(lane)] : without(state.pairAsked.pinned, lane), hidden: without(state.pairAsked.hidden, lane) });
  hint(on ? "<b>Pinned</b> · this curve stays in the pair while the selection changes" : "The curve comes and goes with the selection again.");
}

export function aloneCurve(lane) {
  const { alone } = state.pairAsked;
  askFor({ alone: alone && same(alone, lane) ? null : plain(lane) });
}

export function stepCurve(direction) {
  const now = listed();
  if (now.length < 2) { say("There is no other curve here. Select a layer with more keyed lanes."); return; }
  const at = now.findIndex((each) => each.main);
  makeMain(now[(at + direction + now.length) % now.length]);
}

function colourCurve(lane, colour) {
  askFor({ colours: [...without(state.pairAsked.colours, lane), { ...plain(lane), colour }] });
}

const needKeys = () => state.keys.length > 0 || (say("Select keys first: click a bead, or a segment in the pair."), false);
const onKeys = (edit) => needKeys() && commit(() => ({ scene: scene(), keys: state.keys, ...edit }));
export const bendKeys = (to = "toggle", on = "both") => onKeys({ kind: "bend_keys", to, on });
export const setJoint = (joint, automatic = null) => onKeys({ kind: "choose_joint", joint, automatic });
export const keepWithin = () => onKeys({ kind: "keep_within" });
export const release = () => onKeys({ kind: "release_keys" });

// Corner, smooth, automatic, and round again, after what the first selected key has.
export const cycleJoint = () => setJoint("next");

export function setCurve(change) {
  if (!state.pair) { say("Show a curve in the pair first."); return; }
  commit({ kind: "set_curve", scene: scene(), lanes: state.pair.curves.slice(0, 1).map(plain), ...change });
}

async function typeSide(key, side, what) {
  const field = document.querySelector(`#figures [data-side-${what}="${side}"]`);
  if (field) { field.focus(); field.select(); return; }
  const told = await ask({ title: `Type the ${side} ${what}`, about: "", label: what, value: "", act: "Set it" });
  if (told) commit({ kind: "type_side", scene: scene(), keys: [key], side, [what]: told });
}

const easeItems = () => [["straight", "Straight"], ["slow-start", "Slow start"], ["slow-stop", "Slow stop"], ["slow-ends", "Slow ends"], ["overshoot", "Overshoot"], ["hold", "Hold"]]
  .map(([ease, words]) => [words, () => commit({ kind: "ease_keys", scene: scene(), keys: state.keys, ease, strength: 50 })]);

const jointItems = () => [
  ["Straight or curve", () => bendKeys(), "L"],
  ["Corner: sides free", () => setJoint("corner"), "J"],
  ["Smooth: one speed on both sides", () => setJoint("smooth")],
  ["Automatic", () => setJoint("automatic")],
];

// What can be done where a right click was made in the pair.
export function pairItems(at, places) {
  if (at.curve) {
    const lane = laneTold(at.curve);
    const shown = listed().find((each) => same(each, lane))?.shown;
    const pinned = state.pairAsked.pinned.some((each) => same(each, lane));
    const alone = state.pairAsked.alone && same(state.pairAsked.alone, lane);
    return [
      [shown ? "Hide it" : "Lay it over", () => showCurve(lane, !shown)],
      ["Make it the main curve", () => makeMain(lane), "V"],
      [alone ? "Show the others again" : "Show it alone", () => aloneCurve(lane), "X"],
      [pinned ? "Let it go with the selection" : "Pin it here", () => pinCurve(lane), "Q"],
      "-",
      ...["Ink", "Sea", "Pine", "Brick", "Ochre", "Slate", "Violet"].map((name, n) => [`Colour: ${name}`, () => colourCurve(lane, n)]),
    ];
  }
  if (at.side) {
    const key = { layer: at.side.layer, property: at.side.property, time: at.side.time };
    const { side } = at.side;
    const one = { scene: scene(), keys: [key] };
    return [
      ["Type its speed", () => typeSide(key, side, "speed")],
      ["Type its reach", () => typeSide(key, side, "reach")],
      ["Straight on this side", () => commit({ kind: "bend_keys", ...one, to: "straight", on: side })],
      ["Level", () => commit({ kind: "shape_side", scene: scene(), ...key, side, rise: 0 })],
      "-",
      ["Break the two sides apart", () => commit({ kind: "choose_joint", ...one, joint: "corner" })],
      ["Make the joint smooth again", () => commit({ kind: "choose_joint", ...one, joint: "smooth" })],
    ];
  }
  if (at.bead) {
    const pace = state.keys[0]?.property === "position";
    return [
      [`Delete ${state.keys.length === 1 ? "this key" : `these ${state.keys.length} keys`}`, () => commit({ kind: "delete_keys", scene: scene(), keys: state.keys }), "Delete"],
      ["Type its time and value", () => document.querySelector("[data-key-time]")?.select()],
      pace && ["Release it from its point", () => release()],
      "-", ...jointItems(), "-", ...easeItems(), "-",
      ["Try-outs…", places.tryOuts, "T"],
      ["Settle…", () => places.craft("settle")], ["Bounce…", () => places.craft("bounce")],
    ];
  }
  if (at.segment) {
    return [
      ...easeItems(), "-",
      ["Keep it within its keys", keepWithin, "W"],
      ["Copy its ease as CSS", places.copyEase], ["Paste an ease…", places.pasteEase], ["Keep its ease…", places.keepEase], "-",
      ["Try-outs…", places.tryOuts, "T"],
      ["Settle…", () => places.craft("settle")], ["Bounce…", () => places.craft("bounce")],
    ];
  }
  return [
    ["Fit all", () => places.fitAll(), "A"],
    state.keys.length > 0 && ["Fit what is selected", () => places.fitSelected(), "F"],
    ["Fit the play range", () => places.fitRange()],
    [liked.pairFit ? "Leave the axes as they are" : "Let the axes fit again", toggleFit],
    [liked.pairApart ? "One scale for what has one unit" : "Each curve to its own scale", () => { like("pairApart", !liked.pairApart); look(); }],
    "-",
    state.layers.length > 0 && ["Key all of it here", keyAll],
    state.keys.length > 0 && ["Keep the selected ways within their keys", keepWithin, "W"],
    state.pair && ["Keep this whole curve within its keys", () => setCurve({ within: true })],
    state.pair && ["Let this curve go past its keys", () => setCurve({ within: false })],
    state.pair && /scale|width|height|size/.test(state.pair.property) && [state.pair.growth ? "Let it grow by amount" : "Let it grow evenly", () => setCurve({ evenly: !state.pair.growth })],
  ];
}

export function wireCurves() {
  row.addEventListener("click", (event) => {
    const on = (name) => event.target.closest(`[data-${name}]`);
    if (on("pair-fit")) { toggleFit(); return; }
    const item = on("curve");
    if (!item) return;
    const lane = laneTold(item.dataset.curve);
    if (on("curve-pin")) pinCurve(lane, false);
    else if (on("curve-show")) showCurve(lane, !item.classList.contains("shown"));
    else if (on("curve-main")) { if (event.ctrlKey || event.metaKey || event.shiftKey) showCurve(lane, !item.classList.contains("shown")); else makeMain(lane); }
  });
}
