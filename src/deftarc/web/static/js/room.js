// How wide the time axis and how high the pair is, measured whenever the page is laid out anew.
import { pairHeight } from "./chrome.js";
import { look } from "./link.js";
import { tellWindow } from "./rows.js";
import { state } from "./state.js";

const element = (id) => document.getElementById(id);

export const relayout = () => {
  state.pairHeight = pairHeight();
  measure();
  tellWindow();
  look();
};

export function measure() {
  const now = Math.max(60, element("ruler").clientWidth);
  if (now === state.axisWidth) return;
  state.axisWidth = now;
  state.axis = state.axis ? { ...state.axis, width: now } : { start: 0, end: 0, width: now };
}
