// The link to the server: looks over one WebSocket, edits over the JSON API, one after the other.
import { allAnswered, http, isAsked } from "./http.js";
import { dropRefusals, say } from "./notice.js";
import { choose, forgetSnap, knowRevision, liked, showSnapped, state, tryEdit } from "./state.js";
import { unpack } from "./table.js";
import { forgetKeys, onceTold, readKeys, withKeysOnce } from "./toldkeys.js";

let socket = null;
let number = 0;
let flying = null; // the look that is being answered
let waiting = null; // the newest one after it
let following = 0; // the timer of a hand that was shown only what lies under it: resting, it is shown all
/** @typedef {import("../../../../../types/models").Edit} Edit */

let receive = (_answer, _asked) => {};
let lostSince = 0;

export const saved = (words) => {
  document.getElementById("saved").textContent = words;
};

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
    if (head.changed > state.revision && !queue.busy) look();
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
    if (asked?.scene === state.scene.id) receive(answer, asked);
    return;
  }
  flying = null;
  // While a hand drags, the server works on its newest place while the page paints the one before.
  if (asked?.edit && state.tentative && !head.refused) askWaiting();
  answered(answer, asked);
  askWaiting();
  for (const wake of idle.splice(0)) wake();
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
  if (head.refused && asked?.edit) refuseTentative(head);
  else if (head.refused) say(head.refused);
  else if (!asked || asked.scene === state.scene.id) receive(answer, asked);
  // An answer about the scene that was left is put nowhere; the next look asks for all of this one.
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
let refusedIn = (_head) => false;
// Who tells of a refusal in its own place; answers whether it did.
export function tellRefused(call) {
  refusedIn = call;
}
function refuseTentative(head) {
  if (refusedIn(head)) return;
  if (head.refused !== refusedOnce) sayRefused({ ...head, detail: head.refused });
  refusedOnce = head.refused;
}

// A refusal in its sentence, with the one edit that would let it, where the server knows one.
function sayRefused({ detail, offer, edit }) {
  say(detail, offer && edit ? { label: offer, act: () => commit(edit) } : null, true);
}

const idle = [];
// Resolves when no look is under way: for tests and for what must see the newest state.
const settledLooks = () =>
  flying || waiting ? new Promise((done) => idle.push(done)).then(settledLooks) : Promise.resolve();
// Whether nothing is under way any more, nor what came of it: what one turn leads to begins just after it has ended.
export async function settled() {
  do {
    if (flying || waiting || following || queue.busy) await new Promise((done) => idle.push(done));
    await allAnswered();
    await new Promise((done) => {
      setTimeout(done);
    });
  } while (flying || waiting || following || queue.busy || isAsked());
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
  options.scene = state.scene.id;
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
export async function attempted(edit) {
  if (state.snapAsked) await settledLooks();
  return state.snapped?.edit || edit;
}

export function putBack() {
  refusedOnce = "";
  forgetSnap();
  if (state.tentative) {
    tryEdit(null);
    look();
  }
}

const queue = { tail: Promise.resolve(), busy: 0 };
/** @returns {Promise<any>} */
export function inTurn(work) {
  queue.busy += 1;
  const run = queue.tail.then(work).finally(() => {
    queue.busy -= 1;
    if (!queue.busy) for (const wake of idle.splice(0)) wake();
  });
  queue.tail = run.catch(() => {});
  return run;
}

// Something else that takes time, in its turn, so that whoever waits for the page waits for it, and what it changed.
export const waitFor = (work) =>
  inTurn(async () => {
    const answer = await work();
    if (answer) look();
    return answer;
  });

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
// A function is asked for the edit when its turn comes, so that quick strokes see what the one before did.
/** @param {Edit | (() => Edit | false | null | 0)} told
 * @returns {Promise<any>} */
export function commit(told) {
  refusedOnce = "";
  return inTurn(async () => {
    const edit = typeof told === "function" ? told() : told;
    if (!edit) return null;
    saved("Saving…");
    const edit_id = newId();
    try {
      let { ok, status, answer } = await post(`/api/projects/${state.project}/edits`, {
        revision: state.revision,
        edit,
        edit_id,
      });
      if (status === 409) {
        // Another window was first: the edit says what is meant, so it goes on top of that.
        const changes = (answer.changes || []).join("; ");
        knowRevision(answer.revision);
        ({ ok, answer } = await post(`/api/projects/${state.project}/edits`, {
          revision: state.revision,
          edit,
          edit_id,
        }));
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
      dropRefusals();
      if (answer.selects) choose({ keys: answer.selects });
      tellNotes(answer);
      look();
      return answer;
    } catch {
      tryEdit(null);
      showSnapped(null);
      say("The server does not answer; this change was not saved. Try it again when the page says it is connected.");
      saved("Not saved");
      return null;
    }
  });
}

// Undo and redo. The server says where that was: the page goes there with what is selected then, by “goThere”.
// Answers whether it was done.
/** @param {string} which
 * @param {any} goThere
 * @param {Record<string, any>} [more] */
export function step(which, goThere, more = {}) {
  return inTurn(async () => {
    const told = {
      revision: state.revision,
      scene: state.scene.id,
      frame: state.frame,
      layers: state.layers.slice(0, 2000),
      keys: state.keys,
      ...more,
    };
    const { ok, status, answer } = await post(`/api/projects/${state.project}/${which}`, told);
    if (!ok) say(answer.detail);
    if (status === 409) knowRevision(answer.revision);
    if (ok) {
      knowRevision(answer.revision);
      dropRefusals();
      goThere(answer.went);
    }
    look();
    return ok;
  });
}

export function tellNotes(answer) {
  for (const note of answer.notes || [])
    say(note.text, note.edit ? { label: note.offer, act: () => commit(note.edit) } : null);
}

// What the server works out itself before it commits: align, size, take apart, take back, scene settings.
export function request(path, body, method = "POST") {
  return inTurn(async () => {
    saved("Saving…");
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
