"""Ties in the workbench: made of what is selected, followed live while a hand drags, typed, cut, and told where cut."""

import pytest
from playwright.sync_api import expect

from deftarc.core.edit.spans import TrimSpan

AT = 29_400_000


def span(bench, name):
    here = bench.served.document().scene("crossing").layer(name)
    return here.start / AT, None if here.end is None else here.end / AT


@pytest.fixture
def timed(bench):
    """Three layers with spans of their own, selected from the top down."""
    shop = bench.served.shop
    for name, start, end in (("title", 10, 50), ("line", 60, 90), ("gull", 100, 130)):
        edit = TrimSpan(scene="crossing", layers=(name,), start=start * AT, end=end * AT)
        shop.commit("quillhaven", shop.projects.open("quillhaven").revision, edit)
    for name in ("title", "line", "gull"):
        bench.tab.locator(f'[data-select="{name}"]').click(modifiers=[] if name == "title" else ["Control"])
    bench.settle()
    return bench


def test_a_chain_follows_the_hand_live_and_goes_back_with_one_undo(timed):
    timed.press("Shift+I")
    assert (span(timed, "line"), span(timed, "gull")) == ((50, 80), (80, 110))
    lines = timed.tab.locator("#tie-lines .tie")
    expect(lines).to_have_count(2)
    # The end of the first is dragged: those after it go along while the hand moves.
    step = timed.tab.evaluate(f"(({{axis}}) => {AT} / (axis.end - axis.start) * axis.width)(window.deftarc.state)")
    end = timed.tab.locator('#layer-title [data-span="end"]').bounding_box()
    start = (end["x"] + 4, end["y"] + 9)
    drawn = lines.nth(1).locator("path").nth(1)
    before = drawn.get_attribute("d")
    timed.drag(start, (start[0] + 12 * step, start[1]), release=False, hold=("Alt",))
    assert drawn.get_attribute("d") != before
    assert span(timed, "gull") == (80, 110)
    timed.tab.mouse.up()
    timed.settle()
    assert (span(timed, "title"), span(timed, "line"), span(timed, "gull")) == ((10, 62), (62, 92), (92, 122))
    timed.press("Control+z")
    assert (span(timed, "title"), span(timed, "gull")) == ((10, 50), (80, 110))


def test_keys_hold_at_a_marker_a_distance_is_typed_and_what_is_deleted_is_told(timed):
    timed.go(70)
    timed.press("'")
    timed.bead("title", "scale", 2).click()
    timed.settle()
    # The marker is selected since it was set.
    timed.press("Shift+Y")
    timed.press("Shift+W")
    drawer = timed.tab.locator("#drawer")
    expect(drawer).to_contain_text("A key of Scale of Lettering held at a marker")
    field = drawer.locator("[data-tie-offset]")
    expect(field).to_have_value("−0:01:02")
    field.fill("-20f")
    field.press("Enter")
    timed.settle()
    assert timed.track("title", "scale").key_times[-1] == 50 * AT
    timed.press("Shift+W")
    # The marker goes, and the key with it; deleted, the tie is cut and that is said.
    x, y = timed.middle(timed.tab.locator("#marks .pennant"))
    step = timed.tab.evaluate(f"(({{axis}}) => {AT} / (axis.end - axis.start) * axis.width)(window.deftarc.state)")
    timed.drag((x, y), (x + 9 * step, y), hold=("Alt",))
    assert timed.track("title", "scale").key_times[-1] == 59 * AT
    timed.press("Delete")
    expect(timed.tab.locator("#notices")).to_contain_text("is cut: it is gone")
    timed.press("Control+z")
    # Cut by a right click on its line, with the keyboard from the menu.
    timed.tab.locator("#tie-lines .tie circle").nth(1).scroll_into_view_if_needed()
    box = timed.tab.locator("#tie-lines .tie circle").nth(1).bounding_box()
    timed.tab.mouse.click(box["x"] + 12, box["y"] + box["height"] / 2, button="right")
    timed.tab.locator("#menu").get_by_text("Cut this tie").click()
    timed.settle()
    assert timed.served.document().scene("crossing").ties == ()
