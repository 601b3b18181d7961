// A list in the drawer whose rows carry edits: what is gone to is tried, what is clicked, or the first one by Enter, is taken.
import { closeDrawer, isOpen, listIn } from "./drawer.js";
import { attempt, commit, putBack, settledLooks } from "./link.js";
import { state } from "./state.js";

const body = document.getElementById("drawer-body");

/** @param {string} list the drawer's list
 * @param {string} rows what its rows are, as a selector
 * @param {{ editOf: (row: any) => any, take: (row: any, edit: any) => void, click?: (target: any) => void, shown?: () => void }} how
 * the edit a row stands for, nothing while that is not known; what is done when one is taken, its trial being over */
export function triesIn(list, rows, how) {
  const rowAt = (target) => (isOpen(list) ? target.closest?.(rows) : null);
  let tried = null;
  function tryOut(row) {
    if (!row || row === tried?.row) return;
    const edit = how.editOf(row);
    if (!edit) return;
    tried = { row, kind: edit.kind };
    attempt(edit);
  }
  function leave() {
    if (!tried) return;
    const { kind } = tried;
    tried = null;
    if (state.tentative?.kind === kind) putBack();
  }
  function take(row) {
    tried = null;
    how.take(row, how.editOf(row));
  }
  listIn(list, {
    click(target) {
      const row = rowAt(target);
      if (row) take(row);
      else how.click?.(target);
    },
    shown: how.shown,
  });
  body.addEventListener("pointerover", ({ target }) => {
    const row = rowAt(target);
    if (row) tryOut(row);
    else leave();
  });
  body.addEventListener("pointerleave", leave);
  body.addEventListener("focusin", ({ target }) => tryOut(rowAt(target)));
  body.addEventListener("focusout", leave);
  body.addEventListener("keydown", async (event) => {
    const { target } = event;
    if (event.key !== "Enter" || !isOpen(list) || !(/** @type {any} */ (target).matches("[data-drawer-find]"))) return;
    event.preventDefault();
    // The list may still be that of what was typed before.
    await settledLooks();
    const first = body.querySelector(`${rows}:not(:disabled)`);
    if (first) take(first);
  });
}

// Of rows that carry their edits: taken, the drawer is shut and the edit made.
/** @param {string} attribute what they carry it in
 * @param {{ change?: (edit: any) => any, before?: (edit: any) => void, after: (edit: any) => void }} how */
export const withEdits = (attribute, { change = (edit) => edit, before, after }) => ({
  editOf: (row) => change(JSON.parse(row.getAttribute(attribute))),
  async take(_row, edit) {
    closeDrawer();
    before?.(edit);
    if (await commit(edit)) after(edit);
  },
});
