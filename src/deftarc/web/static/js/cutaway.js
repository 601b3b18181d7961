// What of an item is not there to be taken: masked, or cut off. How soft an edge is does not matter to a hand.
import { CUTS } from "./effects/register.js";
import { numbersOf } from "./masks.js";
import { boxOf } from "./painter.js";
import { rowAt } from "./table.js";
import { outlineAt, traced } from "./tracing.js";

const probe = document.createElement("canvas").getContext("2d");

// Whether masks leave a place, in the px of what they mask.
function unmasked(masks, frame, { x, y }) {
  let shown = masks[0].mode !== "add";
  for (const mask of masks) {
    if (numbersOf(mask, frame).opacity[0] <= 0) continue;
    const inside = probe.isPointInPath(traced(outlineAt(mask.outline, frame)), x, y, mask.rule) !== mask.inverted;
    if (mask.mode === "add") shown ||= inside;
    else if (mask.mode === "subtract") shown &&= !inside;
    else shown &&= inside;
  }
  return shown;
}

// Whether a place in the scene lies on what masks and cuts leave of an item.
export function isLeft(item, frame, at) {
  const cuts = (item.effects || []).filter(({ kind }) => CUTS.has(kind));
  if (!item.masks && !cuts.length) return true;
  const place = new DOMMatrix([...rowAt(item, frame).subarray(0, 6)]).inverse().transformPoint(at);
  if (item.masks && !unmasked(item.masks, frame, place)) return false;
  return cuts.every((effect) => {
    const cut = CUTS.get(effect.kind)(numbersOf(effect, frame), boxOf(item, frame));
    return !cut || cut.holds(place);
  });
}
