// Rows dragged in the list: between two to reorder, onto one to be carried by it.
import { atEdges } from "./edges.js";
import { hand } from "./hands.js";
import { commit } from "./link.js";
import { showThrough } from "./looks.js";
import { hint, say } from "./notice.js";
import { groupsOf, state, timeNow } from "./state.js";
import { marked } from "./marked.js";

const area = document.getElementById("time-area");
const line = document.getElementById("drop-line");
let drag = null;

// A name pressed; what it comes to is seen when the hand moves.
function down(event) {
  const id = event.target.closest("[data-select]")?.dataset.select;
  if (id === undefined || event.button !== 0 || event.target.closest(".rename")) return false;
  const add = event.ctrlKey || event.metaKey || event.shiftKey;
  drag = { id, add, pointer: event.pointerId, x: event.clientX, y: event.clientY, moved: false, target: null };
  return true;
}

function targetAt(event) {
  const row = document.elementFromPoint(event.clientX, event.clientY)?.closest(".row-line");
  if (!row?.dataset.layer) return null;
  const box = row.getBoundingClientRect();
  const head = row.classList.contains("head");
  const share = (event.clientY - box.top) / box.height;
  if (head && share > 0.28 && share < 0.72) return { onto: row.dataset.layer, box };
  const above = head && share <= 0.28;
  return { beside: row.dataset.layer, above, box };
}

// At the edges of the list it rolls on, and what lies under the hand is another row.
function move(event) {
  if (!follow(event)) return false;
  atEdges(event, { move: (again) => follow(again) && atEdges(again, { move: () => {} }) });
  return true;
}

function follow(event) {
  if (!drag || event.pointerId !== drag.pointer) return false;
  if (!drag.moved && event.type === "pointermove" && Math.hypot(event.clientX - drag.x, event.clientY - drag.y) < 5)
    return true;
  if (!drag.moved) area.setPointerCapture(event.pointerId);
  drag.moved = true;
  drag.target = targetAt(event);
  const told = drag.target;
  line.hidden = !told;
  if (told) {
    const base = area.getBoundingClientRect();
    const top = told.onto ? told.box.top : told.above ? told.box.top - 1 : told.box.bottom - 1;
    line.classList.toggle("onto", Boolean(told.onto));
    Object.assign(line.style, { top: `${top - base.top}px`, height: told.onto ? `${told.box.height}px` : "2px" });
    const name = state.info.get(told.onto || told.beside)?.name;
    hint(wordsOf(told, name, event.altKey));
  }
  return true;
}

// What letting go there would do.
function wordsOf(told, name, through) {
  if (!told.onto) return marked`<b>Reorder</b> · ${told.above ? "above" : "below"} ${name}`;
  if (through) return marked`<b>Show it through ${name}</b> · only where that shows`;
  return marked`<b>Let ${name} carry it</b> · the picture stays as it is at this frame · <kbd>Alt</kbd> show it through ${name}`;
}

function cancel() {
  if (!drag?.moved) {
    drag = null;
    return false;
  }
  drag = null;
  line.hidden = true;
  return true;
}

// The layer that comes after another in the list, past its members where it is a group.
function following(id) {
  let at = state.order.indexOf(id) + 1;
  while (at < state.order.length && groupsOf(state.order[at]).includes(id)) at += 1;
  return state.order[at] ?? null;
}

function up(event) {
  if (!drag || event.pointerId !== drag.pointer) return false;
  const done = drag;
  drag = null;
  line.hidden = true;
  if (!done.moved) return false;
  // Held to be added to the selection, it is dragged with that.
  const add = done.add || state.layers.includes(done.id);
  const layers = add ? state.order.filter((id) => id === done.id || state.layers.includes(id)) : [done.id];
  const told = done.target;
  if (told?.onto && event.altKey)
    showThrough(
      layers.filter((id) => id !== told.onto),
      told.onto,
    );
  else if (told?.onto) dropOnto(layers, told.onto);
  else if (told) dropBeside(layers, told);
  return true;
}

// Onto a group they become its members, onto another layer they are carried by it.
function dropOnto(layers, onto) {
  if (layers.includes(onto)) return;
  const common = { scene: state.scene.id, layers, time: timeNow() };
  if (state.info.get(onto).group)
    commit({ kind: "order_layers", ...common, before: following(onto), regroup: true, group: onto });
  else commit({ kind: "set_parent", ...common, parent: onto });
}

function dropBeside(layers, told) {
  // Between the members of a group it becomes one of them; beside what is in none it leaves its own.
  const inside =
    state.info.get(told.beside).group && !told.above && !state.folded?.has(told.beside)
      ? told.beside
      : groupsOf(told.beside)[0] || null;
  const before = told.above
    ? told.beside
    : inside === told.beside
      ? (state.order[state.order.indexOf(told.beside) + 1] ?? null)
      : following(told.beside);
  if (layers.some((id) => id === inside || groupsOf(inside || "").includes(id))) {
    say("A group cannot be put into itself.");
    return;
  }
  const common = { scene: state.scene.id, layers, time: timeNow() };
  commit({ kind: "order_layers", ...common, before, regroup: true, group: inside });
}

// One up or down in the list, by the keyboard.
export function stepOrder(direction) {
  const layers = state.order.filter((id) => state.layers.includes(id));
  if (!layers.length) return;
  const at = direction < 0 ? state.order.indexOf(layers[0]) - 1 : state.order.indexOf(layers.at(-1)) + 1;
  if (at < 0 || at >= state.order.length) return;
  const before = direction < 0 ? state.order[at] : following(state.order[at]);
  commit({ kind: "order_layers", scene: state.scene.id, layers, before, time: timeNow() });
}

hand("lanes", 50, { down, move, up, cancel });
