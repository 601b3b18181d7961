// Rings and particles of a long scene come a stretch at a time: what is missed at a frame is fetched, while it plays before
// it is due.
import { addDots, hasDots } from "./dots.js";
import { http } from "./http.js";
import { whenDotsAreMissed } from "./painter.js";
import { state } from "./state.js";
import { unpackDots } from "./table.js";

// Frames that are fetched before one at which one stands, and how long before its due a stretch is asked for.
const [BACK, AHEAD] = [20, 30];
let asking = false;
const bursting = () => [...state.items.values()].filter(({ dots }) => dots);
const lacking = (frame) => bursting().some(({ dots }) => !hasDots(dots, frame));
let repaint = () => {};

async function fetchStretch(frame, back) {
  if (asking || state.tentative || frame >= state.scene.frames || !lacking(frame)) return;
  asking = true;
  const { revision, scene } = state;
  const path = `/api/projects/${state.project}/scenes/${scene.id}/dots?frame=${frame}&back=${back}`;
  const told = await http(path, { as: "bytes" }).catch(() => null);
  asking = false;
  const same = state.revision === revision && state.scene.id === scene.id;
  const found = told?.ok && same ? unpackDots(told.answer) : null;
  if (found?.revision === revision) takeStretch(found.dots);
  // What was painted meanwhile, of another state, could not ask.
  if (!same || (found && !state.playing)) repaint();
}

function takeStretch(dots) {
  for (const [name, part] of Object.entries(dots)) {
    const item = state.items.get(name);
    if (item?.dots) addDots(item.dots, part);
  }
}

// While it plays, the stretch that comes next is here before it is due.
function lookAhead() {
  const [start, stop] = state.scene.range;
  for (let n = 0; n <= AHEAD; n += 1) {
    const due = state.frame + n;
    const frame = due < stop ? due : start + ((due - start) % Math.max(1, stop - start));
    if (lacking(frame)) {
      fetchStretch(frame, 0);
      return;
    }
  }
}

export function wireStretches(paintAgain) {
  repaint = paintAgain;
  whenDotsAreMissed((frame) => fetchStretch(frame, state.playing ? 0 : BACK));
  document.addEventListener("deftarc:plays", () => {
    const watch = () => {
      if (!state.playing) return;
      lookAhead();
      setTimeout(watch, 100);
    };
    watch();
  });
}
