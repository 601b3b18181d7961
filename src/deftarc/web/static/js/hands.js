// Hands: what a pointer does on the picture, the lanes and the pair, in one ordered list. Each may have
//   down(event)   takes a press, or lets it go on to the next by answering with nothing,
//   move(event), up(event)   follow it, and answer whether they had it,
//   tried         says that what it cancels is something tried in place,
//   cancel(taken) puts back what is under way, and answers whether anything was: Escape asks the list, as does a pointer
//                 that the system took away; then nothing may be under way any more,
//   undo()        takes back the last part of what is under way; where it says nothing of it, all is put back,
//   words(target) what can be done with what lies under the pointer.
const hands = [];

// `order` says who is asked first; `place` where a press has to be for it.
export function hand(place, order, what) {
  hands.push({ place, order, ...what });
  hands.sort((a, b) => a.order - b.order);
}

// The first answer of a hand at a place, of those that can do what is asked.
export function ask(place, what, ...given) {
  for (const each of hands) {
    const answer = each.place === place && each[what]?.(...given);
    if (answer) return answer;
  }
  return null;
}

// The presses within an element go to the hands of a place. While none has the pointer, `over` hears where it is.
export function listen(place, element, over) {
  element.addEventListener("pointerdown", (event) => ask(place, "down", event));
  element.addEventListener("pointermove", (event) => {
    if (!ask(place, "move", event)) over(event);
  });
  element.addEventListener("pointerup", (event) => ask(place, "up", event));
  element.addEventListener("pointercancel", () => cancelAny(place, true));
}

// What is under way is put back: the first of all hands that has something.
export const cancelAny = (place = null, taken = false) =>
  hands.some((each) => (place === null || each.place === place) && each.cancel?.(taken));

// Undo while something is under way is about that, and not about what was done before.
export const undoAny = () => hands.some((each) => (each.undo ? each.undo() : each.tried && each.cancel()));

// Whether a button of the pointer is held on the page: then nothing but the hand changes what it works on.
let pressed = false;
export const isPressed = () => pressed;
const release = () => {
  pressed = false;
};
addEventListener(
  "pointerdown",
  () => {
    pressed = true;
  },
  true,
);
for (const end of ["pointerup", "pointercancel", "dragend"]) addEventListener(end, release, true);
addEventListener("blur", release);
// Let go outside of the window, it is noticed when the pointer comes back.
addEventListener("pointermove", (event) => event.buttons === 0 && release(), true);
