"""While a hand drags: what did not move stays the same element, and all that is shown is what a fresh page shows."""

import pytest

from deftarc.formats.wire import unpack
from deftarc.web.live.lines import SAME, filled
from deftarc.web.live.page import Looking
from tests.e2e.pairing import PairHand

SEEN = "[...document.querySelectorAll('#pair-curves path, #pair-curves circle, #overlay path, #overlay rect')]"
MARK = f"for (const each of {SEEN}) each.seen = each.outerHTML"
KEPT = f"(() => {{ const all = {SEEN}; return all.filter((each) => each.seen === each.outerHTML).length / all.length; }})()"
OVERLAY = "document.getElementById('overlay').innerHTML"
#: What a fragment that came would be, put in place anew; selection is the page's own to mark.
ANEW = """([id, html]) => {
  const bare = (text) => text.replaceAll(" selected", "");
  const place = document.getElementById(id).cloneNode(false);
  place.innerHTML = html;
  return [bare(document.getElementById(id).innerHTML), bare(place.innerHTML)];
}"""


@pytest.fixture
def sent(bench):
    """The newest of each fragment that came to the page."""
    told = {}

    def heard(payload):
        if isinstance(payload, bytes):
            came = unpack(payload)[0].get("fragments") or {}
            told["blanks"] = told.get("blanks", 0) + sum(html.count(SAME) for html in came.values())
            # What stays is not told again.
            told.update({name: filled(html, told.get(name, "")) for name, html in came.items()})

    bench.tab.on("websocket", lambda socket: socket.on("framereceived", heard))
    bench.open("/projects/quillhaven")
    bench.settle()
    return told


@pytest.fixture
def pair(bench, sent):
    bench.select("gull")
    bench.tab.locator("#lane-gull-rotation [data-focus]").click()
    bench.settle()
    return PairHand(bench)


def fresh(bench):
    bench.tab.evaluate("window.deftarc.look({ fresh: true })")
    bench.settle()


def held(bench, start, by):
    """A hand that went part of the way, and has not let go."""
    x, y = start
    bench.drag(start, (x + by[0] / 2, y + by[1] / 2), release=False)
    bench.tab.evaluate(MARK)
    bench.tab.mouse.move(x + by[0], y + by[1], steps=3)
    bench.settle()


def test_a_handle_dragged_in_the_pair_draws_only_what_it_bends(bench, pair, sent):
    pair.press_bead("rotation", 1)
    handle = pair.handle(bench.track("gull", "rotation").key_times[1], "leaving")
    held(bench, bench.middle(handle), (14, -30))
    assert bench.tab.evaluate(KEPT) > 0.6
    for fragment in ("pair-curves", "figures-key"):
        shown, anew = bench.tab.evaluate(ANEW, [fragment, sent[fragment]])
        assert shown == anew, fragment
    assert sent["blanks"] > 10
    bench.tab.keyboard.press("Escape")
    bench.tab.mouse.up()
    bench.settle()


def test_a_point_dragged_on_its_path_draws_only_what_it_bends(bench):
    bench.select("gull")
    bench.press("e")
    point = bench.tab.locator("#overlay .path-key[data-path-key]").nth(1)
    held(bench, bench.middle(point), (30, -24))
    assert bench.tab.evaluate(KEPT) > 0.3
    shown = bench.tab.evaluate(OVERLAY)
    fresh(bench)
    assert bench.tab.evaluate(OVERLAY) == shown
    bench.tab.mouse.up()
    bench.settle()
    assert bench.tab.locator("#overlay .path-key[data-path-key]").count() == len(bench.track("gull", "position").keys)


#: Each part of an answer as it is put on the page: what it was, where the selected key of the path lies then, and how
#: the curve goes.
PARTS = """() => {
  window.parts = [];
  const at = (what) => { const found = document.querySelector(what); return found && `${found.getAttribute("cx")} ${found.getAttribute("d") || ""}`; };
  for (const name of ["moved", "painted"]) document.addEventListener(`deftarc:${name}`, ({ detail }) =>
    window.parts.push([name, detail.n, at("#overlay .path-key.selected"), at("#pair-curves .value")]));
}"""


def test_on_the_picture_the_path_follows_the_hand_ahead_of_the_curves(bench, monkeypatch):
    monkeypatch.setattr(Looking, "patience", -1.0)
    bench.select("gull")
    bench.press("e")
    x, y = bench.middle(bench.tab.locator("#overlay .path-key[data-path-key]").nth(1))
    bench.tab.mouse.click(x, y)
    bench.settle()
    bench.tab.wait_for_timeout(600)
    bench.tab.evaluate(PARTS)
    bench.drag((x, y), (x + 8, y), release=False)
    bench.tab.mouse.move(x + 30, y - 24)
    bench.settle()
    parts = bench.tab.evaluate("window.parts")
    moved = {n: (path, curve) for name, n, path, curve in parts if name == "moved"}
    painted = {n: (path, curve) for name, n, path, curve in parts if name == "painted"}
    last = max(moved)
    assert last == max(painted)
    # First the key is under the hand, then the curve tells of it; and the key stays where it was put.
    assert moved[last][0] == painted[last][0]
    assert moved[last][1] != painted[last][1]
    shown = bench.tab.evaluate(OVERLAY)
    assert bench.tab.locator("#pair-curves .value").first.get_attribute("d") in painted[last][1]
    fresh(bench)
    assert bench.tab.evaluate(OVERLAY) == shown
    bench.press("Escape")
    bench.tab.mouse.up()
    bench.settle()


LAID = """(which) => [...document.querySelectorAll(`#overlay .cel${which} > *`)].map((each) => each.outerHTML).filter((html) => html !== "<g></g>")"""


def test_what_a_hand_moves_is_lifted_from_what_stays_and_both_are_what_is(bench):
    bench.select("gull")
    bench.press("e")
    bench.press("r")
    lower, above = (lambda: bench.tab.evaluate(LAID, ":not(.above)")), (lambda: bench.tab.evaluate(LAID, ".above"))
    x, y = bench.middle(bench.tab.locator("#overlay .path-key[data-path-key]").nth(1))
    bench.tab.mouse.click(x, y)
    bench.settle()
    whole = lower()
    # A press right after it would be a double click.
    bench.tab.wait_for_timeout(600)
    # At once where it is to be: all is drawn on one cel.
    bench.drag((x, y), (x + 34, y - 22), release=False)
    bench.tab.mouse.move(x + 34, y - 22)
    bench.settle()
    at_once = lower() + above()
    bench.press("Escape")
    bench.tab.mouse.up()
    bench.settle()
    assert (lower(), above()) == (whole, [])
    # The same place by many steps: what stays is the lower cel's alone, rulers lie over all.
    bench.drag((x, y), (x + 10, y - 40), release=False)
    for n in range(8):
        bench.tab.mouse.move(x + 10 + 3 * n, y - 40 + 2 * n)
        bench.settle()
    stays = lower()
    bench.tab.mouse.move(x + 34, y - 22)
    bench.settle()
    assert sorted(lower() + above()) == sorted(at_once)
    assert lower() == stays
    assert len(stays) > 2
    assert 'class="rulers"' in above()[-1]
    bench.tab.mouse.up()
    bench.settle()
    assert above() == []


def test_a_field_shows_the_number_of_the_drag_after_it_was_typed_in(bench, pair):
    """What was typed belongs to the field alone; a later drag tells its own number there."""
    pair.press_bead("rotation", 1)
    field = bench.tab.locator("[data-key-value]").first
    field.fill("33")
    field.press("Enter")
    bench.settle()
    value = float(field.input_value())
    held(bench, bench.middle(pair.bead("rotation", 1)), (0, -20))
    during = float(bench.tab.locator("[data-key-value]").first.input_value())
    assert during != value
    bench.tab.mouse.up()
    bench.settle()
    assert float(bench.tab.locator("[data-key-value]").first.input_value()) == pytest.approx(during)
