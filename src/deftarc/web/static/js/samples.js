// Motion from outside: the hand recorded in real time, samples of a CSV file, the path of an SVG file.
import { hand } from "./hands.js";
import { commit } from "./link.js";
import { send } from "./uploads.js";
import { hint, say } from "./notice.js";
import { showDraft } from "./overlay.js";
import { pivotNow } from "./picking.js";
import { followHand, repeat, state, timeNow, timeOf } from "./state.js";
import { goTo, play } from "./time.js";
import { tryTolerance } from "./tolerance.js";
import { toScene } from "./view.js";
import { marked } from "./marked.js";
import { unitOf } from "./withdata.js";

let tape = null; // { pointer, at, spots: [[seconds, x, y]], began, frame, looped }

// Pressed, the scene plays from the playhead and the layer is where the hand is.
function recordDown(event) {
  if (!state.layers.length) {
    say("Select the layer that is to follow your hand.");
    return true;
  }
  const at = toScene(event.clientX, event.clientY);
  const pivot = pivotNow() || at;
  tape = {
    pointer: event.pointerId,
    at,
    off: { x: pivot.x, y: pivot.y },
    spots: [[0, at.x, at.y]],
    began: performance.now(),
    frame: state.frame,
    looped: state.loop,
  };
  repeat(false);
  play(true);
  requestAnimationFrame(sample);
  return true;
}

const seconds = () => ((performance.now() - tape.began) / 1000) * state.speed;

// The hand is read as often as the screen is drawn, whether it moves or rests.
function sample() {
  if (!tape) return;
  const t = seconds();
  if (t > tape.spots.at(-1)[0]) tape.spots.push([t, tape.at.x, tape.at.y]);
  const pivot = pivotNow();
  followHand(pivot ? { layer: state.layers[0], dx: tape.at.x - pivot.x, dy: tape.at.y - pivot.y } : null);
  showDraft({
    points: tape.spots.filter((_, k) => k % 3 === 0).map(([, x, y]) => ({ x, y, lx: 0, ly: 0 })),
    trail: true,
  });
  hint(marked`<b>Recording</b> ${t.toFixed(1)} s · let go to end`);
  if (tape.frame + t * state.scene.rate >= state.scene.frames - 1) {
    recordUp({ pointerId: tape.pointer });
    return;
  }
  requestAnimationFrame(sample);
}

function recordMove(event) {
  if (!tape || event.pointerId !== tape.pointer) return false;
  tape.at = toScene(event.clientX, event.clientY);
  return true;
}

function recordUp(event) {
  if (!tape || event.pointerId !== tape.pointer) return false;
  const { spots, frame, looped } = tape;
  stop(looped, frame);
  if (spots.at(-1)[0] * state.scene.rate < 2) {
    say("That was too short to be a motion: press, move for a while, let go.");
    return true;
  }
  tryTolerance({
    title: "Record the hand",
    value: 4,
    act: "Keep it",
    make: (tolerance) => ({
      kind: "lay_recording",
      scene: state.scene.id,
      layer: state.layers[0],
      property: "position",
      spots,
      start: timeOf(frame),
      tolerance,
    }),
  });
  return true;
}

function stop(looped, frame) {
  tape = null;
  followHand(null);
  repeat(looped);
  play(false);
  goTo(frame, { quiet: true });
  showDraft(null);
}

function cancelRecording() {
  if (!tape) return false;
  stop(tape.looped, tape.frame);
  hint("Put away.");
  return true;
}

// A CSV file's samples, read by the server, then tried at a tolerance.
let wanted = null;
export function bringSamples(property) {
  if (!state.layers.length) return;
  wanted = { layer: state.layers[0], property };
  const field = document.getElementById("csv-file");
  field.value = "";
  field.click();
}

async function readSamples(file) {
  const { layer, property } = wanted;
  const rows = await send(`/scenes/${state.scene.id}/layers/${layer}/samples`, file, { property, time: timeNow() });
  if (!rows) return;
  if (rows.told) say(rows.told);
  const unit = unitOf(property);
  tryTolerance({
    title: `${rows.times.length} samples of ${file.name}`,
    unit,
    value: 1,
    act: "Lay them on",
    make: (tolerance) => ({
      kind: "lay_samples",
      scene: state.scene.id,
      layer,
      property,
      times: rows.times,
      values: rows.values,
      tolerance,
    }),
  });
}

export async function uploadPath(file, end) {
  const found = await send(`/scenes/${state.scene.id}/layers/${state.layers[0]}/path-file`, file, {
    time: timeNow(),
    end,
  });
  if (found) commit(found.edit);
}

export const wireSamples = () =>
  document.getElementById("csv-file").addEventListener("change", (event) => {
    if (event.target.files[0]) readSamples(event.target.files[0]);
  });

hand("picture", 5, {
  down: (event) => state.tool === "path" && state.pathHand === "record" && (recordDown(event), "held"),
  move: recordMove,
  up: recordUp,
  cancel: cancelRecording,
});
