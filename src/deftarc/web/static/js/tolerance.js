// A tolerance that is tried live: how far few keys may be off what they stand for, with what that comes to told.
import { typedNumber } from "./numbers.js";
import { hand } from "./hands.js";
import { attempt, commit, putBack } from "./link.js";
import { hint } from "./notice.js";
import { marked } from "./marked.js";

const panel = document.getElementById("tolerance");
let now = null; // { make, done }

// From a hundredth of the unit to a thousand: the slider is a logarithm.
const toValue = (at) => Number((10 ** (at / 25 - 2)).toPrecision(2));
const toSlider = (value) => Math.round((Math.log10(value) + 2) * 25);
const field = (name) => panel.querySelector(`[data-${name}]`);

// `make(tolerance)` is the edit; resolves once it is kept (with the answer) or put back (null).
export function tryTolerance({ title, unit = "px", value = 1, make, act = "Keep" }) {
  cancelTolerance();
  // Enter means to keep it, wherever one typed before.
  /** @type {any} */ (document.activeElement)?.blur?.();
  panel.hidden = false;
  panel.querySelector("b").textContent = title;
  field("tolerance-unit").textContent = unit;
  field("tolerance-told").textContent = "…";
  field("tolerance-keep").textContent = act;
  return new Promise((done) => {
    now = { make, done, value };
    show(value);
    attempt(make(value));
    hint(
      marked`<b>Tolerance</b> · less is nearer and takes more keys · <kbd>Enter</kbd> keep · <kbd>Esc</kbd> put back`,
    );
  });
}

function show(value) {
  field("tolerance").value = toSlider(value);
  field("tolerance-value").value = value;
}

function change(value) {
  if (!now || !(value > 0) || value > 10000) return;
  now.value = value;
  attempt(now.make(value));
}

// What the answer to a tentative edit told of itself.
export function showTold(told) {
  if (now && told) field("tolerance-told").textContent = told.join(" ");
}
export function showRefused({ refused }) {
  if (now) field("tolerance-told").textContent = refused;
  return Boolean(now);
}

function end(answer) {
  const { done } = now;
  now = null;
  panel.hidden = true;
  done(answer);
}

// Put back, by a hand or because what it is about is no longer selected.
export function cancelTolerance() {
  if (!now) return false;
  putBack();
  end(null);
  return true;
}

export const choosingTolerance = () => now !== null;

export async function keep() {
  if (!now) return;
  const answer = await commit(now.make(now.value));
  if (answer && now) end(answer);
}

panel.addEventListener("input", (event) => {
  if (event.target.matches("[data-tolerance]")) {
    const value = toValue(Number(event.target.value));
    field("tolerance-value").value = value;
    change(value);
  }
});
panel.addEventListener("change", (event) => {
  if (!event.target.matches("[data-tolerance-value]")) return;
  const value = typedNumber(event.target.value);
  if (value > 0 && value <= 10000) {
    show(value);
    change(value);
  } else show(now.value);
});
panel.addEventListener("keydown", (event) => {
  if (event.key === "Enter" && !event.target.closest("button")) {
    event.target.blur();
    keep();
  }
  if (event.key === "Escape") {
    event.stopPropagation();
    cancelTolerance();
  }
});
panel.addEventListener("click", (event) => {
  if (event.target.closest("[data-tolerance-keep]")) keep();
  if (event.target.closest("[data-tolerance-back]")) cancelTolerance();
});

hand("picture", 6, { tried: true, cancel: cancelTolerance });
