// Where: the picture, what is selected on it, and the hands that move, scale and turn it.
import { attempt, commit, putBack, settled } from "./link.js";
import { hint } from "./notice.js";
import { hits, paint, showsAt } from "./painter.js";
import { state, timeNow } from "./state.js";
import { columnAt, rowAt } from "./table.js";

const stage = document.getElementById("stage");
const canvas = document.getElementById("picture");
const overlay = document.getElementById("overlay");
const flag = document.getElementById("keying-flag");
const ctx = canvas.getContext("2d");
const SVG = "http://www.w3.org/2000/svg";
const view = { zoom: 1, x: 0, y: 0, fit: true };
let drag = null;
let spaceHeld = false;

export const viewOf = () => ({ ...view });
export const toScene = (clientX, clientY) => {
  const box = stage.getBoundingClientRect();
  const perPx = 1 / view.zoom;
  return { x: (clientX - box.left - view.x) * perPx, y: (clientY - box.top - view.y) * perPx };
};
export const toClient = (x, y) => {
  const box = stage.getBoundingClientRect();
  return { x: x * view.zoom + view.x + box.left, y: y * view.zoom + view.y + box.top };
};

export function fit() {
  view.fit = true;
  resize();
}

export function resize() {
  const { clientWidth: width, clientHeight: height } = stage;
  const ratio = window.devicePixelRatio || 1;
  if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
    canvas.width = Math.round(width * ratio);
    canvas.height = Math.round(height * ratio);
  }
  if (view.fit) {
    const room = 36;
    view.zoom = Math.max(0.01, Math.min((width - 2 * room) / state.scene.width, (height - 2 * room) / state.scene.height));
    view.x = (width - state.scene.width * view.zoom) / 2;
    view.y = (height - state.scene.height * view.zoom) / 2;
  }
  document.getElementById("zoom").textContent = view.fit ? `Fit ${Math.round(view.zoom * 100)} %` : `${Math.round(view.zoom * 100)} %`;
  repaint();
}

function zoomAt(clientX, clientY, factor) {
  const at = toScene(clientX, clientY);
  const box = stage.getBoundingClientRect();
  view.zoom = Math.max(0.02, Math.min(32, view.zoom * factor));
  view.x = clientX - box.left - at.x * view.zoom;
  view.y = clientY - box.top - at.y * view.zoom;
  view.fit = false;
  resize();
}

const shownItem = (id) => {
  const still = !state.playing && state.still && state.still.frame === state.frame ? state.still.items.get(id) : null;
  return still || state.items.get(id);
};
export const frameFor = (item) => (item.rows === 1 && item.shows[1] - item.shows[0] === 1 && item.still ? 0 : state.frame);

function itemsShown() {
  const out = [];
  for (let k = state.order.length - 1; k >= 0; k -= 1) {
    const item = shownItem(state.order[k]);
    if (item) out.push(item);
  }
  return out;
}

// The theme's colours are read once: asking for them after each answer would lay the page out anew each time.
const inks = {};
function themeInk() {
  const { theme } = document.documentElement.dataset;
  if (!inks[theme]) {
    const style = getComputedStyle(document.documentElement);
    inks[theme] = Object.fromEntries(["surround", "veil", "amber"].map((name) => [name, style.getPropertyValue(`--${name}`).trim()]));
  }
  return inks[theme];
}

export function repaint() {
  const ratio = window.devicePixelRatio || 1;
  const { scene } = state;
  const base = [view.zoom * ratio, 0, 0, view.zoom * ratio, view.x * ratio, view.y * ratio];
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  const ink = themeInk();
  ctx.fillStyle = ink.surround;
  ctx.fillRect(0, 0, canvas.width, canvas.height);
  ctx.setTransform(...base);
  if (scene.background) {
    ctx.fillStyle = scene.background;
    ctx.fillRect(0, 0, scene.width, scene.height);
  } else chequer(base, ratio);
  for (const item of itemsShown()) paint(ctx, [item], item.still ? item.frame : state.frame, base);
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  // What lies outside the frame stays visible under a veil: things fly in from there.
  ctx.beginPath();
  ctx.rect(0, 0, canvas.width, canvas.height);
  ctx.rect(base[4], base[5], scene.width * base[0], scene.height * base[3]);
  ctx.fillStyle = ink.veil;
  ctx.fill("evenodd");
  if (state.keying) {
    ctx.strokeStyle = ink.amber;
    ctx.lineWidth = 5 * ratio;
    ctx.strokeRect(base[4] - 2.5 * ratio, base[5] - 2.5 * ratio, scene.width * base[0] + 5 * ratio, scene.height * base[3] + 5 * ratio);
  }
  flag.hidden = !state.keying;
  if (state.keying) {
    flag.style.left = `${Math.max(0, view.x - 5)}px`;
    flag.style.top = `${Math.max(0, view.y - 5 - flag.offsetHeight)}px`;
  }
  drawOverlay();
}

function chequer(base, ratio) {
  ctx.save();
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.beginPath();
  ctx.rect(base[4], base[5], state.scene.width * base[0], state.scene.height * base[3]);
  ctx.clip();
  const size = 8 * ratio;
  ctx.fillStyle = "#ffffff";
  ctx.fillRect(0, 0, canvas.width, canvas.height);
  ctx.fillStyle = "#dcdcdc";
  for (let y = 0; y < canvas.height; y += size) for (let x = (y / size) % 2 ? size : 0; x < canvas.width; x += 2 * size) ctx.fillRect(x, y, size, size);
  ctx.restore();
}

function make(name, attributes, parent = overlay) {
  const element = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  parent.append(element);
  return element;
}

const through = (row, x, y) => ({
  x: (row[0] * x + row[2] * y + row[4]) * view.zoom + view.x,
  y: (row[1] * x + row[3] * y + row[5]) * view.zoom + view.y,
});

// The selected layer's corners, in stage px, with its pivot and its matrix.
export function selectionBox(id) {
  const item = shownItem(id);
  if (!item || !item.drawing) return null;
  const frame = item.still ? item.frame : state.frame;
  const row = rowAt(item, frame);
  const [left, top, right, bottom] = item.drawing.bounds;
  const corners = [[left, top], [right, top], [right, bottom], [left, bottom]].map(([x, y]) => through(row, x, y));
  return { corners, row, shows: showsAt(item, frame) || Boolean(item.still) };
}

function positionNow() {
  const pose = state.still?.frame === state.frame && !state.playing ? state.pose?.position : null;
  if (pose) return { x: pose[0], y: pose[1] };
  const column = state.columns.position;
  if (!column) return null;
  const [x, y] = columnAt(column, state.frame);
  return { x, y };
}

function drawOverlay() {
  overlay.replaceChildren();
  if (state.layers.length && state.showPath && !state.playing) drawPath();
  for (const id of state.layers) {
    const box = selectionBox(id);
    if (!box || state.playing) continue;
    const points = box.corners.map((p) => `${p.x.toFixed(1)},${p.y.toFixed(1)}`).join(" ");
    make("polygon", { class: "box", points });
    if (id === state.layers[0] && !state.info.get(id)?.locked) drawHandles(box);
  }
}

function drawPath() {
  const column = state.columns.position;
  if (!column || column.rows < 2 || state.path.length < 2) return;
  let dots = "";
  let line = "";
  for (let frame = 0; frame < column.rows; frame += 1) {
    const x = (column.numbers[2 * frame] * view.zoom + view.x).toFixed(1);
    const y = (column.numbers[2 * frame + 1] * view.zoom + view.y).toFixed(1);
    line += `${frame ? "L" : "M"}${x} ${y}`;
    dots += `M${x} ${y}h.01`;
  }
  make("path", { class: "path-line", d: line });
  if (state.showDots) make("path", { class: "path-dots", d: dots });
  for (const key of state.path) {
    const selected = state.keys.some((k) => k.property === "position" && k.layer === state.layers[0] && k.time === key.time);
    make("circle", { class: `path-key${selected ? " selected" : ""}`, r: 5.5, cx: key.x * view.zoom + view.x, cy: key.y * view.zoom + view.y });
  }
}

function drawHandles(box) {
  const [a, b, c, d] = box.corners;
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
  const handles = [[a, 1, 1], [b, 1, 1], [c, 1, 1], [d, 1, 1], [top, 0, 1], [middle(b, c), 1, 0], [down, 0, 1], [middle(d, a), 1, 0]];
  // A small box has room for its corners only.
  const small = Math.min(length, Math.hypot(a.x - b.x, a.y - b.y)) < 44;
  for (const [p, x, y] of handles) {
    if (small && !(x && y)) continue;
    const square = make("rect", { class: "handle", x: p.x - 4, y: p.y - 4, width: 8, height: 8, rx: 1.5 });
    square.dataset.hand = "scale";
    square.dataset.axes = `${x} ${y}`;
  }
  const pivot = positionNow();
  if (pivot) {
    const [x, y] = [pivot.x * view.zoom + view.x, pivot.y * view.zoom + view.y];
    make("path", { class: "pivot", d: `M${x - 6} ${y}h12M${x} ${y - 6}v12` });
  }
}

function pick(clientX, clientY) {
  const at = toScene(clientX, clientY);
  for (const id of state.order) {
    const told = state.info.get(id);
    const item = shownItem(id);
    if (!item?.drawing || told.hidden || told.locked) continue;
    const frame = item.still ? item.frame : state.frame;
    if (showsAt(item, frame) && hits(item, frame, at.x, at.y, 3 / view.zoom)) return id;
  }
  return null;
}

function selectLayer(id, add, select) {
  if (!add) select(id ? [id] : []);
  else if (state.layers.includes(id)) select(state.layers.filter((other) => other !== id));
  else select([id, ...state.layers]);
}

function begin(event, kind, more = {}) {
  drag = { kind, pointer: event.pointerId, x: event.clientX, y: event.clientY, from: toScene(event.clientX, event.clientY), moved: false, edit: null, ...more };
  stage.setPointerCapture(event.pointerId);
}

function editFor(event) {
  const to = toScene(event.clientX, event.clientY);
  const common = { scene: state.scene.id, layers: state.layers, time: timeNow(), keying: state.keying, constrain: event.shiftKey };
  if (drag.kind === "move") return { kind: "move_layers", ...common, dx: to.x - drag.from.x, dy: to.y - drag.from.y };
  if (drag.kind === "scale") return { kind: "scale_layers", ...common, start: [drag.from.x, drag.from.y], to: [to.x, to.y], axes: drag.axes };
  // Turning: the way round the pivot since the last move is added up, so that several turns can be made.
  const angle = Math.atan2(to.y - drag.pivot.y, to.x - drag.pivot.x);
  let by = angle - drag.angle;
  by -= 2 * Math.PI * Math.round(by / (2 * Math.PI));
  drag.angle = angle;
  drag.turned += (by * 180) / Math.PI;
  return { kind: "turn_layers", ...common, degrees: drag.turned };
}

const WORDS = {
  move: "<b>Moving</b> · <kbd>Shift</kbd> straight across or down · <kbd>Esc</kbd> put back",
  scale: "<b>Scaling about the pivot</b> · <kbd>Shift</kbd> whole tenths, or in proportion where the axes are free · <kbd>Esc</kbd> put back",
  turn: "<b>Turning about the pivot</b> · <kbd>Shift</kbd> steps of 15° · <kbd>Esc</kbd> put back",
};

export function wireStage(select) {
  stage.addEventListener("pointerdown", (event) => {
    if (event.target.closest("#stage-empty")) return;
    document.activeElement?.blur?.();
    if (event.button === 1 || (event.button === 0 && spaceHeld)) {
      event.preventDefault();
      begin(event, "pan", { view: { ...view } });
      return;
    }
    if (event.button !== 0) return;
    const hand = event.target.dataset?.hand;
    if (hand === "scale") {
      begin(event, "scale", { axes: event.target.dataset.axes.split(" ").map(Number) });
      return;
    }
    if (hand === "turn") {
      const pivot = positionNow();
      const from = toScene(event.clientX, event.clientY);
      begin(event, "turn", { pivot, turned: 0, angle: Math.atan2(from.y - pivot.y, from.x - pivot.x) });
      return;
    }
    const id = pick(event.clientX, event.clientY);
    const add = event.ctrlKey || event.metaKey;
    if (!id) { if (!add) select([]); return; }
    if (!state.layers.includes(id) || add) selectLayer(id, add, select);
    if (state.layers.includes(id)) begin(event, "move");
  });
  stage.addEventListener("pointermove", (event) => {
    if (!drag || event.pointerId !== drag.pointer) {
      if (event.target.dataset?.hand) hint(WORDS[event.target.dataset.hand]);
      return;
    }
    if (!drag.moved && Math.hypot(event.clientX - drag.x, event.clientY - drag.y) < 3) return;
    drag.moved = true;
    if (drag.kind === "pan") {
      view.fit = false;
      view.x = drag.view.x + event.clientX - drag.x;
      view.y = drag.view.y + event.clientY - drag.y;
      resize();
      return;
    }
    hint(WORDS[drag.kind]);
    drag.edit = editFor(event);
    attempt(drag.edit);
  });
  const end = async (event) => {
    if (!drag || event.pointerId !== drag.pointer) return;
    const done = drag;
    drag = null;
    if (done.edit) { await commit(done.edit); await settled(); }
  };
  stage.addEventListener("pointerup", end);
  stage.addEventListener("pointercancel", () => cancelDrag());
  stage.addEventListener("wheel", (event) => {
    event.preventDefault();
    zoomAt(event.clientX, event.clientY, Math.exp(-event.deltaY * 0.0016));
  }, { passive: false });
  addEventListener("keydown", (event) => { if (event.key === " ") spaceHeld = true; });
  addEventListener("keyup", (event) => { if (event.key === " ") spaceHeld = false; });
  new ResizeObserver(resize).observe(stage);
}

export const isDragging = () => Boolean(drag);
export function cancelDrag() {
  if (!drag) return false;
  drag = null;
  putBack();
  hint("Put back.");
  return true;
}

export function nudge(dx, dy) {
  if (!state.layers.length) return;
  commit({ kind: "move_layers", scene: state.scene.id, layers: state.layers, time: timeNow(), keying: state.keying, dx, dy });
}
