// What htmx asks for shows that this page asks: the token it came with goes along.
document.addEventListener("htmx:configRequest", (/** @type {any} */ event) => {
  const page = /** @type {HTMLMetaElement} */ (document.querySelector("meta[name=deftarc-page]"));
  event.detail.headers["X-Deftarc-Page"] = page.content;
});
