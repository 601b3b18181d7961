// The box drawn around keys, in the lanes and in the pair.

const area = document.getElementById("time-area");
const box = document.getElementById("marquee");

// Draws it from where a drag began to the pointer, and tells the beads that lie in it.
export function boxed(drag, event, beads) {
  const view = area.getBoundingClientRect();
  const [left, right] = [Math.min(drag.x, event.clientX), Math.max(drag.x, event.clientX)];
  const [top, bottom] = [Math.min(drag.y, event.clientY), Math.max(drag.y, event.clientY)];
  box.hidden = false;
  Object.assign(box.style, {
    left: `${left - view.left}px`,
    top: `${top - view.top}px`,
    width: `${right - left}px`,
    height: `${bottom - top}px`,
  });
  return [...beads].filter((bead) => {
    const at = bead.querySelector(".hit").getBoundingClientRect();
    const [x, y] = [at.left + at.width / 2, at.top + at.height / 2];
    return x >= left && x <= right && y >= top && y <= bottom;
  });
}

export const unbox = () => {
  box.hidden = true;
};

// Keys before, and those of others that are not among them yet.
export function joined(before, others) {
  const told = (key) => `${key.layer} ${key.property} ${key.time}`;
  const seen = new Set(before.map(told));
  return [...before, ...others.filter((key) => !seen.has(told(key)) && seen.add(told(key)))];
}
