// How wide the time axis and how high the pair is, measured whenever the page is laid out anew.
import { pairHeight } from "./chrome.js";
import { look } from "./link.js";
import { tellWindow } from "./rows.js";
import { measureAxis, measurePair, showAxis, state } from "./state.js";

const element = (id) => document.getElementById(id);

export const relayout = () => {
  measurePair(pairHeight());
  measure();
  tellWindow();
  look();
};

export function measure() {
  const now = Math.max(60, element("ruler").clientWidth);
  if (now === state.axisWidth) return;
  measureAxis(now);
  showAxis(state.axis ? { ...state.axis, width: now } : { start: 0, end: 0, width: now });
}
