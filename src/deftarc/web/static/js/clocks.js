// Clocks: given, let run at a rate, frozen, made into keys. The lane itself is shaped as any other.
import { does } from "./actions.js";
import { commit, momentOf } from "./link.js";
import { ask, say } from "./notice.js";
import { typedNumber } from "./numbers.js";
import { receives } from "./receivers.js";
import { focusOn, state, timeNow, unfold } from "./state.js";

let clocked = new Set();
const here = () => ({ scene: state.scene.id, layers: state.layers });
const aLayer = { can: () => state.layers.length > 0, refused: "Select the layer that is to have a clock." };
const has = { can: () => state.layers.some((id) => clocked.has(id)), refused: "What is selected has no clock." };

async function give(rate = null) {
  const [layer] = state.layers;
  unfold(state.layers);
  focusOn({ layer, property: "clock" });
  await commit({ kind: "give_clock", ...here(), rate });
}

async function rate() {
  const text = await ask({
    title: "The rate of its clock",
    about: "In per cent of the scene’s: 50 is half as fast, -100 runs backwards.",
    label: "Rate",
    value: "50",
    act: "Let it run",
  });
  if (text === null) return;
  const told = typedNumber(text.replace("%", ""));
  if (Number.isFinite(told)) give(told / 100);
  else say(`“${text.slice(0, 20)}” is no rate. Type 50, or -100.`);
}

async function freeze() {
  const text = await ask({
    title: "Freeze it here",
    about: "Its clock stands still for so long; what came later comes that much later.",
    label: "For how long",
    value: "12f",
    act: "Freeze it",
  });
  const found = text && (await momentOf(text, true));
  if (found && found.time > 0) commit({ kind: "freeze_clock", ...here(), time: timeNow(), length: found.time });
}

does("clock-own", () => give(), aLayer);
does("clock-rate", rate, aLayer);
does("freeze", freeze, aLayer);
does("bake-clock", () => commit({ kind: "bake_clock", ...here() }), has);
does("take-clock", () => commit({ kind: "clear_motion", ...here(), properties: ["clock"], time: timeNow() }), has);

export function wireClocks() {
  receives("clocks", (ids) => {
    clocked = new Set(ids);
  });
}
