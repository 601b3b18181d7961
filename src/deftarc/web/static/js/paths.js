// Motion paths over the picture: the way, its direction, one dot a frame, points, keys, handles and ghosts' places.
import { ghostFrames } from "./ghosts.js";
import { isLocked, liked, state } from "./state.js";
import { columnAt } from "./table.js";
import { onStage } from "./view.js";

// What is selected of the first path, by point: those its selected keys rest on, and floating ones.
export function chosenPoints() {
  const path = state.paths[0];
  if (!path || path.layer !== state.layers[0]) return [];
  const times = new Set(
    (state.shownKeys || state.keys)
      .filter((key) => key.layer === path.layer && key.property === "position")
      .map((key) => key.time),
  );
  const resting = path.rests.flatMap((time, k) => (time !== null && times.has(time) ? [k] : []));
  return [...new Set([...resting, ...state.pathPoints.filter((k) => k < path.rests.length)])].sort((a, b) => a - b);
}

// A function that puts a place of a layer's path on the stage, however it is carried at this frame.
// What it follows puts its own points aside by so much at this frame; its places by frame have that in them.
export function placer(layer, whole = false) {
  const first = layer === state.layers[0];
  const column = state.columns[first ? "carried" : `carried ${layer}`];
  const aside = whole ? null : state.columns[first ? "beside" : `beside ${layer}`];
  const [a, b, c, d, e, f] = column ? columnAt(column, state.frame) : [1, 0, 0, 1, 0, 0];
  const [dx, dy] = aside ? columnAt(aside, state.frame) : [0, 0];
  return (x, y) => onStage(a * (x + dx) + c * (y + dy) + e, b * (x + dx) + d * (y + dy) + f);
}

const told = (p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`;

export function drawPaths(make) {
  for (const path of [...state.paths].reverse()) drawOne(make, path, path.layer === state.layers[0]);
}

function drawOne(make, path, first) {
  const place = placer(path.layer);
  const p = path.points;
  const at = (k, x = 0, y = 0) => place(p[6 * k] + x, p[6 * k + 1] + y);
  const selected = first ? chosenPoints() : [];
  const faint = first ? "" : " other";
  drawWay(make, path, at, first);
  if (path.trail) drawTrail(make, path, first);
  if (liked.showDots) drawDots(make, path, placer(path.layer, true), first);
  if (first && state.tool === "path" && !isLocked(path.layer)) drawArms(make, path, at, selected);
  for (const { point } of path.floats) {
    const q = at(point);
    const chosen = selected.includes(point) ? " selected" : "";
    const dot = make("circle", { class: `path-float${chosen}${faint}`, r: 4.6, cx: q.x, cy: q.y });
    if (first) dot.dataset.pathPoint = point;
  }
  drawKeys(make, path, place, first);
  drawEvents(make, path, placer(path.layer, true));
}

// What the motion does that something answers: contacts, peaks, stops.
const EVENTS = { contact: "M-6 7H6M0 5V-4M-3 -1L0 3L3 -1", peak: "M-5 -3Q0 -11 5 -3", stop: "M-4 8H4V4H-4Z" };
function drawEvents(make, path, place) {
  for (const [x, y, kind] of path.events || []) {
    const q = place(x, y);
    make("path", { class: `event ${kind}`, transform: `translate(${told(q)})`, d: EVENTS[kind] });
  }
}

// The way of what follows, through its places by frame: nothing of it can be taken hold of.
function drawTrail(make, path, first) {
  const column = state.columns[first ? "spot" : `spot ${path.layer}`];
  if (!column) return;
  const place = placer(path.layer, true);
  const rows = [];
  for (let frame = 0; frame < column.rows; frame += 1) {
    const q = told(place(...columnAt(column, frame)));
    if (q !== rows.at(-1)) rows.push(q);
  }
  if (rows.length > 1) make("path", { class: `path-line trail${first ? "" : " other"}`, d: `M${rows.join("L")}` });
}

// The line of a path, with arrows in its long spans, thin where it rests.
function drawWay(make, path, at, first) {
  const p = path.points;
  const count = p.length / 6;
  const still = new Set(path.still);
  const faint = first ? "" : " other";
  let [moving, resting, arrows] = ["", "", ""];
  // A few spans to an element: one that is bent is painted without the rest of the path.
  const lay = () => {
    if (moving) make("path", { class: `path-line${faint}`, d: moving });
    if (resting) make("path", { class: `path-line held${faint}`, d: resting });
    if (arrows) make("path", { class: `path-arrows${faint}`, d: arrows });
    [moving, resting, arrows] = ["", "", ""];
  };
  for (let k = 0; k < count - 1; k += 1) {
    if (k % 6 === 0) lay();
    const row = [at(k), at(k, p[6 * k + 4], p[6 * k + 5]), at(k + 1, p[6 * k + 8], p[6 * k + 9]), at(k + 1)];
    const bent = p[6 * k + 4] || p[6 * k + 5] || p[6 * k + 8] || p[6 * k + 9];
    const d = `M${told(row[0])}${bent ? `C${told(row[1])} ${told(row[2])} ${told(row[3])}` : `L${told(row[3])}`}`;
    if (still.has(k)) resting += d;
    else moving += d;
    if (!still.has(k)) arrows += arrow(row, bent);
    // While the hand drags it asks for nothing under it.
    if (first && !state.tentative) make("path", { class: "path-way", d }).dataset.pathSpan = k;
  }
  lay();
}

function drawKeys(make, path, place, first) {
  const faint = first ? "" : " other";
  const times = (keys) =>
    new Set(keys.filter((key) => key.layer === path.layer && key.property === "position").map((key) => key.time));
  const keyed = times(state.keys);
  const shown = times(state.shownKeys || state.keys);
  let plain = [];
  const layKeys = () => {
    const d = plain.map((q) => `M${told(q)}h.01`).join("");
    if (d) for (const part of ["rim", "core"]) make("path", { class: `path-key-${part}${faint}`, d });
    plain = [];
  };
  path.keys.forEach((key, n) => {
    const q = place(key.x, key.y);
    const mine = shown.has(key.time);
    if (n % 6 === 0) layKeys();
    // While the hand drags nothing is under it: those that look alike and lie together are dots of one line.
    if (state.tentative && key.rests && !mine && !keyed.has(key.time)) {
      plain.push(q);
      return;
    }
    const bead = key.rests
      ? make("circle", {
          class: `path-key${mine || keyed.has(key.time) ? " selected" : ""}${faint}`,
          r: 5.5,
          cx: q.x,
          cy: q.y,
        })
      : make("rect", {
          class: `path-key pace${mine ? " selected" : ""}${faint}`,
          x: q.x - 3,
          y: q.y - 6,
          width: 6,
          height: 12,
          rx: 3,
        });
    if (!first) return;
    bead.dataset.pathKey = key.time;
    const rest = path.rests.indexOf(key.time);
    if (rest >= 0) bead.dataset.pathPoint = rest;
  });
  layKeys();
}

// A small open angle in the middle of a span that is long enough, pointing the way it goes.
/** @param {any[]} row */
function arrow(row, bent) {
  const [a, b, c, d] = row;
  const size = Math.hypot(d.x - a.x, d.y - a.y);
  if (size < 34) return "";
  const middle = bent
    ? { x: (a.x + 3 * b.x + 3 * c.x + d.x) / 8, y: (a.y + 3 * b.y + 3 * c.y + d.y) / 8 }
    : { x: (a.x + d.x) / 2, y: (a.y + d.y) / 2 };
  const [dx, dy] = bent ? [d.x + c.x - b.x - a.x, d.y + c.y - b.y - a.y] : [d.x - a.x, d.y - a.y];
  const length = Math.hypot(dx, dy) || 1;
  const [u, v] = [dx / length, dy / length];
  const wing = (side) => ({ x: middle.x - 5 * u - side * 4 * v, y: middle.y - 5 * v + side * 4 * u });
  return `M${told(wing(1))}L${told({ x: middle.x + 3 * u, y: middle.y + 3 * v })}L${told(wing(-1))}`;
}

function drawDots(make, path, place, first) {
  const column = state.columns[first ? "spot" : `spot ${path.layer}`];
  if (!column || column.rows < 2) return;
  for (let from = 0; from < column.rows; from += 40) {
    let dots = "";
    for (let frame = from; frame < Math.min(from + 40, column.rows); frame += 1)
      dots += `M${told(place(column.numbers[2 * frame], column.numbers[2 * frame + 1]))}h.01`;
    make("path", { class: `path-dots${first ? "" : " other"}`, d: dots });
  }
  if (!first) return;
  for (const { frame, after } of ghostFrames()) {
    const q = place(...columnAt(column, frame));
    make("circle", { class: `ghost-dot ${after ? "after" : "before"}`, r: 4, cx: q.x, cy: q.y });
  }
}

/** @type {[string, number][]} */
const ARMS = [
  ["arriving", 2],
  ["leaving", 4],
];

// Handles of what is selected, or of all where nothing is and they are few.
function drawArms(make, path, at, selected) {
  const p = path.points;
  const count = p.length / 6;
  const shown = selected.length
    ? [...new Set(selected.flatMap((k) => [k - 1, k, k + 1]))].filter((k) => k >= 0 && k < count)
    : count <= 12
      ? [...Array(count).keys()]
      : [];
  for (const k of shown) {
    const here = at(k);
    for (const [part, n] of ARMS) {
      const [x, y] = [p[6 * k + n], p[6 * k + n + 1]];
      if (!x && !y) continue;
      const q = at(k, x, y);
      make("path", { class: "arm", d: `M${told(here)}L${told(q)}` });
      const end = make("circle", {
        class: `arm-end${path.joints[k] === "automatic" ? " automatic" : ""}${selected.includes(k) ? " selected" : ""}`,
        cx: q.x,
        cy: q.y,
        r: 4,
      });
      Object.assign(end.dataset, { pathPoint: k, pathPart: part });
    }
  }
}
