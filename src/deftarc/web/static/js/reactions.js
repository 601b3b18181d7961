// Reactions: pulses at what a motion does, chosen in the drawer, changed in the figures.
import { does } from "./actions.js";
import { closeDrawer, isOpen, toggleDrawer } from "./drawer.js";
import { commit, look } from "./link.js";
import { say } from "./notice.js";
import { boundsAt } from "./shapes.js";
import { frameOf, shownItem } from "./picking.js";
import { showRelations } from "./relations.js";
import { focusOn, state, timeNow } from "./state.js";
import { triesIn, withEdits } from "./trylist.js";

const figures = document.getElementById("figures");
const info = (id) => state.info.get(id);
const aLayer = () => state.layers.length > 0;

const lanesThat = (properties) =>
  state.layers.flatMap((layer) =>
    (info(layer)?.answers || [])
      .filter((property) => !properties || properties.includes(property))
      .map((property) => ({ layer, property })),
  );
const meant = (at) => lanesThat(at?.properties?.length ? at.properties : null);

function choose(property = null) {
  if (!aLayer()) {
    say("Select the layer that is to answer a motion.");
    return;
  }
  if (property) focusOn({ layer: state.layers[0], property });
  if (!isOpen("react")) toggleDrawer("react");
  else look();
}

const end = (keys) => (at) => commit({ kind: "end_reactions", scene: state.scene.id, lanes: meant(at), keys });
const answers = { can: (at) => meant(at).length > 0, refused: "What is selected answers no motion." };

does("react", (at) => (isOpen("react") && !at ? closeDrawer() : choose(at?.properties?.[0])), {
  can: aLayer,
  on: () => isOpen("react"),
  refused: "Select the layer that is to answer a motion.",
});
does(
  "squash",
  async () => {
    const items = state.layers.map(shownItem);
    // The side that hits is that of the box it is drawn in; what is not drawn keeps its pivot.
    const boxes = items.every((item) => item?.drawing) ? items.map((item) => boundsAt(item, frameOf(item))) : [];
    if (
      await commit({ kind: "squash_at_contacts", scene: state.scene.id, layers: state.layers, boxes, time: timeNow() })
    )
      showRelations();
  },
  { can: aLayer },
);
does("reactions-keys", end(true), answers);
does("end-reactions", end(false), answers);

const change = (property, fields) =>
  commit({ kind: "change_reactions", scene: state.scene.id, lanes: lanesThat([property]), ...fields });

const DO = {
  sized: (property, on) => change(property, { sized: !on }),
  aimed: (property, on) => change(property, { aimed: !on }),
  points: (property) => change(property, { points: state.points }),
  keys: (property) => end(true)({ properties: [property] }),
  end: (property) => end(false)({ properties: [property] }),
};

function clicked({ target }) {
  const row = target.closest("[data-react-row]");
  const button = target.closest("button");
  if (!row || !button) return;
  const property = row.dataset.reactRow;
  const { reactDo, reactKinds, reactTurn } = button.dataset;
  if (reactDo) DO[reactDo](property, button.getAttribute("aria-pressed") === "true");
  else if (reactKinds) change(property, { kinds: reactKinds.split(" ") });
  else if (reactTurn) change(property, { turn: Number(reactTurn) });
}

async function changed({ target }) {
  if (target.dataset.reactColour !== undefined) {
    // Chosen, it gives the strokes back.
    target.blur();
    change(target.closest("[data-react-row]").dataset.reactRow, { colour: target.value });
    return;
  }
  const field = target.dataset.reactField;
  if (!field) return;
  const property = target.closest("[data-react-row]").dataset.reactRow;
  if (!(await change(property, { field, told: target.value.replace("−", "-") }))) look({ fresh: true });
}

export function wireReactions() {
  figures.addEventListener("click", clicked);
  figures.addEventListener("change", changed);
  triesIn(
    "react",
    "[data-react-edit]",
    withEdits("data-react-edit", {
      // Of a path whose points are being edited, those that are selected go.
      change: (edit) => (state.points.length ? { ...edit, points: state.points } : edit),
      before: (edit) => focusOn(edit.lanes[0]),
      after: showRelations,
    }),
  );
}
