// One rule for every field of the workbench, wherever it stands: Enter keeps what was typed and gives the strokes back to
// the workbench, Escape puts back what stood there, Tab goes on. A choice made with the mouse gives them back at once.
// One rule for every dialog: Enter does what its main button says, and what cancels is no button of the form.
let byPointer = false;

const workbench = (field) => !field.closest("dialog, .text-editor");
const typedInto = (field) => field.matches("input:not([type=range], [type=checkbox], [type=color]), textarea");

function onKey(event) {
  const field = event.target;
  byPointer = false;
  if (!field.matches?.("input, textarea, select")) return;
  if (field.closest("dialog")) {
    // In words of several lines Shift makes a new line.
    if (event.key === "Enter" && !event.shiftKey && !event.isComposing && field.matches("textarea")) {
      event.preventDefault();
      field.form?.requestSubmit(field.form.querySelector(".sheet-end [value]:not([type=button])"));
    }
    return;
  }
  if (!workbench(field) || field.matches(".rename, #clock, #find")) return;
  if (event.key === "Enter" && !event.isComposing && !(field.matches("textarea") && event.shiftKey)) {
    event.preventDefault();
    field.blur();
  } else if (event.key === "Escape" && !event.defaultPrevented) {
    if (typedInto(field) && field.dataset.before !== undefined) field.value = field.dataset.before;
    field.blur();
  }
}

export function wireFields() {
  document.addEventListener("keydown", onKey);
  document.addEventListener("pointerdown", () => { byPointer = true; }, true);
  document.addEventListener("focusin", ({ target }) => { if (target.matches?.("input, textarea") && typedInto(target) && workbench(target)) target.dataset.before = target.value; });
  // A colour chosen, a line of a list taken, a slider let go: the hands are back at the workbench.
  document.addEventListener("change", ({ target }) => {
    if (workbench(target) && target.matches("select, [type=color], [type=checkbox], [type=range]") && byPointer) target.blur();
  });
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-close-dialog]");
    if (button) button.closest("dialog").close("");
  });
}
