"""Several curves in the pair, pinned and alone; distances and pace keys; scale that grows evenly."""

import pytest
from playwright.sync_api import expect

from tests.e2e.pairing import PairHand, time_of


@pytest.fixture
def pair(bench):
    bench.select("gull")
    return PairHand(bench)


def curves(pair):
    return [(each["layer"], each["property"]) for each in pair.told["curves"]]


def listed(bench):
    return [
        (item.get_attribute("data-curve"), "shown" in (item.get_attribute("class") or ""))
        for item in bench.tab.locator("[data-curve]").all()
    ]


def show(bench, lane):
    bench.tab.locator(f'[data-curve="{lane}"] [data-curve-show]').click()
    bench.settle()


def test_curves_are_laid_over_hidden_and_made_the_main_one(bench, pair):
    assert listed(bench) == [("gull position", True), ("gull rotation", False), ("gull scale", False)]
    show(bench, "gull rotation")
    show(bench, "gull scale")
    assert curves(pair) == [("gull", "position"), ("gull", "rotation"), ("gull", "scale")]
    # Units of their own have scales of their own, with rest at one height.
    speeds = [each["speed"] for each in pair.told["curves"]]
    rest = {round(s["top"] + s["height"] * s["high"] / (s["high"] - s["low"]), 3) for s in speeds}
    assert len(rest) == 1
    bench.tab.locator('[data-curve="gull scale"] [data-curve-main]').click()
    bench.settle()
    assert curves(pair)[0] == ("gull", "scale")
    assert ("gull", "position") in curves(pair)
    show(bench, "gull rotation")
    assert ("gull", "rotation") not in curves(pair)
    bench.press("v")
    assert curves(pair)[0] != ("gull", "scale")


def test_keys_and_handles_of_every_shown_curve_can_be_taken(bench, pair):
    show(bench, "gull rotation")
    scale = next(each for each in pair.told["curves"] if each["property"] == "rotation")["value"]
    per_px = (scale["high"] - scale["low"]) / scale["height"]
    before = bench.track("gull", "rotation").keys[1].value
    pair.drag(pair.bead("rotation", 1), by=(0, 30))
    assert bench.track("gull", "rotation").keys[1].value == pytest.approx(before - 30 * per_px, abs=6 * per_px)
    assert set(curves(pair)) == {("gull", "position"), ("gull", "rotation")}


def test_one_scale_for_one_unit_and_each_its_own_when_asked(bench, pair):
    bench.row("ferry").click(modifiers=["Control"])
    bench.settle()
    bench.tab.locator('[data-curve="ferry rotation"] [data-curve-main]').click()
    bench.settle()
    show(bench, "gull rotation")
    both = {(each["value"]["low"], each["value"]["high"]) for each in pair.told["curves"]}
    assert len(both) == 1
    bench.tab.locator("#fit-open").click()
    bench.tab.get_by_role("checkbox", name="Each curve to its own scale").click()
    bench.settle()
    both = {(each["value"]["low"], each["value"]["high"]) for each in pair.told["curves"]}
    assert len(both) == 2


def test_alone_and_pinned(bench, pair):
    show(bench, "gull rotation")
    bench.press("x")
    assert curves(pair) == [("gull", "position")]
    bench.press("x")
    assert len(curves(pair)) == 2
    bench.press("q")
    expect(bench.tab.locator('[data-curve="gull position"] [data-curve-pin]')).to_have_count(1)
    bench.select("ferry")
    assert ("gull", "position") in curves(pair)
    assert ("gull", "rotation") in [tuple(lane.split()) for lane, _ in listed(bench)]
    bench.tab.locator('[data-curve="gull position"] [data-curve-pin]').click()
    bench.settle()
    assert ("gull", "position") not in curves(pair)


def test_a_curves_colour_is_chosen_and_all_can_be_hidden(bench, pair):
    show(bench, "gull rotation")
    bench.tab.locator('[data-curve="gull rotation"] [data-curve-main]').click(button="right")
    bench.tab.get_by_role("menuitem", name="Colour: Brick").click()
    bench.settle()
    assert "tint-3" in bench.tab.locator('#pair .one[data-property="rotation"]').get_attribute("class")
    show(bench, "gull rotation")
    show(bench, "gull position")
    expect(bench.tab.locator("#pair .teach")).to_contain_text("All its curves are hidden")


def test_a_pace_key_is_put_dragged_and_deleted_in_the_distance_curve(bench, pair):
    points = bench.track("gull", "position").points
    curve = bench.track("gull", "position").curve
    at = float(curve.at([time_of(100)])[0])
    bench.tab.mouse.dblclick(pair.x(100), pair.y(at))
    bench.settle()
    track = bench.track("gull", "position")
    index = track.key_times.index(time_of(100))
    assert not track.keys[index].rests
    assert track.points == points
    assert track.curve.at([time_of(90)])[0] == pytest.approx(float(curve.at([time_of(90)])[0]), abs=1e-6)
    expect(bench.tab.locator("#lane-gull-position .bead.pace")).to_have_count(1)
    # Up and down along the path, with Shift so that its time stays.
    pair.drag(pair.bead("position", index), (pair.x(100) + 1, pair.y(at + 80)), hold=("Shift",))
    track = bench.track("gull", "position")
    assert track.measures()[index] == pytest.approx(at + 80, abs=14)
    assert track.points == points
    # A key on a point keeps its height.
    pair.drag(pair.bead("position", 1), by=(0, -40))
    assert bench.track("gull", "position").points == points
    pair.press_bead("position", index)
    bench.tab.locator('[data-key-value="2"]').fill("1500")
    bench.tab.locator('[data-key-value="2"]').press("Enter")
    bench.settle()
    assert bench.track("gull", "position").measures()[index] == pytest.approx(1500)
    bench.press("Delete")
    track = bench.track("gull", "position")
    assert (len(track.keys), track.points) == (5, points)


def test_a_key_is_released_from_its_point(bench, pair):
    pair.press_bead("position", 1)
    bench.tab.mouse.click(*bench.middle(pair.bead("position", 1)), button="right")
    bench.tab.get_by_role("menuitem", name="Release it from its point").click()
    bench.settle()
    assert not bench.track("gull", "position").keys[1].rests
    before = float(bench.track("gull", "position").measures()[1])
    pair.drag(pair.bead("position", 1), by=(0, -20), hold=("Shift",))
    assert bench.track("gull", "position").measures()[1] > before


def test_scale_grows_evenly_on_an_axis_of_ratios(bench, pair):
    bench.tab.locator('[data-curve="gull scale"] [data-curve-main]').click()
    bench.settle()
    bench.tab.mouse.click(pair.x(120), pair.y(101.3), button="right")
    bench.tab.get_by_role("menuitem", name="Let it grow evenly").click()
    bench.settle()
    assert bench.track("gull", "scale").evenly
    assert pair.told["growth"] == 100
    expect(bench.tab.locator("#pair .speed-about")).to_contain_text("growth")
    marks = bench.tab.locator("svg.pair .mark").all_text_contents()
    assert "90" in marks
    bench.tab.mouse.click(pair.x(120), bench.tab.locator("svg.pair").bounding_box()["y"] + 12, button="right")
    bench.tab.get_by_role("menuitem", name="Let it grow by amount").click()
    bench.settle()
    assert not bench.track("gull", "scale").evenly
