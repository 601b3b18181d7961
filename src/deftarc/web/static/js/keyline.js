// A lane's keys read and typed as one line, where the lane is: what is typed shows at once, a wrong word is told where it
// stands and changes nothing, Enter keeps.
import { does } from "./actions.js";
import { openLanes } from "./figures.js";
import { http } from "./http.js";
import { attempt, commit, look, putBack, settled, settledLooks, waitFor } from "./link.js";
import { hint, say } from "./notice.js";
import { pointedLane, state } from "./state.js";
import { marked } from "./marked.js";

const line = document.getElementById("key-line");
const area = document.getElementById("time-area");
const field = line.querySelector("input");
const [name, wrong, words] = [line.querySelector("span"), line.querySelector("i"), line.querySelector("p")];
let lane = null;
let before = "";
// What the last answer took no key from, as it was typed.
let misread = null;
// What was typed into a line that was left without keeping it, by lane.
const left = new Map();

const nameOf = ({ layer, property }) => `${layer} ${property}`;
const edit = () => ({ kind: /** @type {const} */ ("type_keys"), scene: state.scene.id, ...lane, text: field.value });

async function read(asked) {
  const path = `/api/projects/${state.project}/scenes/${state.scene.id}/layers/${asked.layer}/keys/${asked.property}`;
  const { ok, answer } = await http(path);
  if (ok) return answer;
  say(answer.detail);
  return null;
}

const rowOf = ({ layer, property }) => document.getElementById(`lane-${layer}-${property}`);

// Beneath the lane's row, where that is in view; else at the top of the list.
function place() {
  const row = rowOf(lane);
  const list = document.getElementById("lanes-scroll").getBoundingClientRect();
  const at = row ? row.getBoundingClientRect().bottom : list.top;
  const top = Math.min(Math.max(at, list.top), list.bottom - 62) - area.getBoundingClientRect().top;
  line.style.top = `${top}px`;
}

export async function typeKeys(asked) {
  if (!asked) {
    say("Select a layer, and a curve of it in the pair, whose keys are to be typed.");
    return;
  }
  const answer = await waitFor(() => read(asked));
  if (!answer) return;
  if (!rowOf(asked) && asked.layer === state.layers[0]) openLanes([asked.property]);
  await settled();
  lane = asked;
  before = answer.text;
  const typed = left.get(nameOf(lane));
  field.value = typed ?? before;
  name.textContent = `${state.info.get(lane.layer)?.name}, ${answer.name}`;
  line.hidden = false;
  place();
  showWrong(null);
  if (typed !== undefined) attempt(edit());
  field.focus();
  field.select();
  hint(
    typed === undefined
      ? marked`<b>Keys as text</b> · a time, a value, how it goes on · <kbd>;</kbd> between keys · <kbd>Enter</kbd> keep · <kbd>Esc</kbd> put back`
      : marked`<b>What was typed last is here again</b> · <kbd>Enter</kbd> keep · <kbd>Esc</kbd> leaves the keys as they are, for good`,
  );
}

// Where a word is wrong it is underlined, and told why.
function showWrong(head) {
  const at = head?.misread;
  misread = head && { text: field.value, at };
  field.setAttribute("aria-invalid", String(Boolean(head)));
  words.textContent = head
    ? head.refused
    : "0f 100% slow ends · 50f 60% · 100f 100%   (straight, slow start, slow stop, slow ends 70, overshoot, wind-up, hold, steps 4)";
  line.classList.toggle("misread", Boolean(head));
  wrong.hidden = !at;
  if (!at) return;
  const box = field.getBoundingClientRect();
  const left = box.left - line.getBoundingClientRect().left - line.clientLeft + 8 - field.scrollLeft;
  wrong.style.left = `calc(${left}px + ${at[0]} * 1ch)`;
  wrong.style.width = `calc(${Math.max(1, at[1] - at[0])} * 1ch)`;
}

export function showMisread(head, edit) {
  if (!lane || edit?.kind !== "type_keys") return false;
  // About what is typed by now, or else the next answer is.
  if (edit.text === field.value) showWrong(head);
  return true;
}

function close() {
  lane = null;
  line.hidden = true;
}

// Keeps what is typed, once what was typed last is answered; or says why it cannot be.
async function keep() {
  if (field.value === before) {
    left.delete(nameOf(lane));
    drop("Nothing was changed.");
    return;
  }
  const { text } = edit();
  await settledLooks();
  if (!lane || field.value !== text) return;
  if (misread?.text === text) {
    if (misread.at) field.setSelectionRange(...misread.at);
    hint(marked`<b>Not kept</b> · ${words.textContent}`);
    return;
  }
  const told = edit();
  const kept = lane;
  close();
  field.blur();
  left.set(nameOf(kept), told.text);
  if (await commit(told)) left.delete(nameOf(kept));
  else look({ fresh: true });
}

function drop(sentence, forget = false) {
  if (!lane) return;
  if (field.value === before || (forget && left.get(nameOf(lane)) === field.value)) left.delete(nameOf(lane));
  else left.set(nameOf(lane), field.value);
  close();
  field.blur();
  putBack();
  hint(sentence);
}

does("type-keys", () => typeKeys(pointedLane()), {
  can: () => Boolean(pointedLane()),
  refused: "Select a layer, and a curve of it in the pair, whose keys are to be typed.",
});
does("type-keys-property", async (at) => {
  if (!at?.properties?.length) return;
  openLanes(at.properties.slice(0, 1));
  await typeKeys({ layer: state.layers[0], property: at.properties[0] });
});

export function wireKeyLine() {
  field.addEventListener("input", () => {
    if (!lane) return;
    showWrong(null);
    attempt(edit());
  });
  field.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.key === "Enter") keep();
    else if (event.key === "Escape")
      drop(marked`Put back. <kbd>Shift</kbd> <kbd>K</kbd> brings back what was typed.`, true);
  });
  field.addEventListener("scroll", () => wrong.classList.toggle("away", field.scrollLeft > 0));
  field.addEventListener("blur", () =>
    drop(
      marked`What was typed was not taken: <kbd>Enter</kbd> keeps it. It is here again when the line is opened again.`,
    ),
  );
}
