// What waits to be saved, kept in this browser until the server has said what became of it: a page that is closed, or a
// browser that ends, leaves it there, and the next page of the project sends it. Each has an id of its own and is made
// once, however often it is sent and by whom.
const PREFIX = `deftarc.waits.${document.body.dataset.project}.`;
const mine = PREFIX + Math.random().toString(36).slice(2);

// What waits in a page that is still open is its own to send: each holds a lock of its name for as long as it lives.
// Where a browser has none (beyond loopback, without TLS), a page takes up only what it left itself.
const locks = navigator.locks;
locks?.request(mine, () => new Promise(() => {}));
let before = "";
try {
  before = sessionStorage.waits || "";
  sessionStorage.waits = mine;
} catch {
  /* not allowed */
}

async function isLeft() {
  if (!locks) return (name) => name === before;
  const { held = [] } = await locks.query();
  const alive = new Set([mine, ...held.map((each) => each.name)]);
  return (name) => !alive.has(name);
}

/** @typedef {{ id: string, path: string, method: string, json: Record<string, any> }} Waits */
/** @type {Map<string, Waits>} */
const here = new Map();

function write() {
  try {
    if (here.size) localStorage.setItem(mine, JSON.stringify([...here.values()]));
    else localStorage.removeItem(mine);
  } catch {
    /* no room, or not allowed: the page still asks before it is left */
  }
}

/** @param {Waits} waits */
export function keepWaiting(waits) {
  here.set(waits.id, waits);
  write();
}

export function dropWaiting(id) {
  if (here.delete(id)) write();
}

// What pages of this project left behind, this one before it was loaded again among them; it is this page's from now on.
export async function takeLeft() {
  const left = [];
  const gone = await isLeft();
  try {
    for (const name of Object.keys(localStorage).filter((each) => each.startsWith(PREFIX) && gone(each))) {
      left.push(...JSON.parse(localStorage.getItem(name) || "[]"));
      localStorage.removeItem(name);
    }
  } catch {
    /* not what was written here */
  }
  const own = `/api/projects/${document.body.dataset.project}/`;
  for (const each of left.filter(({ id, path, json }) => id && json && String(path).startsWith(own)))
    here.set(each.id, each);
  write();
  return [...here.values()].filter((each) => left.includes(each));
}
