// Adding layers: from the menu, by dropping files, by drawing, from the shelf; and where in time they go.
import { http } from "./http.js";
import { typedNumber } from "./numbers.js";
import { commit, look, momentOf, settled } from "./link.js";
import { bringIn, bringInFont } from "./uploads.js";
import { openShelf, refreshFonts } from "./dialogs.js";
import { lists } from "./lists.js";
import { say } from "./notice.js";
import { enterScene } from "./scenes.js";
import { newId, state, timeNow } from "./state.js";
import { toScene } from "./view.js";

const chooser = document.getElementById("file");
const fontChooser = document.getElementById("font-file");
const dialog = document.getElementById("text-dialog");
const stage = document.getElementById("stage");
// Whether a file is of a kind that a chooser takes, by its ending: those are the server's.
const takes = (where, file) => where.accept.split(",").some((ending) => file.name.toLowerCase().endsWith(ending));
let replacing = null;

// Where in time what is added goes, as chosen in the menu; null when its length is no time.
export async function placing() {
  const place = document.getElementById("place").value;
  if (place === "whole") return {};
  const told = document.getElementById("place-length").value.trim();
  const found = told ? await momentOf(told, true) : null;
  if (told && !found) return null;
  return {
    place,
    time: timeNow(),
    ...(found ? { length: found.time } : {}),
    ...(place === "overwrite" ? { among: state.layers } : {}),
  };
}

async function added(answer, id, select) {
  if (!answer) return;
  // An insert or an overwrite is meant once: what comes next shows for the whole scene again.
  document.getElementById("place").value = "whole";
  select([id]);
  look();
  await settled();
}

async function addArtwork(name, artwork, select) {
  const where = await placing();
  if (!where) return;
  const id = newId();
  await added(await commit({ kind: "add_layer", scene: state.scene.id, name, artwork, id, ...where }), id, select);
}

async function addFiles(files, at, select) {
  for (const file of files) {
    if (takes(fontChooser, file)) {
      await addFont(file);
      continue;
    }
    if (!takes(chooser, file)) {
      say(`${file.name} is no picture Deft Arc can read. It takes SVG, PNG, JPEG, WebP and Lottie.`);
      continue;
    }
    const where = replacing ? {} : await placing();
    if (!where) return;
    const { place, time, length } = where;
    const answer = await bringIn(file, {
      ...at,
      place,
      time,
      length,
      size: document.getElementById("come-in").value,
      replace: replacing,
    });
    if (answer) await added(answer, answer.layer, select);
    if (answer && state.info.get(answer.layer)?.shows)
      say(`${file.name} came in as a scene, which moves, grows and runs as one. Its layers and keys are inside.`, {
        label: "Work inside it",
        act: () => enterScene(answer.layer),
      });
    if (replacing) break;
  }
  replacing = null;
}

async function addFont(file) {
  const answer = await bringInFont(file);
  if (!answer) return;
  await refreshFonts(answer.font);
  say(`${answer.label} can be chosen for every text of this project now.`);
  look({ fresh: true });
}

export const chooseFont = () => fontChooser.click();

export function replaceArtwork() {
  [replacing] = state.layers;
  chooser.multiple = false;
  chooser.click();
}

async function addKept(index, select) {
  const { answer } = await http(`/api/projects/${state.project}/document`);
  const kept = answer.shelf?.[index];
  if (kept) addArtwork(kept.name, kept.artwork, select);
}

// Artwork of a kind that is good to begin with.
async function addFirst(kind, side, select) {
  const { ok, answer } = await http(`/api/artworks/${kind}?side=${side}`);
  if (ok) addArtwork(answer.name, answer.artwork, select);
}

export function addThing(what, select, selectTool) {
  const side = Math.round(Math.min(state.scene.width, state.scene.height) * 0.3);
  if (what === "file") {
    replacing = null;
    chooser.multiple = true;
    chooser.click();
  }
  if (what === "text") {
    dialog.querySelector("textarea").value = "";
    dialog.returnValue = "";
    dialog.showModal();
    dialog.querySelector("textarea").focus();
  }
  if (lists.artworks.some((each) => each.kind === what)) addFirst(what, side, select);
  if (what === "pen" || what === "line") selectTool(what);
  if (what === "shelf") openShelf((index) => addKept(index, select));
}

export function wireAdd(select, selectTool) {
  document.addEventListener("click", (event) => {
    const what = event.target.closest("[data-add]")?.dataset.add;
    if (what) addThing(what, select, selectTool);
  });
  // The choices in the menu are made without closing it.
  for (const row of document.querySelectorAll(".adding"))
    row.addEventListener("click", (event) => event.stopPropagation());
  chooser.addEventListener("change", async () => {
    const files = [...chooser.files];
    chooser.value = "";
    await addFiles(files, null, select);
  });
  fontChooser.addEventListener("change", async () => {
    const files = [...fontChooser.files];
    fontChooser.value = "";
    for (const file of files) await addFont(file);
  });
  dialog.addEventListener("close", () => {
    if (dialog.returnValue !== "add") return;
    const form = new FormData(dialog.querySelector("form"));
    const size = typedNumber(form.get("size"));
    if (!Number.isFinite(size) || size <= 0) {
      say(`“${form.get("size")}” is no size. Type a number of px, like 120.`);
      dialog.showModal();
      return;
    }
    const text = String(form.get("text")).replace(/\r\n/g, "\n");
    addArtwork(
      text.split("\n")[0].slice(0, 60).trim() || "Text",
      { kind: "text", text, font: form.get("font"), size, fill: form.get("fill") },
      select,
    );
  });
  stage.addEventListener("dragover", (event) => {
    event.preventDefault();
    stage.classList.add("dropping");
  });
  stage.addEventListener("dragleave", () => stage.classList.remove("dropping"));
  stage.addEventListener("drop", (event) => {
    event.preventDefault();
    stage.classList.remove("dropping");
    const files = [...event.dataTransfer.files];
    replacing = null;
    if (files.length) addFiles(files, toScene(event.clientX, event.clientY), select);
    else say("Drop a file here: SVG, PNG, JPEG, WebP or Lottie.");
  });
  // A file dropped beside the stage must not replace the page.
  for (const name of ["dragover", "drop"]) addEventListener(name, (event) => event.preventDefault());
}
