// The link to the server: looks over one WebSocket, edits over the JSON API, one after the other.
import { allAnswered, http, isAsked } from "./http.js";
import { dropRefusals, hint, say } from "./notice.js";
import { choose, forgetSnap, knowRevision, liked, showSnapped, state, tryEdit } from "./state.js";
import { dropWaiting, keepWaiting, takeLeft } from "./outbox.js";
import {
  busy,
  inTurn,
  lookInTurn,
  saved,
  settleTrouble,
  tellSaved,
  tellWorking,
  waiting as waits,
  wakeIdle,
  whenIdle,
} from "./queue.js";
import { unpack } from "./table.js";
import { together } from "./together.js";
import { forgetKeys, onceTold, readKeys, withKeysOnce } from "./toldkeys.js";

let socket = null;
let number = 0;
let flying = null; // the look that is being answered
let waiting = null; // the newest one after it
let following = 0; // the timer of a hand that was shown only what lies under it: resting, it is shown all
/** @typedef {import("../../../../../types/models").Edit} Edit */

let receive = (_answer, _asked) => {};
let lostSince = 0;
let leftSent = false;

export function connect(onAnswer) {
  receive = onAnswer;
  open();
}

function open() {
  socket = new WebSocket(`${location.protocol === "https:" ? "wss" : "ws"}://${location.host}/live/${state.project}`);
  socket.binaryType = "arraybuffer";
  socket.onopen = () => {
    flying = null;
    lostSince = 0;
    forgetKeys();
    look({ fresh: true });
    // Once the first time: what an earlier page left behind.
    if (!leftSent) {
      leftSent = true;
      before();
      last = null;
      lookInTurn(takeLeft, sendLeft).catch(() => {
        leftSent = false;
      });
    }
    tellSaved();
    settleTrouble();
  };
  socket.onmessage = (event) => heard(unpack(event.data));
  socket.onclose = () => {
    flying = waiting = null;
    follow(0);
    lostSince ||= Date.now();
    saved(Date.now() - lostSince > 1500 ? "The server does not answer. Trying again…" : "Connecting…");
    setTimeout(open, 600);
  };
}

function heard(answer) {
  const { head } = answer;
  if (head.changed !== undefined) {
    if (head.changed > state.revision && !busy()) look();
    return;
  }
  if (head.refused && head.gone) {
    say(head.refused);
    saved("This project is gone");
    socket.onclose = null;
    return;
  }
  const asked = flying;
  readKeys(head, asked);
  // What lies under the hand; the rest of this answer is still being worked out.
  if (head.ahead) {
    if (asked?.visit === state.visit) receive(answer, asked);
    return;
  }
  flying = null;
  // While a hand drags, the server works on its newest place while the page paints the one before.
  if (asked?.edit && state.tentative && !head.refused) askWaiting();
  answered(answer, asked);
  askWaiting();
  wakeIdle();
}

function askWaiting() {
  if (!waiting) return;
  const next = waiting;
  waiting = null;
  ask(next);
}

function answered(answer, asked) {
  const { head } = answer;
  if (head.stopped) return;
  if (head.brief) follow(RESTS);
  if (head.refused && asked?.edit) refuseTentative(head, asked.edit);
  else if (head.refused) say(head.refused);
  else if (!asked || asked.visit === state.visit) receive(answer, asked);
  // An answer about the scene that was left is put nowhere, be one back in it or not: it says only what is new since
  // answers that are forgotten. The next look asks for all of this one.
  else look({ fresh: true });
}

// Once a hand has rested for so long, in ms, all that follows from where it is comes after what lies under it.
const RESTS = 90;
function follow(after) {
  clearTimeout(following);
  following = after
    ? setTimeout(() => {
        following = 0;
        look({ rests: true });
      }, after)
    : 0;
}

let refusedOnce = "";
let refusedIn = (_head, _edit) => false;
// Who tells of a refusal in its own place; answers whether it did.
export function tellRefused(call) {
  refusedIn = call;
}
function refuseTentative(head, edit) {
  if (refusedIn(head, edit)) return;
  if (head.refused !== refusedOnce) sayRefused({ ...head, detail: head.refused });
  refusedOnce = head.refused;
}

// A refusal in its sentence, with the one edit that would let it, where the server knows one.
function sayRefused({ detail, offer, edit }) {
  say(detail, offer && edit ? { label: offer, act: () => commit(edit) } : null, true);
}

// Resolves when no look is under way: for tests and for what must see the newest state.
export const settledLooks = () => (flying || waiting ? whenIdle().then(settledLooks) : Promise.resolve());
// Whether nothing is under way any more, nor what came of it: what one turn leads to begins just after it has ended.
export async function settled() {
  do {
    before();
    if (flying || waiting || following || busy()) await whenIdle();
    await allAnswered();
    await new Promise((done) => {
      setTimeout(done);
    });
  } while (flying || waiting || following || busy() || isAsked());
}

// Ask for what changed. The newest look wins; what an older waiting one needed is kept. A brief one is content with what
// lies under a hand in the lanes, where all the rest would keep it waiting.
export function look({ fresh = false, light = false, brief = false, rests = false } = {}) {
  const before = waiting || { fresh: false, light: true, brief: true };
  const next = {
    fresh: fresh || before.fresh,
    light: light && before.light,
    brief: brief && before.brief,
    rests,
    edit: state.tentative,
  };
  if (!socket || socket.readyState !== WebSocket.OPEN) return;
  // Whatever was to be asked next goes with this one: two looks under way would mistake each other's answers.
  waiting = flying ? next : null;
  if (flying) leave(flying);
  else ask(next);
}

// A hand that moves on is not kept waiting for all that follows from where it rested.
function leave(asked) {
  if (asked.rests) socket.send(JSON.stringify({ stop: number }));
  asked.rests = false;
}

let listWindow = { top: 0, height: 700 };
export function setWindow(top, height) {
  listWindow = { top, height };
}
let reveal = null;
// The layer whose row is to be brought into view by the next answer.
export function revealRow(id) {
  reveal = id;
}

function ask(options) {
  flying = options;
  follow(0);
  options.axis = state.axis;
  options.edit = state.tentative;
  options.visit = state.visit;
  options.keys = state.keys;
  socket.send(
    JSON.stringify({
      n: ++number,
      scene: state.scene.id,
      frame: state.frame,
      layers: state.layers,
      keys: onceTold("selected", state.keys),
      focus: state.focus,
      folded: state.folded && [...state.folded],
      opened: state.opened,
      axis: state.axis,
      pair_height: state.pairHeight || 300,
      pair: { ...state.pairAsked, fit: liked.pairFit, apart: liked.pairApart },
      window: listWindow,
      lane_height: liked.laneHeight,
      filters: { keyed: liked.onlyKeyed, selected: liked.onlySelected, text: liked.find },
      reveal,
      unit: liked.unit,
      axes: liked.axes,
      page: liked.page,
      points: state.tool === "points",
      mask: state.tool === "points" ? state.mask : null,
      folds: liked.folds,
      path_points: state.pathPoints,
      path: state.tool === "path",
      segments: Boolean(liked.showSegments),
      ghost: state.ghost,
      drawer: state.drawer,
      drawer_text: state.drawerText,
      keying_since: state.keying ? state.keyingSince : null,
      fresh: options.fresh,
      light: options.light && !options.edit,
      edit: withKeysOnce(options.edit),
      brief: Boolean(options.edit && options.brief),
      ahead: state.onPicture || options.rests,
      snap: options.edit ? state.snapAsked : null,
    }),
  );
  if (!options.light) reveal = null;
}

// A tentative edit: shown, not kept. With snap it is drawn to what lies near, as the server says. Briefly where the hand
// moves in the lanes.
/** @param {Edit} edit */
export function attempt(edit, snap = null, brief = false) {
  tryEdit(edit, snap);
  look({ brief });
}

// What was last tried, as it snapped; once everything under way has been answered.
/** @returns {Promise<any>} */
async function attempted(edit) {
  if (state.snapAsked) await settledLooks();
  return state.snapped?.edit || edit;
}

// Keeps what was tried last, as it snapped, in its turn: whatever is done next comes after it. Answers the new state; null
// where it was refused, or came to nothing, as “isIdle” says.
export function commitTried(edit, isIdle = (_edit) => false) {
  const tried = attempted(edit);
  return commit(async () => {
    const found = await tried;
    return isIdle(found) ? null : found;
  });
}

export function putBack() {
  refusedOnce = "";
  forgetSnap();
  if (state.tentative) {
    tryEdit(null);
    look();
  }
}

// What is held until something else is done: strokes that are repeated.
let before = () => false;
export const beforeOthers = (rests) => {
  before = rests;
};

// The edit that waits last and has not been sent: one that goes on from it joins it.
let last = null;

// Something else that takes time, in its turn, so that whoever waits for the page waits for it, and what it changed.
export const waitFor = (work) =>
  after(async () => {
    const answer = await work();
    if (answer) look();
    return answer;
  });

// After all that was done before, and what is held.
export function after(work) {
  before();
  last = null;
  return inTurn(work);
}

// A name of its own for each edit: sent again, because no answer came, it is made once.
export const newId = () =>
  [...crypto.getRandomValues(new Uint8Array(12))].map((byte) => byte.toString(16).padStart(2, "0")).join("");

// How long an edit is sent again and again while no answer comes, in ms.
const PATIENCE = 8000;

// Asks the server, again and again while it does not answer: what is sent has an id, and is done once.
export async function reach(path, options) {
  const begun = Date.now();
  for (;;) {
    try {
      return await http(path, options);
    } catch (error) {
      if (Date.now() - begun > PATIENCE) throw error;
      saved("Saving… the server does not answer yet");
      await new Promise((done) => {
        setTimeout(done, 500);
      });
    }
  }
}

const post = (path, body, method = "POST") => reach(path, { method, json: body });

// One edit, one undo step. Answers the new state, or null when it was refused; nothing is lost either way.
// A function is asked for the edit when its turn comes, so that quick strokes see what the one before did. What waits
// is kept in the browser until the server has said what became of it.
/** @param {Edit | (() => Edit | false | null | 0 | Promise<Edit | null>)} told
 * @param {string} [id]
 * @returns {Promise<any>} */
export function commit(told, id = "") {
  if (!id) before();
  refusedOnce = "";
  const made = typeof told === "function" ? null : told;
  const both = last && !last.begun && made && together(last.edit, made);
  if (both && !id) {
    last.edit = both;
    keepWaiting(sent(last));
    return last.done;
  }
  const entry = { id: id || newId(), edit: made, make: told, begun: false, done: null };
  if (made) keepWaiting(sent(entry));
  entry.done = inTurn(() => make(entry));
  last = entry;
  return entry.done;
}

const sent = (entry) => ({
  id: entry.id,
  path: `/api/projects/${state.project}/edits`,
  method: "POST",
  json: { revision: state.revision, edit: entry.edit, edit_id: entry.id },
});

async function make(entry) {
  entry.begun = true;
  const edit = entry.edit || (await entry.make());
  if (!edit) return null;
  entry.edit = edit;
  const waiting = sent(entry);
  keepWaiting(waiting);
  const done = follows(entry.id);
  try {
    let { ok, status, answer } = await post(waiting.path, waiting.json);
    if (status === 409) {
      // Another window was first, and what it changed this edit changes, too: it says what is meant, so it goes on top.
      const changes = (answer.changes || []).join("; ");
      knowRevision(answer.revision);
      ({ ok, answer } = await post(waiting.path, { ...waiting.json, revision: state.revision }));
      if (ok) say(`The project was changed elsewhere${changes ? ` (${changes})` : ""}; your change was put on top.`);
    }
    if (state.tentative === edit || state.tentative?.kind === edit.kind) {
      tryEdit(null);
      forgetSnap();
    }
    if (!ok) {
      sayRefused(answer);
      saved("Not saved: see the notice");
      look();
      return null;
    }
    knowRevision(answer.revision);
    settleTrouble();
    dropRefusals();
    if (answer.selects) choose({ keys: answer.selects });
    tellNotes(answer);
    if (answer.unchanged) hint("Nothing was changed: it is so already.");
    look();
    return answer;
  } catch {
    tryEdit(null);
    showSnapped(null);
    say("The server does not answer; this change was not saved. Try it again when the page says it is connected.");
    saved("Not saved");
    return null;
  } finally {
    done();
    dropWaiting(entry.id);
  }
}

// Milliseconds after which an edit that is still worked out says how far it is, and how often.
const SLOW = 800;

// Follows an edit that takes long: how far it is, with a way to stop it. Answers what ends that.
function follows(id) {
  const path = `/api/projects/${state.project}/edits/${id}`;
  let over = false;
  const timer = setInterval(async () => {
    const { ok, answer } = await http(`${path}/progress`).catch(() => ({ ok: false, answer: null }));
    // An answer that comes after the edit's own is about nothing any more.
    if (!over && ok && answer.share) tellWorking(answer.share, () => http(`${path}/stop`, { method: "POST" }));
  }, SLOW);
  return () => {
    over = true;
    clearInterval(timer);
    tellWorking(null);
  };
}

// What pages that were closed had not saved: sent now, before anything else, each once by its id.
async function sendLeft(left) {
  let made = 0;
  for (const each of left) {
    const { ok, status, answer } = await post(each.path, each.json, each.method);
    if (status === 409) {
      const again = await post(each.path, { ...each.json, revision: answer.revision }, each.method);
      made += again.ok ? 1 : 0;
    } else made += ok ? 1 : 0;
    dropWaiting(each.id);
  }
  if (made) {
    look({ fresh: true });
    say(
      `${made === 1 ? "One change" : `${made} changes`} that had not been saved when this page was left ${made === 1 ? "is" : "are"} saved now.`,
    );
  }
}

// A page that is left while something waits asks first.
addEventListener("beforeunload", (event) => {
  before();
  if (waits()) event.preventDefault();
});

// Undo and redo. The server says where that was: the page goes there with what is selected then, by “goThere”.
// Answers whether it was done. Those that are asked for while one is under way go as far as they were pressed, in one.
/** @param {string} which
 * @param {any} goThere
 * @param {Record<string, any>} [more] */
export function step(which, goThere, more = {}) {
  before();
  const by = { undo: -1, redo: 1 }[which];
  if (by && last && !last.begun && last.goThere === goThere) {
    last.by += by;
    return last.done;
  }
  const entry = { begun: false, goThere, by, done: null, edit: null };
  entry.done = inTurn(() => stepped(entry, which, more));
  last = entry;
  return entry.done;
}

async function stepped(entry, which, more) {
  entry.begun = true;
  if (entry.by === 0) return true;
  const path = entry.by ? (entry.by < 0 ? "undo" : "redo") : which;
  const count = entry.by ? { count: Math.min(Math.abs(entry.by), MOST_STEPS) } : {};
  const told = {
    revision: state.revision,
    edit_id: newId(),
    scene: state.scene.id,
    frame: state.frame,
    layers: state.layers.slice(0, 2000),
    keys: state.keys,
    ...count,
    ...more,
  };
  const { ok, status, answer } = await post(`/api/projects/${state.project}/${path}`, told);
  if (!ok) say(answer.detail);
  if (status === 409) knowRevision(answer.revision);
  if (ok) {
    knowRevision(answer.revision);
    settleTrouble();
    dropRefusals();
    entry.goThere(answer.went);
  }
  look();
  return ok;
}

// As many as one request takes.
const MOST_STEPS = 10_000;

export function tellNotes(answer) {
  for (const note of answer.notes || [])
    say(note.text, note.edit ? { label: note.offer, act: () => commit(note.edit) } : null);
}

// What the server works out itself before it commits: align, size, take apart, take back, scene settings.
export function request(path, body, method = "POST") {
  return after(async () => {
    try {
      const { ok, status, answer } = await post(
        `/api/projects/${state.project}${path}`,
        { revision: state.revision, edit_id: newId(), ...body },
        method,
      );
      if (status === 409) knowRevision(answer.revision);
      if (!ok) {
        sayRefused(answer);
        saved("Nothing was changed");
        look();
        return null;
      }
      settleTrouble();
      if (answer.revision) {
        knowRevision(answer.revision);
        dropRefusals();
      }
      tellNotes(answer);
      look();
      return answer;
    } catch {
      say("The server does not answer; nothing was changed.");
      saved("Not saved");
      return null;
    }
  });
}

// Which moment a typed time means; null, and said why, when it means none.
/** @returns {Promise<any>} */
export async function momentOf(text, anywhere = false) {
  try {
    const { ok, answer } = await http(
      `/api/projects/${state.project}/scenes/${state.scene.id}/moment?anywhere=${anywhere}&unit=${liked.unit}&text=${encodeURIComponent(text)}`,
    );
    if (ok) return answer;
    say(answer.detail);
  } catch {
    say("The server does not answer; the time could not be read.");
  }
  return null;
}
