// A menu of words at a place, gone through by mouse or arrows.
const menu = document.getElementById("menu");
let before = null;

export function showMenu(x, y, items) {
  menu.replaceChildren();
  for (const item of items.filter(Boolean)) {
    if (item === "-") {
      if (menu.lastChild && menu.lastChild.tagName !== "HR")
        menu.append(Object.assign(document.createElement("hr"), { className: "dropdown-divider" }));
      continue;
    }
    const [label, act, key = ""] = item;
    const button = document.createElement("button");
    button.className = "dropdown-item";
    button.setAttribute("role", "menuitem");
    button.textContent = label;
    if (key) button.append(" ", Object.assign(document.createElement("small"), { textContent: key }));
    button.addEventListener("click", () => {
      closeMenu();
      act();
    });
    menu.append(button);
  }
  if (!menu.children.length) return;
  // One menu at a time.
  for (const open of document.querySelectorAll("[data-bs-toggle=dropdown].show"))
    window.bootstrap.Dropdown.getInstance(open)?.hide();
  before = document.activeElement;
  menu.hidden = false;
  menu.classList.add("show");
  menu.style.left = `${Math.max(4, Math.min(innerWidth - menu.offsetWidth - 4, x))}px`;
  menu.style.top = `${Math.max(4, Math.min(innerHeight - menu.offsetHeight - 4, y))}px`;
  menu.querySelector("button").focus({ preventScroll: true });
}

// Where a menu opens: at the pointer; for a button pressed by the keyboard, at the button.
export function clickedAt(event) {
  if (event.detail) return [event.clientX, event.clientY];
  const box = event.target.closest("button").getBoundingClientRect();
  return [box.left, box.bottom + 2];
}

export function closeMenu() {
  if (menu.hidden) return false;
  menu.hidden = true;
  menu.classList.remove("show");
  before?.focus?.({ preventScroll: true });
  return true;
}

document.addEventListener("show.bs.dropdown", closeMenu);
menu.addEventListener("keydown", (event) => {
  const items = [...menu.querySelectorAll("button")];
  const at = items.indexOf(document.activeElement);
  const step = { ArrowDown: 1, ArrowUp: -1, Tab: event.shiftKey ? -1 : 1 }[event.key];
  if (step) {
    event.preventDefault();
    items[(at + step + items.length) % items.length].focus();
  }
  if (event.key === "Escape") closeMenu();
  event.stopPropagation();
});
addEventListener(
  "pointerdown",
  (event) => {
    if (!menu.contains(event.target)) closeMenu();
  },
  true,
);
