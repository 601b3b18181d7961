// The library of saved motions in the drawer: each plays on the layers that are selected; one is tried on them in place.
import { does } from "./actions.js";
import { closeDrawer, isOpen, toggleDrawer } from "./drawer.js";
import { http } from "./http.js";
import { commit, look, step, waitFor } from "./link.js";
import { baseFor, dress, paintSmall } from "./moving.js";
import { hint, say } from "./notice.js";
import { bringInMotions } from "./uploads.js";
import { showMenu } from "./showmenu.js";
import { prepare } from "./drawings.js";
import { changeMotion, keptIn, saveMotion } from "./savemotion.js";
import { state, timeNow } from "./state.js";
import { unpackCandidates } from "./table.js";
import { tryInPlace, whenKept } from "./trial.js";
import { triesIn } from "./trylist.js";
import { marked } from "./marked.js";

const body = document.getElementById("drawer-body");
const MOST = 24;
// The pictures there are, by place and name, and what they were made for.
const pictures = new Map();
let made = "";
let asked = 0;
let playing = false;
let drawingOf = (_layer) => null;

const keyOf = (tile) => `${tile.dataset.where} ${tile.dataset.motion}`;
const tiles = () => [...body.querySelectorAll(".motion-tile")];
const inView = (tile) => {
  const [one, all] = [tile, body.parentElement].map((each) => each.getBoundingClientRect());
  return one.bottom > all.top && one.top < all.bottom;
};

// What the pictures hang on: other layers, another moment or another state of the project are other pictures.
const now = () => JSON.stringify([state.scene.id, state.layers, timeNow(), state.revision]);

async function ask() {
  const mine = now();
  if (mine !== made) {
    pictures.clear();
    made = mine;
  }
  const wanted = tiles()
    .filter((tile) => inView(tile) && !pictures.has(keyOf(tile)))
    .slice(0, MOST);
  if (!wanted.length) {
    show();
    return;
  }
  const turn = ++asked;
  const json = {
    scene: state.scene.id,
    layers: state.layers,
    time: timeNow(),
    motions: wanted.map((tile) => ({ where: tile.dataset.where, name: tile.dataset.motion })),
  };
  const path = `/api/projects/${state.project}/motion-pictures`;
  const { ok, answer } = await http(path, { method: "POST", json, as: "bytes" });
  if (turn !== asked || mine !== made || !isOpen("motions")) return;
  if (!ok) {
    say(answer.detail);
    return;
  }
  const head = unpackCandidates(answer);
  const pennant = prepare(head.pennant);
  dress(head.candidates, (id) => (id.startsWith("pennant") && !drawingOf(id) ? pennant : drawingOf(id)));
  for (const candidate of head.candidates) {
    const { rate, background } = head;
    if (candidate.items) candidate.base = baseFor([candidate.bounds], [300, 150]);
    pictures.set(`${candidate.where} ${candidate.name}`, { ...candidate, rate, background });
  }
  show();
}

// What is told of each picture; and, once, that they play.
function show() {
  for (const tile of tiles()) {
    const picture = pictures.get(keyOf(tile));
    if (!picture) continue;
    tile.classList.add("known");
    tile.classList.toggle("cannot", Boolean(picture.refused));
    const told = picture.refused || picture.missed;
    if (told) tile.querySelector("small").textContent = told;
  }
  if (!playing) {
    playing = true;
    requestAnimationFrame(tick);
  }
}

function tick(time) {
  if (!isOpen("motions")) {
    playing = false;
    return;
  }
  for (const tile of tiles()) {
    const picture = pictures.get(keyOf(tile));
    if (!picture?.tree || !inView(tile)) continue;
    const frame = Math.floor((time / 1000) * picture.rate) % picture.count;
    paintSmall(tile.querySelector("canvas").getContext("2d"), picture.background, picture.tree, frame, picture.base);
  }
  requestAnimationFrame(tick);
}

let wait = 0;
const askSoon = () => {
  clearTimeout(wait);
  wait = setTimeout(ask, 60);
};

// --- taken: tried on in place, with its numbers ---

function take(tile) {
  const picture = pictures.get(keyOf(tile));
  if (!state.layers.length) {
    say(`Select the layers that are to move as “${tile.dataset.motion}” does.`);
    return;
  }
  if (!picture) return;
  if (picture.refused) {
    say(picture.refused);
    return;
  }
  closeDrawer();
  tryInPlace(picture.edit);
  hint(
    marked`<b>Tried on what is selected</b> · its numbers below · <kbd>Space</kbd> play · <kbd>Enter</kbd> keep · <kbd>Esc</kbd> drop`,
  );
}

// --- what is done with one of them ---

const motionOf = async ({ where, motion }) => (await keptIn(where)).find((each) => each.name === motion);

// Copied to where it goes. Whether one of its name would be lost by it is looked at where it is kept: only there is
// what was asked for a moment ago, here or in another window, known to be done.
async function copy(from, keep) {
  const motion = await motionOf(from);
  if (motion) keep(motion);
}

// Answers whether it was done; what was refused is said.
async function asking(path, how) {
  const { ok, answer } = await http(path, how);
  if (!ok) say(answer.detail);
  look({ fresh: true });
  return ok ? answer : null;
}

function download(query) {
  const link = document.createElement("a");
  link.href = `/api/motions/file?${new URLSearchParams({ project: state.project, ...query })}`;
  link.download = "";
  link.click();
}

// Where they are kept is chosen first, the file last.
function takeIn(_told, button) {
  const box = button.getBoundingClientRect();
  showMenu(box.left, box.bottom + 2, [
    ["Import into this project…", () => takeInFile(true)],
    ["Import for all projects…", () => takeInFile(false)],
  ]);
}

const forAll = (file) => {
  const form = new FormData();
  form.append("file", file);
  return waitFor(() => asking("/api/motions/file", { method: "POST", form }));
};

function takeInFile(here) {
  const field = Object.assign(document.createElement("input"), { type: "file", accept: ".deftarc-motions,.json" });
  field.addEventListener("change", async () => {
    const [file] = field.files;
    const answer = await (here ? bringInMotions(file) : forAll(file));
    if (!answer) return;
    if (here) look({ fresh: true });
    const known = answer.known ? ` ${answer.known} ${answer.known > 1 ? "were" : "was"} here already.` : "";
    say(
      answer.names.length
        ? `Imported ${here ? "into this project" : "for all projects"}: ${answer.names.join(", ")}.${known}`
        : `Nothing new.${known}`,
    );
  });
  field.click();
}

const DO = {
  save: () => saveMotion(look),
  import: takeIn,
  "export-all": () => download({}),
  export: ({ where, motion }) => download({ where, name: motion }),
  change: async (told) => {
    const motion = await motionOf(told);
    if (motion) changeMotion(motion, told.where, look);
  },
  here: (told) => copy(told, (motion) => commit({ kind: "keep_motion", motion, fresh: true })),
  everywhere: (told) =>
    copy(told, (motion) => waitFor(() => asking("/api/motions", { method: "POST", json: { motion, fresh: true } }))),
  forget: ({ where, motion }) => {
    if (where === "project") commit({ kind: "forget_motion", name: motion });
    else waitFor(() => asking(`/api/motions/${encodeURIComponent(motion)}`, { method: "DELETE" }));
  },
};

// --- the one laid last, changed: it is taken back and tried again as it was told ---

let last = null;
whenKept("lay_motion", (edit) => {
  last = { edit, revision: state.revision, project: state.project };
});

async function changeLast() {
  const { edit } = last;
  await step("undo", () => {});
  if (state.scene.id !== edit.scene) return;
  tryInPlace(edit);
  hint(marked`<b>Tried again</b> · <kbd>Enter</kbd> keep it so · <kbd>Esc</kbd>, then <kbd>Ctrl Y</kbd>: as it was`);
}

does("motion-again", changeLast, {
  can: () => last !== null && last.revision === state.revision && last.project === state.project,
  refused: "There is no motion that was laid just now. Undo what came after it, or lay it again.",
});
does("motions", () => toggleDrawer("motions"), { on: () => isOpen("motions") });
does("save-motion", () => saveMotion(look), {
  can: () => state.keys.length > 0 || state.layers.length > 0,
  refused: "Select keys, or layers that move: that motion is what is saved.",
});

export function wireLibrary(find) {
  drawingOf = find;
  triesIn("motions", ".motion-tile", {
    editOf: (tile) => pictures.get(keyOf(tile))?.edit,
    take,
    shown: askSoon,
    click(target) {
      const button = target.closest("[data-library]");
      if (button) DO[button.dataset.library](button.closest("li")?.querySelector(".motion-tile").dataset, button);
    },
  });
  body.parentElement.addEventListener("scroll", () => isOpen("motions") && askSoon());
}
