// The start page: sentences for refusals, a project file opened, the theme.
import { http } from "./http.js";
import { say } from "./notice.js";
import { wireTheme } from "./chrome.js";

wireTheme();
document.body.addEventListener("htmx:responseError", (/** @type {any} */ event) => {
  let detail = "That did not work. Try again.";
  try {
    detail = JSON.parse(event.detail.xhr.responseText).detail;
  } catch {
    /* not JSON: keep the general sentence */
  }
  say(detail);
});
document.body.addEventListener("htmx:sendError", () => say("The server does not answer. Is it still running?"));
document.getElementById("import").addEventListener("change", async (event) => {
  const file = event.target.files[0];
  if (!file) return;
  const form = new FormData();
  form.append("file", file);
  const { ok, answer } = await http("/api/projects/import", { method: "POST", form });
  event.target.value = "";
  const open = () => (location.href = `/projects/${answer.id}`);
  if (!ok) say(answer.detail);
  else if (answer.notes.length)
    say(`It is here, but for this. ${answer.notes.join(" ")}`, { label: "Open it", act: open });
  else open();
});
