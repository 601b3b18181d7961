// Edits that wait for their turn and go together: of one kind, on the same things, the second going on from the first.

// What adds up: the fields that say how far.
const ADDS = {
  move_layers: ["dx", "dy"],
  move_keys: ["by", "lift"],
  move_spans: ["by"],
  move_markers: ["by"],
  bend_path: ["dx", "dy"],
  drag_points: ["dx", "dy"],
};
// What the later one says over the earlier: the field that says to what.
const OVER = { set_value: "value", type_value: "told", set_guides: "guides" };

const without = (edit, names) =>
  JSON.stringify(Object.fromEntries(Object.entries(edit).filter(([name]) => !names.includes(name))));

// A change told in words, by how much: “+=3”.
const STEP = /^([+-])=(\d+(?:\.\d+)?)$/;

function steps(one, other) {
  const [a, b] = [one, other].map((told) => STEP.exec(told));
  if (!a || !b) return null;
  const sum = Number(`${a[1]}${a[2]}`) + Number(`${b[1]}${b[2]}`);
  return `${sum < 0 ? "-" : "+"}=${Number(Math.abs(sum).toFixed(6))}`;
}

// One edit that does what both do; null where that cannot be said.
export function together(one, other) {
  if (!one || !other || one.kind !== other.kind) return null;
  const adds = ADDS[one.kind];
  if (adds && without(one, adds) === without(other, adds)) {
    const sums = adds
      .filter((name) => name in one || name in other)
      .map((name) => [name, (one[name] ?? 0) + (other[name] ?? 0)]);
    return { ...one, ...Object.fromEntries(sums) };
  }
  if ("told" in one && without(one, ["told"]) === without(other, ["told"])) {
    const told = steps(one.told, other.told);
    if (told) return { ...one, told };
  }
  const over = OVER[one.kind];
  return over && over !== "told" && without(one, [over]) === without(other, [over]) ? other : null;
}
