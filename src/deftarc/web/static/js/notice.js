// Sentences to the person: notices that stay until read, and the hint line.
import { nodesOf } from "./marked.js";

// What was refused is told until something else is done: by then it may be true no more.
export function dropRefusals() {
  for (const old of document.querySelectorAll("#notices .refusal")) old.remove();
}

export function say(sentence, offer = null, refusal = false) {
  let place = document.getElementById("notices");
  if (!place) {
    place = document.createElement("div");
    place.id = "notices";
    place.setAttribute("role", "alert");
    document.body.append(place);
  }
  for (const old of [...place.children]) if (old.firstChild.textContent === sentence) old.remove();
  const notice = document.createElement("div");
  notice.className = refusal ? "notice refusal" : "notice";
  const words = document.createElement("span");
  words.textContent = sentence;
  notice.append(words);
  if (offer) {
    const act = document.createElement("button");
    act.className = "notice-offer";
    act.textContent = offer.label;
    act.addEventListener("click", () => {
      notice.remove();
      offer.act();
    });
    notice.append(act);
  }
  const close = document.createElement("button");
  close.setAttribute("aria-label", "Close");
  close.textContent = "×";
  close.addEventListener("click", () => notice.remove());
  notice.append(close);
  place.append(notice);
  while (place.children.length > 3) place.firstChild.remove();
  setTimeout(() => notice.remove(), offer ? 20000 : 9000);
}

/** @param {import("./marked.js").Marked | string} words */
export function hint(words) {
  const line = document.getElementById("hint");
  const next = nodesOf(words);
  const same = line.childNodes.length === next.childNodes.length;
  if (!same || [...next.childNodes].some((node, n) => !node.isEqualNode(line.childNodes[n])))
    line.replaceChildren(next);
}

// A question with one typed answer; resolves to null when it is dismissed.
export function ask({ title, about = "", label, value = "", act = "Do it", long = false }) {
  const dialog = document.getElementById("ask-dialog");
  dialog.querySelector("h2").textContent = title;
  dialog.querySelector(".ask-about").textContent = about;
  dialog.querySelector("label span").textContent = label;
  dialog.querySelector("[value=ok]").textContent = act;
  const field = dialog.querySelector("input");
  field.maxLength = long ? 20000 : 200;
  field.value = value;
  dialog.returnValue = "";
  dialog.showModal();
  field.select();
  return new Promise((done) => {
    dialog.addEventListener(
      "close",
      () => {
        done(dialog.returnValue === "ok" ? field.value : null);
      },
      { once: true },
    );
  });
}
