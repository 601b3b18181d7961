// What is seen and how it is told: choices kept in this browser, each an action.
import { look } from "./link.js";
import { does } from "./actions.js";
import { repaint, resize } from "./stage.js";
import { like, liked, state } from "./state.js";
import { setSpeed, setUnit, showUnit } from "./time.js";

const element = (id) => document.getElementById(id);

export function showLiked() {
  for (const item of document.querySelectorAll("[data-view]"))
    item.setAttribute("aria-checked", String(Boolean(liked[item.dataset.view])));
  for (const chip of document.querySelectorAll("[data-axes].chip"))
    chip.setAttribute("aria-pressed", String(chip.dataset.axes === liked.axes));
  for (const chip of document.querySelectorAll("[data-lane-height]"))
    chip.setAttribute("aria-pressed", String(Number(chip.dataset.laneHeight) === liked.laneHeight));
  for (const item of document.querySelectorAll("[data-filter]"))
    item.setAttribute(
      "aria-checked",
      String(Boolean(liked[item.dataset.filter === "keyed" ? "onlyKeyed" : "onlySelected"])),
    );
  for (const item of document.querySelectorAll("[data-liked]"))
    item.setAttribute("aria-checked", String(Boolean(liked[item.dataset.liked])));
  element("lanes-open").classList.toggle("on", liked.onlyKeyed || liked.onlySelected);
  showUnit();
}

export function liking(name, value) {
  like(name, value);
  showLiked();
  look();
}

export function toggleView(name) {
  like(name, !liked[name]);
  showLiked();
  if (name === "showRulers") resize();
  repaint();
}

// What is seen and how it is told: each is one choice kept in this browser.
const VIEWS = {
  "path-shown": "showPath",
  "dots-shown": "showDots",
  ghosts: "ghosts",
  rulers: "showRulers",
  grid: "showGrid",
  "guides-shown": "showGuides",
  snap: "snap",
  "snap-layers": "snapLayers",
  "snap-frame": "snapFrame",
  "snap-guides": "snapGuides",
  "snap-grid": "snapGrid",
};

for (const [id, name] of Object.entries(VIEWS)) does(id, () => toggleView(name), { on: () => liked[name] });

/** @type {Record<string, [string, () => any, any]>} */
const KEPT = {
  "only-keyed": ["onlyKeyed", () => !liked.onlyKeyed, true],
  "only-selected": ["onlySelected", () => !liked.onlySelected, true],
  "lanes-low": ["laneHeight", () => 22, 22],
  "lanes-usual": ["laneHeight", () => 27, 27],
  "lanes-tall": ["laneHeight", () => 46, 46],
  "in-own": ["axes", () => "own", "own"],
  "in-parent": ["axes", () => "parent", "parent"],
  "in-scene": ["axes", () => "scene", "scene"],
};

for (const [id, [name, next, value]] of Object.entries(KEPT))
  does(id, () => liking(name, next()), { on: () => liked[name] === value });
for (const unit of ["timecode", "drop", "frames", "seconds"])
  does(`unit-${unit}`, () => setUnit(unit), {
    can: () => unit !== "drop" || state.scene.skips,
    on: () => liked.unit === unit,
  });
for (const [word, speed] of Object.entries({ full: 1, half: 0.5, quarter: 0.25 }))
  does(`speed-${word}`, () => setSpeed(speed), { on: () => state.speed === speed });
