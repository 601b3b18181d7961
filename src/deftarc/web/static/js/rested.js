// Where a browser's canvas can only come near what is rendered, the picture at rest is the render's own: asked for once
// nothing moves, and laid in the place of what the canvas paints from the moment it is there.
import { CUTS } from "./effects/register.js";
import { alike, told } from "./kept.js";
import { state } from "./state.js";

// Milliseconds that nothing must have moved for.
const REST = 90;

// What a canvas here cannot do: filters, and sums that lose nothing.
const lacks = { filters: false, halves: false };
function probe() {
  const ctx = /** @type {any} */ (document.createElement("canvas")).getContext("2d", { colorType: "float16" });
  const told = ctx.getContextAttributes?.();
  lacks.filters = !("filter" in ctx);
  lacks.halves = told?.colorType !== "float16" && told?.pixelFormat !== "float16";
}
probe();

// Whether any of some items needs a filter, in itself, in what it is put together from, or in what it shows through.
const soft = (block) => Boolean(block?.numbers.some((px) => px > 0));
const filters = (item) =>
  item.effects?.some(({ kind, values }) => !CUTS.has(kind) || soft(values.softness)) ||
  item.masks?.some(({ values }) => soft(values.feather)) ||
  item.matte?.by === "luma" ||
  item.parts?.some(filters) ||
  Boolean(item.matte?.item && filters(item.matte.item));

const approximates = (items, smear) => (lacks.filters && items.some(filters)) || (lacks.halves && Boolean(smear));

let paintAgain = () => {};
export const whenRested = (call) => {
  paintAgain = call;
};

/** @type {{ asked: any[], image: ImageBitmap | null, timer: number }} */
const seen = { asked: [], image: null, timer: 0 };

// The rendered picture of what is shown now, if it is here; else it is asked for, where the canvas is not as good.
export function restedPicture(items, smear, base, { width, height }) {
  const { playing, tentative, still, recording, frame } = state;
  const moves = playing || tentative || recording || still?.frame === frame;
  const address = moves || !approximates(items, smear) ? "" : addressOf(base, width, height);
  const asked = address ? [address, ...factsOf(items, frame)] : [];
  if (asked.length && alike(asked, seen.asked)) return seen.image;
  clearTimeout(seen.timer);
  seen.asked = asked;
  seen.image = null;
  if (address) seen.timer = window.setTimeout(fetchPicture, REST, asked, address);
  return null;
}

// What the picture is of: what is said of that at some length, or else the state it is in. A step that changes nothing of it
// leaves it as it is.
function factsOf(items, frame) {
  const facts = [];
  const whole = state.smear ? false : items.every((item) => told(item, frame, facts));
  return whole ? facts : [state.revision];
}

function addressOf(base, width, height) {
  const told = new URLSearchParams({
    width,
    height,
    frame: String(state.frame),
    zoom: base[0],
    left: base[4],
    top: base[5],
  });
  for (const id of state.isolated) told.append("alone", id);
  return `/api/projects/${state.project}/scenes/${state.scene.id}/still?${told}`;
}

async function fetchPicture(asked, address) {
  const answer = await fetch(address).catch(() => null);
  if (!answer?.ok || seen.asked !== asked) return;
  const image = await createImageBitmap(await answer.blob());
  if (seen.asked !== asked) return;
  // It comes at once or not at all: nothing is cleared before.
  seen.image = image;
  paintAgain();
}

export function layRested(ctx, image) {
  ctx.save();
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.drawImage(image, 0, 0);
  ctx.restore();
}

// Whether what is shown is the render's own picture.
export const rested = () => Boolean(seen.image);
