// A motion saved, or changed: its name, where it is kept, and which numbers it asks for.
import { http } from "./http.js";
import { commit, waitFor } from "./link.js";
import { say } from "./notice.js";
import { typedNumber } from "./numbers.js";
import { state, timeNow } from "./state.js";

const dialog = document.getElementById("motion-dialog");
const form = dialog.querySelector("form");
const rows = form.querySelector("tbody");
const sentence = form.querySelector(".sentence");
const field = (name) => /** @type {any} */ (form.elements.namedItem(name));
// What is in the dialog: the motion, the numbers it could ask for, and what it is instead of.
let told = null;

const cell = (child) => {
  const made = document.createElement("td");
  made.append(child);
  return made;
};
const shown = (value) => String(Math.round(value * 1e4) / 1e4);

function layRows() {
  rows.replaceChildren();
  told.dials.forEach((dial, n) => {
    const row = document.createElement("tr");
    row.dataset.dial = n;
    const on = Object.assign(document.createElement("input"), {
      type: "checkbox",
      name: `on${n}`,
      ariaLabel: "Ask for it",
      checked: Boolean(dial.on),
    });
    row.append(cell(on));
    for (const [name, value] of [
      ["label", dial.label],
      ["value", shown(dial.value)],
      ["low", shown(dial.low)],
      ["high", shown(dial.high)],
    ]) {
      const input = Object.assign(document.createElement("input"), {
        name: `${name}${n}`,
        value,
        className: "form-control",
        ariaLabel: `${name} of ${dial.label}`,
      });
      if (name === "value") input.readOnly = dial.kind !== "often";
      row.append(cell(input));
    }
    row.append(Object.assign(document.createElement("td"), { textContent: dial.unit }));
    rows.append(row);
  });
}

function open(title, where) {
  dialog.querySelector("h2").textContent = title;
  field("name").value = told.motion.name === "Motion" ? "" : told.motion.name;
  field("about").value = told.motion.about || "";
  field("where").value = where;
  field("where").disabled = Boolean(told.was);
  field("rest").value = told.motion.rest || "first";
  field("turns").value = told.motion.turns || "again";
  sentence.textContent = told.left.join(" ");
  layRows();
  dialog.returnValue = "";
  dialog.showModal();
  field("name").focus();
}

async function proposed(rest) {
  const json = { keys: state.keys, layers: state.layers, rest, time: timeNow() };
  const path = `/api/projects/${state.project}/scenes/${state.scene.id}/motion`;
  const { ok, answer } = await http(path, { method: "POST", json });
  if (!ok) say(answer.detail);
  return ok ? answer : null;
}

const withUnits = (answer) => answer.dials.map((dial, n) => ({ ...dial, unit: answer.units[n], on: n < 3 }));

export async function saveMotion(then) {
  const answer = await waitFor(() => proposed("first"));
  if (!answer) return;
  told = { motion: answer.motion, dials: withUnits(answer), left: answer.left_out, was: null, then };
  open("Save this motion", "project");
}

// One that is saved: what it asks for, and what it could.
export async function changeMotion(motion, where, then) {
  const { ok, answer } = await http("/api/motions/numbers", { method: "POST", json: { motion } });
  if (!ok) {
    say(answer.detail);
    return;
  }
  told = {
    motion,
    dials: answer.map((each) => ({ ...each.dial, unit: each.unit, on: each.on })),
    left: [],
    then,
    was: motion.name,
  };
  open("Change this motion", where);
}

// The dials that are asked for, as typed; null, and said why, where a number is none.
function dialsTold() {
  const out = [];
  for (const [n, dial] of told.dials.entries()) {
    if (!field(`on${n}`).checked) continue;
    const plain = { ...dial };
    delete plain.unit;
    delete plain.on;
    const [low, high] = ["low", "high"].map((name) => typedNumber(field(`${name}${n}`).value));
    const value = dial.kind === "often" ? typedNumber(field(`value${n}`).value) : dial.value;
    if (![low, high, value].every(Number.isFinite)) {
      sentence.textContent = `“${dial.label}” goes from one number to another.`;
      return null;
    }
    out.push({ ...plain, label: field(`label${n}`).value.trim() || dial.label, low, high, value });
  }
  return out;
}

// The motions that are kept in a project, for all of them, or that came along.
export async function keptIn(where) {
  const path = where === "project" ? `/api/projects/${state.project}/motions` : "/api/motions";
  const { ok, answer } = await http(path);
  if (!ok) return [];
  return where === "project" ? answer : answer[where];
}

// Whether another one would be lost by this; that is said once, and then it is meant.
async function wouldReplace(where, name) {
  if (name === told.was || told.meant === `${where} ${name}`) return false;
  if (!(await keptIn(where)).some((each) => each.name === name)) return false;
  told.meant = `${where} ${name}`;
  sentence.textContent = `There is a “${name}” already. Save it again to put this in its place, or call it otherwise.`;
  return true;
}

async function keep() {
  const dials = dialsTold();
  if (!dials) return;
  const name = field("name").value.trim();
  if (!name) {
    sentence.textContent = "Give it a name.";
    field("name").focus();
    return;
  }
  if (await wouldReplace(field("where").value, name)) return;
  const [rest, turns, about] = ["rest", "turns", "about"].map((each) => field(each).value);
  const motion = { ...told.motion, name, dials, rest, turns, about: about.trim() };
  const { was, then } = told;
  const fresh = told.meant !== `${field("where").value} ${name}`;
  if (field("where").value === "project") {
    const checked = await http("/api/motions/numbers", { method: "POST", json: { motion } });
    if (!checked.ok) {
      sentence.textContent = checked.answer.detail;
      return;
    }
    dialog.close();
    if (await commit({ kind: "keep_motion", motion, was, fresh })) say(`Saved: “${name}”, in this project.`);
    return;
  }
  const { ok, answer } = await http("/api/motions", { method: "POST", json: { motion, was, fresh } });
  if (!ok) {
    sentence.textContent = answer.detail;
    return;
  }
  dialog.close();
  say(`Saved: “${name}”, for all projects.`);
  then({ fresh: true });
}

export function wireSaveMotion() {
  form.addEventListener("submit", (event) => {
    if (event.submitter?.value !== "ok") return;
    event.preventDefault();
    keep();
  });
  // How far it goes is measured from where it rests: the numbers are told anew.
  field("rest").addEventListener("change", async () => {
    if (told.was) return;
    const answer = await proposed(field("rest").value);
    if (!answer) return;
    told = { ...told, motion: answer.motion, dials: withUnits(answer) };
    layRows();
  });
}
