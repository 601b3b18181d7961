// The page's actions: one table, which Python has, and what each does. Menus, strokes, buttons and the list one finds an
// action in by typing are made of it.
import { lists } from "./lists.js";
import { say } from "./notice.js";

const told = new Map((lists.actions?.list || []).map((action) => [action.id, action]));
const doers = new Map();

// Says what an action does. `can(at)` tells whether it can be done now, `on(at)` whether what it switches is on, and
// `words(at)` what it is called where that depends on what it is done to; `at` is what was pointed at, if anything.
/** @param {string} id
 * @param {any} run
 * @param {{ can?: any, on?: any, words?: any, refused?: string, always?: boolean }} [how] */
export function does(id, run, { can = () => true, on = null, words = null, refused = "", always = false } = {}) {
  if (!told.has(id)) throw new Error(`The table of actions has no ${id}.`);
  if (doers.has(id)) throw new Error(`There are two that do ${id}.`);
  doers.set(id, { run, can, on, words, refused, always });
}

export const has = (id) => doers.has(id);
export const canDo = (id, at) => Boolean(doers.get(id)?.can(at));
export const isOn = (id) => Boolean(doers.get(id)?.on?.());
export const allActions = () => [...told.values()].filter((action) => doers.has(action.id));

// Does an action, where it can be done; one marked `always` is tried in any case, since what the page knows may be late.
export function act(id, at) {
  const doer = doers.get(id);
  if (!doer || !(doer.always || doer.can(at))) return false;
  doer.run(at);
  return true;
}

// As `act`, with a word about what is missing where it cannot be done.
export function actOrSay(id) {
  if (!act(id) && doers.get(id)?.refused) say(doers.get(id).refused);
}

// What an action is called now.
export function wordsOf(id, at) {
  const action = told.get(id);
  const doer = doers.get(id);
  if (doer?.words) return doer.words(at);
  return action.off && doer?.on?.(at) ? action.off : action.words;
}

// The entries of a menu, as menus take them: words, what is done, its stroke; a line between sections.
export function menuOf(menu, at) {
  const out = [];
  for (const section of lists.actions.sections[menu]) {
    const rows = allActions().filter(
      (action) => action.menus.some(([one, part]) => one === menu && part === section) && canDo(action.id, at),
    );
    if (rows.length && out.length) out.push("-");
    out.push(
      ...rows.map((action) => [wordsOf(action.id, at), () => act(action.id, at), action.stroke || action.beside]),
    );
  }
  return out;
}

const owners = new Map([...told.values()].flatMap((action) => action.strokes.map((stroke) => [stroke, action.id])));
const BY_CODE = { Comma: ",", Period: ".", Digit0: "0" };

// Which action a stroke means; null where it means none. Held with Shift or Alt, some keys mean another.
export function actionOf(event) {
  const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  if (event.altKey && owners.has(`Alt+${name}`)) return owners.get(`Alt+${name}`);
  const control = event.ctrlKey || event.metaKey ? "Ctrl+" : "";
  const plain = owners.get(`${control}${name}`) || null;
  if (!event.shiftKey) return plain;
  const shifted = owners.get(`${control}Shift+${BY_CODE[event.code] || name}`);
  return shifted || (control ? null : plain);
}
