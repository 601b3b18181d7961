// Strokes and buttons, and which action or choice each means.
import { act, actOrSay, actionOf, has, menuOf } from "./actions.js";
import { meanPaste } from "./clipboard.js";
import { cancelNumberDrag } from "./figures.js";
import { cancelAny, isPressed } from "./hands.js";
import { select, selectTool } from "./holding.js";
import { markSelected, nudgeKeys } from "./keys.js";
import { look } from "./link.js";
import { maskAround } from "./lookhand.js";
import { fitPair } from "./pairaxes.js";
import { nudgePath } from "./pathhand.js";
import { nudgePoints, penKey } from "./pen.js";
import { clickedAt, closeMenu, showMenu } from "./showmenu.js";
import { nudge, repaint } from "./stage.js";
import { choose, liked, state } from "./state.js";
import { dropWords } from "./textedit.js";
import { setSpeed, setUnit } from "./time.js";
import { choosingTolerance, keep as keepTolerance } from "./tolerance.js";
import { keepTrial, nudgeTrial, trying } from "./trial.js";
import { liking, toggleView } from "./views.js";

function dropSelected() {
  choose({ keys: [], points: [], pathPoints: [] });
  repaint();
  markSelected();
  look();
}

// One thing at a time: what is under way, keys or points, then the tool, then the layers.
function escape(event) {
  const open = document.querySelector("[data-bs-toggle=dropdown].show");
  if (open) {
    window.bootstrap.Dropdown.getInstance(open)?.hide();
    return;
  }
  if (dropWords(event, () => act("undo")) || closeMenu() || cancelAny()) return;
  if (state.keys.length || state.points.length || state.pathPoints.length) dropSelected();
  else if (state.tool !== "move") selectTool("move");
  else select([]);
}

// Arrows move what is selected: points of a path, keys in time or value, points of an outline, layers.
function arrows([x, y], size) {
  if (x && nudgeTrial(x * size)) return;
  if (nudgePath(x * size, y * size)) return;
  if (state.keys.length && x) nudgeKeys(x * size);
  else if (state.keys.length && state.keys.every((key) => key.property !== "position") && state.pair)
    nudgeKeys(0, (-y * size) / state.pair.factor);
  else if (!nudgePoints(x * size, y * size)) nudge(x * size, y * size);
}

const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

// Keys that mean what is under way or selected; whether it was one of these.
function plainKey(event) {
  if (penKey(event.key)) event.preventDefault();
  else if (event.key === "Enter" && trying() && !event.target.closest("#trial button")) {
    event.preventDefault();
    keepTrial();
  } else if (event.key === "Enter" && choosingTolerance() && !event.target.closest("#tolerance button")) {
    event.preventDefault();
    keepTolerance();
  } else if (event.key === "Enter" && !event.target.closest("button") && maskAround()) event.preventDefault();
  else if (event.key === "Escape") escape(event);
  else if (event.key in ARROWS && !event.target.closest(".dropdown-menu, [role=separator]")) {
    event.preventDefault();
    arrows(ARROWS[event.key], event.shiftKey ? 10 : 1);
  } else return false;
  return true;
}

// Fields that hold a text have keys of their own. A list or a box takes plain keys alone: with Ctrl they mean the page's.
const TEXTS = "textarea, dialog, input:not([type=checkbox], [type=radio], [type=range], [type=color])";

// While a hand is on, Escape and undo put back what it does, and nothing else is done: it would change what lies under it.
function underHand(event) {
  if (["Shift", "Control", "Alt", "Meta"].includes(event.key)) return;
  event.preventDefault();
  if (event.key === "Escape" || actionOf(event) === "undo") cancelAny();
}

export function onKey(event) {
  const control = event.ctrlKey || event.metaKey;
  if (event.target.closest(TEXTS) || (!control && event.target.closest("select, input"))) {
    if (event.key === "Escape" || (isPressed() && actionOf(event) === "undo")) cancelNumberDrag();
  } else if (isPressed()) underHand(event);
  else stroke(event, control);
}

function stroke(event, control) {
  const meant = actionOf(event);
  if (!control && plainKey(event)) return;
  // The browser's own event brings what is pasted; words that are marked on the page are copied as such.
  if (meant === "paste-keys") {
    meanPaste(event);
    return;
  }
  if (meant === "copy-keys" && String(getSelection())) return;
  if (meant && (control || !(event.key === " " && event.target.closest("button")))) {
    // Space and Enter on a focused button press that button.
    event.preventDefault();
    actOrSay(meant);
  }
}

// What buttons with a choice on them do, by the name of the choice.
const CHOICES = {
  tool: selectTool,
  view: toggleView,
  axes: (axes) => liking("axes", axes),
  laneHeight: (px) => liking("laneHeight", Number(px)),
  filter: (which) => liking(FILTER[which], !liked[FILTER[which]]),
  unit: setUnit,
  fitPair,
  liked: (name) => liking(name, !liked[name]),
  speed: (told) => setSpeed(Number(told)),
};

const FILTER = { keyed: "onlyKeyed", selected: "onlySelected" };

export function onClick(event) {
  const button = event.target.closest("button");
  if (!button) return;
  const asked = event.target.closest("[data-do]")?.dataset.do;
  const choice = Object.keys(CHOICES).find((name) => button.dataset[name]);
  if (asked && has(asked)) actOrSay(asked);
  else if (choice) CHOICES[choice](button.dataset[choice]);
  else if (button.dataset.menu && menuOf(button.dataset.menu).length)
    showMenu(...clickedAt(event), menuOf(button.dataset.menu));
  // A menu keeps its button in mind, to go back to.
  if (event.detail && !button.dataset.menu && (choice || (asked && has(asked))) && !button.closest("#figures"))
    button.blur();
}
