// The figures: type, drag or step a number, pick a colour; key a property; ease a segment; spans, parents, artwork.
import { hand } from "./hands.js";
import { cancelStrength } from "./easing.js";
import { attempt, commit, look, momentOf, putBack, revealRow } from "./link.js";
import { hint, say } from "./notice.js";
import { nudged } from "./nudging.js";
import { boundsAt } from "./shapes.js";
import { frameOf, shownItem } from "./picking.js";
import { focusOn, isInside, isLocked, keepOpen, like, liked, newId, sameKey, state, timeNow, unfold } from "./state.js";
import { keyAll, keyHere } from "./keys.js";
import { marked } from "./marked.js";
import { oneWith } from "./withdata.js";

const figures = document.getElementById("figures");
let drag = null;

const others = () => state.layers.slice(1);
const scene = () => state.scene.id;
/** @returns {import("../../../../../types/models").Edit} */
const linkEdit = (well, told) => ({
  kind: "change_links",
  scene: scene(),
  lanes: state.layers
    .filter((id) => state.info.get(id)?.follows.includes(well.dataset.follow))
    .map((layer) => ({ layer, property: well.dataset.follow })),
  field: well.dataset.followField,
  component: Number(well.dataset.component),
  ...told,
});
/** @returns {import("../../../../../types/models").Edit} */
const edit = (well, told) => (well.dataset.follow ? linkEdit(well, told) : valueEdit(well, told));
/** @returns {import("../../../../../types/models").Edit} */
const valueEdit = (well, told) => ({
  kind: "set_value",
  scene: scene(),
  layer: state.layers[0],
  others: others(),
  property: well.dataset.property,
  component: Number(well.dataset.component),
  ...told,
  time: timeNow(),
  keying: state.keying,
  axes: liked.axes,
});

async function typed(input) {
  const well = input.closest(".well");
  if (input.value === input.dataset.before) return;
  const before = input.dataset.before;
  input.dataset.before = input.value;
  if (!(await commit(edit(well, { told: input.value })))) {
    const again = oneWith(figures, "[data-id]", { id: input.dataset.id });
    // What was refused stands there again as it was typed, to be mended; where a lock refused it there is nothing to mend.
    if (again && state.layers.some(isLocked)) {
      again.value = again.dataset.before = before;
      return;
    }
    if (again) {
      const told = input.value;
      again.focus();
      again.dataset.before = before;
      again.value = told;
      again.select();
    }
  }
}

export function cancelNumberDrag() {
  if (cancelStrength()) return true;
  if (!drag) return false;
  drag = null;
  putBack();
  hint("Put back.");
  return true;
}

/** @returns {import("../../../../../types/models").Edit} */
const artEdit = (change) => ({
  kind: "change_artwork",
  scene: scene(),
  layer: state.layers[0],
  others: others(),
  change,
});
const isKeyed = (name) => oneWith(figures, "[data-row]", { row: name })?.dataset.state !== "none";

/** @returns {import("../../../../../types/models").Edit} */
function colourEdit(name, colour) {
  const well = { dataset: { property: name, component: 0 } };
  return edit(well, { colour });
}

function paintNone(button) {
  const name = button.dataset.paintNone;
  if (isKeyed(name) || state.keying) {
    // A keyed colour fades to nothing instead: transparent at this time.
    const now = oneWith(figures, "[data-colour]", { colour: name }).value;
    commit(colourEdit(name, `${now}${button.getAttribute("aria-pressed") === "true" ? "ff" : "00"}`));
  } else if (button.getAttribute("aria-pressed") === "true") commit(artEdit({ [name]: "#22577a" }));
  else commit(artEdit({ [name]: "none" }));
}

// The pivot at one of nine places of the artwork, for each selected layer at its own.
function nine(button) {
  const [x, y] = button.dataset.nine.split(" ").map(Number);
  const layers = state.layers.filter((id) => shownItem(id)?.drawing);
  const each = layers.map((id) => {
    const [left, top, right, bottom] = boundsAt(shownItem(id), frameOf(shownItem(id)));
    return [left + x * (right - left), top + y * (bottom - top)];
  });
  if (layers.length) commit({ kind: "move_pivot", scene: scene(), layers, time: timeNow(), each });
}

const these = () => ({ scene: scene(), layers: state.layers });
// Commits, and has the figures drawn anew where nothing came of it: a field shows what is.
async function commitOr(edit) {
  if (!edit || !(await commit(edit))) look({ fresh: true });
}

async function typeSpan(field, edit) {
  const found = await momentOf(field.value, true);
  await commitOr(found && edit(found.time));
}

function typeKeyValue(field) {
  const key = state.keys.find((each) => each.layer === state.layers[0]) || state.keys[0];
  const others = state.keys.filter((each) => !sameKey(each, key));
  const component = Number(field.dataset.keyValue);
  commitOr({ kind: "type_key", scene: scene(), ...key, component, told: field.value, others });
}

function typeDashes({ value }) {
  const told = value.trim();
  const parts = told ? told.split(/[\s,]+/).map(Number) : [];
  if (parts.every((n) => Number.isFinite(n) && n > 0)) commit(artEdit({ dash: parts }));
  else {
    say("Dashes are lengths in px above nought, like 12 6.");
    look({ fresh: true });
  }
}

function typeWords({ value }) {
  if (value.trim()) commit({ kind: "change_artwork", scene: scene(), layer: state.layers[0], change: { text: value } });
  else {
    say("A text layer needs at least one letter. Delete the layer if it should go.");
    look({ fresh: true });
  }
}

// What a field that was changed does, by what marks it.
const FIELDS = {
  "[data-parent]": ({ value }) => commit({ kind: "set_parent", ...these(), parent: value || null, time: timeNow() }),
  "[data-blend]": ({ value }) => commit({ kind: "blend_layers", ...these(), blend: value }),
  "[data-as-one]": ({ checked }) => commit({ kind: "paint_as_one", ...these(), as_one: checked }),
  "[data-span-start]": (field) => typeSpan(field, (start) => ({ kind: "trim_span", ...these(), start })),
  "[data-span-end]": (field) => typeSpan(field, (end) => ({ kind: "trim_span", ...these(), end })),
  "[data-span-length]": (field) => typeSpan(field, (length) => ({ kind: "set_span_length", ...these(), length })),
  "[data-key-time]": typeKeyTime,
  "[data-key-value]": typeKeyValue,
  "select[data-art]": ({ dataset, value }) => commit(artEdit({ [dataset.art]: value })),
  "[data-art=dash]": typeDashes,
  "textarea[data-art=text]": typeWords,
};
function changed(field) {
  for (const [mark, change] of Object.entries(FIELDS))
    if (field.matches(mark)) {
      change(field);
      return;
    }
}

async function typeKeyTime(field) {
  const key = state.keys.find((each) => each.layer === state.layers[0]) || state.keys[0];
  // What a key between frames is shown as is not quite where it is.
  if (field.value === field.defaultValue) return;
  const found = key && (await momentOf(field.value, true));
  if (!found) {
    look({ fresh: true });
    return;
  }
  if (found.time !== key.time)
    commit({ kind: "move_keys", scene: scene(), keys: state.keys, by: found.time - key.time });
}

function fieldKey(event) {
  const field = event.target;
  const well = field.closest(".well");
  if (event.key === "Escape") {
    if (cancelNumberDrag()) event.preventDefault();
    return;
  }
  if (!well) return;
  if (event.altKey && (event.key === "-" || event.key === "−" || event.code === "Minus")) {
    event.preventDefault();
    commit(edit(well, { told: "*=-1" }));
  }
  if (event.key === "ArrowUp" || event.key === "ArrowDown") {
    event.preventDefault();
    const size = Number(well.dataset.step) * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
    field.dataset.before = field.value;
    const told = `${event.key === "ArrowUp" ? "+" : "-"}=${Number(size.toFixed(4))}`;
    nudged(() => edit(well, { told }));
  }
}

// All that could carry the selected layers, listed when it is asked for.
function fillCarriers(list) {
  const now = list.value;
  list.replaceChildren(new Option("nothing", ""));
  for (const id of state.order) {
    if (state.layers.some((layer) => id === layer || isInside(id, layer))) continue;
    list.append(new Option(state.info.get(id).name, id, false, id === now));
  }
}

export function openLanes(names) {
  const asked = state.layers.flatMap((layer) => names.map((property) => ({ layer, property })));
  const isOpen = (lane) => state.opened.some((one) => one.layer === lane.layer && one.property === lane.property);
  keepOpen([...state.opened, ...asked.filter((lane) => !isOpen(lane))]);
  unfold(state.layers);
  if (state.layers[0]) {
    focusOn({ layer: state.layers[0], property: names[0] });
    revealRow(state.layers[0]);
  }
  look();
}

// What an effect's own buttons do: it is switched, moved in the order, or taken away.
function changeEffect(button) {
  const { effectDo, effect } = button.dataset;
  const change = {
    earlier: { move: -1 },
    later: { move: 1 },
    remove: { remove: true },
    on: { on: button.getAttribute("aria-pressed") !== "true" },
  }[effectDo];
  commit({ kind: "change_effect", scene: scene(), layers: [state.layers[0]], effect, ...change });
}

function clicked(event) {
  const at = (name) => event.target.closest(`[data-${name}]`);
  if (at("key")) keyHere(at("key").dataset.key.split(" "));
  else if (at("open")) openLanes(at("open").dataset.open.split(" "));
  else if (at("page")) {
    like("page", at("page").dataset.page);
    look({ light: true });
  } else if (at("paint-none")) paintNone(at("paint-none"));
  else if (at("nine")) nine(at("nine"));
  else if (at("link"))
    commit({
      kind: "link_scale",
      scene: scene(),
      layer: state.layers[0],
      others: others(),
      link: at("link").dataset.link,
      time: timeNow(),
    });
  else if (at("effect-add"))
    commit({
      kind: "add_effect",
      scene: scene(),
      layers: state.layers,
      effect: { kind: at("effect-add").dataset.effectAdd, id: newId() },
    });
  else if (at("effect-do")) changeEffect(at("effect-do"));
  else if (at("do")?.dataset.do === "key-all") keyAll();
  else if (at("do")?.dataset.do === "let-go") commit({ kind: "clear_loose", scene: scene(), layers: state.layers });
}

// The lane of a number that is taken hold of is the one that is meant from now on.
function pointAt(well) {
  const [layer] = state.layers;
  if (!well || well.dataset.follow || !layer) return;
  const { property } = well.dataset;
  if (state.focus?.layer === layer && state.focus.property === property) return;
  focusOn({ layer, property });
  look({ light: true });
}

export function wireFigures(openMenu) {
  figures.addEventListener("focusin", (event) => {
    if (event.target.matches(".well input")) event.target.select();
    pointAt(event.target.closest(".well[data-property]"));
    if (event.target.matches("[data-parent]")) fillCarriers(event.target);
  });
  figures.addEventListener("focusout", (event) => {
    if (event.target.matches(".well input") && event.target.isConnected) typed(event.target);
  });
  figures.addEventListener("keydown", (event) => {
    if (event.target.matches("input, textarea, select")) fieldKey(event);
  });
  figures.addEventListener("pointerdown", (event) => {
    const grip = event.target.closest(".grip");
    if (!grip || event.button !== 0) return;
    event.preventDefault();
    const well = grip.closest(".well");
    pointAt(well);
    drag = { well: { dataset: { ...well.dataset } }, by: 0, x: event.clientX, pointer: event.pointerId, edit: null };
    figures.setPointerCapture(event.pointerId);
  });
  figures.addEventListener("pointermove", (event) => {
    if (!drag || event.pointerId !== drag.pointer) return;
    const coarse = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
    drag.by += (event.clientX - drag.x) * Number(drag.well.dataset.step) * coarse;
    drag.x = event.clientX;
    drag.edit = edit(drag.well, { by: Number(drag.by.toFixed(3)) / Number(drag.well.dataset.factor) });
    hint(
      marked`<b>Dragging a number</b> · <kbd>Shift</kbd> ten times as much · <kbd>Alt</kbd> a tenth · <kbd>Esc</kbd> put back`,
    );
    attempt(drag.edit);
  });
  figures.addEventListener("pointerup", () => {
    if (!drag) return;
    const done = drag;
    drag = null;
    if (done.edit) commit(done.edit);
  });
  figures.addEventListener("click", clicked);
  // It opens a menu and does not edit the number: the strokes stay where they were.
  figures.addEventListener("mousedown", (event) => {
    if (event.button === 2 && event.target.closest("[data-row]")) event.preventDefault();
  });
  figures.addEventListener("contextmenu", (event) => {
    const row = event.target.closest("[data-row]");
    if (!row) return;
    event.preventDefault();
    // On one of several numbers of a row that are properties of their own, it is that one.
    const names = row.dataset.row.split(" ");
    const own = event.target.closest(".well[data-property]")?.dataset.property;
    openMenu(event, { properties: names.includes(own) ? [own] : names });
  });
  figures.addEventListener("input", (event) => {
    if (event.target.matches("[data-colour]")) attempt(colourEdit(event.target.dataset.colour, event.target.value));
  });
  figures.addEventListener("change", (event) => {
    if (event.target.matches("[data-colour]")) commit(colourEdit(event.target.dataset.colour, event.target.value));
    else if (!event.target.closest(".well")) changed(event.target);
  });
}

hand("figures", 80, { cancel: cancelNumberDrag });
