// The keyboard: which stroke does what. The sheet on “?” lists the same.
const KEYS = {
  " ": "play", ",": "previous-frame", ".": "next-frame", "<": "previous-key", ">": "next-key", Home: "first-frame", End: "last-frame",
  "#": "clock", "+": "key-here", "!": "keying", o: "loop", 0: "fit", 1: "full-size", 2: "fit-selected", Delete: "remove", Backspace: "remove", "?": "help",
  "(": "room-picture", ")": "room-pair", "[": "range-start", "]": "range-end", "|": "range-all", "/": "find", k: "keys-here", b: "backwards", i: "isolate",
  m: "tool-move", e: "tool-path", h: "ghosts", y: "segments", p: "tool-points", n: "tool-pen", s: "keep", g: "grid", r: "rulers", d: "open-keyed", PageUp: "layer-above", PageDown: "layer-below",
  a: "fit-pair-all", f: "fit-pair-selected", v: "next-curve", x: "curve-alone", q: "curve-pin", l: "bend", j: "joint", w: "keep-within", t: "try-outs",
};
const WITH_CONTROL = {
  z: "undo", y: "redo", d: "duplicate", g: "group", a: "all-keys", ArrowUp: "order-up", ArrowDown: "order-down", "[": "span-start", "]": "span-end",
};
const WITH_BOTH = { z: "redo", d: "linked-copy", g: "ungroup", c: "copy-numbers", v: "give-numbers" };

// Which act a stroke means; null where it means none. Held with Shift, some keys mean another.
export function actOf(event) {
  const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  if (event.ctrlKey || event.metaKey) return (event.shiftKey ? WITH_BOTH : WITH_CONTROL)[name] || null;
  if (event.shiftKey && event.code === "Digit0") return "fit-time";
  if (event.shiftKey && event.code === "Comma") return "previous-key";
  if (event.shiftKey && event.code === "Period") return "next-key";
  if (event.shiftKey && event.key === " ") return "play-range";
  return KEYS[name] || null;
}
