// Where: the picture, and the hands that pick, move, scale and turn what is on it.
import { act } from "./actions.js";
import { ask, cancelAny, hand as register } from "./hands.js";
import { attempt, commitTried, putBack, settled } from "./link.js";
import { hint } from "./notice.js";
import { nudged } from "./nudging.js";
import { drawOverlay } from "./overlay.js";
import { paint } from "./painter.js";
import { boxAround, caughtBy, itemsShown, pivotNow, stackAt, smearNow } from "./picking.js";
import { layRested, restedPicture, whenRested } from "./rested.js";
import { paintGhosts, paintTakeGhost } from "./ghosts.js";
import { liked, pressOnPicture, state, timeNow } from "./state.js";
import { editWords } from "./words.js";
import { fitBox, layOut, panTo, stretchMarquee, toScene, view, whenViewChanges, zoomAt } from "./view.js";
import { marked } from "./marked.js";

const stage = document.getElementById("stage");
const canvas = document.getElementById("picture");
const flag = document.getElementById("keying-flag");
const marquee = document.getElementById("picture-marquee");
const ctx = canvas.getContext("2d");
let drag = null;
let spaceHeld = false;

// Who paints what lies beneath the picture, and tells whether there is anything.
let beneath = (_ctx) => false;
export const paintsBeneath = (call) => {
  beneath = call;
};

export function resize() {
  const { clientWidth: width, clientHeight: height } = stage;
  const ratio = window.devicePixelRatio || 1;
  if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
    canvas.width = Math.round(width * ratio);
    canvas.height = Math.round(height * ratio);
  }
  layOut();
}

// The theme's colours are read once: asking for them after each answer would lay the page out anew each time.
const inks = {};
function themeInk() {
  const { theme } = document.documentElement.dataset;
  if (!inks[theme]) {
    const style = getComputedStyle(document.documentElement);
    inks[theme] = Object.fromEntries(
      ["surround", "veil", "amber"].map((name) => [name, style.getPropertyValue(`--${name}`).trim()]),
    );
  }
  return inks[theme];
}

// The picture and what is laid over it; without the picture where that is as it was.
export function repaint(picture = true) {
  if (!picture) {
    drawOverlay();
    return;
  }
  const ratio = window.devicePixelRatio || 1;
  const { scene } = state;
  const base = [view.zoom * ratio, 0, 0, view.zoom * ratio, view.x * ratio, view.y * ratio];
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  const ink = themeInk();
  ctx.fillStyle = ink.surround;
  ctx.fillRect(0, 0, canvas.width, canvas.height);
  ctx.setTransform(...base);
  if (!scene.background || scene.background.length === 9) chequer(base, ratio);
  if (scene.background) {
    ctx.fillStyle = scene.background;
    ctx.fillRect(0, 0, scene.width, scene.height);
  }
  const over = beneath(ctx);
  const [items, smear] = [itemsShown(), smearNow()];
  const rested = over ? null : restedPicture(items, smear, base, canvas);
  if (rested) layRested(ctx, rested);
  else paint(ctx, items, state.frame, base, scene, smear);
  paintGhosts(ctx, base);
  paintTakeGhost(ctx, base);
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
    ctx.strokeRect(
      base[4] - 2.5 * ratio,
      base[5] - 2.5 * ratio,
      scene.width * base[0] + 5 * ratio,
      scene.height * base[3] + 5 * ratio,
    );
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
  for (let y = 0; y < canvas.height; y += size)
    for (let x = (y / size) % 2 ? size : 0; x < canvas.width; x += 2 * size) ctx.fillRect(x, y, size, size);
  ctx.restore();
}

function begin(event, kind, more = {}) {
  drag = {
    kind,
    pointer: event.pointerId,
    x: event.clientX,
    y: event.clientY,
    from: toScene(event.clientX, event.clientY),
    moved: false,
    edit: null,
    ...more,
  };
  stage.setPointerCapture(event.pointerId);
}

function editFor(event) {
  const to = toScene(event.clientX, event.clientY);
  const common = {
    scene: state.scene.id,
    layers: state.layers,
    time: timeNow(),
    keying: state.keying,
    constrain: event.shiftKey,
  };
  if (drag.kind === "move")
    return { kind: "move_layers", ...common, dx: to.x - drag.from.x, dy: to.y - drag.from.y, axes: liked.axes };
  if (drag.kind === "pivot")
    return {
      kind: "move_pivot",
      scene: state.scene.id,
      layers: [state.layers[0]],
      time: timeNow(),
      to: [drag.pivot.x + to.x - drag.from.x, drag.pivot.y + to.y - drag.from.y],
    };
  if (drag.kind === "scale")
    return { kind: "scale_layers", ...common, start: [drag.from.x, drag.from.y], to: [to.x, to.y], axes: drag.axes };
  // Turning: the way round the pivot since the last move is added up, so that several turns can be made.
  const angle = Math.atan2(to.y - drag.pivot.y, to.x - drag.pivot.x);
  let by = angle - drag.angle;
  by -= 2 * Math.PI * Math.round(by / (2 * Math.PI));
  drag.angle = angle;
  drag.turned += (by * 180) / Math.PI;
  return { kind: "turn_layers", ...common, degrees: drag.turned };
}

// What a move is drawn to; Alt leaves it free.
const snapFor = (event) =>
  drag.kind === "move" && liked.snap && !event.altKey
    ? {
        tolerance: 7 / view.zoom,
        grid: liked.snapGrid && liked.showGrid,
        guides: liked.snapGuides && liked.showGuides,
        layers: liked.snapLayers,
        frame: liked.snapFrame,
      }
    : null;

function moveGuide(event) {
  const at = toScene(event.clientX, event.clientY);
  const value = Math.round(drag.axis === "x" ? at.x : at.y);
  const guides = drag.guides.filter((_, index) => index !== drag.index);
  const box = stage.getBoundingClientRect();
  const inside =
    event.clientX > box.left + 4 &&
    event.clientX < box.right &&
    event.clientY > box.top + 4 &&
    event.clientY < box.bottom;
  // Dragged back off the stage, a guide goes.
  if (inside) guides.push({ axis: drag.axis, at: value });
  drag.edit = { kind: "set_guides", scene: state.scene.id, guides };
  hint(
    inside
      ? marked`<b>Guide</b> at ${drag.axis} ${value} px · drag it off the picture to take it away`
      : marked`<b>Guide</b> will go`,
  );
  attempt(drag.edit);
}

function moveMarquee(event) {
  const [left, top, right, bottom] = stretchMarquee(drag, event);
  const [a, b] = [toScene(left, top), toScene(right, bottom)];
  drag.caught = [...drag.before, ...caughtBy([a.x, a.y, b.x, b.y]).filter((id) => !drag.before.includes(id))];
  hint(marked`<b>Selecting</b> ${drag.caught.length} layer${drag.caught.length === 1 ? "" : "s"}`);
}

function pressed(event, select) {
  const stack = stackAt(event.clientX, event.clientY);
  const add = event.ctrlKey || event.metaKey || event.shiftKey;
  if (state.keep && state.layers.length && !add) {
    begin(event, "move", { stack: [] });
    return;
  }
  if (!stack.length) {
    begin(event, "marquee", { before: add ? state.layers : [], caught: add ? state.layers : [] });
    return;
  }
  if (add) {
    // What is not selected yet is at once, so that it can be dragged along; what is goes when the hand lets go.
    const id = stack[0];
    const had = state.layers.includes(id);
    if (!had) select([id, ...state.layers]);
    begin(event, "move", { stack, leaves: had ? id : null, added: true });
    return;
  }
  const held = stack.filter((id) => state.layers.includes(id));
  if (!held.length) select([stack[0]]);
  begin(event, "move", { stack, deeper: held.length > 0 });
}

// A click that did not drag: on what was selected already it goes one deeper, and from the lowest back to the top.
// A second click at once is a double click, which means what is there now.
let lastClickAt = 0;
// What was selected before each of the last two presses: a double click is meant for what its first one met, not
// for what lies a layer deeper.
let chosenBefore = [[], []];
function clicked(done, select, stamp) {
  const double = stamp - lastClickAt < 450;
  lastClickAt = stamp;
  if (done.kind === "marquee") {
    select(done.before);
    return;
  }
  if (done.leaves) {
    select(state.layers.filter((other) => other !== done.leaves));
    return;
  }
  if (done.added) return;
  if (!done.deeper || state.keep || double) return;
  const at = done.stack.findIndex((id) => state.layers.includes(id));
  const next = done.stack[(at + 1) % done.stack.length];
  if (next !== state.layers[0] || state.layers.length > 1) select([next]);
}

// A press on a handle or a guide; whether it was one.
function handleDown(event) {
  const { hand, guide, axes } = event.target.dataset || {};
  if (hand === "scale") begin(event, "scale", { axes: axes.split(" ").map(Number) });
  else if (hand === "pivot" || hand === "move") begin(event, hand, { stack: [], pivot: pivotNow() });
  else if (hand === "turn") {
    const pivot = pivotNow();
    const from = toScene(event.clientX, event.clientY);
    begin(event, "turn", { pivot, turned: 0, angle: Math.atan2(from.y - pivot.y, from.x - pivot.x) });
  } else if (guide !== undefined) {
    const { guides } = state.scene;
    begin(event, "guide", { index: Number(guide), axis: guides[Number(guide)].axis, guides });
  } else return false;
  return true;
}

// Whether a right click is the motion path's.
const onPathWay = ({ pathPoint, pathKey, pathSpan }) =>
  pathPoint !== undefined || pathKey !== undefined || (pathSpan !== undefined && state.tool === "path");

export function wireStage(select, openMenu, editText) {
  whenViewChanges(repaint);
  whenRested(repaint);
  for (const end of ["pointerup", "pointercancel"])
    document.addEventListener(
      end,
      () => {
        pressOnPicture(false);
      },
      true,
    );
  stage.addEventListener("pointerdown", (event) => {
    if (event.target.closest("#stage-empty, .text-editor, .segments, .tolerance")) return;
    pressOnPicture(true);
    document.activeElement?.blur?.();
    if (event.button === 1 || (event.button === 0 && spaceHeld)) {
      event.preventDefault();
      begin(event, "pan", { view: { x: view.x, y: view.y } });
      return;
    }
    if (event.button !== 0) return;
    if (event.target.dataset?.ruler) {
      begin(event, "guide", { axis: event.target.dataset.ruler, index: -1, guides: state.scene.guides });
      return;
    }
    const took = ask("picture", "down", event);
    if (took === "held") stage.setPointerCapture(event.pointerId);
    if (took || handleDown(event)) return;
    chosenBefore = [chosenBefore[1], state.layers];
    pressed(event, select);
  });
  stage.addEventListener("pointermove", (event) => {
    if (ask("picture", "move", event)) return;
    if (!drag || event.pointerId !== drag.pointer) {
      hint(
        (!event.target.dataset?.hand && ask("picture", "words", event.target)) ||
          editWords(event.target.dataset?.hand, event.target.dataset),
      );
      return;
    }
    if (!drag.moved && Math.hypot(event.clientX - drag.x, event.clientY - drag.y) < 3) return;
    drag.moved = true;
    if (drag.kind === "pan") {
      panTo(drag.view.x + event.clientX - drag.x, drag.view.y + event.clientY - drag.y);
      return;
    }
    if (drag.kind === "guide") {
      moveGuide(event);
      return;
    }
    if (drag.kind === "marquee") {
      moveMarquee(event);
      return;
    }
    hint(editWords(drag.kind, {}));
    drag.edit = editFor(event);
    attempt(drag.edit, snapFor(event));
  });
  stage.addEventListener("pointerup", (event) => {
    if (ask("picture", "up", event)) return;
    if (!drag || event.pointerId !== drag.pointer) return;
    const done = drag;
    drag = null;
    marquee.hidden = true;
    if (done.edit) commitTried(done.edit);
    else if (done.kind === "marquee" && done.moved) select(done.caught);
    else if (!done.moved) clicked(done, select, event.timeStamp);
  });
  stage.addEventListener("pointercancel", () => cancelAny());
  stage.addEventListener("dblclick", (event) => {
    if (state.tool !== "move" || event.target.dataset?.hand) return;
    const stack = stackAt(event.clientX, event.clientY);
    const id =
      [...chosenBefore, state.layers].map((chosen) => stack.find((each) => chosen.includes(each))).find(Boolean) ||
      stack[0];
    const traits = state.info.get(id)?.traits || [];
    if (traits.includes("words")) {
      select([id]);
      settled().then(() => editText(id));
    }
    if (traits.includes("scene")) {
      select([id]);
      act("enter-scene");
    }
    if (traits.includes("points")) {
      select([id]);
      document.querySelector("[data-tool=points]").click();
    }
  });
  stage.addEventListener("contextmenu", (event) => {
    event.preventDefault();
    const stack = stackAt(event.clientX, event.clientY);
    const told = event.target.dataset || {};
    if (onPathWay(told) || (state.tool === "path" && !stack.length)) {
      openMenu(event, { path: told });
      return;
    }
    const onOutline = state.tool === "points" && (told.point !== undefined || told.way !== undefined);
    if (!onOutline && stack.length && !stack.some((id) => state.layers.includes(id)) && !state.keep) select([stack[0]]);
    openMenu(event, { point: told.point, way: told.way });
  });
  stage.addEventListener(
    "wheel",
    (event) => {
      event.preventDefault();
      zoomAt(event.clientX, event.clientY, Math.exp(-event.deltaY * 0.0016));
    },
    { passive: false },
  );
  addEventListener("keydown", (event) => {
    if (event.key === " ") spaceHeld = true;
  });
  addEventListener("keyup", (event) => {
    if (event.key === " ") spaceHeld = false;
  });
  new ResizeObserver(resize).observe(stage);
}

export function fitSelected() {
  const box = boxAround(state.layers.length ? state.layers : state.order);
  if (box) fitBox(box);
}

function cancelDrag() {
  if (!drag) return false;
  drag = null;
  marquee.hidden = true;
  putBack();
  hint("Put back.");
  return true;
}

export function nudge(dx, dy) {
  if (!state.layers.length) return;
  nudged(() => ({
    kind: "move_layers",
    scene: state.scene.id,
    layers: state.layers,
    time: timeNow(),
    keying: state.keying,
    dx,
    dy,
  }));
}

register("picture", 50, { cancel: cancelDrag });
