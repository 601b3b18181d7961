// What is tried in place: an edit shown in the lanes before it is kept, with chips for its choices in a bar beneath.
// Enter keeps it, Escape drops it; what is chosen in the bar is tried at once.
import { hand } from "./hands.js";
import { attempt, commit, putBack, revealRow } from "./link.js";
import { hint } from "./notice.js";
import { typedNumber } from "./numbers.js";
import { receives } from "./receivers.js";
import { mark, put } from "./renew.js";
import { tellWindow } from "./rows.js";
import { state } from "./state.js";
import { marked } from "./marked.js";

const bar = document.getElementById("trial");
const area = document.getElementById("time-area");
let now = null; // { edit, turn }
let begun = false;

export const trying = () => now;
// Who is told of an edit of a kind that was kept, with what it led to.
const keepers = new Map();
export const whenKept = (kind, call) => keepers.set(kind, call);
const told = (sentence) => put(bar.querySelector("[data-trial-told]"), "textContent", sentence);

/** @param {import("../../../../../types/models").Edit} edit */
export function tryInPlace(edit) {
  now = { edit, turn: null };
  told("");
  show(true);
  // What it is tried on comes into view, clear of the bar.
  tellWindow();
  revealRow(state.layers[0]);
  begun = true;
  attempt(edit);
  const edges =
    edit.kind === "paste_keys"
      ? marked` · <kbd>drag</kbd> its edges: where it begins, how often · <kbd>← →</kbd> by a frame`
      : "";
  hint(marked`<b>Tried in the lanes</b> · <kbd>Enter</kbd> keep · <kbd>Esc</kbd> drop${edges}`);
}

function show(on) {
  bar.hidden = !on;
  area.classList.toggle("trying", on);
}

// A field of the edit, by its path, made another.
function changed(edit, path, value) {
  const [first, ...rest] = path.split(".");
  return { ...edit, [first]: rest.length ? changed(edit[first] || {}, rest.join("."), value) : value };
}

export function changeTrial(path, value) {
  if (!now) return;
  now.edit = changed(now.edit, path, value);
  attempt(now.edit);
}

export async function keepTrial() {
  if (!now) return false;
  const { edit } = now;
  now = null;
  show(false);
  const answer = await commit(edit);
  // Refused, it is still there to be chosen otherwise.
  if (!answer && !now) tryInPlace(edit);
  if (answer) keepers.get(edit.kind)?.(edit);
  return true;
}

export function dropTrial() {
  if (!now) return false;
  now = null;
  show(false);
  putBack();
  hint("Dropped. Nothing was changed.");
  return true;
}

// Where a trial stands in time, moved by frames.
export function nudgeTrial(frames) {
  if (!now?.turn && now?.edit.kind !== "paste_keys") return false;
  changeTrial("time", now.edit.time + frames * state.scene.flicks);
  return true;
}

// Why it cannot be made, in the bar: what was chosen can be chosen otherwise.
export function showTrialRefused({ refused }) {
  if (now) told(refused);
  return Boolean(now);
}

function take(trial, head) {
  if (!now) return;
  // Something else was tried or done meanwhile: that is what shows.
  if (!trial) {
    if (state.tentative?.kind !== now.edit.kind) {
      now = null;
      show(false);
    }
    return;
  }
  now.turn = trial.turn;
  if (begun && trial.asks)
    queueMicrotask(() => {
      const field = /** @type {any} */ (bar.querySelector(".trial-number:enabled"));
      field?.focus();
      field?.select();
    });
  begun = false;
  put(bar.querySelector("b"), "textContent", trial.title);
  told((head.told || []).join(" "));
}

function typed(field) {
  const number = typedNumber(field.value);
  if (field.dataset.plain !== undefined && Number.isFinite(number)) {
    changeTrial(field.dataset.trial, number / Number(field.dataset.plain || 1));
    return;
  }
  const flicks = Number(field.dataset.flicks);
  if (!Number.isFinite(number) || (number < 0 && !flicks)) {
    told(`“${field.value.slice(0, 20)}” is no number to choose.`);
    return;
  }
  changeTrial(field.dataset.trial, flicks ? Math.round(number * flicks) : Math.round(number));
}

export function wireTrial() {
  receives("trial", take);
  bar.addEventListener("click", (event) => {
    const chip = event.target.closest("button[data-trial]");
    if (chip) {
      changeTrial(chip.dataset.trial, chip.dataset.to === "true");
      // Enter means to keep it again, not this chip.
      if (event.detail) chip.blur();
    }
    if (event.target.closest("[data-trial-keep]")) keepTrial();
    else if (event.target.closest("[data-trial-drop]")) dropTrial();
  });
  bar.addEventListener("change", ({ target }) => {
    if (target.matches("select[data-trial]")) changeTrial(target.dataset.trial, target.value || null);
  });
  bar.addEventListener("input", ({ target }) => {
    if (target.matches(".trial-colour")) changeTrial(target.dataset.trial, target.value);
    if (target.matches(".trial-number") && target.value.trim()) typed(target);
    if (target.matches(".trial-range")) {
      // In steps that read well, but its ends are the range's.
      const step = Number(target.dataset.step);
      const near = Number((Math.round(Number(target.value) / step) * step).toPrecision(8));
      changeTrial(target.dataset.trial, Math.min(Math.max(near, Number(target.min)), Number(target.max)));
    }
  });
  bar.addEventListener("keydown", (event) => {
    if (!event.target.matches("input, select") || !["Enter", "Escape"].includes(event.key)) return;
    event.preventDefault();
    event.stopPropagation();
    event.target.blur();
    if (event.key === "Enter") keepTrial();
    else dropTrial();
  });
  mark(bar, "aria-live", "polite");
}

hand("trial", 10, { tried: true, cancel: dropTrial });
