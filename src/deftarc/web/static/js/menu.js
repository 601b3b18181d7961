// What can be done here: one menu for right clicks, the keyboard's menu key, and the buttons with three dots.
import { commit, request } from "./link.js";
import { lists } from "./lists.js";
import { ask, say } from "./notice.js";
import { closePath, deletePoints, roundPoint } from "./pen.js";
import { isolate, keyAll, keyHere, renameInPlace, toggleOf } from "./lanes.js";
import { openLanes } from "./figures.js";
import { pairItems } from "./curves.js";
import { momentOf } from "./link.js";
import { liked, newId, state, timeNow, toldFrame } from "./state.js";

const menu = document.getElementById("menu");
let before = null;

export function showMenu(x, y, items) {
  menu.replaceChildren();
  for (const item of items.filter(Boolean)) {
    if (item === "-") {
      if (menu.lastChild && menu.lastChild.tagName !== "HR") menu.append(Object.assign(document.createElement("hr"), { className: "dropdown-divider" }));
      continue;
    }
    const [label, act, key = ""] = item;
    const button = document.createElement("button");
    button.className = "dropdown-item";
    button.setAttribute("role", "menuitem");
    button.textContent = label;
    if (key) button.append(" ", Object.assign(document.createElement("small"), { textContent: key }));
    button.addEventListener("click", () => { closeMenu(); act(); });
    menu.append(button);
  }
  if (!menu.children.length) return;
  before = document.activeElement;
  menu.hidden = false;
  menu.classList.add("show");
  menu.style.left = `${Math.max(4, Math.min(innerWidth - menu.offsetWidth - 4, x))}px`;
  menu.style.top = `${Math.max(4, Math.min(innerHeight - menu.offsetHeight - 4, y))}px`;
  menu.querySelector("button").focus({ preventScroll: true });
}

// Where a menu opens: at the pointer; for a button pressed by the keyboard, at the button.
export function clickedAt(event) {
  if (event.detail) return [event.clientX, event.clientY];
  const box = event.target.closest("button").getBoundingClientRect();
  return [box.left, box.bottom + 2];
}

export function closeMenu() {
  if (menu.hidden) return false;
  menu.hidden = true;
  menu.classList.remove("show");
  before?.focus?.({ preventScroll: true });
  return true;
}

menu.addEventListener("keydown", (event) => {
  const items = [...menu.querySelectorAll("button")];
  const at = items.indexOf(document.activeElement);
  const step = { ArrowDown: 1, ArrowUp: -1, Tab: event.shiftKey ? -1 : 1 }[event.key];
  if (step) { event.preventDefault(); items[(at + step + items.length) % items.length].focus(); }
  if (event.key === "Escape") closeMenu();
  event.stopPropagation();
});
addEventListener("pointerdown", (event) => { if (!menu.contains(event.target)) closeMenu(); }, true);

const scene = () => state.scene.id;
const here = () => ({ scene: scene(), layers: state.layers, time: timeNow() });

export async function workBackwards(properties = []) {
  if (!state.layers.length) { say("Select a layer whose look is to be kept as its end."); return; }
  const told = await ask({ title: "Keep this look as the end pose", about: "Keys are set at that time with what shows now, and here for you to change into the start.", label: "The end pose stands at", value: toldFrame(Math.min(state.scene.frames - 1, state.frame + Math.round(state.scene.rate))), act: "Keep it" });
  const found = told && (await momentOf(told, true));
  if (found) commit({ kind: "work_backwards", ...here(), properties, end: found.time });
}

export const group = () => {
  if (!state.layers.length) { say("Select what is to be grouped."); return; }
  const id = newId();
  commit({ kind: "group_layers", ...here(), id }).then((answer) => { if (answer) choose([id]); });
};
export const ungroup = () => commit({ kind: "ungroup", ...here() });
let choose = () => {};
export function wireMenu(select) { choose = select; }

export const align = (how, toFrame) => request(`/scenes/${scene()}/align`, { layers: state.layers, how, to_frame: toFrame, time: timeNow(), keying: state.keying });
export const size = (how) => request(`/scenes/${scene()}/size`, { layers: state.layers.slice(0, 1), how, time: timeNow(), keying: state.keying });
export const spanToPlayhead = (part) => state.layers.length && commit({ kind: "trim_span", scene: scene(), layers: state.layers, [part]: timeNow() });

export function copyNumbers() {
  if (!state.layers.length) { say("Select the layer whose numbers are to be copied."); return; }
  state.copied = { layer: state.layers[0], name: state.info.get(state.layers[0]).name };
  say(`The numbers of ${state.copied.name} are copied. Select others and press Ctrl Shift V.`);
}

export function giveNumbers(properties = []) {
  if (!state.copied || !state.info.has(state.copied.layer)) { say("Copy a layer’s numbers first: Ctrl Shift C."); return; }
  if (state.layers.length) commit({ kind: "copy_numbers", ...here(), source: state.copied.layer, properties, keying: state.keying });
}

function propertyItems(properties, places) {
  const [first] = properties;
  const scaled = first.startsWith("scale");
  const link = state.info.get(state.layers[0])?.link;
  const linkTo = (to) => () => commit({ kind: "link_scale", scene: scene(), layer: state.layers[0], others: state.layers.slice(1), link: to, time: timeNow() });
  return [
    ["Set a key here", () => keyHere(properties)],
    state.layers.length > 1 && ["Set a key here on all selected layers", () => keyHere(properties)],
    ["Open its lane", () => openLanes(properties)],
    ["Keep as the end pose…", () => workBackwards(properties)],
    ["Settle at the playhead…", () => places.craft("settle", { layer: state.layers[0], property: first })],
    ["Bounce at the playhead…", () => places.craft("bounce", { layer: state.layers[0], property: first })],
    first !== "outline" && ["Lay CSV samples on it…", () => places.samples(first)],
    first === "position" && ["Split into x and y…", () => places.splitAxes(true)],
    first === "position_x" && ["Combine x and y as a path…", () => places.splitAxes(false)],
    first !== "outline" && ["Fewer keys…", () => places.reduce({ layer: state.layers[0], property: first })],
    ["Clear its motion, keep this value", () => commit({ kind: "clear_motion", ...here(), properties })],
    state.copied && [`Give it the number of ${state.copied.name}`, () => giveNumbers(properties)],
    scaled && "-",
    scaled && link !== "linked" && ["Link the axes", linkTo("linked")],
    scaled && link !== "free" && ["Unlink the axes", linkTo("free")],
    scaled && link !== "area" && ["Link the axes by area", linkTo("area")],
    first === "position" && "-",
    ...(first === "position" ? [["own", "its own axes"], ["parent", "its parent’s axes"], ["scene", "the scene’s axes"]].filter(([id]) => id !== liked.axes).map(([id, words]) => [`Read and drag in ${words}`, () => document.querySelector(`[data-axes=${id}]`).click()]) : []),
  ];
}

export function layerItems(places) {
  const [id] = state.layers;
  const told = state.info.get(id);
  if (!told) return [];
  const many = state.layers.length > 1;
  const can = (trait) => told.traits.includes(trait);
  const flag = (which, on, off) => [told[which] ? off : on, () => toggleOf(state.layers, which)];
  return [
    ["Rename", () => renameInPlace(id)],
    ["Duplicate", places.duplicate, "Ctrl D"],
    !can("empty") && ["Make a linked copy", places.linkedCopy, "Ctrl Shift D"],
    told.shared && ["Unlink from its copies", () => commit({ kind: "unlink", scene: scene(), layers: state.layers })],
    ["Group", group, "Ctrl G"],
    told.group && ["Ungroup", ungroup, "Ctrl Shift G"],
    told.group && [told.as_one ? "Paint it layer by layer" : "Paint it as one", () => commit({ kind: "paint_as_one", scene: scene(), layers: state.layers, as_one: !told.as_one })],
    told.parent && ["Free of its parent", () => commit({ kind: "set_parent", ...here(), parent: null })],
    "-",
    ["Set keys on all of its transform", keyAll],
    ["Keep this look as the end pose…", () => workBackwards(), "B"],
    ["Clear all motion, keep this look", () => commit({ kind: "clear_motion", ...here() })],
    ["Copy its numbers", copyNumbers, "Ctrl Shift C"],
    state.copied && [`Give it the numbers of ${state.copied.name}`, () => giveNumbers(), "Ctrl Shift V"],
    "-",
    ["Start its span here", () => spanToPlayhead("start"), "Ctrl ["],
    ["End its span here", () => spanToPlayhead("end"), "Ctrl ]"],
    ["Move it to the playhead, with its keys", () => places.spanHere(true)],
    ["Move its span here, leaving its keys", () => places.spanHere(false)],
    ["Give a length with keys in proportion…", places.stretch],
    "-",
    ["Align…", () => places.alignMenu()],
    can("pictured") && ["Fit the frame", () => size("fit")],
    can("pictured") && ["Fill the frame", () => size("fill")],
    can("pictured") && ["At 100 %", () => size("full")],
    !can("empty") && ["Replace its artwork by a file…", places.replace],
    can("words") && ["Turn into outlines", () => request(`/scenes/${scene()}/layers/${id}/outlines`, {})],
    can("words") && ["Letters apart, as outlines", () => request(`/scenes/${scene()}/layers/${id}/outlines`, { letters: true })],
    can("parts") && !can("words") && ["Take apart into layers, or a free path", () => request(`/scenes/${scene()}/layers/${id}/apart`, {})],
    ["Its motion path", places.path, "E"],
    can("words") && ["Edit its words", places.editText],
    can("points") && ["Edit its points", () => document.querySelector("[data-tool=points]").click()],
    "-",
    flag("hidden", "Hide", "Show"),
    flag("locked", "Lock", "Unlock"),
    ["Isolate, or show all again", () => isolate(state.layers), "I"],
    flag("reference", "Make it a reference: it never renders", "Let it render again"),
    ["Tag…", () => places.tagMenu()],
    [told.hands ? "Keep its opacity to itself" : "Hand on its opacity to what it carries", () => commit({ kind: "describe_layers", scene: scene(), layers: state.layers, hands_opacity: !told.hands })],
    "-",
    [many ? `Delete ${state.layers.length} layers` : "Delete", places.remove, "Delete"],
  ];
}

function pointItems(point) {
  const k = Number(point);
  if (!state.points.includes(k)) state.points = [k];
  return [["Corner or smooth", () => roundPoint(k)], ["Delete", deletePoints, "Delete"], "-", ["Close the path", () => closePath(true)], ["Open the path", () => closePath(false)]];
}

export function menuAt(event, told, places) {
  const x = event.clientX || event.target.getBoundingClientRect().left;
  const y = event.clientY || event.target.getBoundingClientRect().bottom;
  let items = [];
  if (told.path) items = places.pathMenu(told.path, event);
  else if (told.point !== undefined && state.tool === "points") items = pointItems(told.point);
  else if (told.properties) items = propertyItems(told.properties, places);
  else if (told.ruler) items = [["Play range starts here", () => places.range("start")], ["Play range ends here", () => places.range("end")], ["Play range is the whole scene", () => places.range("all")]];
  else if (told.pair) items = pairItems(told.pair, places);
  else if (event.target.closest?.(".bead")) items = [["Move to the playhead", () => commit({ kind: "move_keys", scene: scene(), keys: state.keys, by: timeNow() - state.keys[0].time })], ["Fewer keys…", () => places.reduce()], ...pairItems({ bead: state.keys[0] }, places)];
  else if (told.lane) items = [...propertyItems([told.lane], places), "-", ["Close its lane, if not keyed", () => { state.opened = state.opened.filter((lane) => !(lane.layer === told.layer && lane.property === told.lane)); places.relook(); }]];
  else if (state.layers.length) items = layerItems(places);
  else items = [["Add a rectangle", () => places.add("rectangle")], ["Add text…", () => places.add("text")], ["Bring in a logo or picture…", () => places.add("file")], "-", ["Settings of this scene…", places.settings]];
  showMenu(x, y, items);
}

export function alignMenu() {
  const kinds = [["left", "left"], ["centre", "centre across"], ["right", "right"], ["top", "top"], ["middle", "centre down"], ["bottom", "bottom"]];
  const many = state.layers.length > 1;
  const box = document.getElementById("stage").getBoundingClientRect();
  showMenu(box.left + 60, box.top + 20, [
    ...(many ? kinds.map(([how, words]) => [`To one another: ${words}`, () => align(how, false)]) : []),
    ...(state.layers.length > 2 ? [["Distribute across", () => align("across", false)], ["Distribute down", () => align("down", false)]] : []),
    "-", ...kinds.map(([how, words]) => [`To the frame: ${words}`, () => align(how, true)]),
    ...(many ? [["Distribute across the frame", () => align("across", true)], ["Distribute down the frame", () => align("down", true)]] : []),
  ]);
}

export function tagMenu() {
  const box = document.getElementById("figures").getBoundingClientRect();
  showMenu(box.left + 60, box.top - 60, lists.tags.map((tag) => [tag[0].toUpperCase() + tag.slice(1), () => commit({ kind: "describe_layers", scene: state.scene.id, layers: state.layers, tag })]));
}
