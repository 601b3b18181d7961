// Dialogs whose contents the server makes anew each time: scene settings, a new scene, the shelf.
import { http } from "./http.js";
import { typedNumber } from "./numbers.js";
import { commit, request } from "./link.js";
import { say } from "./notice.js";
import { knowRevision, newId, state } from "./state.js";

const dialog = document.getElementById("part-dialog");

// A piece of the page as it is now.
const part = (name) => http(`/projects/${state.project}/parts/${name}?scene=${state.scene.id}`, { as: "text" });

async function open(name) {
  const { ok, answer } = await part(name);
  if (!ok) {
    say("The server did not answer. Try again.");
    return false;
  }
  dialog.innerHTML = answer;
  dialog.returnValue = "";
  dialog.showModal();
  return true;
}

function sizes(form) {
  const preset = form.elements.preset;
  preset.addEventListener("change", () => {
    const chosen = preset.selectedOptions[0];
    if (chosen.dataset.width) {
      form.elements.width.value = chosen.dataset.width;
      form.elements.height.value = chosen.dataset.height;
    }
  });
  for (const side of ["width", "height"])
    form.elements[side].addEventListener("input", () => {
      preset.value = "free";
    });
}

function told(form) {
  const value = (name) => form.elements.namedItem(name).value;
  const whole = (name) => (/^\d+$/.test(value(name).trim()) ? Number(value(name)) : NaN);
  return {
    name: value("name"),
    preset: "free",
    width: whole("width"),
    height: whole("height"),
    rate: value("rate"),
    length: value("length"),
    background: form.elements.transparent.checked ? "none" : value("background"),
  };
}

// Sends what was typed; a refusal stays in the dialog, with everything that was typed.
async function send(form, path, method, body, then) {
  if (!(body.width > 0 && body.height > 0)) {
    form.querySelector(".sentence").textContent = "Width and height are whole numbers of px, like 1080.";
    return;
  }
  const { ok, answer } = await http(`/api/projects/${state.project}${path}`, { method, json: body });
  if (!ok) {
    form.querySelector(".sentence").textContent = answer.detail;
    return;
  }
  dialog.close();
  then(answer);
}

function whenSent(form, act) {
  form.addEventListener("submit", (event) => {
    if (event.submitter?.value !== "ok") return;
    event.preventDefault();
    act();
  });
}

export async function sceneSettings(relook) {
  if (!(await open("scene"))) return;
  const form = dialog.querySelector("form");
  sizes(form);
  whenSent(form, () => {
    const grid = typedNumber(form.elements.grid.value);
    send(
      form,
      `/scenes/${state.scene.id}`,
      "PUT",
      {
        ...told(form),
        revision: state.revision,
        fit: form.elements.fit.value,
        stretch: form.elements.stretch.checked,
        grid: Number.isFinite(grid) ? grid : 0,
      },
      (answer) => {
        knowRevision(answer.revision);
        relook();
      },
    );
  });
}

export async function newScene() {
  if (!(await open("new-scene"))) return;
  const form = dialog.querySelector("form");
  sizes(form);
  whenSent(form, () => send(form, "/scenes", "POST", told(form), (answer) => goToScene(answer.id)));
}

const goToScene = (id) => document.dispatchEvent(new CustomEvent("deftarc:scene", { detail: id }));

export async function duplicateScene() {
  const id = newId();
  if (await commit({ kind: "duplicate_scene", scene: state.scene.id, id })) goToScene(id);
}

export async function deleteScene() {
  const others = [...document.getElementById("scene").options]
    .map((option) => option.value)
    .filter((id) => id !== state.scene.id);
  if (await commit({ kind: "delete_scene", scene: state.scene.id })) goToScene(others[0]);
}

export async function openShelf(addKept) {
  if (!(await open("shelf"))) return;
  dialog.addEventListener(
    "click",
    (event) => {
      const kept = event.target.closest("[data-shelf]");
      const forget = event.target.closest("[data-forget]");
      if (kept) {
        dialog.close();
        addKept(Number(kept.dataset.shelf));
      }
      if (forget) {
        dialog.close();
        commit({ kind: "forget_shelf", index: Number(forget.dataset.forget) }).then(() => openShelf(addKept));
      }
    },
    { once: true },
  );
}

// The list of scenes in the bar, as it is now.
export async function refreshScenes() {
  const { ok, answer } = await part("scenes");
  if (ok) document.getElementById("scene").innerHTML = answer;
}

export async function refreshFonts(chosen) {
  const { ok, answer } = await part("fonts");
  if (!ok) return;
  const list = document.getElementById("text-font");
  list.innerHTML = answer;
  if (chosen) list.value = chosen;
}

export const takeBack = () => request(`/scenes/${state.scene.id}/take-back`, { since: state.keyingSince });
