// Markers: pennants above the ruler and on layers' rows, set by a stroke also while it plays, dragged, stepped through, and
// listed in the drawer.
import { does, menuOf } from "./actions.js";
import { isOpen, listIn, toggleDrawer } from "./drawer.js";
import { hand, listen } from "./hands.js";
import { keysOf, snapFor } from "./keys.js";
import { attempt, commit, commitTried, momentOf, putBack, waitFor } from "./link.js";
import { lists } from "./lists.js";
import { ask, hint, say } from "./notice.js";
import { typedNumber } from "./numbers.js";
import { receives } from "./receivers.js";
import { showMenu } from "./showmenu.js";
import { chooseMarks, newId, state, timeNow, timeOf, timeLabel } from "./state.js";
import { areaX, frameAtX, goTo, playFromRange, setRange, timeAtX } from "./time.js";
import { marked } from "./marked.js";

const row = document.getElementById("marks");
const area = document.getElementById("time-area");
const scene = () => state.scene.id;
let known = [];
let drag = null;

const same = (a, b) => a.id === b.id && (a.layer || null) === (b.layer || null);
const markOf = (element) => ({ layer: element.dataset.owner || null, id: element.dataset.mark });
const told = (mark) => known.find((each) => same(each, mark));
const refs = (marks) => marks.map(({ layer, id }) => (layer ? { layer, id } : { id }));
const change = (fields, marks = state.marks) =>
  commit({ kind: "change_markers", scene: scene(), marks: refs(marks), ...fields });
// Moments to step and play between: the scene's markers, and those of the selected layers.
const moments = () =>
  [...new Set(known.filter((m) => !m.layer || state.layers.includes(m.layer)).map((m) => m.time))].sort(
    (a, b) => a - b,
  );

export function showMarks() {
  for (const each of area.querySelectorAll(".pennant"))
    each.classList.toggle(
      "selected",
      state.marks.some((mark) => same(mark, markOf(each))),
    );
}

export function selectMarks(marks) {
  chooseMarks(marks);
  showMarks();
}

function take(marks) {
  known = marks;
  area.classList.toggle(
    "marked",
    marks.some((mark) => !mark.layer),
  );
  const here = state.marks.filter(told);
  if (here.length < state.marks.length) chooseMarks(here);
  queueMicrotask(showMarks);
}

async function set(layer = null) {
  const marker = { id: newId(), time: timeNow() };
  const playing = state.playing;
  const answer = await commit({ kind: "set_markers", scene: scene(), ...(layer ? { layer } : {}), markers: [marker] });
  if (answer && !playing) selectMarks([{ layer, id: marker.id }]);
}

function stepTo(direction) {
  const times = moments();
  const frames = times.map((time) => Math.round(time / state.scene.flicks));
  const next =
    direction > 0
      ? frames.find((frame) => frame > state.frame)
      : [...frames].reverse().find((frame) => frame < state.frame);
  if (next === undefined) say(`There is no marker ${direction > 0 ? "after" : "before"} this frame.`);
  else goTo(next);
}

// The stretch between the two markers around a moment becomes the play range, and plays.
async function playBetween(at = timeNow()) {
  const times = moments();
  if (!times.length) {
    say("There are no markers to play between. Set two: press ' where the playhead is.");
    return;
  }
  const start = [...times].reverse().find((time) => time <= at) ?? 0;
  const end = times.find((time) => time > at) ?? timeOf(state.scene.frames);
  await setRange({ start, end });
  if (!state.playing) playFromRange();
}

async function nameIt() {
  const mark = told(state.marks[0] || {});
  if (!mark) return;
  const name = await ask({
    title: "Name the marker",
    about: "A name may be empty.",
    label: "Name",
    value: mark.name,
    act: "Name it",
  });
  if (name !== null) change({ name: name.trim() }, [mark]);
}

async function tempo() {
  const text = await ask({
    title: "Mark the beats of a tempo",
    about:
      "In beats a minute, from the playhead on; after a comma how many a bar has, and after another how many are marked: else all to the end of what loops.",
    label: "Tempo",
    value: "120, 4",
    act: "Mark them",
  });
  if (!text) return;
  const [bpm, beats, count] = text.split(/[,;]/);
  markTempo(bpm, beats, "beat", count);
}
function markTempo(tempoTold, beatsTold = "4", every = "beat", countTold = "") {
  const [bpm, beats] = [typedNumber(tempoTold), Math.round(typedNumber(beatsTold))];
  const count = countTold.trim() ? Math.round(typedNumber(countTold)) : null;
  if (!(bpm > 0) || !(beats > 0) || (count !== null && !(count > 0))) {
    say("Type a tempo as beats a minute, how many a bar has, and how many are marked: 120, 4, 16.");
    return;
  }
  commit(
    /** @type {any} */ ({
      kind: "mark_tempo",
      scene: scene(),
      start: timeNow(),
      tempo: bpm,
      beats,
      every,
      count,
      id: newId(),
    }),
  );
}

export function deleteMarks() {
  if (!state.marks.length) return false;
  commit({ kind: "delete_markers", scene: scene(), marks: refs(state.marks) });
  return true;
}

const one = { can: () => state.marks.length > 0 };
does("mark", () => set());
does("mark-layer", () => set(state.layers[0]), {
  can: () => state.layers.length > 0,
  refused: "Select the layer that is to have the marker.",
});
does("previous-mark", () => stepTo(-1));
does("next-mark", () => stepTo(1));
does("markers", () => toggleDrawer("markers"), { on: () => isOpen("markers") });
does("mark-tempo", tempo);
does("play-between", (at) => playBetween(at?.mark ? told(at.mark)?.time : undefined));
// The selected keys; with layers alone all of theirs.
async function keysToMarks() {
  const keys = state.keys.length ? state.keys : await waitFor(() => keysOf(state.layers));
  if (keys?.length) commit({ kind: "keys_to_markers", scene: scene(), keys });
  else if (keys) say("What is selected has no keys to bring to markers.");
}
does("keys-to-marks", keysToMarks, {
  can: () => state.keys.length > 0 || state.layers.length > 0,
  refused: "Select the keys that are to be brought to markers, or layers for all of theirs.",
});
does("name-mark", nameIt, one);
for (const { id } of lists.actions.list)
  if (id.startsWith("mark-in-")) {
    const tag = id.slice("mark-in-".length);
    does(id, () => change({ tag: /** @type {any} */ (tag) }), {
      can: () => one.can() && told(state.marks[0])?.tag !== tag,
    });
  }
does("delete-marks", deleteMarks, one);

// A press on a pennant selects it, a drag moves all that are selected; let go where it was pressed, it is gone to.
function down(event) {
  const pennant = event.target.closest?.(".pennant");
  if (!pennant || event.button !== 0) return false;
  // The row of markers lies within the lanes: a press there is heard by both.
  if (drag?.press === event) return true;
  document.activeElement?.blur?.();
  const mark = markOf(pennant);
  const among = state.marks.some((each) => same(each, mark));
  const add = event.ctrlKey || event.metaKey || event.shiftKey;
  if (!among) selectMarks(add ? [mark, ...state.marks] : [mark]);
  const place = pennant.closest("#marks") || area;
  place.setPointerCapture(event.pointerId);
  drag = {
    pointer: event.pointerId,
    x: event.clientX,
    at: timeAtX(areaX(event.clientX)),
    marks: [mark, ...state.marks.filter((each) => !same(each, mark))],
    leaves: add && among,
    press: event,
    edit: null,
  };
  return true;
}

function move(event) {
  if (!drag || event.pointerId !== drag.pointer) return false;
  if (!drag.edit && Math.abs(event.clientX - drag.x) < 3) return true;
  const by = Math.round(timeAtX(areaX(event.clientX)) - drag.at);
  drag.edit = { kind: "change_markers", scene: scene(), marks: refs(drag.marks), by };
  attempt(drag.edit, snapFor(event, null));
  const mark = told(drag.marks[0]);
  hint(
    marked`<b>Marker</b>${mark ? ` to ${timeLabel((state.snapped?.edit?.by ?? by) + mark.time)}` : ""} · <kbd>Alt</kbd> to frames only · <kbd>Esc</kbd> put back`,
  );
  return true;
}

function up(event) {
  if (!drag || event.pointerId !== drag.pointer) return false;
  const done = drag;
  drag = null;
  const mark = told(done.marks[0]);
  if (done.edit)
    commitTried(done.edit, (edit) => !edit.by).then((answer) => {
      if (!answer && !drag) putBack();
    });
  else if (done.leaves) selectMarks(state.marks.filter((each) => !same(each, done.marks[0])));
  else if (mark) goTo(Math.round(mark.time / state.scene.flicks));
  return true;
}

function cancel() {
  if (drag) {
    drag = null;
    putBack();
    hint("Put back.");
    return true;
  }
  if (!state.marks.length) return false;
  selectMarks([]);
  return true;
}

const rowOf = (target) => target.closest(".marker-row");
const list = {
  click(target) {
    const here = rowOf(target);
    if (!here) return;
    const mark = markOf(here);
    if (target.closest("[data-go-mark]")) {
      selectMarks([mark]);
      goTo(Math.round(told(mark).time / state.scene.flicks));
    } else if (target.closest("[data-play-mark]")) playBetween(told(mark).time);
    else if (target.closest("[data-drop-mark]"))
      commit({ kind: "delete_markers", scene: scene(), marks: refs([mark]) });
  },
  async typed(target) {
    const here = rowOf(target);
    if (!here) return;
    const mark = markOf(here);
    const field = target.dataset.markerField;
    if (field === "time") {
      const found = await momentOf(target.value, true);
      if (found) change({ time: found.time }, [mark]);
    } else change({ [field]: target.value }, [mark]);
  },
};

export function wireMarkers() {
  receives("marks", take);
  listIn("markers", list);
  listen("marks", row, () =>
    hint(
      marked`<b>Markers</b> · <kbd>drag</kbd> one · <kbd>double click</kbd> names it, beside it sets one · <kbd>Ctrl ,</kbd> <kbd>Ctrl .</kbd> step`,
    ),
  );
  area.addEventListener("dblclick", (event) => {
    const under = document.elementFromPoint(event.clientX, event.clientY);
    if (under?.closest(".pennant")) nameIt();
    else if (under?.closest("#marks"))
      commit({
        kind: "set_markers",
        scene: scene(),
        markers: [{ id: newId(), time: timeOf(frameAtX(areaX(event.clientX))) }],
      });
  });
  area.addEventListener(
    "contextmenu",
    (event) => {
      const pennant = event.target.closest(".pennant");
      if (!pennant) return;
      event.preventDefault();
      event.stopPropagation();
      const mark = markOf(pennant);
      if (!state.marks.some((each) => same(each, mark))) selectMarks([mark]);
      showMenu(event.clientX, event.clientY, menuOf("marker", { mark }));
    },
    true,
  );
  document.getElementById("drawer").addEventListener("submit", (event) => {
    const form = event.target.closest("[data-tempo]");
    if (!form) return;
    event.preventDefault();
    const { tempo: bpm, beats, every, count } = form.elements;
    markTempo(bpm.value, beats.value, every.value, count.value);
  });
}

hand("marks", 10, { down, move, up, cancel });
hand("lanes", 50, { down, move, up });
