// Eases: chosen, strengthened live, laid on one side or a run as one; one's own; settles and bounces; CSS text.
import { http } from "./http.js";
import { typedNumber } from "./numbers.js";
import { setJoint } from "./shape.js";
import { attempt, commit, look, putBack, waitFor } from "./link.js";
import { ask, say } from "./notice.js";
import { showMenu } from "./showmenu.js";
import { mark } from "./renew.js";
import { pointedLane, state, timeNow } from "./state.js";
import { oneWith, unitOf } from "./withdata.js";

const figures = document.getElementById("figures");
const scene = () => state.scene.id;
// What an ease is set on: the whole segment or one side, each segment or the run as one. Asked anew by no one.
const how = { on: "both", asOne: false };
let strength = null;

const withKeys = (edit) => ({ scene: scene(), keys: state.keys, ...edit });
const needKeys = () =>
  state.keys.length > 0 || (say("Select keys first: click a bead, or a segment in the pair."), false);
const easeEdit = (ease, value) => withKeys({ kind: "ease_keys", ease, strength: value, on: how.on, as_one: how.asOne });
const chosenEase = () => figures.querySelector(".ease.on[data-ease]")?.dataset.ease;

export function showHow() {
  for (const chip of figures.querySelectorAll("[data-ease-on]"))
    mark(chip, "aria-pressed", chip.dataset.easeOn === how.on);
  figures.querySelector("[data-ease-as-one]")?.setAttribute("aria-pressed", String(how.asOne));
}

export function cancelStrength() {
  if (!strength) return false;
  strength = null;
  putBack();
  return true;
}

function sortedKeys() {
  return [...state.keys].sort((a, b) => a.time - b.time);
}

async function post(path, body, method = "POST") {
  const { ok, answer } = await http(path, { method, json: body || undefined });
  if (!ok) {
    say(answer.detail);
    return null;
  }
  return answer;
}

export async function copyEase() {
  if (!needKeys()) return;
  const told = await post(`/api/projects/${state.project}/ease-text`, { scene: scene(), keys: sortedKeys() });
  if (!told) return;
  try {
    await navigator.clipboard.writeText(told.text);
    say(`Copied: ${told.text.length > 90 ? `${told.text.slice(0, 90)}…` : told.text}`);
  } catch {
    await ask({
      title: "The ease as CSS",
      about: "Copy it from here: the browser keeps its clipboard to itself.",
      label: "CSS",
      value: told.text,
      act: "Done",
    });
  }
}

export async function pasteEase() {
  if (!needKeys()) return;
  let value = "";
  try {
    value = (await navigator.clipboard.readText()).trim().slice(0, 2000);
  } catch {
    /* not allowed: typed instead */
  }
  if (!/^(cubic-bezier|linear|steps|ease|step-)/.test(value)) value = "cubic-bezier(0.3, 0, 0.1, 1)";
  const text = await ask({
    title: "Lay an ease",
    about: "A CSS easing function: cubic-bezier(), linear(), steps() or a keyword.",
    label: "CSS",
    value,
    act: "Lay it",
    long: true,
  });
  if (text) commit(withKeys({ kind: "lay_ease", text }));
}

export async function keepEase(everywhere = false) {
  if (!needKeys()) return;
  const name = await ask({
    title: everywhere ? "Keep this ease for all projects" : "Keep this ease in the project",
    about: "The shape between the selected keys, without its size. One of the same name is replaced.",
    label: "Name",
    value: "",
    act: "Keep it",
  });
  if (!name?.trim()) return;
  if (everywhere) {
    waitFor(() => post("/api/eases", { name, project: state.project, scene: scene(), keys: sortedKeys() }));
  } else commit({ kind: "keep_ease", name, scene: scene(), keys: sortedKeys() });
}

function forget(tile) {
  const { name, kept } = tile.dataset;
  if (kept === "project") commit({ kind: "forget_ease", name });
  else waitFor(() => post(`/api/eases/${encodeURIComponent(name)}`, null, "DELETE"));
}

// Between two selected keys, else at the playhead on the lane in focus; how it is made is typed afterwards too.
export async function craft(kind, told = null) {
  const word = kind === "settle" ? "Settle" : "Bounce";
  if (told) {
    atPlayhead(kind, told);
    return;
  }
  if (state.keys.length >= 2 || figures.querySelector(".segment")) {
    const between = state.keys.length === 1 ? await whichWay(word) : true;
    if (between === null) return;
    if (between) {
      commit(withKeys({ kind: "make_craft", craft: { kind } }));
      return;
    }
  }
  const lane = pointedLane();
  if (!lane) {
    say(`Select two keys to ${kind} between, or right click a property to ${kind} at the playhead.`);
    return;
  }
  atPlayhead(kind, lane);
}

async function atPlayhead(kind, lane) {
  const word = kind === "settle" ? "Settle" : "Bounce";
  const unit = unitOf(lane.property);
  const told = await ask({
    title: `${word} at the playhead`,
    about:
      kind === "settle"
        ? "How far the first swing goes, from the value it has there and back to it."
        : "How far it drops from where it is; it bounces there until it lies still.",
    label: unit ? `In ${unit}` : "How far",
    value: kind === "settle" ? "20" : "300",
    act: word,
  });
  if (told === null) return;
  commit({
    kind: "make_craft",
    scene: scene(),
    layer: lane.layer,
    property: lane.property,
    time: timeNow(),
    told,
    craft: { kind, between: false },
  });
}

function whichWay(word) {
  return new Promise((done) => {
    const box = oneWith(figures, "[data-craft]", { craft: word.toLowerCase() })?.getBoundingClientRect() || {
      left: innerWidth / 2,
      top: innerHeight / 2,
    };
    showMenu(box.left, box.top, [
      [`${word} on the way between the two keys`, () => done(true)],
      [`${word} at the playhead, from the value there`, () => done(false)],
    ]);
  });
}

function typedAutomatic() {
  const read = (name) => oneWith(figures, "[data-auto]", { auto: name });
  const automatic = { free: read("free").checked };
  for (const name of ["tension", "continuity", "bias"]) {
    const n = typedNumber(read(name).value);
    if (!Number.isFinite(n) || Math.abs(n) > 100) {
      say(`${name[0].toUpperCase()}${name.slice(1)} lies between −100 and 100.`);
      look({ fresh: true });
      return;
    }
    automatic[name] = n / 100;
  }
  setJoint("automatic", automatic);
}

async function changed(field) {
  if (field.matches("[data-strength]")) {
    if (strength) {
      const done = strength;
      strength = null;
      commit(done);
    }
    return true;
  }
  if (field.matches("[data-side-speed]")) {
    if (!(await commit(withKeys({ kind: "type_side", side: field.dataset.sideSpeed, speed: field.value }))))
      look({ fresh: true });
    return true;
  }
  if (field.matches("[data-side-reach]")) {
    if (!(await commit(withKeys({ kind: "type_side", side: field.dataset.sideReach, reach: field.value }))))
      look({ fresh: true });
    return true;
  }
  if (field.matches("[data-auto]")) {
    typedAutomatic();
    return true;
  }
  if (field.matches("[data-steps], [data-jump]")) {
    const count = Number(figures.querySelector("[data-steps]").value);
    if (
      !(await commit(
        withKeys({
          kind: "ease_keys",
          ease: "steps",
          steps: { count, jump: figures.querySelector("[data-jump]").value },
        }),
      ))
    )
      look({ fresh: true });
    return true;
  }
  if (field.matches("[data-craft-number]")) {
    if (!(await commit(withKeys({ kind: "type_craft", field: field.dataset.craftNumber, told: field.value }))))
      look({ fresh: true });
    return true;
  }
  return false;
}

function clicked(event) {
  const on = (name) => event.target.closest(`[data-${name}]`);
  if (on("ease-on")) {
    how.on = on("ease-on").dataset.easeOn;
    showHow();
  } else if (on("ease-as-one")) {
    how.asOne = !how.asOne;
    showHow();
  } else if (on("own-ease"))
    commit(
      withKeys({
        kind: "lay_ease",
        knots: JSON.parse(on("own-ease").dataset.ownEase),
        title: on("own-ease").dataset.name,
      }),
    );
  else if (on("ease"))
    commit(easeEdit(on("ease").dataset.ease, Number(figures.querySelector("[data-strength]:enabled")?.value ?? 50)));
  else if (on("craft")) craft(on("craft").dataset.craft);
  else if (on("joint")) setJoint(on("joint").dataset.joint);
  else if (on("harmless"))
    commit(withKeys({ kind: "type_side", side: on("harmless").dataset.harmless, reach: on("harmless").dataset.reach }));
}

export function wireEasing() {
  figures.addEventListener("click", clicked);
  figures.addEventListener("change", (event) => {
    changed(event.target);
  });
  figures.addEventListener("input", (event) => {
    if (!event.target.matches("[data-strength]")) return;
    event.target.nextElementSibling.textContent = event.target.value;
    strength = easeEdit(chosenEase(), Number(event.target.value));
    attempt(strength);
  });
  figures.addEventListener(
    "contextmenu",
    (event) => {
      const tile = event.target.closest("[data-own-ease]");
      if (!tile) return;
      event.preventDefault();
      event.stopPropagation();
      showMenu(event.clientX, event.clientY, [
        [`Lay ${tile.dataset.name}`, () => tile.click()],
        [`Forget ${tile.dataset.name}`, () => forget(tile)],
      ]);
    },
    true,
  );
}
