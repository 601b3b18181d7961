// The workbench: everything is wired, and gestures are handed to whom they concern.
import { placing, wireAdd } from "./add.js";
import "./again.js";
import { drawingOf, receive, takeUp } from "./answer.js";
import { applyLayout, pairHeight, wireDividers, wireTheme } from "./chrome.js";
import { wireCurves } from "./curves.js";
import "./doing.js";
import { wireDrawer } from "./drawer.js";
import { wireEasing } from "./easing.js";
import { wireFields } from "./fields.js";
import { wireFigures } from "./figures.js";
import { smearNow } from "./picking.js";
import { wireLooks } from "./looks.js";
import { wireShutter } from "./shutter.js";
import { wireFindAction } from "./findaction.js";
import { wireGhosts } from "./ghosts.js";
import { select, selectTool, showKeyed, showScene } from "./holding.js";
import { wireBeyond } from "./beyond.js";
import { wireClocks } from "./clocks.js";
import { wireClipboard } from "./clipboard.js";
import { wireHistory } from "./history.js";
import { showMisread, wireKeyLine } from "./keyline.js";
import { markSelected } from "./keys.js";
import "./lanedrop.js";
import { wireLanes } from "./lanes.js";
import { attempt, connect, look, settled, tellRefused } from "./link.js";
import { showPush, wireManyKeys } from "./manykeys.js";
import { wireMarkers } from "./markers.js";
import { menuAt, wireMenu } from "./menu.js";
import { whenPictureArrives } from "./drawings.js";
import { wirePair } from "./pair.js";
import { drawnPath, wirePathBar } from "./pathbar.js";
import { pressPoint, wirePathHand } from "./pathhand.js";
import { wirePen } from "./pen.js";
import { begin } from "./place.js";
import { receives } from "./receivers.js";
import { wireLibrary } from "./library.js";
import { wireSaveMotion } from "./savemotion.js";
import { wireReactions } from "./reactions.js";
import { wireRelations } from "./relations.js";
import { wireRender } from "./render.js";
import { measure, relayout } from "./room.js";
import { showRows, tellWindow, wireRows } from "./rows.js";
import { wireSamples } from "./samples.js";
import { wireSeam } from "./seam.js";
import { paintAround, tellTrail, wireScenes } from "./scenes.js";
import { rested } from "./rested.js";
import { paintsBeneath, repaint, wireStage } from "./stage.js";
import { choose, like, measurePair, state, timeOf, toldFrame } from "./state.js";
import { onClick, onKey } from "./strokes.js";
import { editText } from "./textedit.js";
import { paintBy, stats, wireTime } from "./time.js";
import { showRefused } from "./tolerance.js";
import { wireStretches } from "./stretches.js";
import { wireTakes } from "./takes.js";
import { wireTies } from "./ties.js";
import { showTrialRefused, wireTrial } from "./trial.js";
import { whereDrawingsAre, wireTryOuts } from "./tryouts.js";
import { toClient, viewOf } from "./view.js";
import { showLiked } from "./views.js";

const element = (id) => document.getElementById(id);

receives("lanes", showRows);
receives("keyed", showKeyed);
applyLayout();
measurePair(pairHeight());
measure();
takeUp(begin(state.axisWidth));
tellWindow();
showLiked();
wireTheme(repaint);
wireDividers(relayout);
wireMenu(select);
wireFindAction();
wirePen(
  placing,
  (id) => {
    selectTool("move");
    if (id) select([id]);
  },
  drawnPath,
  select,
);
wirePathHand(select);
wirePathBar();
wireSamples();
wireGhosts(repaint);
wireStretches(repaint);
tellRefused((head, edit) => showMisread(head, edit) || showTrialRefused(head) || showRefused(head));
wireTrial();
wireClipboard();
wireKeyLine();
showPush();
wireManyKeys();
wireBeyond();
wireDrawer();
wireMarkers();
wireHistory();
wireTakes(drawingOf);
wireTies();
wireClocks();
wireRelations(select);
wireReactions();
wireLibrary(drawingOf);
wireSaveMotion();
wireScenes(repaint);
paintsBeneath(paintAround);
document.addEventListener("deftarc:trail", tellTrail);
wireSeam(drawingOf, select);
wireStage(select, menuAt, editText);
wireTime();
paintBy(repaint);
wireRows();
wireLanes(select, menuAt);
wireFigures(menuAt);
wireLooks();
wireShutter();
wireFields();
wireEasing();
wirePair(select, menuAt);
wireCurves();
wireTryOuts();
whereDrawingsAre(drawingOf);
wireAdd(select, selectTool);
wireRender();
whenPictureArrives(repaint);
document.addEventListener("keydown", onKey);
document.addEventListener("click", onClick);

// The browser's own dragging of text and pictures would take the pointer away from ours.
document.addEventListener("dragstart", (event) => event.preventDefault());
document.addEventListener("deftarc:isolated", repaint);
document.addEventListener("deftarc:floating", ({ detail: { layer, point, add } }) => {
  if (layer !== state.layers[0]) select([layer]);
  pressPoint(point, add);
  markSelected();
});
element("scene").addEventListener("change", (event) => {
  event.target.blur();
  showScene(event.target.value);
});
document.addEventListener("deftarc:scene", ({ detail }) => showScene(detail));
element("find").addEventListener("input", (event) => {
  like("find", event.target.value);
  look();
});
element("find").addEventListener("keydown", (event) => {
  if (event.key !== "Escape") return;
  event.target.value = "";
  like("find", "");
  event.target.blur();
  look();
});
new ResizeObserver(() => {
  applyLayout();
  relayout();
}).observe(element("spread"));
connect(receive);

// For tests and benchmarks: they drive the page with real events and read back what it shows.
window.deftarc = {
  state,
  stats,
  settled,
  viewOf,
  toClient,
  attempt,
  look,
  toldFrame,
  like,
  timeOf,
  smeared: () => Boolean(smearNow()),
  rested,
  choose: (keys) => {
    choose({ keys });
    look();
  },
};
