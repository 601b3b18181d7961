// What is sent to the server, one after the other; and what the page says of it. It says that all is saved only while nothing
// waits.
const queue = { tail: Promise.resolve(), busy: 0, looking: 0 };
const idle = [];
// What else waits: a stroke that is held, say.
let more = () => 0;
let steps = 0;
let trouble = "";

export const busy = () => queue.busy;
export const alsoWaits = (count) => {
  more = count;
};
export const waiting = () => queue.busy - queue.looking + more();

export const whenIdle = () => new Promise((done) => idle.push(done));
export function wakeIdle() {
  for (const wake of idle.splice(0)) wake();
}

const line = () => document.getElementById("saved");

// What is said of how it stands with saving, until the next thing is.
export const saved = (words) => {
  trouble = words;
  line().textContent = words;
};

// How many steps the server has, and what has not got there yet.
export function tellSaved(count = steps) {
  steps = count;
  const waits = waiting();
  const all = steps > 1 ? `All ${steps} steps saved` : steps ? "1 step saved" : "Saved";
  const words = waits ? `Saving… ${waits} ${waits === 1 ? "change waits" : "changes wait"}` : trouble || all;
  if (line().textContent !== words) line().textContent = words;
}

// How far something is that takes long, a share of 1, with a button that stops it; null once it is over.
export function tellWorking(share, stop = () => {}) {
  const place = document.getElementById("working");
  place.hidden = share === null;
  if (share === null) return;
  const button = place.querySelector("button");
  place.querySelector("span").textContent = `Working… ${Math.floor(share * 100)} %`;
  button.onclick = stop;
}

// All that was said of trouble is over.
export function settleTrouble() {
  trouble = "";
}

// Looks, in its turn, whether there is anything to send, and sends what is found. Until then nothing of it waits: a page
// that is left while it looks need not ask.
/** @param {() => Promise<any[]>} look
 * @param {(found: any[]) => Promise<any>} send */
export function lookInTurn(look, send) {
  queue.looking += 1;
  return inTurn(async () => {
    const found = await look().finally(() => {
      queue.looking -= 1;
    });
    if (!found.length) return null;
    tellSaved();
    return send(found);
  });
}

/** @returns {Promise<any>} */
export function inTurn(work) {
  queue.busy += 1;
  const run = queue.tail.then(work).finally(() => {
    queue.busy -= 1;
    if (!queue.busy) wakeIdle();
    tellSaved();
  });
  queue.tail = run.catch(() => {});
  tellSaved();
  return run;
}
