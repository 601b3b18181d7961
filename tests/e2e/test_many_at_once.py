"""Keys by the hundred under one hand: it is shown what lies under it at each move, and all that follows when it rests."""

import difflib
import time

import pytest
from playwright.sync_api import expect

from deftarc.web.live import brief as brief_room
from deftarc.web.live.page import Looking
from tests.e2e.conftest import Workbench

AT = 29_400_000  # flicks a frame in Crossing
PICTURE = "document.getElementById('picture').toDataURL()"
#: All that lanes, pair and figures show, but for what the pointer lies on; rows and attributes in one order.
SHOWN = """() => {
  const say = (node) => {
    if (node.nodeType !== 1) return node.data?.trim() || "";
    if (node.matches(".pointer-reading")) return "";
    const told = [...node.attributes].map(({ name, value }) => `${name}=${value}`).sort();
    return [`<${node.nodeName} ${told.join(" ")}>`, ...[...node.childNodes].map(say)].filter(Boolean).join("\\n");
  };
  return ["lanes", "pair", "figures", "lanes-box", "ruler"].flatMap((id) =>
    [id, ...[...document.getElementById(id).children].map(say).sort()]);
}"""
#: Counts what the page puts on, and what it no longer waits for.
COUNT = """() => {
  window.shown = { moved: 0, painted: 0, left: 0 };
  for (const what of ["moved", "painted"]) document.addEventListener(`deftarc:${what}`, () => { window.shown[what] += 1; });
  const send = WebSocket.prototype.send;
  WebSocket.prototype.send = function (told) {
    if (told.startsWith('{"stop"')) window.shown.left += 1;
    send.call(this, told);
  };
}"""


def frames(bench, layer, name):
    return [time // AT for time in bench.track(layer, name).key_times]


def alike(one, other):
    """Line by line, so that a failure says which."""
    ways = difflib.unified_diff("\n".join(one).split("\n"), "\n".join(other).split("\n"), lineterm="", n=0)
    assert "\n".join(ways) == ""


def grip(bench, side="end"):
    box = bench.tab.locator(f'#lanes-box .key-grip[data-grip="{side}"]').bounding_box()
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


@pytest.fixture(params=["lanes alone", "with the picture"])
def heavy(monkeypatch, request):
    """All hands in the lanes move more than all that follows could keep up with."""
    monkeypatch.setattr(brief_room, "MANY_KEYS", -1)
    monkeypatch.setattr(brief_room, "LANES_LIVE", -1 if request.param == "lanes alone" else 30)


@pytest.fixture
def title(heavy, bench):
    """The lettering with all its keys selected, scale at 18, 34, 44 and opacity at 18, 28, between two of them; gull is
    folded.
    """
    bench.select("gull")
    bench.tab.locator('[data-fold="gull"]').click()
    # The rows below move up.
    bench.settle()
    bench.select("title")
    bench.go(23)
    bench.press("Control+a")
    assert len(bench.state["keys"]) == 5
    bench.tab.evaluate(COUNT)
    return bench


def a_frame(bench):
    return bench.tab.evaluate(f"(({{axis}}) => {AT} / (axis.end - axis.start) * axis.width)(window.deftarc.state)")


def counted(bench):
    return bench.tab.evaluate("window.shown")


def moving(bench, x, y, frames):
    """The hand goes on so many frames, a move each, without a rest."""
    for n in range(frames):
        bench.tab.mouse.move(x + (n + 1) * a_frame(bench), y)
        bench.until(lambda n=n: counted(bench)["moved"] > n)


def test_marks_and_box_go_with_the_hand_and_all_else_follows_when_it_rests(title):
    before, picture = title.tab.evaluate(SHOWN), title.tab.evaluate(PICTURE)
    x, y = grip(title)
    title.tab.mouse.move(x, y)
    title.tab.mouse.down()
    moving(title, x, y, 6)
    assert counted(title)["moved"] >= 6
    # Where the hand is, and not where it was. Moves are counted as their pictures come, too, ahead of the lanes: it is
    # waited for the box.
    title.until(lambda: grip(title)[0] == pytest.approx(x + 6 * a_frame(title), abs=2))
    expect(title.tab.locator("#hint")).to_contain_text("Stretching 5 keys over 32 frames")
    expect(title.tab.locator("#lane-title-scale .bead.selected").first).to_be_attached()
    title.settle()
    assert counted(title)["painted"] >= 1
    assert title.tab.evaluate(PICTURE) != picture
    assert frames(title, "title", "scale") == [18, 34, 44]
    title.press("Escape")
    title.tab.mouse.up()
    title.settle()
    assert title.tab.evaluate(PICTURE) == picture
    alike(title.tab.evaluate(SHOWN), before)


def test_what_is_dropped_is_what_a_page_loaded_again_shows(title):
    x, y = grip(title)
    title.tab.mouse.move(x, y)
    title.tab.mouse.down()
    moving(title, x, y, 5)
    # Let go in the midst of it.
    title.tab.mouse.up()
    title.settle()
    assert frames(title, "title", "scale") == [18, 37, 49]
    shown, picture = title.tab.evaluate(SHOWN), title.tab.evaluate(PICTURE)
    title.press("Control+z")
    assert frames(title, "title", "scale") == [18, 34, 44]
    title.press("Control+Shift+z")
    alike(title.tab.evaluate(SHOWN), shown)
    title.tab.reload()
    again = Workbench(title.tab, title.served)
    assert again.tab.evaluate(PICTURE) == picture
    alike(again.tab.evaluate(SHOWN), shown)


def test_a_summary_of_folded_lanes_is_moved_and_snaps_as_ever(title):
    title.select("gull")
    dot = title.tab.locator("#layer-gull .summary").nth(1)
    x, y = title.middle(dot)
    was = frames(title, "gull", "position")
    title.tab.evaluate("window.shown.moved = 0")
    title.tab.mouse.move(x, y)
    title.tab.mouse.down()
    for n in range(4):
        title.tab.mouse.move(x + (n + 1) * a_frame(title), y)
    title.until(lambda: counted(title)["moved"] > 0)
    expect(title.tab.locator("#layer-gull .summary-dots.selected")).to_be_attached()
    title.settle()
    # Rested, there is something to point at again.
    expect(title.tab.locator("#layer-gull .summary-dots")).to_have_count(0)
    title.tab.mouse.up()
    title.settle()
    assert frames(title, "gull", "position") != was


def test_a_hand_that_moves_on_is_not_kept_waiting_for_what_followed_from_where_it_rested(title, monkeypatch):
    slow = Looking._frames
    monkeypatch.setattr(brief_room, "LANES_LIVE", -1)

    def slowly(self, scene):
        time.sleep(0.4)
        return slow(self, scene)

    x, y = grip(title)
    title.tab.mouse.move(x, y)
    title.tab.mouse.down()
    title.tab.mouse.move(x + 4 * a_frame(title), y)
    title.settle()
    monkeypatch.setattr(Looking, "_frames", slowly)
    painted = counted(title)["painted"]
    for n in range(3):
        title.tab.mouse.move(x + (5 + n) * a_frame(title), y)
        # Long enough to be taken for a rest, not for all that follows to be made.
        title.tab.wait_for_timeout(250)
    assert counted(title)["left"] >= 1
    monkeypatch.undo()
    title.settle()
    assert counted(title)["painted"] > painted
    title.tab.mouse.up()
    title.settle()
    assert frames(title, "title", "scale") == [18, 38, 51]
