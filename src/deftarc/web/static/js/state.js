// What this page shows, in one place. Everything that happens changes this and asks for a look.
export const state = {
  project: document.body.dataset.project,
  revision: 0,
  scene: { id: document.body.dataset.scene, width: 1, height: 1, frames: 1, flicks: 1, rate: 25, nominal: 25, background: null },
  frame: 0,
  layers: [], // selected layer ids, the last one chosen first
  keys: [], // selected keys: { layer, property, time }
  focus: null, // the lane the pair shows: { layer, property }
  folded: null, // ids of folded layers, once the server has said which open folded
  axis: null, // { start, end, width } in flicks and px; null asks the server to fit
  keying: false,
  playing: false,
  loop: true,
  showPath: true,
  showDots: true,
  tentative: null, // the edit under the pointer
  order: [], // layer ids, the topmost first
  info: new Map(), // layer id → { name, drawing, hidden, locked, link }
  items: new Map(), // layer id → rows over time, with its prepared drawing
  still: null, // values changed but not keyed, at one frame
  columns: {},
  path: [],
  pair: null,
  history: { undo: null, redo: null, steps: 0 },
};

export const sameKey = (a, b) => a.layer === b.layer && a.property === b.property && a.time === b.time;
export const isSelectedKey = (key) => state.keys.some((other) => sameKey(other, key));
export const keyOf = (element) => ({ layer: element.dataset.layer, property: element.dataset.property, time: Number(element.dataset.time) });
export const timeOf = (frame) => frame * state.scene.flicks;
export const timeNow = () => timeOf(state.frame);

// Shown only; which frame a typed text means is decided by the server.
export function timecode(frame) {
  const { nominal } = state.scene;
  const count = Math.abs(frame);
  const two = (n) => String(n).padStart(2, "0");
  const seconds = Math.floor(count / nominal);
  const hours = Math.floor(seconds / 3600);
  const minutes = Math.floor(seconds / 60) % 60;
  const tail = `${two(seconds % 60)}:${two(count % nominal)}`;
  return (frame < 0 ? "−" : "") + (hours ? `${hours}:${two(minutes)}:${tail}` : `${minutes}:${tail}`);
}
