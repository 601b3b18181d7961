// A list in the drawer whose rows carry edits: what is gone to is tried, what is clicked, or the first one by Enter, is taken.
import { closeDrawer, isOpen, listIn } from "./drawer.js";
import { attempt, commit, putBack } from "./link.js";
import { state } from "./state.js";

const body = document.getElementById("drawer-body");

/** @param {string} list the drawer's list
 * @param {string} attribute what its rows carry their edits in
 * @param {{ before?: (edit: any) => void, after: (edit: any) => void }} taken what is done when one is taken */
export function triesIn(list, attribute, taken) {
  const rowAt = (target) => (isOpen(list) ? target.closest?.(`[${attribute}]`) : null);
  const editOf = (row) => JSON.parse(row.getAttribute(attribute));
  let tried = null;
  function tryOut(row) {
    if (!row || row === tried) return;
    tried = row;
    attempt(editOf(row));
  }
  function leave() {
    if (!tried) return;
    const { kind } = editOf(tried);
    tried = null;
    if (state.tentative?.kind === kind) putBack();
  }
  async function take(row) {
    tried = null;
    closeDrawer();
    const edit = editOf(row);
    taken.before?.(edit);
    if (await commit(edit)) taken.after(edit);
  }
  listIn(list, {
    click(target) {
      const row = rowAt(target);
      if (row) take(row);
    },
  });
  body.addEventListener("pointerover", ({ target }) => {
    const row = rowAt(target);
    if (row) tryOut(row);
    else leave();
  });
  body.addEventListener("pointerleave", leave);
  body.addEventListener("focusin", ({ target }) => tryOut(rowAt(target)));
  body.addEventListener("focusout", leave);
  body.addEventListener("keydown", (event) => {
    const { target } = event;
    if (event.key !== "Enter" || !isOpen(list) || !(/** @type {any} */ (target).matches("[data-drawer-find]"))) return;
    event.preventDefault();
    const first = body.querySelector(`[${attribute}]:not(:disabled)`);
    if (first) take(first);
  });
}
