// Where text becomes elements (Trusted Types): the browser hands every string that a script of this page is about to make
// elements of to this check. What the server draws has no element that loads or runs anything, so whatever has one was
// made of something else, and nothing is made of it. No string becomes a script at all.
(() => {
  const types = /** @type {any} */ (window).trustedTypes;
  if (!types) return;
  const LOADS = /<\/?(?:script|iframe|frame|frameset|object|embed|applet|portal|fencedframe|base|meta|link)(?![\w-])/i;
  const refuse = () => {
    throw new TypeError("This text may not become elements of the page.");
  };
  types.createPolicy("default", {
    createHTML: (text) => (LOADS.test(text) ? refuse() : text),
    createScript: refuse,
    createScriptURL: (address) => {
      const { origin, pathname } = new URL(address, location.href);
      return origin === location.origin && pathname.startsWith("/static/worklets/") ? address : refuse();
    },
  });
})();
