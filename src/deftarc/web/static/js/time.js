// When things play: the clock, the playhead, scrubbing, and the zoom of the time axis.
import { hand, listen } from "./hands.js";
import { told, toldValue } from "./told.js";
import { attempt, commit, look, momentOf, putBack } from "./link.js";
import { hint, say } from "./notice.js";
import { put } from "./renew.js";
import { like, liked, playAt, setPlaying, showAxis, standAt, state, timeOf, toldFrame } from "./state.js";
import { columnAt } from "./table.js";
import { marked } from "./marked.js";
import { allWith } from "./withdata.js";

// Paints the picture, or only what lies over it; the stage says how.
let repaint = (_picture = true) => {};
export const paintBy = (call) => {
  repaint = call;
};

const clock = document.getElementById("clock");
const playhead = document.getElementById("playhead");
const playheadFlag = playhead.querySelector(".playhead-flag");
const about = document.getElementById("when-about");
const area = document.getElementById("time-area");
const ruler = document.getElementById("ruler");
export const stats = { painted: 0, missed: 0 };

export const xOf = (time) =>
  state.axis ? ((time - state.axis.start) / (state.axis.end - state.axis.start)) * state.axis.width : 0;
export const timeAtX = (x) => state.axis.start + (x / state.axis.width) * (state.axis.end - state.axis.start);
// Where the time axis begins on the page. While something is dragged nothing is laid out anew, and asking for a place
// would lay out what the last answer changed: it is asked once and kept.
let heldLeft = null;
export const holdPlaces = (on) => {
  heldLeft = on ? ruler.getBoundingClientRect().left : null;
};
export const areaX = (clientX) => clientX - (heldLeft ?? ruler.getBoundingClientRect().left);
export const frameAtX = (x) => Math.round(timeAtX(x) / state.scene.flicks);

const number = (value, decimals) => {
  const text = value.toFixed(decimals);
  const short = text.includes(".") ? text.replace(/\.?0+$/, "") : text;
  return short === "-0" ? "0" : short;
};

// Everything that follows the frame: picture, playhead, clock, numbers, readings.
export function showFrame({ picture = true, over = true } = {}) {
  if (picture || over) repaint(picture);
  const x = xOf(timeOf(state.frame));
  playhead.classList.toggle("out", x < -1 || Boolean(state.axis && x > state.axis.width + 1));
  // Moved as a whole: a narrow strip of the page is painted anew, not all that lies beneath.
  playhead.style.transform = `translateX(${x}px)`;
  const told = toldFrame(state.frame);
  if (playheadFlag.textContent !== told) playheadFlag.textContent = told;
  if (document.activeElement !== clock) put(clock, "value", told);
  if (!state.playing) tellWhere();
  showNumbers();
  showReadings(x);
  showOwnTimes();
}

// In lanes that lie in a clock's time, where that is now.
function showOwnTimes() {
  for (const mark of document.querySelectorAll("#lanes .own-now"))
    if (!state.columns[`own ${mark.closest(".lane").dataset.layer}`]) mark.remove();
  for (const [name, column] of Object.entries(state.columns)) {
    if (!name.startsWith("own ")) continue;
    const x = xOf(timeOf(columnAt(column, state.frame)[0]));
    for (const lane of allWith(document, "#lanes .lane", { layer: name.slice(4) })) {
      if (lane.dataset.property === "clock") continue;
      let mark = lane.querySelector(".own-now");
      if (!mark) {
        mark = document.createElementNS("http://www.w3.org/2000/svg", "path");
        mark.setAttribute("class", "own-now");
        lane.querySelector("svg.track-area")?.append(mark);
      }
      const d = `M${x.toFixed(1)} 0v60M${(x - 4).toFixed(1)} 0h8l-4 5z`;
      if (mark.getAttribute("d") !== d) mark.setAttribute("d", d);
    }
  }
}

// How long the scene is, and where in it we are.
function tellWhere() {
  const { frames, range, ranged, rate } = state.scene;
  const last = frames - 1;
  put(
    about,
    "textContent",
    `frame ${state.frame} of 0–${last} · ${toldFrame(frames)} long · ${Math.round(rate * 1000) / 1000} fps${ranged ? ` · range ${toldFrame(range[0])}–${toldFrame(range[1] - 1)}` : ""}`,
  );
  put(
    about,
    "title",
    `The last frame is ${last}: the scene ends just before ${toldFrame(frames)}.${ranged ? ` The play range’s last frame is ${range[1] - 1}.` : ""}`,
  );
}

function showNumbers() {
  const loose = state.still?.frame === state.frame && !state.playing;
  for (const well of document.querySelectorAll("#figures .well")) {
    const column = state.columns[well.dataset.property];
    const input = well.querySelector("input");
    if (!column || document.activeElement === input || loose) continue;
    const value = columnAt(column, state.frame)[Number(well.dataset.component)];
    const unit = well.dataset.unit === "%" ? "%" : well.dataset.unit === "°" ? "°" : "";
    put(input, "value", number(value, Number(well.dataset.decimals)) + unit);
  }
  for (const output of document.querySelectorAll("#lanes .lane.selected output")) {
    const column = state.columns[output.dataset.laneValue];
    if (!column || output.closest(".lane").dataset.layer !== state.layers[0]) {
      put(output, "textContent", "");
      continue;
    }
    const values = columnAt(column, state.frame);
    const name = output.dataset.laneValue;
    if (column.wide === 4) {
      put(
        output,
        "textContent",
        `#${[...values]
          .slice(0, 3)
          .map((part) =>
            Math.round(part * 2.55)
              .toString(16)
              .padStart(2, "0"),
          )
          .join("")}`,
      );
      continue;
    }
    const shown = name === "position" ? [values[0], values[1]] : [values[0]];
    put(
      output,
      "textContent",
      shown.map((value) => number(value, name === "position" || Math.abs(value) >= 100 ? 0 : 1)).join(", "),
    );
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
    const text = group.querySelector("text");
    // A reading that says what it said is left alone: the whole pair would be laid out anew.
    const now = `${words} ${x} ${y} ${state.axis.width}`;
    if (group.dataset.told === now) return;
    group.dataset.told = now;
    group.removeAttribute("hidden");
    group.setAttribute("transform", `translate(${x} ${y})`);
    text.textContent = words;
    const wide = words.length * 7.3 + 14;
    group.querySelector("rect").setAttribute("width", wide);
    group
      .querySelector("g")
      .setAttribute("transform", x + wide + 16 > state.axis.width ? `translate(${-wide - 18} 0)` : "");
  };
  place("value", state.pair.value, value, toldValue(state.pair, value));
  place("speed", state.pair.speed, speed, told(speed, state.pair.speed_unit));
}

export function goTo(frame, { quiet = false } = {}) {
  const next = Math.max(0, Math.min(state.scene.frames - 1, frame));
  if (next === state.frame && !quiet) return;
  standAt(next);
  showFrame();
  if (!state.playing) look({ light: true });
}

let started = 0;
let from = 0;
export function play(on = !state.playing) {
  if (on === state.playing) return;
  setPlaying(on);
  document.body.classList.toggle("playing", on);
  if (on) document.dispatchEvent(new CustomEvent("deftarc:plays"));
  if (!on) {
    showFrame();
    look({ light: true });
    return;
  }
  const [first, end] = state.scene.range;
  // Outside the range, or at its end, it begins at the range's start.
  if (state.frame < first || state.frame >= end - 1) standAt(first);
  from = state.frame;
  started = performance.now();
  stats.painted = stats.missed = 0;
  let last = state.frame;
  const tick = (now) => {
    if (!state.playing) return;
    const [start, stop] = state.scene.range;
    const run = Math.max(0, Math.floor(((now - started) / 1000) * state.scene.rate * state.speed + 1e-6));
    let frame = from + run;
    if (frame >= stop) {
      if (!state.loop) {
        standAt(stop - 1);
        play(false);
        return;
      }
      frame = start + ((frame - start) % (stop - start));
    }
    if (frame !== last) {
      const ahead = frame > last ? frame - last : frame - start + (stop - last);
      stats.missed += ahead - 1;
      stats.painted += 1;
      last = frame;
      standAt(frame);
      showFrame();
    }
    requestAnimationFrame(tick);
  };
  requestAnimationFrame(tick);
}

export function playFromRange() {
  if (state.playing) {
    play(false);
    return;
  }
  standAt(state.scene.range[0]);
  showFrame();
  play(true);
}

export function setSpeed(speed) {
  const playing = state.playing;
  if (playing) play(false);
  playAt(speed);
  document.getElementById("speed-told").textContent = { 1: "1×", 0.5: "½×", 0.25: "¼×" }[speed];
  if (playing) play(true);
}

export function toKey(direction) {
  const frames = state.stops;
  const next =
    direction > 0
      ? frames.find((frame) => frame > state.frame)
      : [...frames].reverse().find((frame) => frame < state.frame);
  if (next === undefined)
    say(direction > 0 ? "There is no key after this frame." : "There is no key before this frame.");
  else if (next < 0 || next >= state.scene.frames) say(`The next key lies outside the scene, at ${toldFrame(next)}.`);
  else goTo(next);
}

async function goToTyped() {
  const found = await momentOf(clock.value);
  if (found) {
    clock.blur();
    goTo(found.frame);
    showFrame();
  } else clock.select();
}

export function setUnit(unit) {
  if (unit === "drop" && !state.scene.skips) {
    say("Drop-frame timecode exists for 29.97 and 59.94 frames a second only.");
    return;
  }
  like("unit", unit);
  showUnit();
  look();
  showFrame();
}

export function showUnit() {
  document.getElementById("unit").textContent = { timecode: "m:s:f", drop: "m:s;f", frames: "f", seconds: "s" }[
    liked.unit
  ];
  for (const item of document.querySelectorAll("[data-unit]"))
    item.classList?.toggle("chosen", item.dataset.unit === liked.unit);
}

// The play range: its start and end here; the frame of its end is not played itself.
export const setRange = (told) => commit({ kind: "set_play_range", scene: state.scene.id, ...told });

function zoomTime(clientX, factor) {
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
  showAxis({ ...state.axis, start, end });
  look();
  showFrame();
}

export function fitTime() {
  const room = 0.06 * timeOf(state.scene.frames);
  setAxis(-room, timeOf(state.scene.frames) + room);
}

export function fitKeys() {
  const frames = state.stops;
  if (frames.length < 2) {
    say("There are no two keys to fit. Select a layer that has keys.");
    return;
  }
  const [first, last] = [timeOf(frames[0]), timeOf(frames.at(-1))];
  const room = 0.08 * (last - first);
  setAxis(first - room, last + room);
}

// On the ruler the playhead is taken where it is pressed, or an end of the play range.
let drag = null;
function down(event) {
  if (event.button !== 0) return false;
  const side = event.target.dataset?.range;
  drag = { side, pointer: event.pointerId, edit: null };
  ruler.setPointerCapture(event.pointerId);
  if (!side) {
    play(false);
    move(event);
  }
  return true;
}

function move(event) {
  if (!drag || event.pointerId !== drag.pointer) return false;
  const frame = frameAtX(areaX(event.clientX));
  if (!drag.side) {
    goTo(frame);
    return true;
  }
  const time = timeOf(Math.max(0, Math.min(state.scene.frames, frame)));
  drag.edit = { kind: "set_play_range", scene: state.scene.id, [drag.side]: time };
  hint(
    marked`<b>Play range</b> ${drag.side === "start" ? "starts" : "ends before"} ${toldFrame(Math.round(time / state.scene.flicks))} · <kbd>Esc</kbd> put back`,
  );
  attempt(drag.edit);
  return true;
}

function up(event) {
  if (!drag || event.pointerId !== drag.pointer) return false;
  if (drag.edit) commit(drag.edit);
  drag = null;
  return true;
}

// An end of the range goes back; where the playhead was taken to it stays.
function cancel(taken) {
  const ranged = Boolean(drag?.side);
  if (ranged || taken) drag = null;
  if (ranged) putBack();
  return ranged;
}

export function wireTime() {
  listen("ruler", ruler, (event) =>
    hint(
      event.target.dataset?.range
        ? marked`<b>Play range</b> · <kbd>drag</kbd> its end · <kbd>[</kbd> <kbd>]</kbd> set it at the playhead`
        : marked`<b>Ruler</b> · <kbd>drag</kbd> the playhead · wheel to zoom · middle button to pan`,
    ),
  );
  area.addEventListener(
    "wheel",
    (event) => {
      const lanes = event.target.closest("#lanes-scroll");
      if (Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
        event.preventDefault();
        panTime(event.deltaX);
        return;
      }
      if (lanes && !event.ctrlKey) return;
      event.preventDefault();
      zoomTime(event.clientX, Math.exp(event.deltaY * 0.0016));
    },
    { passive: false },
  );
  clock.addEventListener("focus", () => clock.select());
  clock.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.key === "Enter") {
      event.preventDefault();
      goToTyped();
    }
    if (event.key === "Escape") {
      clock.value = toldFrame(state.frame);
      clock.blur();
    }
  });
  clock.addEventListener("blur", () => {
    clock.value = toldFrame(state.frame);
  });
}

hand("ruler", 90, { down, move, up, cancel });
