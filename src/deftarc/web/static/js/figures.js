// The figures: type, drag or step a number; key a property; ease a segment; change artwork.
import { attempt, commit, look, putBack } from "./link.js";
import { hint, say } from "./notice.js";
import { state, timeNow } from "./state.js";
import { keyHere } from "./lanes.js";

const figures = document.getElementById("figures");
let drag = null;
let strength = null;

function read(text) {
  const told = text.trim().replace(/[−–]/g, "-").replace(/\s*(%|°|px)$/, "").replace(",", ".");
  const value = told === "" ? NaN : Number(told);
  if (!Number.isFinite(value)) { say(`“${text.trim().slice(0, 40)}” is no number. Type one like 120 or -4.5.`); return null; }
  return value;
}

const edit = (well, value) => ({
  kind: "set_value", scene: state.scene.id, layer: state.layers[0], property: well.dataset.property,
  component: Number(well.dataset.component), value: value / Number(well.dataset.factor), time: timeNow(), keying: state.keying,
});

async function typed(input) {
  const well = input.closest(".well");
  if (input.value === input.dataset.before) return;
  const value = read(input.value);
  if (value === null) { input.value = input.dataset.before; input.select(); return; }
  input.dataset.before = input.value;
  if (!(await commit(edit(well, value)))) input.value = input.dataset.before;
}

export function cancelNumberDrag() {
  if (strength) { strength = null; putBack(); return true; }
  if (!drag) return false;
  drag = null;
  putBack();
  hint("Put back.");
  return true;
}

const easeEdit = (ease, value) => ({ kind: "ease_keys", scene: state.scene.id, keys: state.keys, ease, strength: value });

export function wireFigures() {
  figures.addEventListener("focusin", (event) => {
    if (event.target.matches(".well input")) { event.target.dataset.before = event.target.value; event.target.select(); }
  });
  figures.addEventListener("focusout", (event) => { if (event.target.matches(".well input") && event.target.isConnected) typed(event.target); });
  figures.addEventListener("keydown", (event) => {
    if (!event.target.matches("input, textarea")) return;
    event.stopPropagation();
    const well = event.target.closest(".well");
    if (event.key === "Escape") {
      if (cancelNumberDrag()) return;
      if (well) event.target.value = event.target.dataset.before;
      event.target.blur();
    }
    if (!well) {
      if (event.key === "Enter" && !event.shiftKey && event.target.matches("textarea")) { event.preventDefault(); event.target.blur(); }
      return;
    }
    if (event.key === "Enter") { typed(event.target); event.target.select(); }
    if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      event.preventDefault();
      const value = read(event.target.value);
      if (value === null) return;
      const size = Number(well.dataset.step) * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
      const next = Number((value + (event.key === "ArrowUp" ? size : -size)).toFixed(4));
      event.target.value = event.target.dataset.before = String(next);
      commit(edit(well, next));
    }
  });
  figures.addEventListener("pointerdown", (event) => {
    const grip = event.target.closest(".grip");
    if (!grip || event.button !== 0) return;
    event.preventDefault();
    const well = grip.closest(".well");
    const value = read(well.querySelector("input").value);
    if (value === null) return;
    drag = { well: { dataset: { ...well.dataset } }, value, x: event.clientX, pointer: event.pointerId, edit: null };
    figures.setPointerCapture(event.pointerId);
  });
  figures.addEventListener("pointermove", (event) => {
    if (!drag || event.pointerId !== drag.pointer) return;
    const coarse = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
    drag.value += (event.clientX - drag.x) * Number(drag.well.dataset.step) * coarse;
    drag.x = event.clientX;
    drag.edit = edit(drag.well, Number(drag.value.toFixed(3)));
    hint("<b>Dragging a number</b> · <kbd>Shift</kbd> ten times as much · <kbd>Alt</kbd> a tenth · <kbd>Esc</kbd> put back");
    attempt(drag.edit);
  });
  figures.addEventListener("pointerup", () => {
    if (!drag) return;
    const done = drag;
    drag = null;
    if (done.edit) commit(done.edit);
  });
  figures.addEventListener("click", (event) => {
    const at = (name) => event.target.closest(`[data-${name}]`);
    if (at("key")) keyHere(at("key").dataset.key.split(" "));
    else if (at("ease")) commit(easeEdit(at("ease").dataset.ease, Number(figures.querySelector("[data-strength]:enabled")?.value ?? 50)));
    else if (at("link")) commit({ kind: "link_scale", scene: state.scene.id, layer: state.layers[0], link: at("link").dataset.link, time: timeNow() });
    else if (at("do")?.dataset.do === "key-all") keyHere();
    else if (at("do")?.dataset.do === "let-go") commit({ kind: "clear_loose", scene: state.scene.id, layers: state.layers });
  });
  figures.addEventListener("input", (event) => {
    if (event.target.matches("[data-strength]")) {
      const ease = figures.querySelector(".ease.on")?.dataset.ease;
      event.target.nextElementSibling.textContent = event.target.value;
      strength = easeEdit(ease, Number(event.target.value));
      attempt(strength);
    } else if (event.target.matches("input[data-art='fill']")) attempt(artEdit({ fill: event.target.value }));
  });
  figures.addEventListener("change", (event) => {
    if (event.target.matches("[data-strength]") && strength) { const done = strength; strength = null; commit(done); }
    else if (event.target.matches("input[data-art='fill']")) commit(artEdit({ fill: event.target.value }));
    else if (event.target.matches("textarea[data-art='text']")) {
      if (event.target.value.trim()) commit(artEdit({ text: event.target.value }));
      else { say("A text layer needs at least one letter. Delete the layer if it should go."); look({ fresh: true }); }
    }
  });
}

const artEdit = (change) => ({ kind: "change_artwork", scene: state.scene.id, layer: state.layers[0], change });
