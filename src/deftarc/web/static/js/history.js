// The history as a list: any state gone to, named, opened as a project of its own.
import { does } from "./actions.js";
import { isOpen, listIn, toggleDrawer } from "./drawer.js";
import { goThere } from "./holding.js";
import { http } from "./http.js";
import { look, step } from "./link.js";
import { ask, say } from "./notice.js";
import { put } from "./renew.js";
import { state } from "./state.js";

const body = document.getElementById("drawer-body");
const path = (revision, what) => `/api/projects/${state.project}/states/${revision}/${what}`;

// When it was, as one says it here: today by the clock, else by the day.
function tellTimes() {
  const today = new Date().toDateString();
  for (const time of body.querySelectorAll("time[data-at]")) {
    const at = new Date(Number(time.dataset.at) * 1000);
    const told =
      at.toDateString() === today
        ? at.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", second: "2-digit" })
        : at.toLocaleString([], { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });
    put(time, "textContent", told);
    put(time, "title", at.toLocaleString());
  }
}

const go = (revision) => step("go", goThere, { state: Number(revision) });

async function name(revision) {
  const told = await ask({
    title: "Name this state",
    about: "To be found in the history; an empty name takes it away.",
    label: "Name",
    value: "",
    act: "Name it",
  });
  if (told === null) return;
  const { ok, answer } = await http(path(revision, "name"), { method: "PUT", json: { name: told }, as: "text" });
  if (ok) look();
  else say(answer.detail);
}

async function copy(revision) {
  const { ok, answer } = await http(path(revision, "copy"), { method: "POST" });
  if (!ok) say(answer.detail);
  else
    say("This state is a project of its own now.", {
      label: "Open it",
      act: () => window.open(`/projects/${answer.id}`, "_blank"),
    });
}

does("history", () => toggleDrawer("history"), { on: () => isOpen("history") });
does("name-state", async () => {
  const { answer } = await http(`/api/projects/${state.project}/states`);
  name(answer.now);
});

export function wireHistory() {
  listIn("history", {
    shown: tellTimes,
    click(target) {
      const chip = target.closest("[data-state-chip]");
      const revision = chip?.dataset.stateChip ?? target.closest("[data-state]")?.dataset.state;
      if (!revision) return;
      if (chip || target.closest("[data-go-state]")) go(revision);
      else if (target.closest("[data-name-state]")) name(revision);
      else if (target.closest("[data-copy-state]")) copy(revision);
    },
  });
}
