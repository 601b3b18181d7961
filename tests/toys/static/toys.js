// The toys' side of the page: the effect on the canvas, what the action does, and where the panel's part goes.
import { does } from "/static/js/actions.js";
import { paints } from "/static/js/effects/register.js";
import { commit } from "/static/js/link.js";
import { receives } from "/static/js/receivers.js";
import { state } from "/static/js/state.js";

paints("haze", ({ amount: [amount] }, { size }) => `blur(${amount * size}px)`);
does("water", () => commit({ kind: "water", scene: state.scene.id, layers: state.layers }), { can: () => state.layers.length > 0 });
receives("census", (count) => {
  document.body.dataset.census = String(count);
});
