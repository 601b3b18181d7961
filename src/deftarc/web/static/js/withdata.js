// Elements by what their data says. A name goes into no selector: it could be one.
/** @param {Document | Element} root
 * @param {string} what
 * @param {Record<string, any>} data */
export const allWith = (root, what, data) =>
  /** @type {any[]} */ ([...root.querySelectorAll(what)]).filter((element) =>
    Object.entries(data).every(([name, value]) => element.dataset[name] === String(value)),
  );
/** @param {Document | Element} root
 * @param {string} what
 * @param {Record<string, any>} data */
export const oneWith = (root, what, data) => allWith(root, what, data)[0] || null;
// The unit in which the figures show a property; none where they do not.
export const unitOf = (property) => oneWith(document, "#figures .well", { property })?.dataset.unit ?? "";
