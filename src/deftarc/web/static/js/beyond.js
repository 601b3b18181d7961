// What goes on before a lane's first key and after its last: chosen, counted, dragged in the lane, made into keys.
import { does } from "./actions.js";
import { hand } from "./hands.js";
import { attempt, commit, look, putBack } from "./link.js";
import { ask, hint, say } from "./notice.js";
import { typedNumber } from "./numbers.js";
import { state } from "./state.js";
import { areaX, timeAtX } from "./time.js";
import { marked } from "./marked.js";
import { oneWith } from "./withdata.js";

const area = document.getElementById("time-area");
const figures = document.getElementById("figures");
const scene = () => state.scene.id;
let drag = null;

// The lanes of the selected keys; where none is, the curve in the pair.
function lanesMeant() {
  const seen = new Map(state.keys.map(({ layer, property }) => [`${layer} ${property}`, { layer, property }]));
  if (!seen.size && state.pair) return [{ layer: state.pair.layer, property: state.pair.property }];
  return [...seen.values()];
}
const any = () => lanesMeant().length > 0;
/** @type {any} */
const set = (fields) => commit({ kind: "set_beyond", scene: scene(), lanes: lanesMeant(), ...fields });

async function choose(side, how) {
  if (how !== "rest") {
    set({ side, how });
    return;
  }
  const text = await ask({
    title: `Rest ${side} the keys`,
    about: "At which value, in the property’s own unit; x and y of a position with a comma between.",
    label: "At",
    value: "0",
    act: "Rest",
  });
  if (text === null) {
    look({ fresh: true });
    return;
  }
  const rest = text.split(",").map((each) => typedNumber(each.replace(/[%°]|px/g, "")));
  if (rest.every(Number.isFinite)) set({ side, how, rest });
  else say(`“${text.slice(0, 30)}” is no value to rest at.`);
}

const sideOf = (name) => oneWith(figures, "[data-beyond]", { beyond: name })?.value;
function typeCount(side, how, text) {
  const told = text.trim().replace(/^[×x]/, "");
  if (!told || /^(∞|for ever|forever)$/.test(told)) {
    set({ side, how });
    return;
  }
  const count = typedNumber(told);
  if (count >= 1) set({ side, how, count });
  else {
    say("Keys play once at least: type 1 or more, or nothing for ever.");
    look({ fresh: true });
  }
}

async function howOften() {
  const text = await ask({
    title: "How often in all",
    about: "The keys’ own play counts as one; fractions too. Empty is for ever.",
    label: "Times",
    value: "3",
    act: "Set it",
  });
  if (text !== null)
    typeCount("after", sideOf("after") && sideOf("after") !== "hold" ? sideOf("after") : "repeat", text);
}

async function phase() {
  const text = await ask({
    title: "Where in its cycle it begins",
    about: "In per cent of a turn at the beginning of the play range. Several layers: 25, 10 gives each ten more.",
    label: "Phase",
    value: "25",
    act: "Set it",
  });
  if (!text) return;
  const [first, step = 0] = text.split(/[,;]/).map((each) => typedNumber(each.replace("%", "")));
  if (Number.isFinite(first) && Number.isFinite(step))
    commit({ kind: "set_phase", scene: scene(), lanes: lanesMeant(), phase: first / 100, step: step / 100 });
  else say(`“${text.slice(0, 20)}” is no phase. Type 25, or 0, 10.`);
}

const how = { can: any, refused: "Select keys, or a layer whose curve shows in the pair." };
for (const side of ["after", "before"])
  for (const way of ["hold", "rest", "repeat", "alternate", "accumulate", "continue"])
    does(`${side}-${way}`, () => choose(side, way), how);
does("cycle", () => set({ side: "both", how: "repeat", again: true }), how);
does("cycle-part", () => set({ side: "after", how: "repeat", part: Math.min(...state.keys.map((key) => key.time)) }), {
  can: () => state.keys.length > 0,
});
does("how-often", howOften, how);
does("phase", phase, how);
does("bake", () => commit({ kind: "bake_beyond", scene: scene(), lanes: lanesMeant() }), how);

// The end of what is played again, dragged: how often in all. Past the edge it is for ever; with Alt any fraction.
function down(event) {
  const grip = event.target.closest?.(".turn-grip");
  if (!grip || event.button !== 0) return false;
  const { layer, property, side, how: way, origin, turn } = grip.dataset;
  drag = {
    lane: { layer, property },
    side,
    how: way,
    origin: Number(origin),
    turn: Number(turn),
    x: event.clientX,
    pointer: event.pointerId,
    edit: null,
  };
  area.setPointerCapture(event.pointerId);
  return true;
}

function move(event) {
  if (!drag || event.pointerId !== drag.pointer) return false;
  if (!drag.edit && Math.abs(event.clientX - drag.x) < 3) return true;
  const x = areaX(event.clientX);
  const way = drag.side === "after" ? 1 : -1;
  const beyond = way > 0 ? x > state.axis.width - 4 : x < 4;
  const turns = (way * (timeAtX(x) - drag.origin)) / drag.turn;
  const count = 1 + Math.max(0, event.altKey ? turns : Math.round(turns));
  drag.edit = {
    kind: "set_beyond",
    scene: scene(),
    lanes: [drag.lane],
    side: drag.side,
    how: drag.how,
    count: beyond ? null : count,
  };
  hint(
    marked`<b>${beyond ? "For ever" : `${Math.round(count * 100) / 100} times in all`}</b> · <kbd>Alt</kbd> any fraction · past the edge for ever · <kbd>Esc</kbd> put back`,
  );
  attempt(drag.edit);
  return true;
}

function up(event) {
  if (!drag || event.pointerId !== drag.pointer) return false;
  const { edit } = drag;
  drag = null;
  if (edit) commit(edit);
  return true;
}

function cancel() {
  if (!drag) return false;
  drag = null;
  putBack();
  hint("Put back.");
  return true;
}

export function wireBeyond() {
  figures.addEventListener("change", ({ target }) => {
    if (target.matches("[data-beyond]")) choose(target.dataset.beyond, target.value);
    else if (target.matches("[data-beyond-count]"))
      typeCount(target.dataset.beyondCount, sideOf(target.dataset.beyondCount), target.value);
  });
}

hand("lanes", 55, { down, move, up, cancel });
