// A drawing on two cels. While a hand drags, what it moves is lifted to the upper one: the lower one, with all that
// stays as it is, is not painted again at each move.
import { renew } from "./renew.js";

const SVG = "http://www.w3.org/2000/svg";
const blank = () => document.createElementNS(SVG, "g");

export function onCels(lower, upper) {
  let following = false; // whether the lower cel is as it was when the hand began
  const lifted = new Set(); // by place, what is on the upper cel
  const lift = (place) => {
    lifted.add(place);
    const here = lower.children[place];
    if (here) here.replaceWith(blank());
    else lower.append(blank());
  };
  return {
    // The lower cel, empty, to draw all on.
    whole() {
      following = false;
      lifted.clear();
      upper.replaceChildren();
      lower.replaceChildren();
      return lower;
    },
    // What is drawn under a hand: its elements differ from move to move in what the hand moves. What is `onTop` is
    // lifted with it.
    follow(fresh, onTop) {
      if (!following) {
        following = true;
        lower.replaceChildren(...fresh.children);
        return;
      }
      const told = [...fresh.children];
      const above = upper.cloneNode(false);
      told.forEach((next, place) => {
        if (!lifted.has(place) && !onTop(next) && lower.children[place]?.isEqualNode(next)) return;
        if (!lifted.has(place)) lift(place);
        above.append(next);
      });
      for (let place = told.length; place < lower.children.length; place += 1) if (!lifted.has(place)) lift(place);
      renew(upper, above);
    },
  };
}
