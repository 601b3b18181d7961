// The link to the server: looks over one WebSocket, edits over the JSON API, one after the other.
import { say } from "./notice.js";
import { state } from "./state.js";
import { unpack } from "./table.js";

let socket = null;
let number = 0;
let flying = null; // the look that is being answered
let waiting = null; // the newest one after it
let receive = () => {};
let lostSince = 0;

const saved = (words) => { document.getElementById("saved").textContent = words; };

export function connect(onAnswer) {
  receive = onAnswer;
  open();
}

function open() {
  socket = new WebSocket(`${location.protocol === "https:" ? "wss" : "ws"}://${location.host}/live/${state.project}`);
  socket.binaryType = "arraybuffer";
  socket.onopen = () => { flying = null; lostSince = 0; look({ fresh: true }); };
  socket.onmessage = (event) => {
    const answer = unpack(event.data);
    const { head } = answer;
    if (head.changed !== undefined) {
      if (head.changed > state.revision && !queue.busy) look();
      return;
    }
    if (head.gone) { say(head.refused); saved("This project is gone"); socket.onclose = null; return; }
    const asked = flying;
    flying = null;
    if (head.refused) {
      if (asked?.edit) { refuseTentative(head.refused); } else say(head.refused);
    } else receive(answer, asked);
    if (waiting) { const next = waiting; waiting = null; send(next); }
    for (const wake of idle.splice(0)) wake();
  };
  socket.onclose = () => {
    flying = waiting = null;
    lostSince ||= Date.now();
    saved(Date.now() - lostSince > 1500 ? "The server does not answer. Trying again…" : "Connecting…");
    setTimeout(open, 600);
  };
}

let refusedOnce = "";
function refuseTentative(sentence) {
  if (sentence !== refusedOnce) say(sentence);
  refusedOnce = sentence;
}

const idle = [];
// Resolves when no look is under way: for tests and for what must see the newest state.
export const settled = () => (flying || waiting || queue.busy ? new Promise((done) => idle.push(done)).then(settled) : Promise.resolve());

// Ask for what changed. The newest look wins; what an older waiting one needed is kept.
export function look({ fresh = false, light = false } = {}) {
  const next = { fresh: fresh || Boolean(waiting?.fresh), light: light && (waiting ? waiting.light : true), edit: state.tentative };
  if (!socket || socket.readyState !== WebSocket.OPEN) return;
  if (flying) waiting = next;
  else send(next);
}

function send(options) {
  flying = options;
  options.edit = state.tentative;
  socket.send(JSON.stringify({
    n: ++number, scene: state.scene.id, frame: state.frame, layers: state.layers, keys: state.keys, focus: state.focus,
    folded: state.folded && [...state.folded], axis: state.axis, pair_height: state.pairHeight || 300, fresh: options.fresh, light: options.light && !options.edit,
    edit: options.edit,
  }));
}

// A tentative edit: shown, not kept.
export function attempt(edit) {
  state.tentative = edit;
  look();
}

export function putBack() {
  refusedOnce = "";
  if (state.tentative) { state.tentative = null; look(); }
}

const queue = { tail: Promise.resolve(), busy: 0 };
function inTurn(work) {
  queue.busy += 1;
  const run = queue.tail.then(work).finally(() => {
    queue.busy -= 1;
    if (!queue.busy) for (const wake of idle.splice(0)) wake();
  });
  queue.tail = run.catch(() => {});
  return run;
}

async function post(path, body) {
  const response = await fetch(path, { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) });
  const answer = await response.json();
  return { ok: response.ok, status: response.status, answer };
}

// One edit, one undo step. Answers the new state, or null when it was refused; nothing is lost either way.
// A function is asked for the edit when its turn comes, so that quick strokes see what the one before did.
export function commit(told) {
  refusedOnce = "";
  return inTurn(async () => {
    const edit = typeof told === "function" ? told() : told;
    if (!edit) return null;
    saved("Saving…");
    try {
      let { ok, status, answer } = await post(`/api/projects/${state.project}/edits`, { revision: state.revision, edit });
      if (status === 409) {
        // Another window was first: the edit says what is meant, so it goes on top of that.
        const changes = (answer.changes || []).join("; ");
        state.revision = answer.revision;
        ({ ok, answer } = await post(`/api/projects/${state.project}/edits`, { revision: state.revision, edit }));
        if (ok) say(`The project was changed elsewhere${changes ? ` (${changes})` : ""}; your change was put on top.`);
      }
      if (state.tentative === edit || state.tentative?.kind === edit.kind) state.tentative = null;
      if (!ok) { say(answer.detail); saved("Not saved: see the notice"); look(); return null; }
      state.revision = answer.revision;
      if (answer.selects) state.keys = answer.selects;
      look();
      return answer;
    } catch {
      state.tentative = null;
      say("The server does not answer; this change was not saved. Try it again when the page says it is connected.");
      saved("Not saved");
      return null;
    }
  });
}

export function step(which) {
  return inTurn(async () => {
    const { ok, status, answer } = await post(`/api/projects/${state.project}/${which}`, { revision: state.revision });
    if (!ok) say(answer.detail);
    if (status === 409) state.revision = answer.revision;
    if (ok) { state.revision = answer.revision; state.keys = []; }
    look();
  });
}

export function bringIn(file, at) {
  return inTurn(async () => {
    const form = new FormData();
    form.append("file", file);
    form.append("revision", state.revision);
    if (at) { form.append("x", at.x); form.append("y", at.y); }
    saved(`Bringing in ${file.name}…`);
    const response = await fetch(`/api/projects/${state.project}/scenes/${state.scene.id}/files`, { method: "POST", body: form });
    const answer = await response.json();
    if (!response.ok) { say(`${file.name}: ${answer.detail}`); saved("Nothing was changed"); look(); return null; }
    state.revision = answer.revision;
    if (answer.notes.length) say(`${file.name} came in. ${answer.notes.join(" ")}`);
    return answer;
  });
}
