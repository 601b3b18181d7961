// What surrounds the work: the theme, the borders between the pages, all remembered in this browser.
export function wireTheme(after = () => {}) {
  document.getElementById("theme").addEventListener("click", () => {
    const root = document.documentElement;
    const theme = root.dataset.theme === "night" ? "light" : "night";
    root.dataset.theme = theme;
    root.dataset.bsTheme = theme === "night" ? "dark" : "light";
    localStorage.setItem("deftarc.theme", theme);
    after();
  });
}

const kept = JSON.parse(localStorage.getItem("deftarc.layout") || "{}");
const layout = { where: kept.where || 0.44, pair: kept.pair || 0.46, names: kept.names || 0, room: "" };
const namesWide = () => layout.names || (innerWidth >= 1500 ? 230 : 162);

// What stands over and under the picture needs so much room.
const LEAST_WHERE = 464;

export function pairHeight() {
  const area = document.getElementById("time-area").clientHeight - 34;
  // Given all the room, it has the page to itself; else some lanes stay.
  if (layout.room === "pair") return Math.max(90, area - 8);
  return Math.round(Math.max(90, Math.min(area - 60, area * layout.pair)));
}

export function applyLayout() {
  const spread = document.getElementById("spread");
  const where = layout.room === "picture" ? 0.7 : layout.room === "pair" ? 0.3 : layout.where;
  const px = Math.round(Math.max(LEAST_WHERE, Math.min(spread.clientWidth - 420, spread.clientWidth * where)));
  spread.style.setProperty("--where", `${px}px`);
  document.documentElement.style.setProperty("--gutter", `${Math.round(namesWide())}px`);
  document.getElementById("divide-names").setAttribute("aria-valuenow", Math.round(namesWide()));
  document.getElementById("time-area").style.setProperty("--pair", `${pairHeight()}px`);
  document
    .getElementById("divide-pages")
    .setAttribute("aria-valuenow", Math.round((100 * px) / Math.max(1, spread.clientWidth)));
  document.getElementById("divide-pair").setAttribute("aria-valuenow", Math.round(100 * layout.pair));
}

export function giveRoom(to, after) {
  layout.room = layout.room === to ? "" : to;
  document.body.classList.toggle("room-pair", layout.room === "pair");
  applyLayout();
  after();
}

export function wireDividers(after) {
  const wire = (id, change) => {
    const divider = document.getElementById(id);
    const done = () => {
      localStorage.setItem(
        "deftarc.layout",
        JSON.stringify({ where: layout.where, pair: layout.pair, names: layout.names }),
      );
    };
    divider.addEventListener("pointerdown", (down) => {
      divider.setPointerCapture(down.pointerId);
      const move = (event) => {
        if (id !== "divide-names") layout.room = "";
        change(event.clientX, event.clientY);
        applyLayout();
        after();
      };
      divider.addEventListener("pointermove", move);
      divider.addEventListener(
        "pointerup",
        () => {
          divider.removeEventListener("pointermove", move);
          done();
        },
        { once: true },
      );
    });
    divider.addEventListener("keydown", (event) => {
      const box = divider.getBoundingClientRect();
      const step = { ArrowLeft: [-16, 0], ArrowRight: [16, 0], ArrowUp: [0, -16], ArrowDown: [0, 16] }[event.key];
      if (!step) return;
      event.preventDefault();
      event.stopPropagation();
      change(box.left + step[0], box.top + step[1]);
      applyLayout();
      after();
      done();
    });
  };
  wire("divide-pages", (x) => {
    layout.where = Math.max(0.2, Math.min(0.8, x / document.getElementById("spread").clientWidth));
  });
  wire("divide-names", (x) => {
    const area = document.getElementById("time-area");
    layout.names = Math.max(120, Math.min(area.clientWidth * 0.5, x - area.getBoundingClientRect().left));
  });
  wire("divide-pair", (_x, y) => {
    const box = document.getElementById("time-area").getBoundingClientRect();
    layout.pair = Math.max(0.15, Math.min(0.88, (y - box.top - 34) / (box.height - 34)));
  });
}
