"""The two curves of the pair under a real mouse, and the numbers read back from the document."""

import numpy as np
import pytest
from playwright.sync_api import expect

from deftarc.core.changes.sides import peak_of, speed_of
from tests.e2e.pairing import PairHand, time_of


@pytest.fixture
def pair(bench):
    """The ferry's rotation: five keys from −1.2° to 1.2° and back, each way with slow ends."""
    bench.tab.evaluate("window.deftarc.state.focus = { layer: 'ferry', property: 'rotation' }")
    bench.select("ferry")
    bench.tab.locator('[data-curve="ferry rotation"] [data-curve-main]').click()
    bench.settle()
    return PairHand(bench)


def swing(bench):
    return bench.track("ferry", "rotation")


def test_a_handle_dragged_in_the_value_curve_goes_just_where_the_hand_puts_it(bench, pair):
    pair.press_bead("rotation", 1)
    spot = pair.x(44), pair.y(0.5)
    pair.drag(pair.handle(time_of(36), "leaving"), spot)
    key = swing(bench).keys[1]
    # Frame 44 is 8 of the 36 on; 0.5° lies 0.7° under the key.
    assert key.leaving.reach == pytest.approx(8 / 36, abs=0.02)
    assert key.leaving.rise == pytest.approx(0.5 - 1.2, abs=0.03)
    assert key.arriving.rise == 0
    assert bench.served.shop.projects.open("quillhaven").undo == "Shape Rotation of Ferry"


def test_while_it_is_dragged_both_curves_the_picture_and_the_lane_follow_and_escape_puts_all_back(bench, pair):
    pair.press_bead("rotation", 1)
    shown = bench.tab.evaluate
    before = swing(bench)
    speed = pair.tab.locator("#pair .one .value").first.get_attribute("d")
    band = bench.tab.locator("#lane-ferry-rotation .pace").get_attribute("d")
    axis = pair.told["value"]
    pair.drag(pair.handle(time_of(36), "leaving"), by=(25, 60), release=False)
    assert pair.tab.locator("#pair .one .value").first.get_attribute("d") != speed
    assert bench.tab.locator("#lane-ferry-rotation .pace").get_attribute("d") != band
    # Never fitted anew in the middle of a drag.
    assert pair.told["value"] == axis
    assert shown("window.deftarc.state.tentative.kind") == "shape_side"
    bench.press("Escape")
    bench.tab.mouse.up()
    bench.settle()
    assert pair.tab.locator("#pair .one .value").first.get_attribute("d") == speed
    assert swing(bench) == before


def test_the_picture_is_painted_anew_where_the_drag_shows_and_left_where_it_does_not(bench, pair):
    painted = """() => { const c = document.getElementById("picture"); const d = c.getContext("2d").getImageData(0, 0, c.width, c.height).data;
      let s = 0; for (let i = 0; i < d.length; i += 52) s = (s * 31 + d[i] + 3 * d[i + 1] + 7 * d[i + 2]) % 1e9; return s; }"""
    bench.go("44")
    pair.press_bead("rotation", 1)
    before = bench.tab.evaluate(painted)
    pair.drag(pair.handle(time_of(36), "leaving"), by=(30, 60), release=False)
    assert bench.tab.evaluate(painted) != before
    bench.press("Escape")
    bench.tab.mouse.up()
    bench.settle()
    assert bench.tab.evaluate(painted) == before
    # At a key of its own the ferry leans as it did, whatever the way there looks like.
    bench.go("36")
    still = bench.tab.evaluate(painted)
    pair.drag(pair.handle(time_of(36), "leaving"), by=(30, 60))
    assert bench.tab.evaluate(painted) == still
    bench.go("44")
    assert bench.tab.evaluate(painted) != before


def test_the_speed_of_a_smooth_key_moves_on_both_sides_together(bench, pair):
    pair.press_bead("rotation", 1)
    bench.tab.locator('[data-joint="smooth"]').click()
    bench.settle()
    pair.drag(pair.bead("rotation", 1, speed=True), (pair.x(36), pair.y(0.9, "speed")))
    track = swing(bench)
    assert track.keys[1].joint == "smooth"
    for side in ("arriving", "leaving"):
        assert speed_of(track, 1, side) == pytest.approx(0.9, abs=0.06)
    # Reaches stay: only the speed was dragged.
    assert track.keys[1].leaving.reach == pytest.approx(0.42)


def test_one_side_of_a_corner_is_dragged_alone_and_rest_is_easily_found(bench, pair):
    pair.press_bead("rotation", 1)
    bench.tab.locator('[data-ease="straight"]').click()
    bench.settle()
    halves = bench.tab.locator(f'#pair .bead.in-speed[data-time="{time_of(36)}"]')
    expect(halves).to_have_count(2)
    leaving = bench.tab.locator(f'#pair .bead.in-speed[data-time="{time_of(36)}"][data-sides="leaving"]')
    pair.drag(leaving, (pair.x(36), pair.y(-0.9, "speed")))
    track = swing(bench)
    assert speed_of(track, 1, "leaving") == pytest.approx(-0.9, abs=0.06)
    assert speed_of(track, 1, "arriving") == 0
    leaving = bench.tab.locator(f'#pair .bead.in-speed[data-time="{time_of(36)}"][data-sides="leaving"]')
    pair.drag(leaving, (pair.x(36), pair.y(0, "speed") + 3))
    assert speed_of(swing(bench), 1, "leaving") == 0


def test_a_reach_is_dragged_sideways_in_the_speed_curve_at_the_same_speed(bench, pair):
    pair.press_bead("rotation", 1)
    bench.tab.locator('[data-joint="smooth"]').click()
    bench.settle()
    pair.drag(pair.bead("rotation", 1, speed=True), (pair.x(36), pair.y(0.8, "speed")))
    speed = speed_of(swing(bench), 1, "leaving")
    handle = pair.handle(time_of(36), "leaving", "in-speed")
    start = bench.middle(handle)
    bench.drag(start, (pair.x(36 + 0.7 * 36), start[1] + 2), hold=("Shift",))
    track = swing(bench)
    assert track.keys[1].leaving.reach == pytest.approx(0.7, abs=0.02)
    assert speed_of(track, 1, "leaving") == pytest.approx(speed)


def test_the_peak_of_speed_is_dragged_later_and_the_ends_keep_their_speeds(bench, pair):
    bench.tab.mouse.click(pair.x(18), pair.y(0))
    bench.settle()
    assert [key["time"] for key in bench.state["keys"]] == [time_of(0), time_of(36)]
    peak = bench.tab.locator(f'#pair .peak[data-time="{time_of(0)}"]')
    pair.drag(peak, (pair.x(25), bench.middle(peak)[1] + 4))
    track = swing(bench)
    assert peak_of(track.curve, 0) == pytest.approx(25 / 36, abs=0.03)
    assert speed_of(track, 0, "leaving") == speed_of(track, 1, "arriving") == 0


def test_a_key_is_dragged_in_time_and_value_and_lands_on_frames_and_on_others_values(bench, pair):
    # Near the value of another key it snaps to it; its time lands on a whole frame.
    pair.drag(pair.bead("rotation", 1), (pair.x(55.3), pair.y(-1.2) - 3), release=False)
    assert not bench.tab.locator(".level-line").get_attribute("hidden")
    bench.tab.mouse.up()
    bench.settle()
    key = swing(bench).keys[1]
    assert (key.time, key.value) == (time_of(55), -1.2)


def test_held_shift_keeps_a_key_level_or_upright(bench, pair):
    pair.drag(pair.bead("rotation", 1), by=(40, 12), hold=("Shift",))
    key = swing(bench).keys[1]
    assert key.value == 1.2
    assert key.time > time_of(36)
    moved = key.time
    pair.drag(pair.bead("rotation", 1), by=(8, 60), hold=("Shift",))
    key = swing(bench).keys[1]
    assert key.time == moved
    assert key.value < 0.9


def test_values_land_on_round_numbers_unless_alt_is_held(bench, pair):
    pair.drag(pair.bead("rotation", 1), by=(0, 37))
    value = swing(bench).keys[1].value
    assert value == pytest.approx(round(value, 2), abs=1e-9)


def test_a_box_around_keys_stretches_them_in_time_and_value(bench, pair):
    bench.drag((pair.x(20), pair.y(1.32)), (pair.x(120), pair.y(-1.32)))
    assert len(bench.state["keys"]) == 3
    grip = bench.tab.locator('[data-box="bottom right"]')
    pair.drag(grip, (pair.x(126) + 9, pair.y(-0.6) + 9))
    track = swing(bench)
    # From 36 to 108 about 36: the last goes to 126, the middle one in proportion.
    assert [round(key.time / time_of(1)) for key in track.keys] == [0, 36, 81, 126, 143]
    assert [key.value for key in track.keys[1:4]] == pytest.approx([1.2, -0.6, 1.2], abs=0.05)
    pair.drag(bench.tab.locator('[data-box="left"]'), by=(12, 0))
    assert swing(bench).keys[3].time == time_of(126)


def test_the_box_itself_moves_what_is_in_it(bench, pair):
    bench.drag((pair.x(20), pair.y(1.32)), (pair.x(120), pair.y(-1.32)))
    around = bench.tab.locator(".key-box .around").bounding_box()
    step = pair.x(10) - pair.x(0)
    bench.drag((around["x"] + 40, around["y"] + 1), (around["x"] + 40 + step, around["y"] + 1))
    assert [round(key.time / time_of(1)) for key in swing(bench).keys[1:4]] == [46, 82, 118]


def test_a_double_click_turns_a_key_straight_and_back_into_a_curve(bench, pair):
    bench.tab.mouse.dblclick(*bench.middle(pair.bead("rotation", 1)))
    bench.settle()
    key = swing(bench).keys[1]
    assert key.arriving is None
    assert key.leaving is None
    bench.tab.mouse.dblclick(*bench.middle(pair.bead("rotation", 1)))
    bench.settle()
    key = swing(bench).keys[1]
    assert (key.joint, key.arriving is None) == ("smooth", False)


def test_handles_are_broken_with_alt_and_mended_by_a_double_click(bench, pair):
    pair.press_bead("rotation", 1)
    bench.tab.locator('[data-joint="smooth"]').click()
    bench.settle()
    pair.drag(pair.handle(time_of(36), "leaving"), by=(10, 50), hold=("Alt",))
    track = swing(bench)
    assert track.keys[1].joint == "corner"
    assert track.keys[1].arriving.rise == 0
    bench.tab.mouse.dblclick(*bench.middle(pair.handle(time_of(36), "leaving")))
    bench.settle()
    track = swing(bench)
    assert track.keys[1].joint == "smooth"
    assert speed_of(track, 1, "arriving") == pytest.approx(speed_of(track, 1, "leaving"))


def test_a_key_is_put_on_the_curve_unchanged_and_off_it_at_the_pointer(bench, pair):
    before = swing(bench)
    times = np.linspace(0, time_of(143), 300)
    at = float(before.curve.at([time_of(18)])[0])
    bench.tab.mouse.dblclick(pair.x(18), pair.y(at))
    bench.settle()
    made = swing(bench)
    assert time_of(18) in made.key_times
    assert made.curve.at(times) == pytest.approx(before.curve.at(times))
    bench.tab.mouse.dblclick(pair.x(60), pair.y(0.9))
    bench.settle()
    made = swing(bench)
    assert made.curve.at([time_of(60)])[0] == pytest.approx(0.9, abs=0.03)


def test_wheels_zoom_both_axes_at_the_pointer_and_the_fit_can_be_let_go_and_had_again(bench, pair):
    bench.tab.mouse.move(pair.x(36), pair.y(0.4))
    before = pair.told["value"]
    bench.tab.keyboard.down("Shift")
    bench.tab.mouse.wheel(0, -300)
    bench.tab.keyboard.up("Shift")
    bench.settle()
    after = pair.told["value"]
    assert after["high"] - after["low"] < 0.8 * (before["high"] - before["low"])
    assert pair.y(0.4) == pytest.approx(bench.tab.evaluate("0") + pair.y(0.4))
    share = (0.4 - before["low"]) / (before["high"] - before["low"])
    assert (0.4 - after["low"]) / (after["high"] - after["low"]) == pytest.approx(share, abs=0.01)
    expect(bench.tab.locator("[data-pair-fit]")).to_have_text("Fit off")
    # The speeds' axis stays, and a new selection does not fit anew.
    pair.press_bead("rotation", 1)
    assert pair.told["value"] == after
    bench.tab.locator("[data-pair-fit]").click()
    bench.settle()
    assert pair.told["value"] == before


def test_f_fits_what_is_selected_and_a_all_of_it(bench, pair):
    pair.press_bead("rotation", 1)
    start = bench.tab.evaluate("window.deftarc.state.axis")
    bench.press("4")
    near = bench.tab.evaluate("window.deftarc.state.axis")
    assert near["end"] - near["start"] < 0.4 * (start["end"] - start["start"])
    assert near["start"] < time_of(36) < near["end"]
    bench.press("3")
    again = bench.tab.evaluate("window.deftarc.state.axis")
    assert again["end"] - again["start"] == pytest.approx(start["end"] - start["start"])


def test_one_key_gives_the_pair_the_whole_page_and_takes_it_back(bench, pair):
    before = bench.tab.locator("svg.pair").bounding_box()
    bench.press(")")
    full = bench.tab.locator("svg.pair").bounding_box()
    page = bench.tab.locator("#time-area").bounding_box()
    assert full["height"] > page["height"] - 60
    assert full["width"] > before["width"] + 60
    pair.press_bead("rotation", 1)
    pair.drag(pair.handle(time_of(36), "leaving"), (pair.x(50), pair.y(0.6)))
    assert swing(bench).keys[1].leaving.rise == pytest.approx(-0.6, abs=0.02)
    bench.press(")")
    assert bench.tab.locator("svg.pair").bounding_box() == before


def test_the_middle_button_pans_time_and_values(bench, pair):
    start, scale = bench.tab.evaluate("window.deftarc.state.axis.start"), pair.told["value"]
    bench.tab.mouse.move(pair.x(60), pair.y(0.2))
    bench.tab.mouse.down(button="middle")
    bench.tab.mouse.move(pair.x(60) - 40, pair.y(0.2) + 30, steps=4)
    bench.tab.mouse.up(button="middle")
    bench.settle()
    assert bench.tab.evaluate("window.deftarc.state.axis.start") > start
    assert pair.told["value"]["low"] > scale["low"]


def test_what_stands_at_the_pointer_is_read_and_a_segment_tells_its_numbers(bench, pair):
    bench.tab.mouse.move(pair.x(18), pair.y(0.9))
    reading = bench.tab.locator(".pointer-reading")
    expect(reading).to_contain_text("0:00:18 · frame 18")
    curve = swing(bench).curve
    value, speed = float(curve.at([time_of(18)])[0]), float(curve.speed([time_of(18)])[0])
    assert f"{value:.1f}".replace("-0.0", "0").removesuffix(".0") in reading.text_content()
    expect(reading).to_contain_text(f"{speed:.1f}")
    bench.tab.mouse.move(pair.x(18), pair.y(value))
    hint = bench.tab.locator("#hint").text_content()
    assert "36 frames · 2.4° · mean 1.6°/s · top 2.8°/s" in hint
    bench.tab.mouse.move(600, 20)
    assert reading.get_attribute("hidden") is not None


def test_a_right_click_offers_what_can_be_done_there(bench, pair):
    bench.tab.mouse.click(*bench.middle(pair.bead("rotation", 1)), button="right")
    words = bench.tab.locator("#menu").text_content()
    assert "Delete this key" in words
    assert "Automatic" in words
    bench.press("Escape")
    pair.press_bead("rotation", 1)
    bench.tab.mouse.click(*bench.middle(pair.handle(time_of(36), "leaving")), button="right")
    bench.tab.get_by_role("menuitem", name="Straight on this side").click()
    bench.settle()
    assert swing(bench).keys[1].leaving is None
    assert swing(bench).keys[1].arriving is not None
    value = float(swing(bench).curve.at([time_of(54)])[0])
    bench.tab.mouse.click(pair.x(54), pair.y(value), button="right")
    bench.tab.get_by_role("menuitem", name="Hold").click()
    bench.settle()
    assert swing(bench).keys[1].hold
    bench.tab.mouse.click(pair.x(120), pair.y(1.35), button="right")
    expect(bench.tab.locator("#menu")).to_contain_text("Fit the play range")
    bench.press("Escape")


def test_arrows_nudge_selected_keys_in_time_and_value(bench, pair):
    pair.press_bead("rotation", 1)
    bench.press("ArrowRight", "ArrowDown")
    key = swing(bench).keys[1]
    assert (key.time, key.value) == (time_of(37), pytest.approx(0.2))


def test_it_teaches_while_there_is_nothing_to_show(bench, pair):
    bench.press("Escape")
    expect(bench.tab.locator("#pair .teach")).to_contain_text("Steep in the upper curve is fast")
    bench.select("sky")
    expect(bench.tab.locator("#pair .teach")).to_contain_text("has no keys yet")
    bench.go("10")
    bench.tab.locator('.figure[data-row="opacity"] [data-key]').click()
    bench.settle()
    expect(bench.tab.locator("#pair .teach")).to_contain_text("One key, so it rests here")
    bench.go("50")
    bench.tab.locator('.figure[data-row="opacity"] [data-key]').click()
    bench.settle()
    expect(bench.tab.locator("#pair .teach")).to_contain_text("nothing moves")
