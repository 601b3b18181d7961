// A lane's keys read and typed as one line, where the lane is: what is typed shows at once, a wrong word is told where it
// stands and changes nothing, Enter keeps.
import { does } from "./actions.js";
import { openLanes } from "./figures.js";
import { http } from "./http.js";
import { attempt, commit, look, putBack, settled, waitFor } from "./link.js";
import { hint, say } from "./notice.js";
import { state } from "./state.js";
import { marked } from "./marked.js";

const line = document.getElementById("key-line");
const area = document.getElementById("time-area");
const field = line.querySelector("input");
const [name, wrong, words] = [line.querySelector("span"), line.querySelector("i"), line.querySelector("p")];
let lane = null;
let before = "";

const edit = () => ({ kind: /** @type {const} */ ("type_keys"), scene: state.scene.id, ...lane, text: field.value });

async function read(asked) {
  const path = `/api/projects/${state.project}/scenes/${state.scene.id}/layers/${asked.layer}/keys/${asked.property}`;
  const { ok, answer } = await http(path);
  if (ok) return answer;
  say(answer.detail);
  return null;
}

// Beneath the lane's row, where that is in view; else at the top of the list.
function place() {
  const row = document.getElementById(`lane-${lane.layer}-${lane.property}`);
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
  await settled();
  lane = asked;
  before = field.value = answer.text;
  const label = document.querySelector(`#lane-${lane.layer}-${lane.property} .lane-name`)?.textContent;
  name.textContent = `${state.info.get(lane.layer)?.name}, ${label || lane.property}`;
  line.hidden = false;
  place();
  showWrong(null);
  field.focus();
  field.select();
  hint(
    marked`<b>Keys as text</b> · a time, a value, how it goes on · <kbd>;</kbd> between keys · <kbd>Enter</kbd> keep · <kbd>Esc</kbd> put back`,
  );
}

// Where a word is wrong it is underlined, and told why.
function showWrong(head) {
  const at = head?.misread;
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

export function showMisread(head) {
  if (!lane) return false;
  showWrong(head);
  return true;
}

function close() {
  lane = null;
  line.hidden = true;
}

async function keep() {
  if (field.value === before) {
    drop("Nothing was changed.");
    return;
  }
  const told = edit();
  if (line.classList.contains("misread")) return;
  close();
  field.blur();
  if (!(await commit(told))) look({ fresh: true });
}

function drop(sentence) {
  if (!lane) return;
  close();
  field.blur();
  putBack();
  hint(sentence);
}

const open = () => state.pair || state.focus;
does("type-keys", () => typeKeys(open() && { layer: open().layer, property: open().property }), {
  can: () => Boolean(open()),
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
    else if (event.key === "Escape") drop("Put back.");
  });
  field.addEventListener("scroll", () => wrong.classList.toggle("away", field.scrollLeft > 0));
  field.addEventListener("blur", () => drop(marked`What was typed was not taken: <kbd>Enter</kbd> keeps it.`));
}
