// What the server drew, put in its place. A field being typed in keeps its words and its caret, a slider its hand.
import { whileDrawing } from "./fields.js";
import { renew } from "./renew.js";
import { state } from "./state.js";
import { oneWith } from "./withdata.js";

const element = (id) => document.getElementById(id);

function focused() {
  /** @type {any} */
  const active = document.activeElement;
  const range = active?.matches?.("[data-strength], [data-roundness]");
  if (!active?.dataset?.id && !range) return null;
  if (range) return { range: active };
  return {
    id: active.dataset.id,
    value: active.value,
    before: active.dataset.before,
    start: active.selectionStart,
    end: active.selectionEnd,
    dirty: active.value !== active.dataset.before,
  };
}

function restore(kept) {
  if (kept.range) {
    if (!kept.range.isConnected) document.querySelector("#figures [data-strength]")?.focus();
    return;
  }
  const again = oneWith(document, "[data-id]", { id: kept.id });
  if (!again || again === document.activeElement) return;
  again.focus({ preventScroll: true });
  // What is being typed stays as typed; put back would be what now stands there.
  if (kept.dirty && !again.matches("textarea")) again.value = kept.value;
  try {
    again.setSelectionRange(kept.start, kept.end);
  } catch {
    /* not a text field */
  }
}

export const putFragments = (fragments, tentative) => whileDrawing(() => putAll(fragments, tentative));

function putAll(fragments, tentative) {
  const kept = focused();
  for (const [id, html] of Object.entries(fragments)) {
    const place = element(id);
    if (!place) continue;
    const sliding = kept?.range && state.tentative;
    if (sliding && id === "path-bar" && place.contains(kept.range)) continue;
    if (sliding && (id === "figures-segment" || id === "figures")) renewHead(place, html);
    else put(place, html, tentative);
  }
  if (kept) restore(kept);
}

// A slider under the pointer must stay the same element: only what is told beside it is renewed.
function renewHead(place, html) {
  const fresh = document.createElement("div");
  fresh.innerHTML = html;
  const [head, now] = [fresh, place].map((each) => each.querySelector(".segment .figures-head"));
  if (head && now) renew(now, head);
}

// While a hand drags only what moved is put anew: most of what was drawn stays as it is, and is not painted again. The
// pair and the drawer are never put anew as a whole: what is pressed in them has to be there still when it is let go, or no
// click comes, and what has focus keeps it.
function put(place, html, tentative) {
  if (!tentative && !place.closest("#pair, #drawer")) {
    place.innerHTML = html;
    return;
  }
  const fresh = place.cloneNode(false);
  fresh.innerHTML = html;
  renew(place, fresh);
}
