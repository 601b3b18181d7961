// Files sent to the server: read and answered about, or brought into the project as one edit each.
import { http } from "./http.js";
import { after, look, newId, reach, tellNotes } from "./link.js";
import { saved, settleTrouble } from "./queue.js";
import { say } from "./notice.js";
import { knowRevision, state } from "./state.js";

// A file the server reads and answers about; nothing is changed by it.
export async function send(path, file, fields) {
  const form = new FormData();
  form.append("file", file);
  for (const [name, value] of Object.entries(fields)) form.append(name, value);
  return after(async () => {
    try {
      const { ok, answer } = await http(`/api/projects/${state.project}${path}`, { method: "POST", form });
      if (ok) return answer;
      say(`${file.name}: ${answer.detail}`);
    } catch {
      say(`${file.name} did not reach the server; nothing was changed.`);
    }
    return null;
  });
}

/** @returns {Promise<any>} */
function upload(path, file, fields) {
  return after(async () => {
    const form = new FormData();
    form.append("file", file);
    form.append("revision", String(state.revision));
    form.append("edit_id", newId());
    for (const [name, value] of Object.entries(fields))
      if (value !== null && value !== undefined) form.append(name, value);
    saved(`Bringing in ${file.name}…`);
    try {
      const { ok, status, answer } = await reach(`/api/projects/${state.project}${path}`, { method: "POST", form });
      if (status === 409) knowRevision(answer.revision);
      if (!ok) {
        say(`${file.name}: ${answer.detail}`);
        saved("Nothing was changed");
        look();
        return null;
      }
      settleTrouble();
      knowRevision(answer.revision);
      tellNotes(answer);
      return answer;
    } catch {
      say(`${file.name} did not reach the server; nothing was changed.`);
      saved("Not saved");
      return null;
    }
  });
}

export async function bringIn(file, fields) {
  const answer = await upload(`/scenes/${state.scene.id}/files`, file, fields);
  if (answer?.missing.length) say(`${file.name} came in. ${answer.missing.join(" ")}`);
  return answer;
}

// A scene's file again, after it has changed. `prefer` says whose stays where both changed the same.
export const bringAgain = (file, scene, prefer) => upload(`/scenes/${scene}/again`, file, { prefer });

export const bringInMotions = (file) => upload("/motions/file", file, {});
export const bringInFont = (file) => upload("/fonts", file, {});
