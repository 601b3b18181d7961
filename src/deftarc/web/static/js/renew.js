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
      if (next.nodeType === ELEMENT && next.hasAttribute("same")) {
        /* a blank: what is here stays */
      } else if (now.nodeName !== next.nodeName) now.replaceWith(next);
      else if (now.nodeType !== ELEMENT) {
        if (now.nodeValue !== next.nodeValue) now.nodeValue = next.nodeValue;
      } else if (!now.isEqualNode(next)) renew(now, next);
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
  // What somebody is typing stays; what is looked for in a list is told at each letter, and the field is ahead of that.
  const leads = live.dataset?.drawerFind !== undefined;
  const typed =
    live === document.activeElement &&
    (leads || (live.dataset.before !== undefined && live.value !== live.dataset.before));
  if (!typed && live.matches?.("input, textarea") && live.value !== fresh.value) live.value = fresh.value;
  // By their names: the browser makes an object of each attribute that is asked for as one.
  const names = fresh.getAttributeNames();
  for (const name of names) {
    const value = fresh.getAttribute(name);
    if (live.getAttribute(name) !== value) live.setAttribute(name, value);
  }
  const had = live.getAttributeNames();
  // What somebody unfolded stays unfolded.
  const keeps = (name) => name === "open" && live.matches("details");
  if (had.length > names.length)
    for (const name of had) if (!fresh.hasAttribute(name) && !keeps(name)) live.removeAttribute(name);
}

// Written only where it differs: the browser lays out and paints anew whatever is written, the same words too.
export const put = (element, name, value) => {
  if (element[name] !== value) element[name] = value;
};
export const mark = (element, name, value) => {
  if (element.getAttribute(name) !== String(value)) element.setAttribute(name, value);
};
