// Find an action: a field that lists every action by words typed, with its stroke and whether it can be done now.
import { act, allActions, canDo, isOn, wordsOf } from "./actions.js";

const dialog = document.getElementById("actions-dialog");
const field = dialog.querySelector("input");
const list = dialog.querySelector("[role=listbox]");
const MOST = 60;
let chosen = 0;
let shown = [];

// How well an action fits what is typed: every word has to be in its words or its group, the nearer to their start the
// better; null where one is not.
function fit(action, words) {
  const text = `${wordsOf(action.id)} ${action.words} ${action.about} ${action.group}`.toLowerCase();
  let sum = 0;
  for (const word of words) {
    const at = text.indexOf(word);
    if (at < 0) return null;
    sum += at + (at === 0 || text[at - 1] === " " ? 0 : 50);
  }
  return sum;
}

function found() {
  const words = field.value.toLowerCase().split(/\s+/).filter(Boolean);
  return allActions()
    .filter((action) => !action.pointed && action.id !== "find-action")
    .map((action) => ({ action, sum: fit(action, words), can: canDo(action.id) }))
    .filter((row) => row.sum !== null)
    .sort((a, b) => Number(b.can) - Number(a.can) || a.sum - b.sum)
    .slice(0, MOST);
}

function entry({ action, can }, n) {
  const row = document.createElement("li");
  row.id = `action-${action.id}`;
  row.setAttribute("role", "option");
  row.setAttribute("aria-disabled", String(!can));
  row.setAttribute("aria-selected", String(n === chosen));
  row.dataset.action = action.id;
  const words = Object.assign(document.createElement("span"), { textContent: wordsOf(action.id) });
  const about = Object.assign(document.createElement("small"), {
    textContent: can ? `${action.group}${isOn(action.id) ? " · on" : ""}` : "not now",
  });
  const stroke = Object.assign(document.createElement("kbd"), { textContent: action.stroke });
  row.append(words, about, ...(action.stroke ? [stroke] : []));
  return row;
}

function show() {
  shown = found();
  chosen = Math.max(0, Math.min(chosen, shown.length - 1));
  list.replaceChildren(...shown.map(entry));
  if (!shown.length)
    list.append(
      Object.assign(document.createElement("li"), { className: "none", textContent: "Nothing is called that." }),
    );
  field.setAttribute("aria-activedescendant", shown.length ? `action-${shown[chosen].action.id}` : "");
  list.children[chosen]?.scrollIntoView({ block: "nearest" });
}

function pick(n) {
  const row = shown[n];
  if (!row?.can) return;
  dialog.close();
  act(row.action.id);
}

export function findAction() {
  field.value = "";
  chosen = 0;
  dialog.showModal();
  show();
  field.focus();
}

export function wireFindAction() {
  field.addEventListener("input", () => {
    chosen = 0;
    show();
  });
  field.addEventListener("keydown", (event) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step) {
      event.preventDefault();
      chosen += step;
      show();
    } else if (event.key === "Enter") {
      event.preventDefault();
      pick(chosen);
    }
  });
  list.addEventListener("click", (event) => {
    const at = event.target.closest("[data-action]");
    if (at) pick([...list.children].indexOf(at));
  });
}
