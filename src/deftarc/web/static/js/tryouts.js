// Try-outs: the selected motion under candidate eases, all playing at once with the real layers; one is picked.
import { http } from "./http.js";
import { commit } from "./link.js";
import { say } from "./notice.js";
import { paint } from "./painter.js";
import { state } from "./state.js";
import { grown, unpackCandidates } from "./table.js";

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
  for (const candidate of shown.candidates)
    if (candidate.items) {
      for (const item of candidate.items) item.drawing = drawingOf(item.layer);
      candidate.tree = grown(candidate.items, candidate.table.roots);
    }
  layOut();
  if (first) {
    started = performance.now();
    requestAnimationFrame(tick);
  }
}

// One view for all, so that they can be compared: what any of them sweeps over, with a little room.
function viewOfAll() {
  const boxes = shown.candidates.map((candidate) => candidate.bounds).filter(Boolean);
  if (!boxes.length) return [0, 0, shown.width, shown.height];
  const box = [
    Math.min(...boxes.map((b) => b[0])),
    Math.min(...boxes.map((b) => b[1])),
    Math.max(...boxes.map((b) => b[2])),
    Math.max(...boxes.map((b) => b[3])),
  ];
  const room = 0.06 * Math.max(box[2] - box[0], box[3] - box[1], 40);
  return [box[0] - room, box[1] - room, box[2] + room, box[3] + room];
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
      const canvas = Object.assign(document.createElement("canvas"), { width: 300, height: 150 });
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
  if (active) grid.querySelector(`[data-try="${active}"]`)?.focus();
  const view = viewOfAll();
  const zoom = Math.min(300 / (view[2] - view[0]), 150 / (view[3] - view[1]));
  shown.base = [zoom, 0, 0, zoom, 150 - (zoom * (view[0] + view[2])) / 2, 75 - (zoom * (view[1] + view[3])) / 2];
}

function tick(now) {
  if (!dialog.open || !shown) return;
  const speed = dialog.querySelector("[data-try-slow]").getAttribute("aria-pressed") === "true" ? 0.4 : 1;
  const frame = Math.floor((Math.max(0, now - started) / 1000) * shown.rate * speed) % shown.count;
  for (const candidate of shown.candidates) {
    if (!candidate.ctx) continue;
    const { ctx } = candidate;
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.globalAlpha = 1;
    ctx.fillStyle = shown.background || "#d2cec4";
    ctx.fillRect(0, 0, 300, 150);
    paint(ctx, candidate.tree, frame, shown.base);
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
