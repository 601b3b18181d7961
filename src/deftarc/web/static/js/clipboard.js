// Keys copied, cut and pasted, through the system's clipboard as text: between windows and projects too.
import { does } from "./actions.js";
import { http } from "./http.js";
import { commit, waitFor } from "./link.js";
import { ask, hint, say } from "./notice.js";
import { pointedLane, state, timeNow } from "./state.js";
import { tryInPlace } from "./trial.js";
import { marked } from "./marked.js";

const KEPT = "deftarc.copied";
const path = (rest) => `/api/projects/${state.project}/scenes/${state.scene.id}${rest}`;
const amount = (count) => (count === 1 ? "1 key" : `${count} keys`);

// The selected keys; where none is, all keys of the selected layers.
async function copied() {
  const json = state.keys.length ? { keys: state.keys } : { layers: state.layers };
  const { ok, answer } = await http(path("/copied"), { method: "POST", json });
  if (ok) return answer;
  say(answer.detail);
  return null;
}

async function copyKeys(cut = false) {
  const answer = await waitFor(copied);
  if (!answer) return;
  let only = false;
  try {
    await navigator.clipboard.writeText(answer.text);
  } catch {
    only = true;
  }
  // Where the browser keeps its clipboard to itself, its windows still share what is copied here.
  localStorage.setItem(KEPT, JSON.stringify({ text: answer.text, only }));
  if (cut)
    await commit(
      () => state.keys.length && { kind: "delete_keys", scene: state.scene.id, keys: state.keys, keep_shape: false },
    );
  hint(
    marked`<b>${amount(answer.count)} ${cut ? "cut" : "copied"}</b> · go to a time, select what takes ${answer.count === 1 ? "it" : "them"} · <kbd>Ctrl V</kbd> paste · <kbd>U</kbd> paste with choices`,
  );
}

const kept = () => {
  try {
    return JSON.parse(localStorage.getItem(KEPT) || "null");
  } catch {
    return null;
  }
};

async function textOf() {
  const own = kept();
  if (own?.only) return own.text;
  try {
    return await navigator.clipboard.readText();
  } catch {
    if (own) return own.text;
    return ask({
      title: "Paste keys",
      about: "The browser keeps its clipboard to itself. Press Ctrl V in the field.",
      label: "Copied keys",
      act: "Paste",
      long: true,
    });
  }
}

// The keys a text means, as the server reads it; null, and said why, where it means none.
async function read(text) {
  const lane = pointedLane();
  const json = { text, property: lane?.property || null, layer: lane?.layer || null };
  const { ok, answer } = await http(path("/clip"), { method: "POST", json });
  if (ok) return answer;
  say(answer.detail);
  return null;
}

function pasting(clip, onto = null) {
  return {
    kind: /** @type {const} */ ("paste_keys"),
    scene: state.scene.id,
    clip,
    onto_property: onto,
    layers: state.layers,
    time: timeNow(),
  };
}

async function withClip(text, use) {
  if (!state.layers.length) {
    say("Select the layers that take the copied keys.");
    return;
  }
  const told = text ?? (await textOf());
  if (!told) return;
  const answer = await waitFor(() => read(told));
  if (answer) use(answer.clip, answer.onto);
}

export const pasteText = (text) => withClip(text, (clip) => commit(pasting(clip)));
const pasteEasing = () =>
  withClip(null, (clip) => commit({ kind: "paste_eases", scene: state.scene.id, clip, keys: state.keys }));
const pasteChoosing = () => withClip(null, (clip, onto) => tryInPlace(pasting(clip, onto)));

const some = () => state.keys.length > 0 || state.layers.length > 0;
does("copy-keys", () => copyKeys(), { can: some, refused: "Select keys to copy, or a layer to copy all its keys." });
does("cut-keys", () => copyKeys(true), { can: () => state.keys.length > 0, refused: "Select keys to cut." });
does("paste-keys", () => pasteText(null), {
  can: () => state.layers.length > 0,
  refused: "Select the layers that take the copied keys.",
});
does("paste-choosing", pasteChoosing, {
  can: () => state.layers.length > 0,
  refused: "Select the layers that take the copied keys.",
});
does("paste-easing", pasteEasing, {
  can: () => state.keys.length > 0,
  refused: "Select the keys of the ways that are to be eased as what was copied.",
});

// Ctrl V comes as the browser's own event, which brings the text without asking. So does a press of the middle button,
// which pans here.
let meant = 0;
export const meanPaste = (event) => {
  meant = event.timeStamp;
};

export function wireClipboard() {
  document.addEventListener("paste", (event) => {
    if (/** @type {any} */ (event.target).closest?.("input, textarea, [contenteditable]")) return;
    if (document.querySelector("dialog[open]")) return;
    event.preventDefault();
    if (event.timeStamp - meant > 1000) return;
    const own = kept();
    pasteText(own?.only ? own.text : event.clipboardData?.getData("text/plain") || own?.text || "");
  });
}
