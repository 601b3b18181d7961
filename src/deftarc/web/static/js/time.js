// When things play: the clock, the playhead, scrubbing, and the zoom of the time axis.
import { look } from "./link.js";
import { say } from "./notice.js";
import { repaint } from "./stage.js";
import { state, timecode, timeOf } from "./state.js";
import { columnAt } from "./table.js";

const clock = document.getElementById("clock");
const playhead = document.getElementById("playhead");
const flagBox = playhead.querySelector("g");
const line = playhead.querySelector("line");
const area = document.getElementById("time-area");
export const stats = { painted: 0, missed: 0 };

export const xOf = (time) => (state.axis ? ((time - state.axis.start) / (state.axis.end - state.axis.start)) * state.axis.width : 0);
export const timeAtX = (x) => state.axis.start + (x / state.axis.width) * (state.axis.end - state.axis.start);
export const areaX = (clientX) => clientX - document.getElementById("ruler").getBoundingClientRect().left;
export const frameAtX = (x) => Math.round(timeAtX(x) / state.scene.flicks);

const number = (value, decimals) => {
  const text = value.toFixed(decimals);
  const short = text.includes(".") ? text.replace(/\.?0+$/, "") : text;
  return short === "-0" ? "0" : short;
};

// Everything that follows the frame: picture, playhead, clock, numbers, readings.
export function showFrame() {
  repaint();
  const x = xOf(timeOf(state.frame));
  const out = x < -1 || (state.axis && x > state.axis.width + 1);
  playhead.classList.toggle("out", out);
  line.setAttribute("x1", x);
  line.setAttribute("x2", x);
  flagBox.setAttribute("transform", `translate(${x} 0)`);
  flagBox.querySelector("text").textContent = timecode(state.frame);
  const wide = 14 + timecode(state.frame).length * 7;
  flagBox.querySelector("rect").setAttribute("width", wide);
  flagBox.querySelector("rect").setAttribute("x", -wide / 2);
  if (document.activeElement !== clock) clock.value = timecode(state.frame);
  showNumbers();
  showReadings(x);
}

export function showNumbers() {
  const loose = state.still?.frame === state.frame && !state.playing;
  for (const well of document.querySelectorAll("#figures .well")) {
    const column = state.columns[well.dataset.property];
    const input = well.querySelector("input");
    if (!column || document.activeElement === input || loose) continue;
    const value = columnAt(column, state.frame)[Number(well.dataset.component)];
    const unit = well.dataset.unit === "%" ? "%" : well.dataset.unit === "°" ? "°" : "";
    input.value = number(value, Number(well.dataset.decimals)) + unit;
  }
  for (const output of document.querySelectorAll(".layer.selected output[data-lane-value]")) {
    const column = state.columns[output.dataset.laneValue];
    if (!column || output.closest(".layer").dataset.layer !== state.layers[0]) { output.textContent = ""; continue; }
    const values = columnAt(column, state.frame);
    const shown = output.dataset.laneValue === "position" ? [values[0], values[1]] : [values[0]];
    output.textContent = shown.map((value) => number(value, Math.abs(value) >= 100 ? 0 : 1)).join(", ");
  }
}

function showReadings(x) {
  const svg = document.querySelector("svg.pair");
  const column = state.columns.pair;
  if (!svg || !column || !state.pair) return;
  const [value, speed] = columnAt(column, state.frame);
  const place = (name, scale, at, words) => {
    const group = svg.querySelector(`.${name}-reading`);
    const inside = Math.max(scale.low, Math.min(scale.high, at));
    const y = scale.top + scale.height * (1 - (inside - scale.low) / (scale.high - scale.low));
    group.removeAttribute("hidden");
    group.setAttribute("transform", `translate(${x} ${y})`);
    const text = group.querySelector("text");
    text.textContent = words;
    const wide = words.length * 7.3 + 14;
    group.querySelector("rect").setAttribute("width", wide);
    group.querySelector("g").setAttribute("transform", x + wide + 16 > state.axis.width ? `translate(${-wide - 18} 0)` : "");
  };
  const withUnit = (n, unit) => `${number(n, Math.abs(n) >= 100 ? 0 : 1)}${unit.startsWith("°") ? "" : " "}${unit}`;
  place("value", state.pair.value, value, withUnit(value, state.pair.unit));
  place("speed", state.pair.speed, speed, Math.abs(speed) > 1e30 ? `unbounded ${state.pair.speed_unit}` : withUnit(speed, state.pair.speed_unit));
}

export function goTo(frame, { quiet = false } = {}) {
  const next = Math.max(0, Math.min(state.scene.frames - 1, frame));
  if (next === state.frame && !quiet) return;
  state.frame = next;
  showFrame();
  if (!state.playing) look({ light: true });
}

let started = 0;
let from = 0;
export function play(on = !state.playing) {
  if (on === state.playing) return;
  state.playing = on;
  document.body.classList.toggle("playing", on);
  if (!on) { showFrame(); look({ light: true }); return; }
  if (state.frame >= state.scene.frames - 1) state.frame = 0;
  from = state.frame;
  started = performance.now();
  stats.painted = stats.missed = 0;
  let last = state.frame;
  const tick = (now) => {
    if (!state.playing) return;
    const run = Math.max(0, Math.floor(((now - started) / 1000) * state.scene.rate + 1e-6));
    let frame = from + run;
    if (frame >= state.scene.frames) {
      if (!state.loop) { state.frame = state.scene.frames - 1; play(false); return; }
      frame %= state.scene.frames;
    }
    if (frame !== last) {
      const ahead = (frame - last + state.scene.frames) % state.scene.frames;
      stats.missed += ahead - 1;
      stats.painted += 1;
      last = state.frame = frame;
      showFrame();
    }
    requestAnimationFrame(tick);
  };
  requestAnimationFrame(tick);
}

// The frames of the keys that stepping goes through: those of what is selected, else of every lane shown.
function keyFrames() {
  const chosen = state.layers.map((id) => `.bead[data-layer="${id}"]`).join(",") || ".bead";
  const times = [...document.querySelectorAll(`#lanes ${chosen}`)].map((bead) => Number(bead.dataset.time));
  return [...new Set([...times, ...state.path.map((key) => key.time)])].map((time) => Math.round(time / state.scene.flicks)).sort((a, b) => a - b);
}

export function toKey(direction) {
  const frames = keyFrames();
  const next = direction > 0 ? frames.find((frame) => frame > state.frame) : frames.reverse().find((frame) => frame < state.frame);
  if (next === undefined) say(direction > 0 ? "There is no key after this frame." : "There is no key before this frame.");
  else goTo(next);
}

async function goToTyped() {
  const told = clock.value;
  const response = await fetch(`/api/projects/${state.project}/scenes/${state.scene.id}/moment?text=${encodeURIComponent(told)}`);
  const answer = await response.json();
  if (response.ok) { clock.blur(); goTo(answer.frame); showFrame(); } else { say(answer.detail); clock.select(); }
}

export function zoomTime(clientX, factor) {
  const at = timeAtX(areaX(clientX));
  const least = 4 * state.scene.flicks;
  const most = 8 * state.scene.flicks * state.scene.frames + 100 * state.scene.flicks;
  const span = state.axis.end - state.axis.start;
  const wanted = Math.max(least, Math.min(most, span * factor)) / span;
  setAxis(at - (at - state.axis.start) * wanted, at + (state.axis.end - at) * wanted);
}

export function panTime(px) {
  const by = (px / state.axis.width) * (state.axis.end - state.axis.start);
  setAxis(state.axis.start + by, state.axis.end + by);
}

export function setAxis(start, end) {
  state.axis = { ...state.axis, start, end };
  look();
  showFrame();
}

export function fitTime() {
  const room = 0.06 * timeOf(state.scene.frames);
  setAxis(-room, timeOf(state.scene.frames) + room);
}

export function fitKeys() {
  const frames = keyFrames();
  if (frames.length < 2) { say("There are no two keys to fit. Select a layer that has keys."); return; }
  const [first, last] = [timeOf(frames[0]), timeOf(frames.at(-1))];
  const room = 0.08 * (last - first);
  setAxis(first - room, last + room);
}

export function wireTime() {
  const ruler = document.getElementById("ruler");
  ruler.addEventListener("pointerdown", (down) => {
    if (down.button !== 0) return;
    play(false);
    ruler.setPointerCapture(down.pointerId);
    const move = (event) => goTo(frameAtX(areaX(event.clientX)));
    move(down);
    ruler.addEventListener("pointermove", move);
    ruler.addEventListener("pointerup", () => ruler.removeEventListener("pointermove", move), { once: true });
  });
  area.addEventListener("wheel", (event) => {
    const lanes = event.target.closest("#lanes-scroll");
    if (Math.abs(event.deltaX) > Math.abs(event.deltaY)) { event.preventDefault(); panTime(event.deltaX); return; }
    if (lanes && !event.ctrlKey) return;
    event.preventDefault();
    zoomTime(event.clientX, Math.exp(event.deltaY * 0.0016));
  }, { passive: false });
  clock.addEventListener("focus", () => clock.select());
  clock.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.key === "Enter") { event.preventDefault(); goToTyped(); }
    if (event.key === "Escape") { clock.value = timecode(state.frame); clock.blur(); }
  });
  clock.addEventListener("blur", () => { clock.value = timecode(state.frame); });
}
