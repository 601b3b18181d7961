// The drawer: lists over the pair that one opens, works through and closes. Its rows carry the edits they offer, and where
// they lead.
import { hand } from "./hands.js";
import { commit, look } from "./link.js";
import { receives } from "./receivers.js";
import { put } from "./renew.js";
import { findInDrawer, openDrawer, state } from "./state.js";

const drawer = document.getElementById("drawer");
const goers = [];
let shown = null;

// Who is told, by its name, when a list is shown or drawn anew, and of clicks on what it does not know itself.
const lists = new Map();
/** @param {string} name
 * @param {{ shown?: () => void, click?: (target: any) => void, typed?: (target: any) => void }} what */
export const listIn = (name, what) => lists.set(name, what);
// Who goes to a layer or a lane named by a row.
export const goesBy = (call) => goers.push(call);

export const isOpen = (name) => state.drawer === name;
export function toggleDrawer(name) {
  openDrawer(state.drawer === name ? "" : name);
  look();
}
export function closeDrawer() {
  if (!state.drawer) return false;
  openDrawer("");
  drawer.hidden = true;
  look();
  return true;
}

// What has focus keeps it when the list is drawn anew, by its place.
function take(told) {
  drawer.hidden = !told;
  if (!told) {
    shown = null;
    return;
  }
  put(document.getElementById("drawer-title"), "textContent", told.title);
  drawer.dataset.list = told.id;
  const first = shown !== told.id;
  shown = told.id;
  // Once the fragment is in its place.
  queueMicrotask(() => {
    lists.get(told.id)?.shown?.();
    const body = document.getElementById("drawer-body");
    if (first)
      (
        body.querySelector("[data-drawer-first]") ||
        body.querySelector(".row-go") ||
        body.querySelector("button, input")
      )?.focus({ preventScroll: true });
  });
}

const buttons = () => [...drawer.querySelectorAll("button:not(:disabled), input")];

function onKey(event) {
  if (event.key === "Escape") {
    event.preventDefault();
    event.stopPropagation();
    closeDrawer();
    return;
  }
  const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (!by || event.target.matches("input, select")) return;
  event.preventDefault();
  event.stopPropagation();
  const all = buttons();
  all[Math.max(0, Math.min(all.length - 1, all.indexOf(document.activeElement) + by))]?.focus();
}

export function wireDrawer() {
  receives("drawer", take);
  drawer.addEventListener("click", ({ target, detail }) => {
    // Pressed with the mouse, it does not keep the strokes: space plays again.
    if (detail) target.closest("button")?.blur();
    const offer = target.closest("[data-edit]");
    const row = target.closest("[data-go-layer]");
    if (target.closest("[data-drawer-close]")) closeDrawer();
    else if (offer) commit(JSON.parse(offer.dataset.edit));
    else if (row) for (const go of goers) go(row.dataset);
    else lists.get(shown)?.click?.(target);
  });
  drawer.addEventListener("input", ({ target }) => {
    if (!target.matches("[data-drawer-find]")) return;
    findInDrawer(target.value);
    look();
  });
  drawer.addEventListener("change", ({ target }) => lists.get(shown)?.typed?.(target));
  drawer.addEventListener("keydown", onKey);
}

hand("drawer", 95, { cancel: closeDrawer });
