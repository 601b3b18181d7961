// The render sheet: start, follow, stop, save.
import { http } from "./http.js";
import { say } from "./notice.js";
import { state, toldFrame } from "./state.js";

const dialog = document.getElementById("render-dialog");

const refresh = () =>
  window.htmx.ajax("GET", `/projects/${state.project}/renders`, { target: "#renders", swap: "outerHTML" });

export function openRender() {
  const { scene } = state;
  const odd = scene.width % 2 || scene.height % 2;
  document.getElementById("render-name").textContent = scene.name;
  document.getElementById("render-about").textContent =
    `${scene.width} × ${scene.height} · ${scene.frames} frames at ${Math.round(scene.rate * 1000) / 1000} a second${odd ? " · a movie is padded by one pixel where a side is odd" : ""}`;
  // A movie has no transparency: what shows through the background is chosen.
  document.getElementById("render-ground-row").hidden = Boolean(
    scene.background && (scene.background.length === 7 || scene.background.endsWith("ff")),
  );
  // The play range is offered where there is one.
  const [first, last] = scene.range;
  document.getElementById("render-part-row").hidden = !scene.ranged;
  document.getElementById("render-range-told").textContent =
    `the play range, ${toldFrame(first)} to ${toldFrame(last - 1)}: ${last - first} frames`;
  const part = document.getElementById(scene.ranged ? "render-range" : "render-all");
  /** @type {any} */ (part).checked = true;
  dialog.showModal();
  refresh();
}

export function wireRender() {
  dialog.addEventListener("click", async (event) => {
    const kind = event.target.closest("[data-render]")?.dataset.render;
    const wish = event.target.closest("[data-wish]");
    if (!kind && !wish) return;
    const path = kind
      ? `/api/projects/${state.project}/renders`
      : `/api/renders/${wish.closest("[data-job]").dataset.job}/${wish.dataset.wish}`;
    const ground = document.getElementById("render-ground").value;
    const part = /** @type {any} */ (document.getElementById("render-range")).checked ? "range" : "all";
    const json = kind ? { scene: state.scene.id, kind, frame: state.frame, ground, options: { part } } : undefined;
    const { ok, answer } = await http(path, { method: "POST", json });
    if (!ok) say(answer.detail);
    refresh();
  });
}
