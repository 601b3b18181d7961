// Many keys at once: reversed, mirrored, spread, brought together, stretched and scaled by what is typed; what they push.
import { does } from "./actions.js";
import { showKeyBox, stretchAbout } from "./keybox.js";
import { commit, look, momentOf } from "./link.js";
import { ask, say } from "./notice.js";
import { typedNumber } from "./numbers.js";
import { receives } from "./receivers.js";
import { like, liked, state, timeNow, toldFrame } from "./state.js";
import { tryInPlace } from "./trial.js";

const scene = () => state.scene.id;
const several = () => state.keys.length > 1;
const withKeys = (edit) => commit(() => state.keys.length > 0 && { scene: scene(), keys: state.keys, ...edit });
const span = () => {
  const times = state.keys.map((key) => key.time);
  return { start: Math.min(...times), end: Math.max(...times) };
};

// A factor as it is typed: 150%, *1.5, 1.5.
function factorOf(text) {
  const told = text.trim().replace(/^[*×x]=?/, "");
  const number = typedNumber(told.replace("%", ""));
  return told.endsWith("%") ? number / 100 : number;
}

function stretch(longer) {
  const { start, end } = span();
  withKeys({
    kind: "stretch_keys",
    about: Math.round(stretchAbout({ start, end }, "end")),
    longer,
    on_frames: true,
    push: liked.push,
  });
}

// How long the selected keys last, typed: as a time, or as a factor.
async function typeLength(text) {
  if (/[%*×x]/.test(text)) {
    const factor = factorOf(text);
    if (factor > 0 && factor <= 1000) stretch(factor);
    else say(`“${text.slice(0, 20)}” is no factor. Type 150 % or *1.5.`);
    return;
  }
  const { start, end } = span();
  const found = await momentOf(text, true);
  if (!found) look({ fresh: true });
  else if (found.time > 0 && end > start) stretch(found.time / (end - start));
  else say("Keys last a frame at least.");
}

async function askLength() {
  const { start, end } = span();
  const text = await ask({
    title: "Stretch the selected keys",
    about: "How long they last: a time (48, 2s, 0:02:00), or a factor (150 %, *0.5).",
    label: "Length",
    value: toldFrame(Math.round((end - start) / state.scene.flicks)),
    act: "Stretch",
  });
  if (text) typeLength(text);
}

// Values scaled, or moved by an amount: *1.5, 150 %, +20, -5.
function typeScale(text) {
  const told = text.trim();
  const amount = /^[+−-]/.test(told);
  const number = amount ? typedNumber(told.replace("−", "-")) : factorOf(told);
  if (!Number.isFinite(number)) {
    say(`“${told.slice(0, 20)}” is no change of values. Type 150 %, *1.5, +20 or -5.`);
    look({ fresh: true });
    return;
  }
  withKeys({ kind: "scale_values", ...(amount ? { more: number } : { factor: number }) });
}

async function askScale() {
  const text = await ask({
    title: "Scale the values of the selected keys",
    about: "About the first key of each lane by a factor (150 %, *-1), or moved by an amount (+20, -5).",
    label: "By",
    value: "150 %",
    act: "Scale",
  });
  if (text) typeScale(text);
}

async function mirrorAbout() {
  const text = await ask({
    title: "Mirror the values of the selected keys",
    about: "About which value: a number in the property’s unit, first, or middle.",
    label: "About",
    value: "first",
    act: "Mirror",
  });
  if (!text) return;
  const told = text.trim().toLowerCase();
  const about = ["first", "middle"].includes(told) ? told : typedNumber(told.replace(/[%°]|px/g, ""));
  if (typeof about === "number" && !Number.isFinite(about)) say(`“${told.slice(0, 20)}” is no value to mirror about.`);
  else withKeys({ kind: "scale_values", factor: -1, about });
}

// Layers, or the lanes of selected keys, begun one after the other; tried in the lanes.
function stagger() {
  const lanes = new Map(state.keys.map(({ layer, property }) => [`${layer} ${property}`, { layer, property }]));
  const of =
    lanes.size > 1 && state.layers.length < lanes.size ? { lanes: [...lanes.values()] } : { layers: state.layers };
  // One that stands as it was made is changed, with what it was made with.
  const again = staggers.find((each) => sameItems(each, of) || sameItems(each, { layers: state.layers }));
  const fresh = { kind: "stagger", scene: scene(), ...of, far: 4 * state.scene.flicks };
  tryInPlace({ ...(again || fresh), time: timeNow() });
}

let staggers = [];
const named = ({ layers = [], lanes = [] }) =>
  [...layers, ...lanes.map(({ layer, property }) => `${layer} ${property}`)].sort().join();
const sameItems = (one, other) => named(one) === named(other);

const two = { can: several, refused: "Select two keys or more." };
/** @type {Record<string, [any, any]>} */
const ACTS = {
  "reverse-keys": [() => withKeys({ kind: "reverse_keys" }), two],
  "mirror-keys": [
    () => withKeys({ kind: "scale_values", factor: -1 }),
    { can: () => state.keys.length > 0, refused: "Select keys whose values are to be mirrored about the first." },
  ],
  "mirror-about": [mirrorAbout, { can: () => state.keys.length > 0, refused: "Select keys to mirror." }],
  "mirror-across": [() => withKeys({ kind: "scale_values", factor: -1, axis: "x" }), { can: ofPath }],
  "mirror-down": [() => withKeys({ kind: "scale_values", factor: -1, axis: "y" }), { can: ofPath }],
  "even-keys": [() => withKeys({ kind: "spread_keys" }), { can: several, refused: "Select three keys or more." }],
  together: [() => withKeys({ kind: "align_keys" }), two],
  "together-last": [() => withKeys({ kind: "align_keys", by: "last" }), two],
  "together-here": [() => withKeys({ kind: "align_keys", time: timeNow() }), two],
  "stretch-keys": [askLength, two],
  stagger: [
    stagger,
    {
      can: () => state.layers.length > 1 || new Set(state.keys.map((key) => `${key.layer} ${key.property}`)).size > 1,
      refused: "Select two layers, or keys of two lanes, to begin one after the other.",
    },
  ],
  "scale-values": [
    askScale,
    { can: () => state.keys.length > 0, refused: "Select keys whose values are to be scaled." },
  ],
};
function ofPath() {
  return state.keys.some((key) => key.property === "position");
}
for (const [id, [run, how]] of Object.entries(ACTS)) does(id, run, how);

function choose(name, value) {
  like(name, value);
  look({ fresh: false });
  showPush();
  showKeyBox();
}
for (const push of ["none", "lane", "layer", "scene"])
  does(`push-${push}`, () => choose("push", push), { on: () => liked.push === push });
for (const about of ["end", "middle", "playhead"])
  does(`stretch-about-${about}`, () => choose("stretchAbout", about), { on: () => liked.stretchAbout === about });

export function wireManyKeys() {
  receives("staggers", (told) => {
    staggers = told;
  });
  const place = document.getElementById("many-keys");
  place.addEventListener("change", ({ target }) => {
    if (target.matches("[data-many-length]")) typeLength(target.value);
  });
}

// That keys push is told loudly, beside what they would push.
export function showPush() {
  const chip = document.getElementById("push");
  chip.hidden = liked.push === "none";
  chip.textContent = `Pushing: ${liked.push}`;
}
