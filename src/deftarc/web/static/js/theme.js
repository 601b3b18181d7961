// Sets the theme before anything is painted; the choice is remembered in this browser.
(() => {
  const wanted =
    localStorage.getItem("deftarc.theme") || (matchMedia("(prefers-color-scheme: dark)").matches ? "night" : "light");
  document.documentElement.dataset.theme = wanted;
  document.documentElement.dataset.bsTheme = wanted === "night" ? "dark" : "light";
})();
