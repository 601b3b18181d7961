// How a layer looks, in the figures: sections that fold, masks, what it shows through, effects in their order, gradients.
import { does } from "./actions.js";
import { hand } from "./hands.js";
import { http } from "./http.js";
import { commit, look } from "./link.js";
import { drawMask, unfolded } from "./lookhand.js";
import { hint, say } from "./notice.js";
import { boundsAt } from "./shapes.js";
import { frameOf, shownItem } from "./picking.js";
import { selectTool } from "./holding.js";
import { holdMask, isInside, like, liked, newId, state, timeNow } from "./state.js";
import { renameHere } from "./rename.js";
import { smear } from "./shutter.js";
import { tryInPlace } from "./trial.js";
import { marked } from "./marked.js";

const figures = document.getElementById("figures");
const maskFile = /** @type {HTMLInputElement} */ (document.getElementById("mask-file"));
const scene = () => state.scene.id;
const first = () => state.layers[0];
const name = (id) => state.info.get(id)?.name;

// -- Masks ------------------------------------------------------------------------------------------------------------

/** @returns {any} */
const maskEdit = (mask, change) => ({ kind: "change_mask", scene: scene(), layer: first(), mask, ...change });

function changeMask({ dataset: { maskDo, mask }, ...button }) {
  const pressed = /** @type {any} */ (button).pressed;
  const change = {
    earlier: { move: -1 },
    later: { move: 1 },
    remove: { remove: true },
    on: { on: !pressed },
    invert: { inverted: !pressed },
  }[maskDo];
  if (maskDo === "remove" && state.mask === mask) {
    holdMask(null);
    if (state.tool === "points") selectTool("move");
  }
  commit(maskEdit(mask, change));
}

function editPoints(id) {
  const on = state.tool === "points" && state.mask === id;
  holdMask(on ? null : id);
  selectTool(on ? "move" : "points");
}

// All layers but those that are selected, or that lie in them.
function fillLayers(list, none) {
  const now = list.value;
  const [chosen] = list.selectedOptions;
  list.replaceChildren(new Option(none, ""));
  for (const id of state.order) {
    const told = state.info.get(id);
    if (state.layers.some((layer) => id === layer || isInside(id, layer))) continue;
    if (told.traits.includes("empty") && !told.group) continue;
    list.append(new Option(told.name, id, false, id === now));
  }
  // What is chosen stays so, also while its layer is still on its way.
  if (now && list.value !== now) {
    list.append(chosen);
    chosen.selected = true;
  }
}

async function maskFrom(source) {
  const path = `/api/projects/${state.project}/scenes/${scene()}/layers/${first()}/mask-from`;
  const { ok, answer } = await http(path, { method: "POST", json: { source, time: timeNow() } });
  if (ok) await commit(answer.edit);
  else say(answer.detail);
}

async function maskOfFile(file) {
  const form = new FormData();
  form.append("file", file);
  const path = `/api/projects/${state.project}/scenes/${scene()}/layers/${first()}/mask-file`;
  const { ok, answer } = await http(path, { method: "POST", form });
  if (ok) await commit(answer.edit);
  else say(answer.detail);
}

function renameMask(button) {
  renameHere(button, button.textContent, "The mask’s name", (name) => {
    button.focus();
    if (name) commit(maskEdit(button.dataset.maskName, { name }));
  });
}

// -- What it shows through --------------------------------------------------------------------------------------------

/** @returns {any} */
const matteEdit = (matte, hide) => ({ kind: "show_through", scene: scene(), layers: state.layers, matte, hide });

export function showThrough(layers, through) {
  commit({ ...matteEdit({ layer: through }, true), layers });
  hint(marked`Shows through <b>${name(through)}</b>, which is hidden in the list and counts all the same.`);
}

function chooseMatte({ value }) {
  if (!value) commit(matteEdit(null, false));
  else showThrough(state.layers, value);
}

function matteNow() {
  const told = /** @type {any} */ (figures.querySelector("[data-matte]")).value;
  const by = /** @type {any} */ (figures.querySelector("[data-matte-by]")).value;
  const inverted = /** @type {any} */ (figures.querySelector("[data-matte-inverted]")).checked;
  commit(matteEdit({ layer: told, by, inverted }, false));
}

// -- Gradients --------------------------------------------------------------------------------------------------------

function boxOf(id) {
  const item = shownItem(id);
  return item?.drawing ? [...boundsAt(item, frameOf(item))] : [-100, -100, 100, 100];
}

function setGradient({ dataset: { gradient: of }, value }) {
  if (value) unfolded(`gradient-${of}`);
  commit({ kind: "set_gradient", scene: scene(), layer: first(), of, shape: value || null, box: boxOf(first()) });
}

// Half-way between the two stops that are furthest apart.
const addStop = (of) =>
  commit(/** @type {any} */ ({ kind: "add_stop", scene: scene(), layer: first(), of, time: timeNow(), id: newId() }));

// -- Effects, dragged in their order ----------------------------------------------------------------------------------

let lift = null;
const rows = () => /** @type {HTMLElement[]} */ ([...figures.querySelectorAll("[data-effect-row]")]);

function lifted(event) {
  const grip = event.target.closest("[data-effect-lift]");
  if (!grip || event.button !== 0) return;
  event.preventDefault();
  const id = grip.dataset.effectLift;
  lift = { id, from: rows().findIndex((row) => row.dataset.effectRow === id), to: null };
  figures.setPointerCapture(event.pointerId);
}

function carried(event) {
  if (!lift) return;
  const boxes = rows().map((row) => row.getBoundingClientRect());
  const above = boxes.filter((box, k) => k !== lift.from && event.clientY > box.top + box.height / 2).length;
  lift.to = above;
  rows().forEach((row, k) => {
    row.classList.toggle("lifted", k === lift.from);
    const place = above >= lift.from ? above : above - 1;
    row.classList.toggle("drop-after", k === place && above !== lift.from);
    row.classList.toggle("drop-first", k === 0 && above === 0 && lift.from !== 0);
  });
  hint(marked`<b>Order of effects</b> · what stands above treats it first · <kbd>Esc</kbd> put back`);
}

function unlifted() {
  for (const row of rows()) row.classList.remove("lifted", "drop-after", "drop-first");
  const done = lift;
  lift = null;
  return done;
}

function dropped() {
  const done = unlifted();
  if (done?.to !== null && done && done.to !== done.from)
    commit({ kind: "change_effect", scene: scene(), layers: [first()], effect: done.id, move: done.to - done.from });
}

// -- What is pressed and chosen ---------------------------------------------------------------------------------------

const at = (event, mark) => event.target.closest(`[data-${mark}]`);

function clicked(event) {
  const mask = at(event, "mask-do");
  const named = at(event, "mask-name");
  const points = at(event, "mask-points");
  const gone = at(event, "stop-remove");
  const more = at(event, "stop-add");
  if (mask) changeMask({ dataset: mask.dataset, pressed: mask.getAttribute("aria-pressed") === "true" });
  else if (named) renameMask(named);
  else if (points) editPoints(points.dataset.maskPoints);
  else if (gone)
    commit({ kind: "remove_stop", scene: scene(), layer: first(), of: gone.dataset.of, stop: gone.dataset.stopRemove });
  else if (more) addStop(more.dataset.stopAdd);
}

const CHANGED = {
  "[data-mask-mode]": ({ dataset, value }) => commit(maskEdit(dataset.maskMode, { mode: value })),
  "[data-mask-rule]": ({ dataset, value }) => commit(maskEdit(dataset.maskRule, { rule: value })),
  "[data-mask-from]": ({ value }) => value && maskFrom(value),
  "[data-matte]": chooseMatte,
  "[data-matte-by], [data-matte-inverted]": matteNow,
  "[data-gradient]": setGradient,
  "[data-smears]": ({ checked }) => smear(checked),
  "[data-effect-choose]": ({ dataset, value }) =>
    commit({
      kind: "change_effect",
      scene: scene(),
      layers: [first()],
      effect: dataset.effectChoose,
      choose: { [dataset.field]: value },
    }),
  "[data-art-switch]": ({ dataset, checked }) =>
    commit({
      kind: "change_artwork",
      scene: scene(),
      layer: first(),
      others: state.layers.slice(1),
      change: { [dataset.artSwitch]: checked },
    }),
};

// -- Bursts -----------------------------------------------------------------------------------------------------------

const burstEdit = (change) =>
  commit(/** @type {any} */ ({ kind: "change_bursts", scene: scene(), layers: state.layers, change }));

function burstField({ dataset: { burstField: field, plain }, value }) {
  const whole = ["sides", "seed"].includes(field);
  const number = Number(String(value).replace(",", "."));
  if ((plain !== undefined || whole) && !Number.isFinite(number)) {
    say(`“${String(value).slice(0, 20)}” is no number.`);
    look({ fresh: true });
    return;
  }
  burstEdit({ [field]: whole ? Math.round(number) : plain !== undefined ? number : value });
}

Object.assign(CHANGED, {
  "[data-burst-field]": burstField,
  "[data-burst-layer]": ({ dataset, value, selectedOptions: [option] }) => {
    const of = option?.dataset.of;
    burstEdit({ [dataset.burstLayer]: value, ...(of ? { of, comes_as: newId() } : {}) });
    if (of) hint(marked`<b>${option.text}</b> has come into this scene as a hidden layer: they show its artwork.`);
  },
  "[data-burst-at]": ({ value }) =>
    value && commit(/** @type {any} */ ({ kind: "burst_at", scene: scene(), layers: state.layers, to: value })),
});

// Layers of other scenes, from which particles may have their shape: each scene's under its name.
async function addOtherScenes(list) {
  const { ok, answer } = await http(`/api/projects/${state.project}/drawn`);
  // Asked for twice, they stand there already, and one of them may be chosen by now.
  if (!ok || !list.isConnected || list.querySelector("optgroup")) return;
  for (const each of answer.filter((told) => told.scene !== scene() && told.layers.length)) {
    const group = document.createElement("optgroup");
    group.label = each.name;
    for (const told of each.layers) {
      const option = new Option(told.name, told.id);
      option.dataset.of = each.scene;
      group.append(option);
    }
    list.append(group);
  }
}

function folded(event) {
  const { fold } = event.target.dataset;
  if (!fold || !event.target.isConnected) return;
  const others = liked.folds.filter((id) => id !== fold);
  const told = event.target.open ? [...others, fold] : others;
  if (String(told) !== String(liked.folds)) like("folds", told);
}

export function wireLooks() {
  figures.addEventListener("click", clicked);
  figures.addEventListener("toggle", folded, true);
  figures.addEventListener("change", (event) => {
    for (const [mark, change] of Object.entries(CHANGED))
      if (event.target.matches(mark)) /** @type {any} */ (change)(event.target);
  });
  figures.addEventListener("focusin", ({ target }) => {
    if (target.matches("[data-matte]")) fillLayers(target, "nothing: all of it shows");
    if (target.matches("[data-burst-at]")) fillLayers(target, "choose a layer…");
    if (target.matches("[data-burst-layer]"))
      fillLayers(target, target.dataset.burstLayer === "source" ? "none" : "their shape");
    if (target.matches("[data-burst-layer=shaped]")) addOtherScenes(target);
    if (target.matches("[data-mask-from]")) fillLayers(target, "From a layer…");
  });
  maskFile.addEventListener("change", () => maskFile.files[0] && maskOfFile(maskFile.files[0]));
  figures.addEventListener("pointerdown", lifted);
  figures.addEventListener("pointermove", carried);
  figures.addEventListener("pointerup", dropped);
}

hand("figures", 70, { cancel: () => Boolean(unlifted()) });

const aLayer = () => state.layers.length > 0;
const refused = "Select a layer first.";
does("mask-rectangle", () => drawMask("rectangle"), { can: aLayer, refused });
does("mask-ellipse", () => drawMask("ellipse"), { can: aLayer, refused });
does("mask-draw", () => drawMask("draw"), { can: aLayer, refused });
does(
  "mask-file",
  () => {
    maskFile.value = "";
    maskFile.click();
  },
  { can: aLayer, refused },
);
does(
  "draw-on",
  () => tryInPlace(/** @type {any} */ ({ kind: "draw_on", scene: scene(), layers: state.layers, time: timeNow() })),
  { can: aLayer, refused: "Select what is to be drawn on." },
);
does("close-bars", async () => {
  const edit = { kind: "close_bars", scene: scene(), id: newId(), time: timeNow() };
  tryInPlace(/** @type {any} */ (edit));
});
does("look-page", () => {
  like("page", "look");
  look({ light: true });
});
