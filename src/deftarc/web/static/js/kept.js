// Sheets that are kept while all that is on them stays as it is. Most of what is soft only moves, and much of what is treated
// does not even that: both are laid on as they were painted before, and only what changes is painted anew.
import { giveBack } from "./sheets.js";
import { columnAt, rowAt, showsAt } from "./table.js";
import { outlineAt } from "./tracing.js";

// Px of all of them together, of one, and how many things are remembered.
const [MOST, NAMES] = [16e6, 1024];
export const LARGEST = 2e6;
// Facts beyond so many would take longer to compare than most things take to paint.
const FACTS = 4096;

/** @type {Map<string, { facts: any[], sheet: any }>} */
const known = new Map();

const sizeOf = ({ sheet }) => (sheet ? sheet.canvas.width * sheet.canvas.height : 0);
export const alike = (one, other) => one.length === other.length && one.every((fact, k) => fact === other[k]);

// What is known under a name, while the same facts are told of it as the time before.
function knownAs(name, facts) {
  const had = known.get(name);
  // The one used last is thrown away last.
  known.delete(name);
  const same = had && alike(had.facts, facts);
  // What no longer holds has been laid where it was to be.
  if (had?.sheet && !same) giveBack(had.sheet);
  const found = same ? had : { facts, sheet: null };
  known.set(name, found);
  if (known.size > NAMES) known.delete(known.keys().next().value);
  return { found, same };
}

// A sheet as it was made when the same facts were told of it, and else made now by `make()`. It is not to be given back.
export function madeOnce(name, facts, make) {
  const { found } = knownAs(name, facts);
  if (!found.sheet) {
    found.sheet = make();
    makeRoom();
  }
  return found.sheet;
}

// The same of what may be as large as the canvas: null the first time the facts are told, since what changes at each frame is
// not worth being kept; and where `make()` answers with null.
export function kept(name, facts, make) {
  const { found, same } = knownAs(name, facts);
  if (!same) return null;
  if (!found.sheet) {
    found.sheet = make();
    makeRoom();
  }
  return found.sheet;
}

// What is thrown away may still be about to be laid on somewhere: no one else gets it.
function makeRoom() {
  let px = 0;
  for (const one of [...known.values()].reverse()) {
    px += sizeOf(one);
    if (px > MOST) one.sheet = null;
  }
}

// After a picture has arrived what was painted without it is no longer right.
export const forgetKept = () => known.clear();

// All that an item looks like by at a frame, told onto a list; false where it cannot be: `placed` with where it is, or as it
// is in its own px.
export function told(item, frame, facts, placed = true) {
  if (!facts || item.dots || item.wash || facts.length > FACTS) return false;
  const at = item.still ? item.frame : frame;
  if (placed) {
    facts.push(showsAt(item, at));
    facts.push(...rowAt(item, at));
  }
  facts.push(item.drawing, item.blend);
  for (const block of Object.values(item.look || {})) facts.push(...columnAt(block, at));
  if (item.outline) toldOutline(item.outline, at, facts);
  toldTreatment(item, at, facts);
  return withinIt(item, facts).every((each) => told(each, frame, facts));
}

// What else is painted for an item, and how.
function withinIt({ parts = [], clip = [], matte }, facts) {
  facts.push(parts.length, ...clip);
  if (!matte) return parts;
  facts.push(matte.by, matte.inverted);
  return matte.item ? [...parts, matte.item] : parts;
}

function toldTreatment(item, at, facts) {
  for (const mask of item.masks || []) {
    facts.push(mask.mode, mask.inverted, mask.rule);
    toldOutline(mask.outline, at, facts);
    for (const block of Object.values(mask.values)) facts.push(...columnAt(block, at));
  }
  for (const effect of item.effects || []) {
    facts.push(effect.kind);
    for (const block of Object.values(effect.values)) facts.push(...columnAt(block, at));
  }
}

// An outline as it is at a frame.
function toldOutline(outline, frame, facts) {
  const { verbs, numbers } = outlineAt(outline, frame);
  facts.push(verbs, ...numbers);
}
