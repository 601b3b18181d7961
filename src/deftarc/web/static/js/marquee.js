// The box drawn around keys, in the lanes and in the pair, and around what is on the picture.
const area = document.getElementById("time-area");
const box = document.getElementById("marquee");

// Draws a box over a place, from where a drag began to the pointer: left, top, right, bottom on the page.
export function stretch(element, place, from, event) {
  const view = place.getBoundingClientRect();
  const [left, right] = [Math.min(from.x, event.clientX), Math.max(from.x, event.clientX)];
  const [top, bottom] = [Math.min(from.y, event.clientY), Math.max(from.y, event.clientY)];
  element.hidden = false;
  Object.assign(element.style, {
    left: `${left - view.left}px`,
    top: `${top - view.top}px`,
    width: `${right - left}px`,
    height: `${bottom - top}px`,
  });
  return [left, top, right, bottom];
}

// Draws it, and tells the beads that lie in it.
export function boxed(drag, event, beads) {
  const [left, top, right, bottom] = stretch(box, area, drag, event);
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
