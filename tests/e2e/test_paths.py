"""The motion path on the picture, with the real mouse: bent, added to, rounded, closed, timed, floated."""

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.e2e.pairing import time_of


def path(bench, layer="gull"):
    return bench.track(layer, "position")


def overlay(bench, selector):
    return bench.tab.locator(f"#overlay {selector}")


def key_bead(bench, index, layer="gull"):
    return overlay(bench, f'[data-path-key="{path(bench, layer).keys[index].time}"]')


@pytest.fixture
def bending(bench):
    """The gull's path under the hand, nothing of it selected."""
    bench.select("gull")
    bench.press("e")
    return bench


def test_a_point_is_dragged_and_times_and_fractions_stay(bending):
    before = path(bending)
    start = bending.middle(key_bead(bending, 1))
    to = bending.client(700, 250)
    bending.drag(start, to, release=False)
    # The picture, the curves and the path follow while the hand moves.
    assert bending.tab.evaluate("window.deftarc.state.paths[0].points[6]") == pytest.approx(700, abs=4)
    assert path(bending) == before
    bending.tab.mouse.up()
    bending.settle()
    after = path(bending)
    assert after.points[1].spot == pytest.approx((700, 250), abs=4)
    assert after.key_times == before.key_times
    assert after.keys[0].leaving.rise / after.measures()[1] == pytest.approx(
        before.keys[0].leaving.rise / before.measures()[1]
    )
    # One selection everywhere: the key's bead in its lane is coral too.
    expect(bending.bead("gull", "position", 1)).to_have_class("bead selected")
    bending.press("Control+z")
    assert path(bending).points == before.points


def test_escape_puts_a_dragged_point_back(bending):
    before = path(bending)
    bending.drag(bending.middle(key_bead(bending, 1)), bending.client(700, 250), release=False)
    bending.press("Escape")
    bending.tab.mouse.up()
    bending.settle()
    assert bending.tab.evaluate("window.deftarc.state.paths[0].points[6]") == 620
    assert path(bending) == before


def test_shift_takes_a_point_level_and_arrows_nudge_what_is_selected(bending):
    start = bending.middle(key_bead(bending, 1))
    bending.tab.mouse.move(*start)
    bending.tab.mouse.down()
    bending.tab.keyboard.down("Shift")
    bending.tab.mouse.move(start[0] + 40, start[1] + 6, steps=4)
    bending.settle()
    bending.tab.mouse.up()
    bending.tab.keyboard.up("Shift")
    bending.settle()
    x, y = path(bending).points[1].spot
    assert y == pytest.approx(430)
    assert x > 700
    bending.press("ArrowUp", "Shift+ArrowRight")
    assert path(bending).points[1].spot == pytest.approx((x + 10, 429))


def test_a_double_click_makes_a_point_smooth_and_its_handles_bend_together_or_apart(bending):
    bending.tab.mouse.dblclick(*bending.middle(key_bead(bending, 1)))
    bending.settle()
    smooth = path(bending).points[1]
    assert smooth.joint == "smooth"
    hand = bending.middle(overlay(bending, '[data-path-point="1"][data-path-part="leaving"]'))
    bending.drag(hand, (hand[0] + 5, hand[1] + 40))
    turned = path(bending).points[1]
    one, other = np.array(turned.leaving), np.array(turned.arriving)
    assert one @ other == pytest.approx(-np.hypot(*one) * np.hypot(*other))
    assert np.hypot(*other) == pytest.approx(np.hypot(*smooth.arriving))
    hand = bending.middle(overlay(bending, '[data-path-point="1"][data-path-part="leaving"]'))
    bending.drag(hand, (hand[0] - 30, hand[1] - 50), hold=("Alt",))
    apart = path(bending).points[1]
    assert apart.joint == "corner"
    assert apart.arriving == pytest.approx(turned.arriving)
    bending.tab.mouse.dblclick(*bending.middle(key_bead(bending, 1)))
    bending.settle()
    assert path(bending).points[1].joint == "smooth"
    bending.tab.mouse.dblclick(*bending.middle(key_bead(bending, 1)))
    bending.settle()
    assert path(bending).points[1].joint == "straight"


def test_a_double_click_on_the_way_adds_a_floating_point_and_changes_no_frame(bending):
    before = path(bending)
    bending.tab.mouse.dblclick(*bending.client(400, 595))
    bending.settle()
    after = path(bending)
    assert len(after.points) == len(before.points) + 1
    assert after.key_times == before.key_times
    times = np.linspace(0, before.key_times[-1], 300)
    assert after.positions(times) == pytest.approx(before.positions(times), abs=1e-3)
    # It shows open on the path and raised in its lane, at the time it is really passed.
    expect(overlay(bending, '.path-float.selected[data-path-point="1"]')).to_have_count(1)
    raised = bending.tab.locator("#lanes .float-bead")
    expect(raised).to_have_count(1)
    told = raised.locator("title").inner_html()
    assert "Gull, point 2 floats, passed at 0:01:0" in told
    # Dragged, it bends the way; Delete takes it away again.
    start = bending.middle(overlay(bending, '[data-path-point="1"]'))
    bending.drag(start, (start[0] - 20, start[1] - 30))
    assert path(bending).key_times == before.key_times
    assert path(bending).points[1].spot != after.points[1].spot
    bending.press("Delete")
    assert path(bending).spots == before.spots


def test_a_floating_point_gets_its_time_from_its_lane_and_floats_again(bending):
    bending.tab.mouse.dblclick(*bending.client(400, 595))
    bending.settle()
    before = path(bending)
    bead = bending.tab.locator("#lanes .float-bead")
    bending.tab.mouse.dblclick(*bending.middle(bead))
    bending.settle()
    made = path(bending)
    assert len(made.keys) == 6
    assert made.keys[1].rests
    times = np.linspace(0, before.key_times[-1], 300)
    assert made.positions(times) == pytest.approx(before.positions(times), abs=1e-2)
    bending.tab.mouse.click(*bending.middle(key_bead(bending, 1)), button="right")
    bending.tab.get_by_role("menuitem", name="Let it float").click()
    bending.settle()
    assert len(path(bending).keys) == 5
    assert len(path(bending).points) == 6


def test_the_whole_path_is_rounded_with_a_slider_seen_live(bending):
    bending.tab.mouse.click(*bending.middle(bending.bead("gull", "position", 3)))
    bending.settle()
    bending.press("Delete")
    bending.tab.locator("[data-path-joint=automatic]").click()
    bending.settle()
    assert {point.joint for point in path(bending).points} == {"automatic"}
    length = path(bending).path.lengths[-1]
    slider = bending.tab.locator("[data-roundness]")
    box = slider.bounding_box()
    bending.drag(
        (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2), (box["x"] + box["width"] - 3, box["y"] + 6)
    )
    after = path(bending)
    assert after.points[1].roundness > 0.9
    assert after.rounded == after.points[1].roundness
    assert after.path.lengths[-1] > length
    # Only the selected point goes back to a corner without handles.
    bending.tab.mouse.click(*bending.middle(key_bead(bending, 1)))
    bending.settle()
    bending.tab.locator("[data-path-joint=straight]").click()
    bending.settle()
    assert [point.joint for point in path(bending).points][:3] == ["automatic", "straight", "automatic"]
    # A handle drawn out by hand goes back to automatic with a double click.
    hand = bending.middle(overlay(bending, '[data-path-point="2"][data-path-part="arriving"]'))
    bending.drag(hand, (hand[0] - 10, hand[1] + 30))
    assert path(bending).points[2].joint == "smooth"
    hand = bending.middle(overlay(bending, '[data-path-point="2"][data-path-part="arriving"]'))
    bending.tab.mouse.dblclick(*hand)
    bending.settle()
    assert path(bending).points[2].joint == "automatic"


def test_points_are_caught_with_a_marquee_and_deleted_together(bending):
    bending.drag(bending.client(560, 300), bending.client(1100, 480), steps=6)
    assert len(bending.state["keys"]) == 3
    bending.tab.mouse.click(*bending.middle(key_bead(bending, 1)), button="right")
    bending.tab.get_by_role("menuitem", name="Delete 3 points").click()
    bending.settle()
    assert path(bending).key_times == [time_of(8), time_of(118)]
    assert path(bending).spots == ((180, 760), (1720, 590))


def test_the_last_point_dragged_onto_the_first_closes_the_path(bending):
    bending.drag(bending.middle(key_bead(bending, 4)), bending.middle(key_bead(bending, 0)), steps=8)
    closed = path(bending)
    assert closed.closed
    assert closed.points[-1].spot == closed.points[0].spot == (180, 760)
    bending.tab.locator("[data-path=more]").click()
    bending.tab.get_by_role("menuitem", name="Open the path").click()
    bending.settle()
    assert not path(bending).closed


def test_a_key_tells_its_time_and_is_pulled_onto_the_ruler(bending):
    bead = bending.middle(key_bead(bending, 1))
    bending.tab.mouse.move(*bead)
    expect(bending.tab.locator("#hint")).to_contain_text("Key at 0:01:16")
    axis = bending.tab.evaluate("({ ...window.deftarc.state.axis, flicks: window.deftarc.state.scene.flicks })")
    ruler = bending.tab.locator("#ruler").bounding_box()
    x = ruler["x"] + (30 * axis["flicks"] - axis["start"]) / (axis["end"] - axis["start"]) * axis["width"]
    before = path(bending)
    bending.drag(bead, (x, ruler["y"] + 15), steps=10)
    after = path(bending)
    assert after.key_times[1] == time_of(30)
    assert after.points == before.points


def test_times_by_segment_are_typed_with_the_total_kept_or_not(bending):
    bending.press("y")
    fields = bending.tab.locator("[data-segment]")
    assert [field.input_value() for field in fields.all()] == ["32", "22", "12", "44"]
    fields.nth(0).fill("40")
    fields.nth(0).press("Enter")
    bending.settle()
    assert [time // time_of(1) for time in path(bending).key_times] == [8, 48, 70, 82, 126]
    bending.tab.locator("[data-keep-total]").check()
    fields.nth(0).fill("1s")
    fields.nth(0).press("Enter")
    bending.settle()
    assert [time // time_of(1) for time in path(bending).key_times] == [8, 32, 70, 82, 126]
    fields.nth(0).fill("soon")
    fields.nth(0).press("Enter")
    expect(bending.tab.locator(".notice")).to_contain_text("is no time")
    bending.tab.troubles.clear()  # the console reports the 400 itself
    bending.settle()
    assert fields.nth(0).input_value() == "24"


def test_one_speed_and_even_distances_from_the_menu(bending):
    def do(item):
        bending.tab.locator("[data-path=more]").click()
        bending.tab.get_by_role("menuitem", name=item).click()
        bending.settle()

    # The two keys in one place would come at once: that is said, and nothing is changed.
    before = path(bending)
    do("One speed all the way")
    expect(bending.tab.locator(".notice")).to_contain_text("in one place")
    bending.tab.troubles.clear()
    assert path(bending) == before
    bending.tab.mouse.click(*bending.middle(bending.bead("gull", "position", 3)))
    bending.settle()
    bending.press("Delete")
    do("One speed all the way")
    inside = np.linspace(time_of(9), time_of(117), 60)
    assert np.ptp(path(bending).curve.speed(inside)) < 0.01
    do("Keys at even distances")
    assert np.ptp(np.diff(path(bending).measures())) < 0.01
    expect(overlay(bending, ".path-key.pace")).to_have_count(2)
    # A pace key slides along the path and keeps its time.
    track = path(bending)
    bead = bending.middle(key_bead(bending, 1))
    bending.drag(bead, (bead[0] - 25, bead[1] + 20))
    slid = path(bending)
    assert slid.key_times == track.key_times
    assert slid.measures()[1] < track.measures()[1] - 20
    assert slid.points == track.points
    do("Turn the path round")
    assert path(bending).spots == tuple(reversed(slid.spots))


def test_a_projects_new_paths_are_rounded_as_they_are_keyed(bench):
    bench.select("ferry")
    bench.press("e")
    bench.tab.locator("[data-path=more]").click()
    bench.tab.get_by_role("menuitem", name="New paths are rounded").click()
    bench.settle()
    assert bench.served.document().rounded == 0.5
    bench.tab.locator("[data-path=more]").click()
    expect(bench.tab.get_by_role("menuitem", name="New paths are rounded")).to_contain_text("✓")
    bench.press("Escape", "Escape")
    bench.select("hills")
    bench.tab.locator("#keying").click()
    for frame, x in ((0, "900"), (20, "700"), (40, "900")):
        bench.go(frame)
        bench.type("position", x)
        bench.type("position", f"{600 + 3 * frame}", component=1)
    track = path(bench, "hills")
    assert [point.joint for point in track.points] == ["automatic"] * 3
    assert track.path.bent.all()


def test_several_selected_layers_show_their_paths_where_they_are_carried(bench):
    bench.select("gull")
    bench.row("sun").click(modifiers=["Control"])
    bench.settle()
    # The gull rests between two keys: that part of its way is drawn dotted.
    expect(overlay(bench, ".path-line.other:not(.held)")).to_have_count(1)
    expect(overlay(bench, ".path-line.other.held")).to_have_count(1)
    dots = "(all) => all.map((each) => each.getAttribute('d').split('M').length - 1).reduce((a, b) => a + b, 0)"
    for which in (".path-dots.other", ".path-dots:not(.other)"):
        assert overlay(bench, which).evaluate_all(dots) == 144


def test_a_path_under_a_turned_carrier_is_drawn_and_bent_where_the_picture_is(bench):
    bench.select("gull")
    bench.tab.locator("[data-parent]").focus()
    bench.tab.locator("[data-parent]").select_option("sun")
    bench.settle()
    bench.select("sun")
    bench.go(0)
    bench.type("rotation", "90")
    bench.type("scale", "50")
    bench.select("gull")
    bench.press("e")
    spot = bench.tab.evaluate(
        "(() => { const i = window.deftarc.state.items.get('gull'); return [i.numbers[4 + 7 * 8], i.numbers[5 + 7 * 8]]; })()"
    )
    bench.go(8)
    bead = bench.middle(key_bead(bench, 0))
    assert bead == pytest.approx(bench.client(*spot), abs=2)
    bench.drag(bead, (bead[0] + 30, bead[1] + 10))
    again = bench.middle(key_bead(bench, 0))
    assert again == pytest.approx((bead[0] + 30, bead[1] + 10), abs=2)


def test_ghosts_show_before_and_after_with_their_places_on_the_path(bench):
    bench.select("gull")
    bench.go(50)
    read = "(() => { const c = document.getElementById('picture'); return [...c.getContext('2d').getImageData(0, 0, c.width, c.height).data].reduce((a, b) => a + b, 0); })()"
    bare = bench.tab.evaluate(read)
    bench.press("h")
    assert bench.tab.evaluate(read) != bare
    expect(overlay(bench, ".ghost-dot.before")).to_have_count(3)
    expect(overlay(bench, ".ghost-dot.after")).to_have_count(3)
    bench.tab.locator("#view-open").click()
    field = bench.tab.locator("[data-ghost=ghostsAfter]")
    field.fill("1")
    field.press("Tab")
    bench.settle()
    expect(overlay(bench, ".ghost-dot.after")).to_have_count(1)
    bench.press("Escape", "h")
    assert bench.tab.evaluate(read) == bare


def test_a_layer_turns_along_its_path_with_its_rotation_as_the_offset(bending):
    bending.go(20)
    angle = "(() => { const i = window.deftarc.state.items.get('gull'); const n = i.numbers.subarray(7 * 20); return Math.atan2(n[1], n[0]) * 180 / Math.PI; })()"
    before = bending.tab.evaluate(angle)
    bending.tab.locator("[data-path=along]").click()
    bending.settle()
    way = np.degrees(np.arctan2(430 - 760, 620 - 180))
    assert bending.tab.evaluate(angle) == pytest.approx(before + way, abs=0.1)
    # It is a number like any other: keyed off half-way.
    assert bending.shown("along") == 100
    bending.press("!")
    bending.go(40)
    bending.type("along", "0")
    assert len(bending.track("gull", "along").keys) == 1
    bending.tab.locator("#keying").click()
    bending.tab.locator("[data-path=more]").click()
    bending.tab.get_by_role("menuitem", name="Lean into its curves").click()
    bending.tab.locator("#ask-dialog input").fill("50")
    bending.tab.keyboard.press("Enter")
    bending.settle()
    assert bending.track("gull", "lean").value == 0.5
