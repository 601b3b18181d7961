// Adding layers: from the menu, by dropping files, with the next step shown in an empty scene.
import { bringIn, commit, look, settled } from "./link.js";
import { say } from "./notice.js";
import { state } from "./state.js";
import { toScene } from "./stage.js";

const chooser = document.getElementById("file");
const dialog = document.getElementById("text-dialog");
const stage = document.getElementById("stage");
const KNOWN = /\.(svg|png|jpe?g|webp)$/i;

async function added(answer, id, select) {
  if (!answer) return;
  select([id]);
  look();
  await settled();
}

async function addArtwork(name, artwork, select) {
  const id = Array.from(crypto.getRandomValues(new Uint8Array(5)), (n) => n.toString(16).padStart(2, "0")).join("");
  const answer = await commit({ kind: "add_layer", scene: state.scene.id, name, artwork, id });
  await added(answer, id, select);
}

async function addFiles(files, at, select) {
  for (const file of files) {
    if (!KNOWN.test(file.name)) { say(`${file.name} is no picture Deft Arc can read. It takes SVG, PNG, JPEG and WebP.`); continue; }
    const answer = await bringIn(file, at);
    if (answer) await added(answer, answer.layer, select);
  }
}

export function wireAdd(select) {
  document.addEventListener("click", (event) => {
    const what = event.target.closest("[data-add]")?.dataset.add;
    const side = Math.round(Math.min(state.scene.width, state.scene.height) * 0.3);
    if (what === "file") chooser.click();
    if (what === "text") { dialog.querySelector("textarea").value = ""; dialog.showModal(); dialog.querySelector("textarea").focus(); }
    if (what === "rectangle") addArtwork("Rectangle", { kind: "rectangle", width: Math.round(side * 1.5), height: side, fill: "#1f5c6b" }, select);
    if (what === "ellipse") addArtwork("Ellipse", { kind: "ellipse", width: side, height: side, fill: "#e2a21b" }, select);
  });
  chooser.addEventListener("change", async () => {
    const files = [...chooser.files];
    chooser.value = "";
    await addFiles(files, null, select);
  });
  dialog.addEventListener("close", () => {
    if (dialog.returnValue !== "add") return;
    const form = new FormData(dialog.querySelector("form"));
    const size = Number(String(form.get("size")).replace(",", "."));
    if (!Number.isFinite(size) || size <= 0) { say(`“${form.get("size")}” is no size. Type a number of px, like 120.`); dialog.showModal(); return; }
    const text = String(form.get("text")).replace(/\r\n/g, "\n");
    addArtwork(text.split("\n")[0].slice(0, 60).trim() || "Text", { kind: "text", text, font: form.get("font"), size, fill: form.get("fill") }, select);
  });
  stage.addEventListener("dragover", (event) => { event.preventDefault(); stage.classList.add("dropping"); });
  stage.addEventListener("dragleave", () => stage.classList.remove("dropping"));
  stage.addEventListener("drop", (event) => {
    event.preventDefault();
    stage.classList.remove("dropping");
    const files = [...event.dataTransfer.files];
    if (files.length) addFiles(files, toScene(event.clientX, event.clientY), select);
    else say("Drop a file here: SVG, PNG, JPEG or WebP.");
  });
  // A file dropped beside the stage must not replace the page.
  for (const name of ["dragover", "drop"]) addEventListener(name, (event) => event.preventDefault());
}
