// A name typed in the place where it stands.
// `done(name)` is called with what was typed, or with null where it was left as it was.
export function renameHere(button, name, label, done) {
  const field = document.createElement("input");
  field.className = "rename";
  field.value = name;
  field.setAttribute("aria-label", label);
  button.replaceWith(field);
  field.focus();
  field.select();
  let over = false;
  const finish = (keep) => {
    if (over) return;
    over = true;
    const typed = field.value.trim();
    field.replaceWith(button);
    done(keep && typed && typed !== name ? typed : null);
  };
  field.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.key === "Enter") finish(true);
    if (event.key === "Escape") finish(false);
  });
  field.addEventListener("blur", () => finish(true));
}
