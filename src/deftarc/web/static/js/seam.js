// The seam of what loops: its list, its two pictures, and closing it.
import { does } from "./actions.js";
import { goesBy, isOpen, listIn, toggleDrawer } from "./drawer.js";
import { http } from "./http.js";
import { markSelected } from "./keys.js";
import { commit, look, revealRow } from "./link.js";
import { paint } from "./painter.js";
import { receives } from "./receivers.js";
import { choose, focusOn, state, unfold } from "./state.js";
import { goTo } from "./time.js";
import { grown, unpackCandidates } from "./table.js";

let drawingOf = (_layer) => null;
let select = (_layers, _how) => {};
let painted = "";
const body = document.getElementById("drawer-body");

async function showPictures() {
  const place = body.querySelector(".seam-pictures");
  if (!place) return;
  const asked = `${state.scene.id} ${state.revision}`;
  painted = asked;
  const { ok, answer } = await http(`/api/projects/${state.project}/scenes/${state.scene.id}/seam`, { as: "bytes" });
  if (!ok || painted !== asked) return;
  const told = unpackCandidates(answer);
  const [{ items, table }] = told.candidates;
  for (const item of items) item.drawing = drawingOf(item.layer);
  const tree = grown(items, table.roots);
  for (const canvas of body.querySelectorAll("canvas[data-seam-picture]")) {
    const ctx = canvas.getContext("2d");
    const zoom = Math.min(canvas.width / told.width, canvas.height / told.height);
    const [x, y] = [(canvas.width - zoom * told.width) / 2, (canvas.height - zoom * told.height) / 2];
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.clearRect(0, 0, canvas.width, canvas.height);
    ctx.save();
    ctx.beginPath();
    ctx.rect(x, y, zoom * told.width, zoom * told.height);
    ctx.clip();
    const lay = (frame) => {
      ctx.fillStyle = told.background || "#d2cec4";
      ctx.fillRect(x, y, zoom * told.width, zoom * told.height);
      paint(ctx, tree, frame, [zoom, 0, 0, zoom, x, y], told);
      ctx.setTransform(1, 0, 0, 1, 0, 0);
    };
    lay(canvas.dataset.seamPicture === "end" ? 1 : 0);
    if (canvas.dataset.seamPicture === "both") layOver(ctx, canvas, () => lay(1));
    ctx.restore();
  }
}

// The end at half its strength over the start: what is alike is one, what is not stands twice.
function layOver(ctx, canvas, lay) {
  const under = Object.assign(document.createElement("canvas"), { width: canvas.width, height: canvas.height });
  under.getContext("2d").drawImage(canvas, 0, 0);
  lay();
  ctx.globalAlpha = 0.5;
  ctx.drawImage(under, 0, 0);
  ctx.globalAlpha = 1;
}

// The lane that does not meet, in the pair and at the frame before the end; with its keys at both ends selected.
function goToLane({ goLayer, goProperty, goTimes }) {
  const { range } = state.scene;
  select([goLayer]);
  unfold([goLayer]);
  revealRow(goLayer);
  if (goProperty && goProperty !== "shows") focusOn({ layer: goLayer, property: goProperty });
  if (goTimes)
    choose({ keys: goTimes.split(",").map((time) => ({ layer: goLayer, property: goProperty, time: Number(time) })) });
  markSelected();
  if (isOpen("seam")) goTo(range[1] - 1, { quiet: true });
  look();
}

const lanesMeant = () => {
  const seen = new Map(state.keys.map(({ layer, property }) => [`${layer} ${property}`, { layer, property }]));
  if (!seen.size && state.pair) return [{ layer: state.pair.layer, property: state.pair.property }];
  return [...seen.values()];
};
const close = (fields) => commit({ kind: "close_seam", scene: state.scene.id, lanes: lanesMeant(), ...fields });

does("seam", () => toggleDrawer("seam"), { on: () => isOpen("seam") });
does("close-loop", () => commit({ kind: "close_seam", scene: state.scene.id }));
does("fit-loop", () => commit({ kind: "loop_length", scene: state.scene.id }));
const lane = { can: () => lanesMeant().length > 0, refused: "Select keys, or a layer whose curve shows in the pair." };
does("close-lane", () => close({}), lane);
does("close-cycle", () => close({ own: true }), lane);

export function wireSeam(find, chooseLayers) {
  drawingOf = find;
  select = chooseLayers;
  receives("seam_due", () => setTimeout(look, 60));
  listIn("seam", { shown: showPictures });
  goesBy(goToLane);
  document.getElementById("seam-sign").addEventListener("click", (event) => {
    if (event.target.closest("[data-do]")) toggleDrawer("seam");
  });
  document.getElementById("seam-sign").addEventListener("keydown", (event) => {
    if (!["Enter", " "].includes(event.key) || !event.target.closest("[data-do]")) return;
    event.preventDefault();
    event.stopPropagation();
    toggleDrawer("seam");
  });
}
