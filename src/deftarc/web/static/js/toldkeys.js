// Keys on the wire: a list is told once, however often a hand moves the thousands that are in it; told as null it is the
// one that was told last. What answers tell of them is put together with it again.
let told = { selected: null, tried: null };

export function forgetKeys() {
  told = { selected: null, tried: null };
}

export function onceTold(which, keys) {
  if (keys.length && told[which] === keys) return null;
  told[which] = keys;
  return keys;
}

export const withKeysOnce = (edit) =>
  Array.isArray(edit?.keys) ? { ...edit, keys: onceTold("tried", edit.keys) } : edit;

// Of keys that only moved an answer tells the times; of an edit that snapped not the keys, where they are the same.
export function readKeys(head, asked) {
  // Nobody knows how much of what was refused was read: it is told anew.
  if (head.refused) forgetKeys();
  if (!asked) return;
  if (head.moved) head.selects = asked.keys.map((key, k) => ({ ...key, time: head.moved[k] }));
  const made = head.snapped?.edit;
  if (made && made.keys === undefined && Array.isArray(asked.edit?.keys)) made.keys = asked.edit.keys;
}
