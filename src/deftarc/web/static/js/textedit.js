// Words edited in place, on the picture.
import { attempt, commit, putBack } from "./link.js";
import { hint, say } from "./notice.js";
import { cornersOf } from "./picking.js";
import { state } from "./state.js";
import { onStage } from "./view.js";
import { marked } from "./marked.js";

const stage = document.getElementById("stage");
let open = null;
let leftAt = null; // when Escape left the words, and whether they were changed
for (const kind of ["pointerdown", "keydown"])
  document.addEventListener(
    kind,
    (event) => {
      if (event.key !== "Escape") leftAt = null;
    },
    true,
  );

// A second Escape straight after the first drops the words that it kept.
export function dropWords(event, undo) {
  const left = leftAt;
  leftAt = null;
  if (!left?.changed || event.timeStamp - left.at > 3000) return false;
  undo();
  return true;
}

export function editText(id) {
  close(true);
  const corners = cornersOf(id);
  const words = document.getElementById("words");
  if (!corners || !words) {
    say("Select the text first, then edit its words.");
    return;
  }
  const field = document.createElement("textarea");
  field.className = "text-editor";
  field.value = words.value;
  field.maxLength = 2000;
  field.setAttribute("aria-label", "Words of the text");
  field.rows = Math.max(1, field.value.split("\n").length);
  stage.append(field);
  /** @returns {import("../../../../../types/models").Edit} */
  const edit = () => ({ kind: "change_artwork", scene: state.scene.id, layer: id, change: { text: field.value } });
  open = { id, field, before: field.value, edit };
  place();
  field.addEventListener("input", () => {
    field.rows = Math.max(1, field.value.split("\n").length);
    if (field.value.trim()) attempt(edit());
  });
  field.addEventListener("keydown", (event) => {
    event.stopPropagation();
    // The first Escape keeps the words and leaves; a second one at once drops what was typed.
    if (event.key === "Escape") {
      event.preventDefault();
      leftAt = { at: event.timeStamp, changed: field.value !== open.before && Boolean(field.value.trim()) };
      close(true);
    }
    if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      close(true);
    }
  });
  field.addEventListener("blur", () => close(true));
  field.focus();
  field.select();
  hint(
    marked`<b>Words</b> · the picture follows as you type · <kbd>Ctrl Enter</kbd> done · <kbd>Esc</kbd> done too, twice: as before`,
  );
}

// Under the text, and still under it when it grows.
function place() {
  const corners = open && cornersOf(open.id);
  if (!corners) return;
  const spots = corners.map((p) => onStage(p.x, p.y));
  const [left, top] = [Math.min(...spots.map((p) => p.x)), Math.max(...spots.map((p) => p.y)) + 8];
  open.field.style.left = `${Math.max(4, Math.min(stage.clientWidth - 260, left))}px`;
  open.field.style.top = `${Math.max(4, Math.min(stage.clientHeight - open.field.offsetHeight - 4, top))}px`;
}
document.addEventListener("deftarc:painted", place);

function close(keep) {
  if (!open) return;
  const { field, before, edit } = open;
  open = null;
  const changed = field.value !== before;
  const told = edit();
  field.remove();
  if (keep && changed && told.change.text.trim()) commit(told);
  else {
    putBack();
    if (keep && changed) say("A text layer needs at least one letter. Delete the layer if it should go.");
  }
}
