// One rule for every field of the workbench, wherever it stands: Enter keeps what was typed and gives the strokes back to
// the workbench, Escape puts back what stood there, Tab goes on. A choice made with the mouse gives them back at once.
// One rule for every dialog: Enter does what its main button says, and what cancels is no button of the form.
// A number that is typed is kept by its own Enter or Tab, and by nothing else: not by what another window does, which
// draws the figures anew, and not by a hand that goes elsewhere.
import { hint } from "./notice.js";
import { marked } from "./marked.js";

let byPointer = false;
let meant = null; // the field in which Enter or Tab was struck
let drawing = false; // whether the page is being drawn anew: what leaves it then leaves it by no one's hand

// Draws the page anew. A field that goes with what is drawn has not been left.
export function whileDrawing(call) {
  drawing = true;
  try {
    call();
  } finally {
    drawing = false;
  }
}

const workbench = (field) => !field.closest("dialog, .text-editor");
const typedInto = (field) => field.matches("input:not([type=range], [type=checkbox], [type=color]), textarea");

// A number or word of the document's, in a field of the workbench.
const ofDocument = (field) => field.matches?.("input[data-id]") && typedInto(field) && workbench(field);

function left(event) {
  const field = event.target;
  if (!ofDocument(field)) return;
  const was = field.dataset.before;
  if (drawing || field !== meant) event.stopImmediatePropagation();
  if (drawing) return;
  if (field === meant) {
    meant = null;
    if (field.value !== was && !field.closest(".well")) field.dispatchEvent(new Event("change", { bubbles: true }));
  } else if (was !== undefined && field.value !== was) {
    hint(marked`<b>${field.value}</b> was not taken: <kbd>Enter</kbd> or <kbd>Tab</kbd> keeps what is typed.`);
    field.value = was;
  }
}

// Enter that ends what is typed; in words of several lines Shift makes a new line.
const ends = (event, field) =>
  event.key === "Enter" && !event.isComposing && !(field.matches("textarea") && event.shiftKey);

function onKey(event) {
  const field = event.target;
  byPointer = false;
  if ((event.key === "Tab" || (event.key === "Enter" && !event.isComposing)) && ofDocument(field)) meant = field;
  if (!field.matches?.("input, textarea, select")) return;
  if (field.closest("dialog")) {
    if (ends(event, field) && field.matches("textarea")) {
      event.preventDefault();
      field.form?.requestSubmit(field.form.querySelector(".sheet-end [value]:not([type=button])"));
    }
    return;
  }
  if (workbench(field) && !field.matches(".rename, #clock, #find")) leave(event, field);
}

// Enter keeps what was typed, Escape puts back what stood there.
function leave(event, field) {
  if (ends(event, field)) {
    event.preventDefault();
    field.blur();
  } else if (event.key === "Escape" && !event.defaultPrevented) {
    if (typedInto(field) && field.dataset.before !== undefined) field.value = field.dataset.before;
    field.blur();
  }
}

export function wireFields() {
  // Before anyone else hears of it: the browser says that a field changed also when it is only taken away.
  window.addEventListener(
    "change",
    (event) => {
      if (event.isTrusted && ofDocument(event.target)) event.stopImmediatePropagation();
    },
    true,
  );
  window.addEventListener("focusout", left, true);
  window.addEventListener(
    "focusin",
    () => {
      meant = null;
    },
    true,
  );
  document.addEventListener("keydown", onKey);
  document.addEventListener(
    "pointerdown",
    () => {
      byPointer = true;
    },
    true,
  );
  document.addEventListener("focusin", ({ target }) => {
    if (target.matches?.("input, textarea") && typedInto(target) && workbench(target))
      target.dataset.before = target.value;
  });
  // A colour chosen, a line of a list taken, a slider let go: the hands are back at the workbench.
  document.addEventListener("change", ({ target }) => {
    if (workbench(target) && target.matches("select, [type=color], [type=checkbox], [type=range]") && byPointer)
      target.blur();
  });
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-close-dialog]");
    if (button) button.closest("dialog").close("");
  });
}
