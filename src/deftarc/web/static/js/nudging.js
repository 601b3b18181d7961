// Strokes that are held or repeated: together they are one tentative edit, shown at once, and one step once they rest. It
// rests when nothing of it comes for a moment, and before anything else is done.
import { attempt, beforeOthers, commit } from "./link.js";
import { newId, state } from "./state.js";
import { keepWaiting } from "./outbox.js";
import { alsoWaits, tellSaved } from "./queue.js";
import { together } from "./together.js";

// Milliseconds after the last stroke.
const RESTS = 350;

let held = null; // the edit that all strokes come to
let id = "";
let timer = 0;
const down = new Set(); // the arrows that are held
let ahead = []; // those that are being made steps, the first one first

// The same stroke after what is being made a step: keys stand elsewhere then.
function after(edit) {
  const by = ahead.reduce((sum, each) => sum + (each.kind === "move_keys" ? each.by : 0), 0);
  return edit.kind === "move_keys" && by
    ? { ...edit, keys: edit.keys.map((key) => ({ ...key, time: key.time + by })) }
    : edit;
}

// One stroke more: `stroke()` says what it does to what is selected, or nothing.
export function nudged(stroke) {
  const told = stroke();
  if (!told) return;
  const edit = after(told);
  const both = held && together(held, edit);
  if (held && !both) rest();
  held = both || edit;
  id ||= newId();
  keepWaiting({
    id,
    path: `/api/projects/${state.project}/edits`,
    method: "POST",
    json: { revision: state.revision, edit: held, edit_id: id },
  });
  // What it begins from is not there yet: it shows once that is.
  if (!ahead.length) attempt(held);
  clearTimeout(timer);
  timer = setTimeout(restUnlessHeld, RESTS);
  tellSaved();
}

// What was held is made a step; whether there was anything. Its id goes along: it is made once, however it is sent.
export function rest() {
  if (!held) return false;
  clearTimeout(timer);
  const edit = held;
  const name = id;
  held = null;
  id = "";
  ahead.push(edit);
  commit(edit, name).finally(() => {
    ahead = ahead.filter((each) => each !== edit);
    if (held && !ahead.length) attempt(held);
  });
  return true;
}

// A key that is still down goes on, however late a busy machine repeats it.
function restUnlessHeld() {
  if (down.size) timer = setTimeout(restUnlessHeld, RESTS);
  else rest();
}

const ARROWS = new Set(["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown"]);
const STROKES = new Set([...ARROWS, "Shift", "Alt", "Control", "Meta"]);

alsoWaits(() => (held ? 1 : 0));
beforeOthers(rest);
// Whatever else a person does begins from where the strokes have come to.
document.addEventListener("pointerdown", rest, true);
document.addEventListener(
  "keydown",
  (event) => {
    if (ARROWS.has(event.key)) down.add(event.key);
    if (!STROKES.has(event.key)) rest();
  },
  true,
);
document.addEventListener(
  "keyup",
  (event) => {
    // Some systems say nothing of keys that come up while this one is down.
    if (event.key === "Meta") down.clear();
    else down.delete(event.key);
  },
  true,
);
// What comes up elsewhere is not heard here.
window.addEventListener("blur", () => down.clear());
document.addEventListener("visibilitychange", rest);
