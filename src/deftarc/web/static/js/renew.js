// Elements brought to what others are, place by place: what stays the same is not touched, and so not painted again.
const ELEMENT = 1;

// Gives `live` the attributes and the content of `fresh`. What has no counterpart is moved over from it.
export function renew(live, fresh) {
  renewAttributes(live, fresh);
  let now = live.firstChild;
  let next = fresh.firstChild;
  while (next) {
    const after = next.nextSibling;
    if (!now) live.append(next);
    else {
      const then = now.nextSibling;
      if (next.nodeType === ELEMENT && next.hasAttribute("same")) { /* a blank: what is here stays */ }
      else if (now.nodeName !== next.nodeName) now.replaceWith(next);
      else if (now.nodeType !== ELEMENT) { if (now.nodeValue !== next.nodeValue) now.nodeValue = next.nodeValue; }
      else if (!now.isEqualNode(next)) renew(now, next);
      now = then;
    }
    next = after;
  }
  while (now) {
    const then = now.nextSibling;
    now.remove();
    now = then;
  }
}

// What a field shows goes by itself once it was typed in: it is brought along.
function renewAttributes(live, fresh) {
  if (live.matches?.("input, textarea") && live.value !== fresh.value) live.value = fresh.value;
  for (const { name, value } of fresh.attributes) if (live.getAttribute(name) !== value) live.setAttribute(name, value);
  if (live.attributes.length === fresh.attributes.length) return;
  for (const { name } of [...live.attributes]) if (!fresh.hasAttribute(name)) live.removeAttribute(name);
}
