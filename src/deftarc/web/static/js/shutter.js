// Motion blur: the scene's shutter, which layers are blurred as they move, and what that comes to while it plays.
import { does } from "./actions.js";
import { drawnSmear } from "./answer.js";
import { http } from "./http.js";
import { commit } from "./link.js";
import { hint, say } from "./notice.js";
import { like, liked, smearWith, state } from "./state.js";
import { unpack } from "./table.js";
import { marked } from "./marked.js";

const menu = document.getElementById("view-menu");
const shutter = () => state.scene.shutter || { on: false, angle: 180, phase: -90 };
const seen = () => [...state.info.values()].filter(({ traits, group }) => group || !traits.includes("empty"));
const all = () => seen().every(({ smears, group, as_one: one }) => smears || (group && !one));

/** @returns {any} */
const shutterEdit = (change) => ({ kind: "set_shutter", scene: state.scene.id, ...change });

// Opened where nothing is blurred yet, it is opened for everything.
function toggle() {
  const { on } = shutter();
  const none = !seen().some(({ smears }) => smears);
  commit(shutterEdit({ on: !on, ...(!on && none ? { everything: true } : {}) }));
  hint(on ? "Everything is sharp." : "What moves is blurred, as it is rendered; sharp while a hand holds something.");
}

export function showShutter() {
  const told = shutter();
  for (const item of menu.querySelectorAll("[data-smear]")) {
    const on = { on: told.on, all: told.on && all(), plays: liked.smearPlays }[item.dataset.smear];
    item.setAttribute("aria-checked", String(Boolean(on)));
  }
  for (const field of menu.querySelectorAll("[data-shutter]"))
    if (field !== document.activeElement) field.value = Math.round(told[field.dataset.shutter] * 10) / 10;
}

async function typed(field) {
  const number = Number(field.value.replace(",", ".").replace("°", "").replace("−", "-"));
  if (!Number.isFinite(number)) say(`“${field.value.slice(0, 20)}” is no angle.`);
  else await commit(shutterEdit({ [field.dataset.shutter]: number }));
  showShutter();
}

// What smears at all frames: fetched when it begins to play, and kept while nothing changes.
let kept = "";
async function fetchSmear() {
  const { on } = shutter();
  if (!on || !liked.smearPlays) {
    smearWith(null);
    return;
  }
  const name = `${state.scene.id} ${state.revision}`;
  if (kept === name && state.smearing) return;
  smearWith(null);
  const { ok, answer } = await http(`/api/projects/${state.project}/scenes/${state.scene.id}/smear`, { as: "bytes" });
  if (!ok) return;
  const { smear } = unpack(answer);
  kept = name;
  smearWith(drawnSmear(smear));
}

export function wireShutter() {
  menu.addEventListener("change", ({ target }) => {
    if (target.matches("[data-shutter]")) typed(target);
  });
  document.getElementById("view-open").addEventListener("show.bs.dropdown", showShutter);
  document.addEventListener("deftarc:painted", showShutter);
  document.addEventListener("deftarc:plays", fetchSmear);
}

does("motion-blur", toggle, { on: () => shutter().on });
does("motion-blur-all", () => commit(shutterEdit({ on: true, everything: !(shutter().on && all()) })), {
  on: () => shutter().on && all(),
});
does(
  "motion-blur-plays",
  () => {
    like("smearPlays", !liked.smearPlays);
    showShutter();
  },
  { on: () => liked.smearPlays },
);
does("smears", () => smear(!state.info.get(state.layers[0])?.smears), {
  can: () => state.layers.length > 0,
  on: () => Boolean(state.info.get(state.layers[0])?.smears),
});

// Layers that are blurred as they move, with the shutter opened for them.
export async function smear(smears) {
  const { layers } = state;
  await commit(/** @type {any} */ ({ kind: "smear_layers", scene: state.scene.id, layers, smears }));
  if (smears && !shutter().on) hint(marked`It will be blurred once the scene’s shutter is open: <kbd>~</kbd>`);
}
