// Sentences to the user, lower right; they stay long enough to be read.
export function say(sentence) {
  let place = document.getElementById("notices");
  if (!place) {
    place = document.createElement("div");
    place.id = "notices";
    place.setAttribute("role", "alert");
    document.body.append(place);
  }
  const notice = document.createElement("div");
  notice.className = "notice";
  const words = document.createElement("span");
  words.textContent = sentence;
  const close = document.createElement("button");
  close.textContent = "✕";
  close.setAttribute("aria-label", "Close");
  close.onclick = () => notice.remove();
  notice.append(words, close);
  place.append(notice);
  while (place.children.length > 4) place.firstChild.remove();
  setTimeout(() => notice.remove(), 4000 + 60 * sentence.length);
}

export function hint(html) {
  const place = document.getElementById("hint");
  if (place && place.innerHTML !== html) place.innerHTML = html;
}
