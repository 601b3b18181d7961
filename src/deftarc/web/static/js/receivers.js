// What comes back is handed, part by part, to the panel it is for.
const receivers = new Map();

// `take(part, head)` is given each part of that name, and the head of the answer it came in.
export function receives(name, take) {
  if (receivers.has(name)) throw new Error(`There are two that take ${name}.`);
  receivers.set(name, take);
}

export function handOn(head) {
  for (const [name, take] of receivers) if (name in head) take(head[name], head);
}
