// What stands at the pointer in the pair: time, value and speed there, and what can be done.
import { hint } from "./notice.js";
import { inSpeed, localY, svg, yOf } from "./pairaxes.js";
import { state, timeOf, toldFrame } from "./state.js";
import { columnAt } from "./table.js";
import { told, toldValue } from "./told.js";
import { areaX, frameAtX, xOf } from "./time.js";
import { marked } from "./marked.js";

// Time, frame, value and speed at the pointer, of the curve that lies nearest.
export function read(event) {
  const group = svg()?.querySelector(".pointer-reading");
  if (!group) return;
  const inside = event && event.target.closest?.(".pair-area") && !state.playing && state.columns.pair;
  group.toggleAttribute("hidden", !inside);
  if (!inside) return;
  const frame = Math.max(0, Math.min(state.scene.frames - 1, frameAtX(areaX(event.clientX))));
  const y = localY(event.clientY);
  const rows = state.pair.curves
    .map((curve, n) => {
      const column = state.columns[n ? `pair ${curve.layer} ${curve.property}` : "pair"];
      if (!column) return null;
      const [value, speed] = columnAt(column, frame);
      return {
        curve,
        value,
        speed,
        off: Math.abs(inSpeed(y) ? yOf(curve.speed, speed) - y : yOf(curve.value, value) - y),
      };
    })
    .filter(Boolean)
    .sort((a, b) => a.off - b.off);
  const near = rows[0];
  if (!near) return;
  const x = xOf(timeOf(frame));
  const [first, second] = group.querySelectorAll("text");
  first.textContent = `${toldFrame(frame)} · frame ${frame}`;
  second.textContent = `${rows.length > 1 ? `${near.curve.title} ` : ""}${toldValue(near.curve, near.value)} · ${told(near.speed, near.curve.speed_unit)}`;
  const wide = Math.max(first.textContent.length, second.textContent.length) * 7.1 + 18;
  group.setAttribute("transform", `translate(${x} 0)`);
  group.querySelector("rect").setAttribute("width", wide);
  const top = Math.max(2, Math.min(state.pair.height - 40, y + (y > state.pair.height - 60 ? -50 : 14)));
  group
    .querySelector("g")
    .setAttribute("transform", `translate(${x + wide + 16 > state.axis.width ? -wide - 8 : 8} ${top})`);
}

export function hover(event, free) {
  const on = (what) => event.target.closest?.(what);
  read(free ? event : null);
  if (on(".side-handle"))
    hint(
      marked`<b>Handle</b> · <kbd>drag</kbd> reach and rise · <kbd>Alt</kbd> drag apart · <kbd>double click</kbd> make the joint smooth again`,
    );
  else if (on(".peak"))
    hint(marked`<b>Top speed</b> · <kbd>drag</kbd> to have it earlier or later; the speeds at the keys stay`);
  else if (on(".bead.in-speed"))
    hint(marked`<b>Speed at this key</b> · <kbd>drag</kbd> up and down, both sides of a smooth key together`);
  else if (on(".bead"))
    hint(
      marked`<b>Key</b> · <kbd>drag</kbd> in time and value · <kbd>Shift</kbd> level or upright · <kbd>double click</kbd> straight or curve · <kbd>Ctrl</kbd> add`,
    );
  else if (on(".key-box"))
    hint(marked`<b>Selected keys</b> · <kbd>drag</kbd> a grip to stretch, the frame to move them`);
  else if (on(".segment-way"))
    hint(
      marked`<b>Segment</b> ${on(".segment-way").dataset.told} · <kbd>click</kbd> select it · <kbd>drag</kbd> bend it · <kbd>double click</kbd> a key here, the motion unchanged`,
    );
  else if (on("[data-curve]"))
    hint(
      marked`<b>Curve</b> · <kbd>click</kbd> the colour to show or hide, the name to make it the main one · <kbd>right click</kbd> pin, alone, colour`,
    );
  else if (on(".pair-area"))
    hint(
      marked`<kbd>double click</kbd> a key at this time and value · <kbd>wheel</kbd> zoom time, with <kbd>Shift</kbd> the values · <kbd>drag</kbd> select many`,
    );
}
