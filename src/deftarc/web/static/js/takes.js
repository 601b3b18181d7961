// Takes: versions of a timing. One shows, another can be laid over it; they are switched also while it plays.
import { does } from "./actions.js";
import { isOpen, listIn, toggleDrawer } from "./drawer.js";
import { layTakeOver } from "./ghosts.js";
import { http } from "./http.js";
import { commit, look } from "./link.js";
import { hint, say } from "./notice.js";
import { receives } from "./receivers.js";
import { put } from "./renew.js";
import { repaint } from "./stage.js";
import { layOver, newId, state } from "./state.js";
import { grown, unpackCandidates } from "./table.js";
import { marked } from "./marked.js";

const chip = document.getElementById("takes");
let sets = [];
let drawingOf = (_layer) => null;
let fetched = "";

const first = () => sets[0];
const nameOf = (told, take) => told.takes.find((each) => each.id === take)?.name;

function take({ sets: told, over }) {
  sets = told;
  const one = first();
  put(chip, "hidden", !one);
  if (one) {
    const at = one.takes.findIndex((each) => each.id === one.shown);
    put(chip, "textContent", `${one.takes[at].name} · ${at + 1} of ${one.takes.length}${sets.length > 1 ? " …" : ""}`);
  }
  if (over) showOver();
  else if (fetched) takeAway();
}

// The ghost's table is fetched anew with each state of the document: what carries its layers may have changed.
async function showOver() {
  const { set, take: id } = state.ghost || {};
  if (!id) return;
  const asked = `${state.scene.id} ${state.revision} ${set} ${id}`;
  if (asked === fetched || state.tentative) return;
  fetched = asked;
  const path = `/api/projects/${state.project}/scenes/${state.scene.id}/takes/${set}/${id}`;
  const { ok, answer } = await http(path, { as: "bytes" });
  if (!ok || fetched !== asked) return;
  const [{ items, table }] = unpackCandidates(answer).candidates;
  for (const item of items) item.drawing = drawingOf(item.layer);
  layTakeOver(grown(items, table.roots));
  repaint();
}

function takeAway() {
  fetched = "";
  layTakeOver(null);
  repaint();
}

function lay(ghost) {
  layOver(ghost);
  if (!ghost) takeAway();
  look();
}

// The take that showed before is the one to compare with.
async function show(told, id) {
  const before = told.shown;
  const answer = await commit({ kind: "show_take", scene: state.scene.id, set: told.set, take: id });
  if (!answer) return;
  if (state.ghost?.set === told.set) lay({ set: told.set, take: before });
  hint(
    marked`<b>${nameOf(told, id) || "Take"}</b> shows · <kbd>Shift A</kbd> the next · <kbd>Shift D</kbd> lay another over`,
  );
}

async function begin() {
  const told = sets.find((each) => state.layers.some((id) => each.layers.includes(id)));
  const before = told?.shown;
  const edit = {
    kind: "new_take",
    scene: state.scene.id,
    layers: state.layers,
    id: newId(),
    set: newId(),
    first: newId(),
  };
  const answer = await commit(/** @type {any} */ (edit));
  if (answer && !before)
    say(
      "What shows now is kept as Take 1. Go on with this one, and compare: Shift A shows the next, Shift D lays it over.",
    );
}

function next() {
  const told = first();
  if (!told) {
    say("What is selected has one timing only. Begin another take: Shift N.");
    return;
  }
  const at = told.takes.findIndex((each) => each.id === told.shown);
  show(told, told.takes[(at + 1) % told.takes.length].id);
}

function toggleOver() {
  const told = first();
  if (state.ghost) lay(null);
  else if (!told) say("There is no other take to lay over this one. Begin one: Shift N.");
  else {
    const at = told.takes.findIndex((each) => each.id === told.shown);
    const other = told.takes[at - 1] || told.takes[at + 1];
    if (other) lay({ set: told.set, take: other.id });
  }
}

does("takes", () => toggleDrawer("takes"), { on: () => isOpen("takes") });
does("new-take", begin, { can: () => state.layers.length > 0, refused: "Select the layers that are to have takes." });
does("next-take", next);
does("take-ghost", toggleOver, { on: () => Boolean(state.ghost) });

const placeOf = (target) => target.closest("[data-take]")?.dataset;

export function wireTakes(find) {
  drawingOf = find;
  receives("takes", take);
  listIn("takes", {
    click(target) {
      const place = placeOf(target);
      if (!place || !target.closest("[data-lay-over]")) return;
      const laid = state.ghost?.set === place.set && state.ghost?.take === place.take;
      lay(laid ? null : { set: place.set, take: place.take });
    },
    typed(target) {
      const place = placeOf(target);
      if (place && target.matches("[data-take-name]"))
        commit({ kind: "rename_take", scene: state.scene.id, set: place.set, take: place.take, name: target.value });
    },
  });
}
