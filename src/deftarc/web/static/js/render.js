// The sheet in which a scene is delivered: what was chosen is asked of the server, which draws all of it.
import { http } from "./http.js";
import { say } from "./notice.js";
import { receives } from "./receivers.js";
import { state } from "./state.js";
import { oneWith } from "./withdata.js";

const dialog = document.getElementById("render-dialog");
const form = () => /** @type {HTMLFormElement} */ (document.getElementById("deliver-form"));
// Milliseconds after the last letter typed at which is looked what comes of it.
const TYPED = 400;
let asking = 0;
let waiting = 0;

const put = (id, html) => {
  const place = document.getElementById(id);
  if (!place) return;
  place.innerHTML = html;
  window.htmx.process(place);
};

const refresh = () =>
  window.htmx.ajax("GET", `/projects/${state.project}/renders`, { target: "#renders", swap: "outerHTML" });

// A drawing with its motion that no browser plays by itself: by the player that pages have for it.
let playing = null;

function still() {
  playing?.destroy();
  playing = null;
}

async function play(place) {
  const [{ default: lottie }, { ok, answer }] = await Promise.all([
    import("../vendor/lottie-web/lottie_light.min.js"),
    http(place.dataset.plays),
  ]);
  if (!place.isConnected) return;
  place.closest("[data-making]")?.removeAttribute("data-making");
  if (!ok) return;
  still();
  playing = lottie.loadAnimation({
    container: place,
    renderer: "svg",
    loop: true,
    autoplay: true,
    animationData: answer,
  });
}

// A page with its motion stands in a frame of its own, in which nothing runs.
function frame(place) {
  const made = document.createElement("iframe");
  made.setAttribute("sandbox", "allow-same-origin");
  made.title = "How it will look";
  made.src = place.dataset.framed;
  place.replaceWith(made);
}

// What of the scene arrives as the form says it now, and how large that will be; only the newest question counts.
async function told() {
  clearTimeout(waiting);
  const mine = (asking += 1);
  const query = new URLSearchParams(/** @type {any} */ (new FormData(form())));
  const path = `/projects/${state.project}/deliver`;
  const { ok, answer } = await http(`${path}/told?${query}`, { as: "text" });
  if (mine !== asking || !form()) return;
  still();
  put("deliver-told", ok ? answer : "");
  const framed = /** @type {HTMLElement} */ (document.querySelector("#deliver-told [data-framed]"));
  if (framed) frame(framed);
  const place = document.querySelector("#deliver-told [data-plays]");
  if (place) play(place);
  if (!ok) say(answer.detail);
  if (!document.getElementById("deliver-size")) return;
  const size = await http(`${path}/size?${query}`, { as: "text" });
  const sizeLine = document.getElementById("deliver-size");
  if (mine === asking && sizeLine) sizeLine.textContent = size.ok ? size.answer : size.answer.detail;
}

// The sheet as it was used last; for where it goes, or with another output, where that is told.
async function draw(more = {}) {
  const query = new URLSearchParams({ scene: state.scene.id, frame: String(state.frame), ...more });
  const { ok, answer } = await http(`/projects/${state.project}/deliver?${query}`, { as: "text" });
  if (!ok) {
    say(answer.detail);
    return false;
  }
  dialog.innerHTML = answer;
  window.htmx.process(dialog);
  told();
  return true;
}

export async function openRender() {
  if (await draw()) dialog.showModal();
}

async function begin() {
  const path = `/projects/${state.project}/deliver`;
  const { ok, answer } = await http(path, { method: "POST", form: new FormData(form()), as: "text" });
  if (ok) put("deliver-queue", answer);
  else say(answer.detail);
}

async function wished(button) {
  const job = button.closest("[data-job]").dataset.job;
  const { ok, answer } = await http(`/api/renders/${job}/${button.dataset.wish}`, { method: "POST" });
  if (!ok) say(answer.detail);
  refresh();
}

const focused = (what, data) => oneWith(dialog, what, data)?.focus();

export function wireRender() {
  dialog.addEventListener("click", async (event) => {
    const to = event.target.closest("[data-to]")?.dataset.to;
    const wish = event.target.closest("[data-wish]");
    if (to && (await draw({ to }))) focused("[data-to]", { to });
    if (wish) wished(wish);
  });
  dialog.addEventListener("input", (event) => {
    if (event.target.name === "output") return;
    clearTimeout(waiting);
    waiting = setTimeout(told, TYPED);
  });
  dialog.addEventListener("change", async (event) => {
    const { name, value } = event.target;
    // What another output can be told is another form.
    if (name !== "output") told();
    else if (await draw({ output: value }))
      /** @type {any} */ ([...dialog.querySelectorAll("[name=output]")]).find((each) => each.value === value)?.focus();
  });
  dialog.addEventListener("submit", (event) => {
    event.preventDefault();
    begin();
  });
  // Somebody else changed the project meanwhile: what the sheet says and shows is of the scene as it is now.
  let seen = 0;
  receives("revision", (revision) => {
    if (dialog.open && seen && revision !== seen) {
      clearTimeout(waiting);
      waiting = setTimeout(told, TYPED);
    }
    seen = revision;
  });
  // What is shown of it is there, or cannot be: neither event is told to what stands around it.
  for (const kind of ["load", "loadeddata", "error"])
    dialog.addEventListener(kind, () => dialog.querySelector("[data-making]")?.removeAttribute("data-making"), true);
  // Nothing of it goes on once it is closed: neither what plays nor what is asked again and again.
  dialog.addEventListener("close", () => {
    clearTimeout(waiting);
    asking += 1;
    still();
    dialog.replaceChildren();
  });
}
