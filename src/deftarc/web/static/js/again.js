// A scene's file brought in again, after it has changed.
import { does } from "./actions.js";
import { look, settled, step } from "./link.js";
import { say } from "./notice.js";
import { state } from "./state.js";
import { bringAgain } from "./uploads.js";

const chooser = /** @type {HTMLInputElement} */ (document.getElementById("again-file"));
const FEW = 6;
let wanted = null;

// The scene that is meant: the one that what is selected shows, else the one that is worked in.
function meant() {
  const origins = state.scene?.origins ?? {};
  const shown = state.layers.map((id) => state.info.get(id)?.shows).find((id) => id in origins);
  return shown ?? (state.scene?.id in origins ? state.scene.id : null);
}

const few = (words) => words.slice(0, FEW).join(", ") + (words.length > FEW ? ` and ${words.length - FEW} more` : "");

// Where both changed the same, the file is to have its way: its coming is taken back, and made again so.
async function takeFiles(file, scene, revision) {
  if (state.revision !== revision) {
    say("Other changes came since. Undo them, and the file's coming, and bring it in again.");
    return;
  }
  if (await step("undo", () => {})) await again(file, scene, "file");
}

async function again(file, scene, prefer) {
  const answer = await bringAgain(file, scene, prefer);
  if (!answer) return;
  if (answer.missing.length) say(`Of ${file.name} this is not carried. ${answer.missing.join(" ")}`);
  look();
  await settled();
  if (answer.kept.length)
    say(`Changed both here and in the file, and kept as it is here: ${few(answer.kept)}.`, {
      label: "Take the file's",
      act: () => takeFiles(file, scene, answer.revision),
    });
}

chooser.addEventListener("change", async () => {
  const [file] = chooser.files;
  chooser.value = "";
  if (file && wanted) await again(file, wanted, "here");
});

does(
  "bring-again",
  () => {
    wanted = meant();
    if (wanted) chooser.click();
  },
  {
    can: () => meant() !== null,
    refused: "Select a layer that shows a scene which came of a file, or work in such a scene.",
  },
);
