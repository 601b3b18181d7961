// Ties: timings that hold together, made of what is selected, drawn as brackets between rows, listed and cut.
import { does, menuOf } from "./actions.js";
import { isOpen, listIn, toggleDrawer } from "./drawer.js";
import { commit, momentOf } from "./link.js";
import { ask, say } from "./notice.js";
import { receives } from "./receivers.js";
import { showMenu } from "./showmenu.js";
import { newId, state, toldFrame } from "./state.js";

const area = document.getElementById("time-area");
const lines = document.getElementById("tie-lines");
const scene = () => state.scene.id;
let known = [];

const asked = (what, to, offset) => ({ what, to, offset, id: newId(), ids: [newId(), newId()] });
const tie = (ties) => commit(/** @type {any} */ ({ kind: "tie_timings", scene: scene(), ties }));

function chain() {
  const layers = state.clicked;
  if (layers.length < 2) {
    say("Select two layers or more: each is to start when the one before ends.");
    return;
  }
  tie(layers.slice(1).map((layer, n) => asked({ layer, of: "start" }, { layer: layers[n], of: "end" }, 0)));
}

// The first selected key of each lane, in the order in which these were selected.
function leadingKeys() {
  const lanes = new Map();
  for (const key of state.keys) {
    const name = `${key.layer} ${key.property}`;
    if (!lanes.has(name) || lanes.get(name).time > key.time) lanes.set(name, key);
  }
  return state.clickedLanes.map((name) => lanes.get(name)).filter(Boolean);
}

function atDistance() {
  const keys = leadingKeys().map(({ layer, property, time }) => ({ layer, of: "key", property, time }));
  const moments = keys.length ? keys : state.clicked.map((layer) => ({ layer, of: "start" }));
  const mark = state.marks[0];
  const leads = mark ? { of: "marker", id: mark.id, ...(mark.layer ? { layer: mark.layer } : {}) } : moments.shift();
  if (!leads || !moments.length) {
    say("Select two layers, keys of two lanes, or a marker with what is to follow it.");
    return;
  }
  tie(moments.map((what) => asked(what, leads, null)));
}

const ofSelected = () =>
  known.filter((each) => each.layers.some((id) => state.layers.includes(id))).map(({ id }) => id);
const change = (id, fields) => commit({ kind: "change_ties", scene: scene(), ties: [id], ...fields });

// A distance as it is typed: frames, a timecode or seconds, with a minus before what is to be earlier.
async function typed(id, text) {
  const plain = text.trim();
  const before = /^[-−]/.test(plain);
  const found = await momentOf(plain.replace(/^[-−+]/, ""), true);
  if (found) change(id, { offset: before ? -found.time : found.time });
}

async function askOffset(id) {
  const offset = known.find((each) => each.id === id)?.offset ?? 0;
  const frames = Math.round(offset / state.scene.flicks);
  const text = await ask({
    title: "How much later it is held",
    about: "Frames (12), a timecode or seconds (0.5s); with a minus it is earlier, and they overlap.",
    label: "Later by",
    value: toldFrame(frames),
    act: "Hold it there",
  });
  if (text) typed(id, text);
}

does("tie-chain", chain);
does("tie-distance", atDistance);
does("ties", () => toggleDrawer("ties"), { on: () => isOpen("ties") });
does("cut-ties", () => commit({ kind: "change_ties", scene: scene(), ties: ofSelected(), cut: true }), {
  can: () => ofSelected().length > 0,
  refused: "Nothing that is selected is tied.",
});
does("cut-tie", (at) => change(at.tie, { cut: true }), { can: (at) => Boolean(at?.tie) });
does("tie-offset", (at) => askOffset(at.tie), { can: (at) => Boolean(at?.tie) });

// The tie whose line lies under the pointer. Lines take no presses themselves: what lies beneath them can be taken hold of.
function tieAt(event) {
  if (event.target.closest(".bead, .pennant, [data-select]")) return null;
  const { left, top } = lines.getBoundingClientRect();
  const spot = new DOMPoint(event.clientX - left, event.clientY - top);
  return [...lines.querySelectorAll(".tie")].find((each) => each.querySelector(".hit").isPointInStroke(spot)) || null;
}

export function wireTies() {
  receives("ties", (ties) => {
    known = ties;
  });
  listIn("ties", {
    typed(target) {
      const row = target.closest("[data-tie]");
      if (row && target.matches("[data-tie-offset]")) typed(row.dataset.tie, target.value);
    },
  });
  area.addEventListener(
    "contextmenu",
    (event) => {
      const line = tieAt(event);
      if (!line) return;
      event.preventDefault();
      event.stopPropagation();
      showMenu(event.clientX, event.clientY, menuOf("tie", { tie: line.dataset.tie }));
    },
    true,
  );
}
