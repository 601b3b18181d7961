"""On the picture: pivots, guides, grid, snapping, aligning, picking; and the numbers of several at once."""

import pytest
from playwright.sync_api import expect

FRAME = 29_400_000


def at(frame):
    return frame * FRAME


def layer(bench, name):
    return bench.served.document().scene("crossing").layer(name)


def test_the_pivot_is_dragged_by_its_ring_and_the_picture_stays(bench):
    bench.select("ferry")
    where = "(() => { const i = window.deftarc.state.items.get('ferry'); return [...i.numbers.slice(0, 6)]; })()"
    before = bench.tab.evaluate(where)
    x, y = bench.middle(bench.tab.locator("#overlay .ring"))
    bench.drag((x, y), (x + 20, y - 10))
    assert layer(bench, "ferry").track("pivot_x").value == pytest.approx(77, abs=8)
    assert bench.tab.evaluate(where) == pytest.approx(before, abs=0.01)
    bench.tab.get_by_title("Put the pivot at a corner").click()
    bench.tab.get_by_title("Pivot top left").click()
    bench.settle()
    bounds = bench.tab.evaluate("[...window.deftarc.state.items.get('ferry').drawing.bounds]")
    assert layer(bench, "ferry").track("pivot_x").value == pytest.approx(bounds[0], abs=0.01)
    assert bench.tab.evaluate(where) == pytest.approx(before, abs=0.01)
    bench.type("pivot_y", "+=30")
    assert bench.tab.evaluate(where) == pytest.approx(before, abs=0.01)


def test_guides_come_from_the_rulers_snap_what_is_dragged_and_are_locked(bench):
    bench.press("r", "g")
    stage = bench.tab.locator("#stage").bounding_box()
    x, y = bench.client(1000, 500)
    bench.drag((stage["x"] + 8, y), (x, y), steps=6)
    [guide] = bench.served.document().scene("crossing").guides
    assert (guide.axis, guide.at) == ("x", pytest.approx(1000, abs=3))
    bench.select("ferry")
    for which in ("snapLayers", "snapFrame"):
        bench.tab.evaluate("name => window.deftarc.like(name, false)", which)
    start = bench.client(420, 860)
    bench.drag(start, (start[0] + (x - bench.client(420, 0)[0]) + 4, start[1]), steps=8, release=False)
    expect(bench.tab.locator("#overlay .snap-word")).to_have_text("guide")
    bench.tab.mouse.up()
    bench.settle()
    bounds = bench.tab.evaluate("[...window.deftarc.state.items.get('ferry').drawing.bounds]")
    x_now = bench.track("ferry", "position").spots[0][0]
    assert min(abs(x_now + off - guide.at) for off in (bounds[0], (bounds[0] + bounds[2]) / 2, bounds[2])) < 12
    bench.tab.locator("#view-open").click()
    bench.tab.locator("#lock-guides").click()
    bench.settle()
    assert bench.served.document().scene("crossing").guides_locked
    expect(bench.tab.locator("#overlay .guide-hit")).to_have_count(0)


def test_guides_are_typed_and_taken_away_by_the_keyboard(bench):
    guides = lambda: bench.served.document().scene("crossing").guides  # noqa: E731
    for told, count in (("y 540", 1), ("x=12,5", 2), ("diagonal", 2)):
        bench.tab.locator("#view-open").click()
        bench.tab.get_by_role("button", name="Add a guide").click()
        bench.tab.locator("#ask-dialog input").fill(told)
        bench.tab.locator("#ask-dialog input").press("Enter")
        bench.settle()
        assert len(guides()) == count
    assert [(g.axis, g.at) for g in guides()] == [("y", 540), ("x", 12.5)]
    expect(bench.tab.get_by_text("no place for a guide")).to_be_visible()
    bench.tab.locator("#view-open").click()
    bench.tab.get_by_role("button", name="Take all guides away").click()
    bench.settle()
    assert guides() == ()


def test_layers_snap_to_each_other_and_alt_leaves_them_free(bench):
    bench.select("ferry")
    bench.drag(bench.client(420, 860), bench.client(560, 800), steps=8, release=False)
    assert bench.tab.locator("#overlay .snap").count() + bench.tab.locator("#overlay .gap").count() > 0
    bench.press("Escape")
    bench.tab.mouse.up()
    bench.settle()
    bench.drag(bench.client(420, 860), bench.client(561, 803), hold=["Alt"])
    assert bench.track("ferry", "position").spots[0] == pytest.approx((561, 779), abs=4)


def test_layers_are_aligned_to_one_another_and_to_the_frame(bench):
    bench.select("sun")
    bench.row("ferry").click(modifiers=["Control"])
    bench.settle()
    for how in ("To one another: left", "To the frame: top"):
        bench.tab.locator("[data-menu=layer]").click()
        bench.tab.get_by_role("menuitem", name="Align…").click()
        bench.tab.get_by_role("menuitem", name=how, exact=True).click()
        bench.tab.wait_for_function(
            "how => window.deftarc.state.history.undo?.startsWith(how)",
            arg="Align left" if "left" in how else "Align top",
        )
        bench.settle()
    assert bench.track("sun", "position").value_at(0)[1] == pytest.approx(150, abs=0.5)


def test_picking_takes_the_topmost_goes_deeper_and_marquees(bench):
    bench.press("Home")
    spot = bench.client(420, 860)
    bench.tab.mouse.click(*spot)
    bench.settle()
    assert bench.state["layers"] == ["ferry"]
    bench.tab.wait_for_timeout(500)
    bench.tab.mouse.click(*spot)
    bench.settle()
    assert bench.state["layers"] == ["hills"]
    bench.row("hills").hover()
    bench.tab.get_by_title("Lock Hills and sea").click()
    bench.row("sky").scroll_into_view_if_needed()
    bench.settle()
    bench.row("sky").hover()
    bench.tab.get_by_title("Lock Sky").click()
    bench.settle()
    bench.drag(bench.client(60, 640), bench.client(700, 950), steps=6)
    assert set(bench.state["layers"]) >= {"gull", "ferry"}
    assert "sky" not in bench.state["layers"]


def test_keep_holds_the_selection_whatever_is_clicked(bench):
    bench.select("sun")
    bench.tab.locator("#keep").click()
    before = bench.track("sun", "position").spots[0]
    bench.tab.mouse.click(*bench.client(420, 860))
    bench.settle()
    assert bench.state["layers"] == ["sun"]
    bench.drag(bench.client(420, 860), bench.client(520, 860), hold=["Alt"])
    assert bench.track("sun", "position").spots[0][0] - before[0] == pytest.approx(100, abs=4)


def test_the_view_zooms_pans_fits_and_stands_at_full_size(bench):
    bench.press("1")
    assert bench.tab.evaluate("window.deftarc.viewOf().zoom") == pytest.approx(1)
    bench.select("sun")
    bench.press("2")
    zoom = bench.tab.evaluate("window.deftarc.viewOf().zoom")
    assert zoom > 0.5
    bench.press("0")
    assert bench.tab.evaluate("window.deftarc.viewOf().fit") is True


def test_numbers_of_several_layers_change_together_by_sums(bench):
    bench.select("sun")
    bench.row("title").click(modifiers=["Control"])
    bench.settle()
    bench.type("rotation", "+=40/2")
    assert (bench.track("sun", "rotation").value, bench.track("title", "rotation").value) == (20, 20)
    bench.type("rotation", "*=1.5")
    well = bench.well("rotation")
    well.press("Alt+Minus")
    bench.settle()
    assert bench.track("sun", "rotation").value == -30
    well.fill("77")
    well.press("Escape")
    bench.settle()
    assert bench.track("sun", "rotation").value == -30
    grip = bench.middle(bench.tab.locator('.well[data-property="rotation"] .grip'))
    bench.drag(grip, (grip[0] + 20, grip[1]))
    assert bench.track("title", "rotation").value == pytest.approx(-20)
    bench.press("Control+Shift+c")
    bench.select("ferry")
    bench.press("Control+Shift+v")
    assert bench.track("ferry", "rotation").loose is not None or bench.track("ferry", "rotation").value_at(
        0
    ) == pytest.approx(-20)


def test_positions_are_read_in_the_axes_chosen(bench):
    bench.select("ferry")
    bench.type("rotation", "90")
    bench.press("Escape")
    bench.select("ferry")
    bench.tab.locator("#view-open").click()
    bench.tab.locator("[data-axes=own]").click()
    bench.press("Escape")
    bench.settle()
    assert bench.shown("position") == pytest.approx(836, abs=0.2)
    assert bench.shown("position", 1) == pytest.approx(-420, abs=0.2)
    bench.type("position", "+=10")
    assert bench.track("ferry", "position").spots[0] == pytest.approx((420, 846), abs=0.01)
