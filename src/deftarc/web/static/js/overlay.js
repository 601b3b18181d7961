// What lies over the picture at work: grid, guides, rulers, paths, boxes, handles, points, snap lines.
import { drawPaths } from "./paths.js";
import { cornersOf, pivotNow, shownItem, stageCorners } from "./picking.js";
import { onCels } from "./cels.js";
import { rowAt } from "./table.js";
import { outlineAt } from "./tracing.js";
import { isLocked, liked, state } from "./state.js";
import { onStage, RULER, view } from "./view.js";

const cels = onCels(...document.getElementById("overlay").children);
const stage = document.getElementById("stage");
const SVG = "http://www.w3.org/2000/svg";
// Where a layer's px lie at its frame: the still's only row, or the playhead's.
const matrixOf = (item) => rowAt(item, item.still ? 0 : state.frame);
let draft = null; // what the pen is drawing, in scene px: { d, points }
export function showDraft(told) {
  draft = told;
  drawOverlay();
}

// What no line is drawn across, wherever it goes.
const OVER_LINES = ".point, .arm-end, .path-key, .path-key-rim, .path-key-core, .path-float, .rulers";
let drawing = null; // what is being drawn into: while a hand drags a draft, of which what differs is taken over

function make(name, attributes, parent = drawing) {
  const element = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  parent.append(element);
  return element;
}

export function drawOverlay() {
  drawing = state.tentative ? document.createElementNS(SVG, "svg") : cels.whole();
  if (liked.showGrid) drawGrid();
  if (liked.showGuides) drawGuides();
  if (!state.playing) drawChosen();
  if (draft) drawDraft();
  if (liked.showRulers) drawRulers();
  if (state.tentative) cels.follow(drawing, (element) => element.matches(OVER_LINES));
}

// What is drawn of what is selected: its paths, boxes, masks, points and handles.
function drawChosen() {
  const { layers, tool } = state;
  if (layers.length && (liked.showPath || tool === "path")) drawPaths(make);
  for (const id of layers) drawBox(id, id === layers[0] && !isLocked(id) && tool === "move");
  if (layers.length) drawMasks();
  if (tool === "points") {
    drawPoints();
    // How soft a mask's edge is is told while its points are.
    if (state.mask) drawLookHandles((each) => each.id === `mask/${state.mask}`);
  } else if (["move", "mask"].includes(tool)) drawLookHandles();
  drawSnaps();
}

// The box around a layer; held, with its handles and pivot.
function drawBox(id, held) {
  const corners = cornersOf(id);
  if (corners) {
    const box = stageCorners(corners);
    make("polygon", { class: "box", points: box.map((p) => `${p.x.toFixed(1)},${p.y.toFixed(1)}`).join(" ") });
    if (held) drawHandles(box);
  }
  if (held) drawPivot(!corners);
}

function drawGrid() {
  const { scene } = state;
  let step = scene.grid;
  while (step * view.zoom < 7) step *= 2;
  let d = "";
  for (let x = 0; x <= scene.width + 0.01; x += step) {
    const p = onStage(x, 0);
    d += `M${p.x.toFixed(1)} ${p.y.toFixed(1)}V${(scene.height * view.zoom + view.y).toFixed(1)}`;
  }
  for (let y = 0; y <= scene.height + 0.01; y += step) {
    const p = onStage(0, y);
    d += `M${p.x.toFixed(1)} ${p.y.toFixed(1)}H${(scene.width * view.zoom + view.x).toFixed(1)}`;
  }
  make("path", { class: "grid-lines", d });
}

function drawGuides() {
  state.scene.guides.forEach((guide, index) => {
    const at = guide.axis === "x" ? guide.at * view.zoom + view.x : guide.at * view.zoom + view.y;
    const d = guide.axis === "x" ? `M${at} 0V${stage.clientHeight}` : `M0 ${at}H${stage.clientWidth}`;
    make("path", { class: "guide", d });
    if (!state.scene.guides_locked) {
      const hit = make("path", { class: `guide-hit ${guide.axis}`, d });
      hit.dataset.guide = index;
    }
  });
}

function drawHandles(box) {
  const [a, b, c, d] = box;
  const middle = (p, q) => ({ x: (p.x + q.x) / 2, y: (p.y + q.y) / 2 });
  const top = middle(a, b);
  const down = middle(c, d);
  const length = Math.hypot(top.x - down.x, top.y - down.y) || 1;
  // The knob stands off the top side, away from the opposite one; a box without height still has one.
  const away = length > 1 ? { x: (top.x - down.x) / length, y: (top.y - down.y) / length } : { x: 0, y: -1 };
  const knob = { x: top.x + away.x * 26, y: top.y + away.y * 26 };
  make("path", { class: "stem", d: `M${top.x} ${top.y}L${knob.x} ${knob.y}` });
  const turn = make("circle", { class: "knob", cx: knob.x, cy: knob.y, r: 6 });
  turn.dataset.hand = "turn";
  const handles = [
    [a, 1, 1],
    [b, 1, 1],
    [c, 1, 1],
    [d, 1, 1],
    [top, 0, 1],
    [middle(b, c), 1, 0],
    [down, 0, 1],
    [middle(d, a), 1, 0],
  ];
  // A small box has room for its corners only.
  const small = Math.min(length, Math.hypot(a.x - b.x, a.y - b.y)) < 44;
  for (const [p, x, y] of handles) {
    if (small && !(x && y)) continue;
    const square = make("rect", { class: "handle", x: p.x - 4, y: p.y - 4, width: 8, height: 8, rx: 1.5 });
    square.dataset.hand = "scale";
    square.dataset.axes = `${x} ${y}`;
  }
}

function drawPivot(alone) {
  const pivot = pivotNow();
  if (!pivot) return;
  const { x, y } = onStage(pivot.x, pivot.y);
  make("path", { class: `pivot${alone ? " alone" : ""}`, d: `M${x - 7} ${y}h14M${x} ${y - 7}v14` });
  if (alone) {
    make("circle", { class: "pivot-hit", cx: x, cy: y, r: 9 }).dataset.hand = "move";
  }
  // The ring stands off the pivot: in the middle of a layer a drag is meant for the layer.
  make("path", { class: "stem", d: `M${x + 2} ${y + 2}L${x + 11} ${y + 11}` });
  make("circle", { class: "ring", cx: x + 15, cy: y + 15, r: 5.5 }).dataset.hand = "pivot";
}

// The points of the path being edited, with the handles of those that are selected and their neighbours.
function drawPoints() {
  const told = state.outline;
  const item = told && shownItem(told.layer);
  if (!item?.drawing || told.layer !== state.layers[0]) return;
  const row = matrixOf(item);
  const place = (x, y) => onStage(row[0] * x + row[2] * y + row[4], row[1] * x + row[3] * y + row[5]);
  const all = told.numbers;
  let at = 0;
  for (const contour of told.contours) {
    let line = "";
    for (let k = 0; k < contour.count; k += 1) {
      const n = (at + k) * 6;
      const p = place(all[n], all[n + 1]);
      const m = (at + ((k + 1) % contour.count)) * 6;
      if (k < contour.count - 1 || contour.closed) {
        const [c1, c2, q] = [
          place(all[n] + all[n + 4], all[n + 1] + all[n + 5]),
          place(all[m] + all[m + 2], all[m + 1] + all[m + 3]),
          place(all[m], all[m + 1]),
        ];
        line += `M${p.x} ${p.y}C${c1.x} ${c1.y} ${c2.x} ${c2.y} ${q.x} ${q.y}`;
        const way = make("path", {
          class: "outline-way",
          d: `M${p.x} ${p.y}C${c1.x} ${c1.y} ${c2.x} ${c2.y} ${q.x} ${q.y}`,
        });
        way.dataset.way = at + k;
      }
    }
    make("path", { class: "outline-line", d: line });
    at += contour.count;
  }
  for (let k = 0; k * 6 < all.length; k += 1) {
    const p = place(all[6 * k], all[6 * k + 1]);
    const selected = state.points.includes(k);
    for (const [part, dx, dy] of [
      ["arriving", all[6 * k + 2], all[6 * k + 3]],
      ["leaving", all[6 * k + 4], all[6 * k + 5]],
    ]) {
      if (!dx && !dy) continue;
      const q = place(all[6 * k] + dx, all[6 * k + 1] + dy);
      make("path", { class: "arm", d: `M${p.x} ${p.y}L${q.x} ${q.y}` });
      const hand = make("circle", { class: `arm-end${selected ? " selected" : ""}`, cx: q.x, cy: q.y, r: 4 });
      Object.assign(hand.dataset, { point: k, part });
    }
    const square = make("rect", {
      class: `point${selected ? " selected" : ""}`,
      x: p.x - 4.5,
      y: p.y - 4.5,
      width: 9,
      height: 9,
    });
    Object.assign(square.dataset, { point: k, part: "point" });
  }
}

const placeBy = (row) => (x, y) => onStage(row[0] * x + row[2] * y + row[4], row[1] * x + row[3] * y + row[5]);

// The outlines of the first layer's masks, where its looks are shown or they are edited.
function drawMasks() {
  const item = shownItem(state.layers[0]);
  if (!item?.masks || !(liked.page === "look" || state.tool === "points")) return;
  const place = placeBy(matrixOf(item));
  for (const mask of item.masks) {
    if (state.tool === "points" && state.mask === mask.id) continue;
    const { verbs, numbers } = outlineAt(mask.outline, item.still ? 0 : state.frame);
    let n = 0;
    let d = "";
    for (const verb of verbs) {
      const spots = [];
      for (let k = { M: 1, L: 1, C: 3, Z: 0 }[verb]; k > 0; k -= 1, n += 2)
        spots.push(place(numbers[n], numbers[n + 1]));
      d += verb + spots.map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join(" ");
    }
    make("path", { class: `mask-line ${mask.mode}`, d });
  }
}

// Handles for how the first layer looks, with the stems they are drawn from.
function drawLookHandles(wanted = (_each) => true) {
  const told = state.handles;
  const item = told && shownItem(told.layer);
  if (!item || told.layer !== state.layers[0]) return;
  const place = placeBy(matrixOf(item));
  for (const each of told.list.filter(wanted)) {
    const at = place(...each.at);
    const [x, y] = [at.x + each.off[0], at.y + each.off[1]];
    if (each.stem) {
      const from = place(...each.stem);
      make("path", { class: "look-stem", d: `M${from.x} ${from.y}L${at.x} ${at.y}` });
      // A gradient's way can be pointed at: there a stop can be put.
      if (each.form === "end") {
        const way = make("path", { class: "look-way", d: `M${from.x} ${from.y}L${at.x} ${at.y}` });
        way.dataset.lookWay = each.id.split("/")[1];
      }
    }
    const shape = FORMS[each.form.split("-")[0]] || FORMS.ring;
    const made = make(shape.name, { class: `look-handle ${each.form}`, ...shape.at(x, y, each.form) });
    if (each.form === "disc") made.style.fill = each.colour;
    made.dataset.look = each.id;
    make("title", {}, made).textContent = each.words;
  }
}

// What handles look like: their element, and its attributes at a place.
const FORMS = {
  ring: { name: "circle", at: (x, y) => ({ cx: x, cy: y, r: 6 }) },
  disc: { name: "circle", at: (x, y) => ({ cx: x, cy: y, r: 6.5 }) },
  feather: {
    name: "path",
    at: (x, y) => ({ d: `M${x - 6} ${y - 6}q7 6 0 12M${x - 1} ${y - 6}q7 6 0 12M${x + 4} ${y - 6}q7 6 0 12` }),
  },
  end: {
    name: "rect",
    at: (x, y) => ({ x: x - 5, y: y - 5, width: 10, height: 10, rx: 5, transform: `rotate(45 ${x} ${y})` }),
  },
  bar: {
    name: "rect",
    at: (x, y, form) =>
      form === "bar-x"
        ? { x: x - 3.5, y: y - 11, width: 7, height: 22, rx: 3.5 }
        : { x: x - 11, y: y - 3.5, width: 22, height: 7, rx: 3.5 },
  },
};

function drawSnaps() {
  const told = state.snapped?.told;
  if (!told?.lines) return;
  for (const line of told.lines) {
    const at = line.axis === "x" ? line.at * view.zoom + view.x : line.at * view.zoom + view.y;
    make("path", {
      class: "snap",
      d: line.axis === "x" ? `M${at} 0V${stage.clientHeight}` : `M0 ${at}H${stage.clientWidth}`,
    });
    const words = make("text", {
      class: "snap-word",
      x: line.axis === "x" ? at + 5 : 26,
      y: line.axis === "x" ? stage.clientHeight - 8 : at - 4,
    });
    words.textContent = line.what;
  }
  for (const gap of told.gaps) {
    const [p, q] =
      gap.axis === "x"
        ? [onStage(gap.start, gap.across), onStage(gap.end, gap.across)]
        : [onStage(gap.across, gap.start), onStage(gap.across, gap.end)];
    make("path", { class: "gap", d: `M${p.x} ${p.y}L${q.x} ${q.y}` });
    const words = make("text", {
      class: "gap-word",
      x: (p.x + q.x) / 2,
      y: (p.y + q.y) / 2 - 4,
      "text-anchor": "middle",
    });
    words.textContent = `${Math.round(gap.end - gap.start)} px`;
  }
}

function drawDraft() {
  const p = (at) => onStage(at.x, at.y);
  if (draft.points.length) {
    let d = "";
    draft.points.forEach((point, k) => {
      const here = p(point);
      if (!k) {
        d += `M${here.x} ${here.y}`;
        return;
      }
      const before = draft.points[k - 1];
      const [c1, c2] = [
        p({ x: before.x + before.lx, y: before.y + before.ly }),
        p({ x: point.x - point.lx, y: point.y - point.ly }),
      ];
      d += `C${c1.x} ${c1.y} ${c2.x} ${c2.y} ${here.x} ${here.y}`;
    });
    make("path", { class: "draft", d });
    if (draft.at) {
      const last = draft.points.at(-1);
      const [here, c1, to] = [p(last), p({ x: last.x + last.lx, y: last.y + last.ly }), p(draft.at)];
      make("path", { class: "draft next", d: `M${here.x} ${here.y}C${c1.x} ${c1.y} ${to.x} ${to.y} ${to.x} ${to.y}` });
    }
  }
  if (draft.trail) return;
  draft.points.forEach((point, k) => {
    const here = p(point);
    if (point.lx || point.ly) {
      const [a, b] = [
        p({ x: point.x + point.lx, y: point.y + point.ly }),
        p({ x: point.x - point.lx, y: point.y - point.ly }),
      ];
      make("path", { class: "arm", d: `M${a.x} ${a.y}L${b.x} ${b.y}` });
    }
    make("rect", { class: `point${k === 0 ? " first" : ""}`, x: here.x - 4.5, y: here.y - 4.5, width: 9, height: 9 });
  });
}

function drawRulers() {
  const { clientWidth: width, clientHeight: height } = stage;
  const group = make("g", { class: "rulers" });
  const across = make("rect", { class: "ruler-bed", x: 0, y: 0, width, height: RULER }, group);
  across.dataset.ruler = "y";
  const down = make("rect", { class: "ruler-bed", x: 0, y: 0, width: RULER, height }, group);
  down.dataset.ruler = "x";
  const step = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000].find((n) => n * view.zoom >= 55) || 10000;
  let d = "";
  const label = (x, y, words) => {
    make("text", { x, y }, group).textContent = words;
  };
  for (let n = Math.floor(-view.x / view.zoom / step) * step; n * view.zoom + view.x < width; n += step) {
    const x = n * view.zoom + view.x;
    if (x >= RULER) {
      d += `M${x} 6V${RULER}`;
      label(x + 3, 11, n);
    }
    for (let k = 1; k < 5; k += 1) {
      const at = x + (k * step * view.zoom) / 5;
      if (at >= RULER) d += `M${at} 13V${RULER}`;
    }
  }
  for (let n = Math.floor(-view.y / view.zoom / step) * step; n * view.zoom + view.y < height; n += step) {
    const y = n * view.zoom + view.y;
    if (y >= RULER) {
      d += `M6 ${y}H${RULER}`;
      make("text", { transform: `translate(11 ${y + 3}) rotate(90)` }, group).textContent = n;
    }
    for (let k = 1; k < 5; k += 1) {
      const at = y + (k * step * view.zoom) / 5;
      if (at >= RULER) d += `M13 ${at}H${RULER}`;
    }
  }
  make("path", { class: "ruler-ticks", d }, group);
  make("rect", { class: "ruler-bed corner", x: 0, y: 0, width: RULER, height: RULER }, group);
}
