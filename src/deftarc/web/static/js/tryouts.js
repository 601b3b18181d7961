// Try-outs: the selected motion under candidate eases, all playing at once with the real layers; one is picked.
import { http } from "./http.js";
import { commit } from "./link.js";
import { baseFor, dress, HIGH, paintSmall, WIDE } from "./moving.js";
import { say } from "./notice.js";
import { state } from "./state.js";
import { unpackCandidates } from "./table.js";
import { oneWith } from "./withdata.js";

const dialog = document.getElementById("tryouts-dialog");
const grid = dialog.querySelector(".tries");
const slider = dialog.querySelector("[data-try-strength]");
const NAMED = [
  ["straight", "Straight"],
  ["slow-start", "Slow start"],
  ["slow-stop", "Slow stop"],
  ["slow-ends", "Slow ends"],
  ["overshoot", "Overshoot"],
  ["wind-up", "Wind-up"],
  ["steps", "Steps of 6"],
];
let shown = null; // the candidates that play
let keys = [];
let started = 0;
let asked = 0;
let drawingOf = (_layer) => null;
export function whereDrawingsAre(find) {
  drawingOf = find;
}

function candidates() {
  const strength = Number(slider.value);
  const one = { scene: state.scene.id, keys };
  const named = NAMED.map(([ease, label]) => ({
    label,
    edit: {
      kind: "ease_keys",
      ...one,
      ease,
      strength,
      ...(ease === "steps" ? { steps: { count: 6, jump: "end" } } : {}),
    },
  }));
  const settle = {
    label: "Settle",
    edit: { kind: "make_craft", ...one, craft: { kind: "settle", far: strength / 250 } },
  };
  const own = [...document.querySelectorAll("#figures [data-own-ease]")].slice(0, 14).map((tile) => ({
    label: tile.dataset.name,
    edit: { kind: "lay_ease", ...one, knots: JSON.parse(tile.dataset.ownEase), title: tile.dataset.name },
  }));
  return [{ label: "As it is", edit: null }, ...named, settle, ...own];
}

async function ask() {
  const mine = ++asked;
  const json = { scene: state.scene.id, keys, candidates: candidates() };
  const { ok, answer } = await http(`/api/projects/${state.project}/try-outs`, { method: "POST", json, as: "bytes" });
  if (mine !== asked) return;
  if (!ok) {
    say(answer.detail);
    dialog.close();
    return;
  }
  const first = !shown;
  shown = unpackCandidates(answer);
  if (mine !== asked) return;
  dress(shown.candidates, drawingOf);
  layOut();
  if (first) {
    started = performance.now();
    requestAnimationFrame(tick);
  }
}

function layOut() {
  const active = document.activeElement?.dataset?.try;
  grid.replaceChildren();
  shown.candidates.forEach((candidate, n) => {
    const tile = Object.assign(document.createElement("button"), { type: "button", className: "try" });
    tile.dataset.try = n;
    const name = Object.assign(document.createElement("span"), { className: "try-name", textContent: candidate.label });
    if (candidate.refused) {
      tile.disabled = true;
      tile.append(name, Object.assign(document.createElement("small"), { textContent: candidate.refused }));
    } else {
      const canvas = Object.assign(document.createElement("canvas"), { width: WIDE, height: HIGH });
      tile.insertAdjacentHTML(
        "beforeend",
        `<svg class="try-curve" viewBox="0 0 150 44" aria-hidden="true"><path d="${candidate.curve.line}"/><path class="dotted" d="${candidate.curve.dotted}"/><circle r="4"/></svg>`,
      );
      tile.prepend(canvas);
      tile.append(name);
      candidate.ctx = canvas.getContext("2d");
      candidate.dot = tile.querySelector("circle");
    }
    if (n === 0) tile.classList.add("now");
    grid.append(tile);
  });
  if (active) oneWith(grid, "[data-try]", { try: active })?.focus();
  // One view for all, so that they can be compared.
  shown.base = baseFor(
    shown.candidates.map((candidate) => candidate.bounds),
    [shown.width, shown.height],
  );
}

function tick(now) {
  if (!dialog.open || !shown) return;
  const speed = dialog.querySelector("[data-try-slow]").getAttribute("aria-pressed") === "true" ? 0.4 : 1;
  const frame = Math.floor((Math.max(0, now - started) / 1000) * shown.rate * speed) % shown.count;
  for (const candidate of shown.candidates) {
    if (!candidate.ctx) continue;
    paintSmall(candidate.ctx, shown.background, candidate.tree, frame, shown.base);
    candidate.dot.setAttribute("cx", (150 * frame) / Math.max(1, shown.count - 1));
    candidate.dot.setAttribute("cy", candidate.curve.ys[frame]);
  }
  requestAnimationFrame(tick);
}

export function tryOuts() {
  if (!state.keys.length) {
    say("Select the keys, or a segment in the pair, whose motion is to be tried under other eases.");
    return;
  }
  keys = [...state.keys];
  shown = null;
  grid.replaceChildren();
  slider.value = document.querySelector("#figures [data-strength]:enabled")?.value ?? 50;
  slider.nextElementSibling.textContent = slider.value;
  dialog.showModal();
  ask();
}

export function wireTryOuts() {
  let wait = 0;
  slider.addEventListener("input", () => {
    slider.nextElementSibling.textContent = slider.value;
    clearTimeout(wait);
    wait = setTimeout(ask, 60);
  });
  dialog.querySelector("[data-try-slow]").addEventListener("click", (event) => {
    const button = event.currentTarget;
    button.setAttribute("aria-pressed", String(button.getAttribute("aria-pressed") !== "true"));
  });
  grid.addEventListener("click", (event) => {
    const tile = event.target.closest("[data-try]");
    if (!tile || tile.disabled) return;
    // As the slider stands, even where the tiles still play what it was a moment ago.
    const { edit } = candidates()[Number(tile.dataset.try)];
    dialog.close();
    if (edit) commit(/** @type {any} */ (edit));
  });
  dialog.addEventListener("close", () => {
    shown = null;
    asked += 1;
  });
}
