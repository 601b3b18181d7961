// The pair's two axes: where a value lies in px, what they show, and how they are moved, zoomed and fitted.
import { look } from "./link.js";
import { say } from "./notice.js";
import { askPair, like, liked, showScales, state, timeOf } from "./state.js";
import { holdPlaces, panTime, setAxis } from "./time.js";

const row = document.getElementById("pair");
export const svg = () => row.querySelector("svg.pair");

let heldTop = null;
export const localY = (clientY) => clientY - (heldTop ?? svg().getBoundingClientRect().top);
export const curveOf = (lane) =>
  state.pair?.curves.find((each) => each.layer === lane.layer && each.property === lane.property);
export const valueAt = (scale, y) => scale.low + (1 - (y - scale.top) / scale.height) * (scale.high - scale.low);
export const perPx = (scale) => (scale.high - scale.low) / scale.height;
export const yOf = (scale, value) => scale.top + scale.height * (1 - (value - scale.low) / (scale.high - scale.low));
export const laneOf = (element) => {
  const one = element.closest("[data-layer]");
  return { layer: one.dataset.layer, property: one.dataset.property };
};
export const inSpeed = (y) => state.pair && y > state.pair.split;

// While a hand is in it the pair stays where it is: what is above may grow or shrink.
export function holdStill() {
  heldTop = svg().getBoundingClientRect().top;
  holdPlaces(true);
}

export function letGo() {
  heldTop = null;
  holdPlaces(false);
}

// Both axes under the middle button: time as everywhere, values by leaving them where they are put.
export function panAxes(drag, event) {
  panTime(drag.x - event.clientX);
  const dy = event.clientY - drag.y;
  if (state.pair && (dy || drag.moved)) {
    const which = inSpeed(localY(drag.y)) ? "speed" : "value";
    const scale = state.pair[which];
    const by = dy * perPx(scale);
    setAxes({ [which]: [scale.low + by, scale.high + by] });
  }
  drag.x = event.clientX;
  drag.y = event.clientY;
}

// The two axes left where they are told to be, until they are let fit again.
function setAxes(told) {
  const { value, speed } = state.pair;
  askPair({ ...state.pairAsked, value: [value.low, value.high], speed: [speed.low, speed.high], ...told });
  showScales(Object.fromEntries(Object.entries(told).map(([name, [low, high]]) => [name, { low, high }])));
  if (liked.pairFit) like("pairFit", null);
  look();
}

export function fitPair(to) {
  if (to === null && state.pair) {
    setAxes({});
    return;
  }
  askPair({ ...state.pairAsked, value: null, speed: null });
  like("pairFit", to);
  look();
}

// Time and values both fit what is selected: its keys, and the ways on both sides of them.
export function fitPairSelected() {
  if (!state.keys.length) {
    say("Select the keys to fit: click a bead, or a segment in the pair.");
    return;
  }
  const times = state.keys.map((key) => key.time);
  const [first, last] = [Math.min(...times), Math.max(...times)];
  const room = Math.max(0.15 * (last - first), 12 * state.scene.flicks);
  fitPair("selection");
  setAxis(first - room, last + room);
}

export function fitPairRange() {
  const [first, end] = state.scene.range.map(timeOf);
  const room = 0.04 * (end - first);
  fitPair("range");
  setAxis(first - room, end + room);
}

export const toggleFit = () => fitPair(liked.pairFit ? null : "all");

export function wheel(event) {
  if (!state.pair || !event.target.closest(".pair-area") || !(event.shiftKey || event.altKey)) return;
  event.preventDefault();
  event.stopPropagation();
  const y = localY(event.clientY);
  const which = inSpeed(y) ? "speed" : "value";
  const scale = state.pair[which];
  const at = valueAt(scale, y);
  const factor = Math.exp((event.deltaY || event.deltaX) * 0.0016);
  const low = at - (at - scale.low) * factor;
  const high = at + (scale.high - at) * factor;
  if (high - low > 1e-6 && high - low < 1e9) setAxes({ [which]: [low, high] });
}
