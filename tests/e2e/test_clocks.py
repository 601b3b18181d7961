"""Clocks in the workbench: given, shaped as any lane, frozen; what is set goes where the clock says."""

import pytest
from playwright.sync_api import expect

AT = 29_400_000


def frames(bench, name):
    return [round(time / AT, 3) for time in bench.track("gull", name).key_times]


@pytest.fixture
def gull(bench):
    bench.select("gull")
    bench.press("Shift+G")
    return bench


def test_a_clock_is_a_lane_on_top_shaped_live_and_a_key_goes_where_it_says(gull):
    tops = [gull.tab.locator(f"#lane-gull-{name}").bounding_box()["y"] for name in ("clock", "position")]
    assert tops[0] < tops[1]
    assert frames(gull, "clock") == [0, 144]
    gull.go(40)
    plain = gull.shown("position")
    # Its end dragged later, all runs slower while the hand moves; the mark in its lanes says where they are.
    x, y = gull.middle(gull.bead("gull", "clock", 1))
    step = gull.tab.evaluate(f"(({{axis}}) => {AT} / (axis.end - axis.start) * axis.width)(window.deftarc.state)")
    gull.drag((x, y), (x - 72 * step, y), release=False, hold=("Alt",))
    assert gull.shown("position") != plain
    mark = gull.tab.locator("#lane-gull-rotation .own-now")
    zero = gull.middle(gull.bead("gull", "clock", 0))[0]
    drawn = float(mark.get_attribute("d")[1:].split(" ")[0])
    left = gull.tab.locator("#ruler").bounding_box()["x"]
    assert drawn + left - zero == pytest.approx(80 * step, abs=1.5)
    gull.tab.mouse.up()
    gull.settle()
    assert frames(gull, "clock") == [0, 72]
    # At 40 its own time is 80: a value keyed by the figures stands there, and the figures say so.
    gull.tab.locator("#keying").click()
    gull.type("rotation", "33")
    assert frames(gull, "rotation") == [8, 62, 80, 118]
    assert gull.shown("rotation") == 33
    gull.tab.locator("#keying").click()
    gull.type("rotation", "50")
    assert gull.track("gull", "rotation").keys[2].value == 50
    # A double click in a lane is in the lane's own time.
    lane = gull.tab.locator("#lane-gull-scale svg").bounding_box()
    gull.tab.mouse.dblclick(zero + 30 * step, lane["y"] + lane["height"] / 2)
    gull.settle()
    assert frames(gull, "scale")[0] == 30
    gull.press("Control+z", "Control+z", "Control+z", "Control+z")
    assert frames(gull, "clock") == [0, 144]


def test_it_is_frozen_made_into_keys_and_taken_away(gull):
    gull.go(30)
    x30 = gull.shown("position")
    gull.press("Shift+F")
    field = gull.tab.locator("#ask-dialog input")
    field.fill("20f")
    field.press("Enter")
    gull.settle()
    assert frames(gull, "clock") == [0, 30, 50, 164]
    for frame in (40, 50):
        gull.go(frame)
        assert gull.shown("position") == x30
    before = [
        gull.tab.evaluate("f => [...window.deftarc.state.items.get('gull').numbers.slice(f * 7, f * 7 + 6)]", f)
        for f in (20, 45, 90)
    ]
    gull.tab.locator('[data-select="gull"]').click(button="right")
    gull.tab.locator("#menu").get_by_text("Make keys of its clock").click()
    gull.settle()
    assert "clock" not in gull.served.document().scene("crossing").layer("gull").tracks
    after = [
        gull.tab.evaluate("f => [...window.deftarc.state.items.get('gull').numbers.slice(f * 7, f * 7 + 6)]", f)
        for f in (20, 45, 90)
    ]
    for one, other in zip(before, after, strict=True):
        assert other == pytest.approx(one, abs=1e-3)
    gull.press("Control+z")
    gull.tab.locator('[data-select="gull"]').click(button="right")
    gull.tab.locator("#menu").get_by_text("Take its clock away").click()
    gull.settle()
    expect(gull.tab.locator("#lane-gull-clock")).to_have_count(0)
    gull.go(30)
    assert gull.shown("position") == x30
