// How the picture lies on the stage: zoom and place, and the way between scene px and the page.
import { stretch } from "./marquee.js";
import { liked, state } from "./state.js";

const stage = document.getElementById("stage");
export const view = { zoom: 1, x: 0, y: 0, fit: true };
let changed = () => {};
export function whenViewChanges(call) {
  changed = call;
}

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
// Scene px to px of the stage.
export const onStage = (x, y) => ({ x: x * view.zoom + view.x, y: y * view.zoom + view.y });

export const RULER = 18;
const inset = () => (liked.showRulers ? RULER : 0);

export function layOut() {
  const { clientWidth: width, clientHeight: height } = stage;
  if (view.fit) frameIn([0, 0, state.scene.width, state.scene.height], 36, width, height);
  document.getElementById("zoom").textContent = view.fit
    ? `Fit ${Math.round(view.zoom * 100)} %`
    : `${Math.round(view.zoom * 100)} %`;
  changed();
}

function frameIn([left, top, right, bottom], room, width, height) {
  const [w, h] = [width - inset(), height - inset()];
  view.zoom = Math.max(
    0.01,
    Math.min(32, (w - 2 * room) / Math.max(1, right - left), (h - 2 * room) / Math.max(1, bottom - top)),
  );
  view.x = inset() + (w - (left + right) * view.zoom) / 2;
  view.y = inset() + (h - (top + bottom) * view.zoom) / 2;
}

export function fit() {
  view.fit = true;
  layOut();
}

export function fitBox(box) {
  view.fit = false;
  frameIn(box, 60, stage.clientWidth, stage.clientHeight);
  layOut();
}

export function fullSize() {
  const box = stage.getBoundingClientRect();
  zoomAt(box.left + box.width / 2, box.top + box.height / 2, 1 / view.zoom);
}

export function zoomAt(clientX, clientY, factor) {
  const at = toScene(clientX, clientY);
  const box = stage.getBoundingClientRect();
  view.zoom = Math.max(0.02, Math.min(32, view.zoom * factor));
  view.x = clientX - box.left - at.x * view.zoom;
  view.y = clientY - box.top - at.y * view.zoom;
  view.fit = false;
  layOut();
}

export function panTo(x, y) {
  view.fit = false;
  view.x = x;
  view.y = y;
  layOut();
}

// The marquee on the picture, from where it began to the pointer: left, top, right, bottom on the page.
export const stretchMarquee = (from, event) => stretch(document.getElementById("picture-marquee"), stage, from, event);
