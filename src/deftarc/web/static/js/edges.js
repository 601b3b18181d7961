// At the edges of the lanes the list rolls on and time goes on under a hand.
import { state } from "./state.js";
import { panTime } from "./time.js";

const scroller = document.getElementById("lanes-scroll");
let edging = 0;

// As long as the hand stays there, `again.move` is asked anew each frame.
export function atEdges(event, again) {
  cancelAnimationFrame(edging);
  const view = scroller.getBoundingClientRect();
  const left = view.left + (view.width - state.axis.width);
  const down =
    event.clientY > view.bottom - 14 ? 10 : event.clientY < view.top + 14 && event.clientY > view.top - 40 ? -10 : 0;
  // The further out the hand, the faster time goes on.
  const [after, before] = [event.clientX - (view.right - 14), left + 10 - event.clientX];
  const faster = (beyond) => Math.min(12, 3 + 0.6 * beyond);
  const across = !again.time ? 0 : after > 0 ? faster(after) : before > 0 ? -faster(before) : 0;
  if (!down && !across) return;
  const top = scroller.scrollTop;
  if (down) scroller.scrollTop += down;
  if (across) panTime(across);
  if (across || scroller.scrollTop !== top) edging = requestAnimationFrame(() => again.move(event));
}

export const leaveEdges = () => cancelAnimationFrame(edging);
