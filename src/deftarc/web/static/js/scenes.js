// Scenes in scenes: shown, made of layers, entered and left; what lies around one is seen faintly while one works in it.
import { does } from "./actions.js";
import { closeDrawer, isOpen, listIn, toggleDrawer } from "./drawer.js";
import { showScene } from "./holding.js";
import { http } from "./http.js";
import { commit, look, momentOf } from "./link.js";
import { ask, say } from "./notice.js";
import { typedNumber } from "./numbers.js";
import { choose, like, liked, newId, state, standAt, walkTo } from "./state.js";

const figures = document.getElementById("figures");
const crumbs = document.getElementById("trail");
let repaint = () => {};

const shows = (id) => state.info.get(id)?.traits.includes("scene");
const layerPath = (scene, layer) => `/api/projects/${state.project}/scenes/${scene}/layers/${layer}`;

// Into the scene that a layer shows, at the frame of it that is seen.
export async function enterScene(layer = state.layers.find(shows)) {
  if (!layer) return;
  const from = { scene: state.scene.id, layer, frame: state.frame, name: state.scene.name };
  const { ok, answer } = await http(`${layerPath(from.scene, layer)}/within?frame=${state.frame}`);
  if (!ok) {
    say(answer.detail);
    return;
  }
  const walked = [...state.trail, from];
  showScene(answer.scene);
  walkTo(walked);
  if (answer.frame !== null) standAt(answer.frame);
  tellTrail();
  look();
}

// Back to the scene around, with the layer selected through which one came.
export function leaveScene(to = state.trail.length - 1) {
  const back = state.trail[to];
  if (!back) return;
  const rest = state.trail.slice(0, to);
  showScene(back.scene);
  walkTo(rest);
  choose({ layers: [back.layer] });
  tellTrail();
  look();
}

// Where one is: the scenes that lie around this one.
export function tellTrail() {
  crumbs.replaceChildren(
    ...state.trail.flatMap((step, n) => {
      const button = Object.assign(document.createElement("button"), {
        className: "crumb",
        textContent: step.name,
        title: `Back to ${step.name}`,
      });
      button.dataset.trail = n;
      return [button, Object.assign(document.createElement("i"), { textContent: "›" })];
    }),
  );
}

async function makeScene() {
  if (!state.layers.length) {
    say("Select the layers that are to become a scene of their own.");
    return;
  }
  const name = await ask({
    title: "Make a scene of these",
    about: "They move into a new scene, which is shown in their place. The picture stays as it is.",
    label: "Its name",
    // Of a scene that was entered just now nothing is known yet.
    value: state.info.get(state.layers[0])?.name || "",
    act: "Make it",
  });
  if (!name?.trim()) return;
  const layer_id = newId();
  const made = await commit({
    kind: "make_scene",
    scene: state.scene.id,
    layers: [...state.layers],
    name: name.trim(),
    id: newId(),
    layer_id,
  });
  if (made) {
    choose({ layers: [layer_id] });
    look();
  }
}

// The layer that shows a scene is what one goes on with: the list has done its work.
async function showHere(edit) {
  const id = newId();
  if (!(await commit({ ...edit, id }))) return;
  closeDrawer();
  choose({ layers: [id] });
  look();
}

listIn("scenes", {
  click(target) {
    const row = target.closest("[data-show]");
    if (row) showHere(JSON.parse(row.dataset.show));
  },
});

does("show-scene", () => toggleDrawer("scenes"), { on: () => isOpen("scenes") });
does("make-scene", makeScene, {
  can: () => state.layers.length > 0,
  refused: "Select the layers that are to become a scene of their own.",
});
does("enter-scene", () => enterScene(), {
  can: () => state.layers.some(shows),
  refused: "What is selected shows no scene.",
});
does("leave-scene", () => leaveScene(), {
  can: () => state.trail.length > 0,
  refused: "No scene lies around this one: it was not entered from another.",
});
does(
  "around-shown",
  () => {
    like("around", !liked.around);
    repaint();
  },
  { on: () => liked.around },
);

// -- What lies around ---------------------------------------------------------------------------------------------------

const seen = { asked: "", image: null, box: null };

async function askAround() {
  const step = state.trail.at(-1);
  const asked = step ? `${state.revision} ${state.frame} ${step.scene} ${step.layer}` : "";
  if (asked === seen.asked || state.playing || state.tentative) return;
  seen.asked = asked;
  if (!asked) {
    seen.image = null;
    return;
  }
  const answer = await fetch(`${layerPath(step.scene, step.layer)}/around?frame=${state.frame}&near=${step.frame}`);
  if (seen.asked !== asked || !answer.ok) return;
  const image = await createImageBitmap(await answer.blob());
  if (seen.asked !== asked) return;
  seen.image = image;
  seen.box = answer.headers.get("X-Box").split(" ").map(Number);
  repaint();
}

// Painted before the picture; answers whether there was anything.
export function paintAround(ctx) {
  if (!state.trail.length || !liked.around) return false;
  askAround();
  if (!seen.image || state.playing) return false;
  const before = ctx.globalAlpha;
  ctx.globalAlpha = 0.35;
  ctx.drawImage(seen.image, ...seen.box);
  ctx.globalAlpha = before;
  return true;
}

// -- Its clock -----------------------------------------------------------------------------------------------------------

const change = (fields) =>
  commit({ kind: "change_shown", scene: state.scene.id, layers: state.layers.filter(shows), ...fields });

const TYPED = {
  async begins(text) {
    const plain = text.trim();
    const before = /^[-−]/.test(plain);
    const found = await momentOf(plain.replace(/^[-−+]/, ""), true);
    return found && { begins: before ? -found.time : found.time };
  },
  rate(text) {
    const rate = typedNumber(text.replace("%", ""));
    if (Number.isFinite(rate)) return { rate: rate / 100 };
    say(`“${text.slice(0, 20)}” is no rate. Type 50, or -100 to run backwards.`);
    return null;
  },
  plays(text) {
    if (!text.trim()) return { for_ever: true };
    const plays = typedNumber(text);
    if (Number.isFinite(plays) && plays > 0) return { plays };
    say("How often it plays is a number above nought; empty is for ever.");
    return null;
  },
  goes_on: (value) => ({ goes_on: value }),
  ground: (_value, checked) => ({ ground: checked }),
};

export function wireScenes(paintAgain) {
  repaint = paintAgain;
  crumbs.addEventListener("click", ({ target }) => {
    const step = target.closest("[data-trail]");
    if (step) leaveScene(Number(step.dataset.trail));
  });
  figures.addEventListener("change", async ({ target }) => {
    const what = target.dataset.shown;
    if (!what) return;
    const fields = await TYPED[what](target.value, target.checked);
    if (!fields || !(await change(fields))) look({ fresh: true });
  });
  tellTrail();
}
