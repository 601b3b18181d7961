// The list of layers and lanes: only the rows in view are on the page; each has its place by its top.
import { look, setWindow } from "./link.js";
import { renew } from "./renew.js";
import { isolatedOut, state } from "./state.js";

const scroller = document.getElementById("lanes-scroll");
const list = document.getElementById("lanes");
const nothing = document.getElementById("no-rows");

export function showRows({ height, rows, html, scroll, empty }) {
  list.style.height = `${height}px`;
  nothing.innerHTML = empty;
  const here = new Set(rows.map(([id]) => id));
  for (const row of [...list.children]) if (!here.has(row.id)) row.remove();
  for (const [id, top] of rows) {
    const before = document.getElementById(id);
    // A name being typed in place is left alone; the row is drawn when it is done.
    const row = html[id] !== undefined && !before?.querySelector(".rename") ? drawRow(before, html[id]) : before;
    if (row) row.style.top = `${top}px`;
  }
  if (scroll !== null && scroll !== undefined) {
    scroller.scrollTop = scroll;
    told = "";
    tellWindow();
  }
  markIsolated();
}

// A row brought to what it is now. It is never put in another's place: a press begun on it would find no end there, and
// its click and the keyboard would be lost.
function drawRow(before, html) {
  const made = document.createElement("template");
  made.innerHTML = html;
  const fresh = made.content.firstElementChild;
  if (before) renew(before, fresh);
  else list.append(fresh);
  const row = before || fresh;
  if (row.dataset.height) row.style.height = `${row.dataset.height}px`;
  return row;
}

export function markIsolated() {
  for (const row of list.querySelectorAll(".head")) {
    const button = row.querySelector("[data-isolate]");
    const on = state.isolated.has(row.dataset.layer);
    button?.setAttribute("aria-pressed", String(on));
    button?.classList.toggle("on", on);
    row.classList.toggle("away", isolatedOut(row.dataset.layer));
  }
}

let told = "";
export function tellWindow() {
  const now = `${Math.round(scroller.scrollTop)} ${scroller.clientHeight}`;
  if (now === told) return false;
  told = now;
  setWindow(Math.max(0, scroller.scrollTop), scroller.clientHeight);
  return true;
}

export function wireRows() {
  scroller.addEventListener("scroll", () => {
    if (tellWindow()) look();
  });
  new ResizeObserver(() => {
    if (tellWindow()) look();
  }).observe(scroller);
}
