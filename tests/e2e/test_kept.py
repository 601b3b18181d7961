"""What the page keeps of what it has painted: as long as nothing of it changes, and no more of it than there is room for."""

from deftarc.core.document import Project
from deftarc.core.document.artwork import Rectangle
from tests.looks import effect, round_mask
from tests.running import NOTHING
from tests.scenes import layer, numbers, positions, scene

KEPT = """async () => {
  const { kept, forgetKept } = await import("/static/js/kept.js");
  const sheet = (width, height) => ({ canvas: { width, height } });
  let made = 0;
  const ask = (name, facts, size = 10) => kept(name, facts, () => { made += 1; return sheet(size, size); });
  const out = {};
  out.first = ask("one", [1, 2]);
  const again = ask("one", [1, 2]);
  out.again = again !== null && ask("one", [1, 2]) === again && made === 1;
  out.changed = ask("one", [1, 3]);
  out.longer = ask("one", [1, 3, 4]);
  out.other = ask("two", [1, 3, 4]);
  made = 0;
  for (let n = 0; n < 6; n += 1) { ask(`big ${n}`, [n], 2000); ask(`big ${n}`, [n], 2000); }
  out.room = made;
  made = 0;
  ask("big 5", [5], 2000);
  out.latest = made;
  ask("big 0", [0], 2000);
  out.oldest = made;
  forgetKept();
  out.forgotten = ask("big 5", [5], 2000);
  return out;
}"""


def test_a_sheet_is_kept_while_nothing_of_it_changes(tab, served):
    tab.goto(served.at(NOTHING))
    told = tab.evaluate(KEPT)
    assert told["again"]
    assert [told[name] for name in ("first", "changed", "longer", "other", "forgotten")] == [None] * 5


def test_the_one_used_longest_ago_makes_room(tab, served):
    tab.goto(served.at(NOTHING))
    told = tab.evaluate(KEPT)
    assert told["room"] == 6
    assert told["latest"] == 0
    assert told["oldest"] == 1


PLAYED = """async () => {
  const made = [];
  const own = Object.getOwnPropertyDescriptor(CanvasRenderingContext2D.prototype, "filter");
  Object.defineProperty(CanvasRenderingContext2D.prototype, "filter", {
    get: own.get, set(words) { if (words !== "none") made.push(words); own.set.call(this, words); }, configurable: true });
  const { goTo } = await import("/static/js/time.js");
  const counts = [];
  for (let frame = 0; frame < 12; frame += 1) {
    made.length = 0;
    goTo(frame);
    counts.push(made.length);
  }
  return counts;
}"""


def test_what_is_soft_and_only_moves_is_softened_once(tab, served):
    def row(name, tracks=(), **how):
        made = layer(name, Rectangle(width=120, height=80), position=positions((0, (100, 100)), (20, (400, 200))))
        return made.changed(tracks={**made.tracks, **dict(tracks)}, **how)

    still = [row("Soft", effects=(effect("blur", radius=6),)), row("Seen", masks=(round_mask(feather=6),))]
    softer = {"effect/one/blur_radius": numbers((0, 4), (20, 12))}
    changing = row("Softer", softer, effects=(effect("blur", radius=6),))
    for name, rows in (("moves", still), ("changes", [changing])):
        served.shop.projects.create(Project(name=name, scenes=(scene(*rows, frames=21),)), name)
    counts = {}
    for name in ("moves", "changes"):
        tab.goto(served.at(f"/projects/{name}"))
        tab.wait_for_function("() => window.deftarc && window.deftarc.state.items.size > 0")
        tab.evaluate("window.deftarc.settled()")
        counts[name] = tab.evaluate(PLAYED)
    assert sum(counts["moves"][3:]) == 0
    assert min(counts["changes"][1:]) >= 1
