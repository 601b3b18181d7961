"""Which curves the pair shows and how its axes reach, as the live loop answers; and drags that snap to values."""

import numpy as np
import pytest

from deftarc.web.look import PairAsked
from deftarc.web.panels.axis import TimeAxis
from deftarc.web.panels.pair.frame import pair_of
from tests.scenes import EASED, at, gull, layer, numbers, positions, scene, side

AXIS = TimeAxis(0, at(100), 1000)


@pytest.fixture
def page(client):
    """One page's looks over its WebSocket."""
    from deftarc.formats.wire import unpack

    with client.websocket_connect("/live/p") as socket:
        count = 0

        def look(**asked):
            nonlocal count
            count += 1
            socket.send_json({"n": count, "scene": "crossing", **asked})
            return unpack(socket.receive_bytes())[0]

        look()
        yield look


def lanes(head):
    return [(each["layer"], each["property"]) for each in head["pair"]["curves"]]


def lane(name, of="gull"):
    return {"layer": of, "property": name}


def test_the_focus_is_the_main_curve_and_others_are_laid_over(page):
    told = page(layers=["gull"], focus=lane("rotation"), pair={"shown": [lane("opacity")]})
    assert lanes(told) == [("gull", "rotation"), ("gull", "opacity")]
    assert told["pair"]["speed_unit"] == "°/s"
    assert 'data-curve="gull position"' in told["fragments"]["pair"]
    assert {column["name"] for column in told["columns"]} >= {"pair", "pair gull opacity"}


def test_lanes_whose_keys_are_selected_are_shown_too(page):
    told = page(layers=["gull"], focus=lane("position"), keys=[{**lane("rotation"), "time": at(40)}])
    assert lanes(told) == [("gull", "position"), ("gull", "rotation")]


def test_hidden_alone_and_pinned(page):
    both = {"shown": [lane("opacity")]}
    assert lanes(page(layers=["gull"], pair={**both, "hidden": [lane("position")]})) == [("gull", "opacity")]
    assert lanes(page(layers=["gull"], pair={**both, "alone": lane("opacity")})) == [("gull", "opacity")]
    told = page(layers=["ferry"], pair={"pinned": [lane("rotation")]})
    assert lanes(told) == [("gull", "rotation")]
    assert "data-curve-pin" in told["fragments"]["pair"]
    gone = page(layers=["gull"], pair={"hidden": [lane("position"), lane("rotation"), lane("opacity")]})
    assert "pair" not in gone
    assert "All its curves are hidden" in gone["fragments"]["pair"]


def test_a_lane_that_is_not_there_is_no_curve(page):
    told = page(layers=["gull"], focus=lane("skew_x"), pair={"shown": [lane("rotation", "nobody"), lane("width")]})
    assert lanes(told) == [("gull", "position")]


def test_axes_stay_where_they_are_told_and_an_upside_down_one_is_refused(page):
    told = page(layers=["gull"], focus=lane("rotation"), pair={"fit": None, "value": [-10, 40], "speed": [0, 5]})
    assert (told["pair"]["value"]["low"], told["pair"]["value"]["high"]) == (-10, 40)
    assert told["pair"]["speed"]["high"] == 5
    refused = page(layers=["gull"], pair={"fit": None, "value": [40, -10]})
    assert "lower to a higher" in refused["refused"]


def test_axes_fit_what_is_selected_or_the_play_range():
    sign = layer("Sign", rotation=numbers((0, 0), (10, 10), (50, 20), (90, 400)))
    made = scene(sign, play_range=(at(0), at(20)))

    def high(fit, **fields):
        keys = [{"layer": "sign", "property": "rotation", "time": at(10)}] if fit == "selection" else []
        from deftarc.core.changes.keys import KeyRef

        refs = [KeyRef(**key) for key in keys]
        return pair_of(made, [(sign, "rotation")], AXIS, 300, PairAsked(fit=fit), keys=refs).value_axis.high

    assert high("all") > 400
    assert 20 < high("selection") < 30
    assert 12 < high("range") < 16


def test_one_unit_one_axis_and_each_its_own_when_asked():
    made = scene(
        layer(
            "A", rotation=numbers((0, 0), (50, 10)), skew_x=numbers((0, 0), (50, 40)), opacity=numbers((0, 0), (9, 1))
        )
    )
    shown = [(made.layers[0], name) for name in ("rotation", "skew_x", "opacity")]
    pair = pair_of(made, shown, AXIS, 300)
    first, second, third = (drawn.value_axis for drawn in pair.curves)
    assert first == second != third
    apart = pair_of(made, shown, AXIS, 300, PairAsked(apart=True))
    assert len({(d.value_axis.low, d.value_axis.high) for d in apart.curves}) == 3
    # Rest stands at one height for all, whatever their units.
    rest = {round(drawn.speed_axis.y(0.0), 6) for drawn in apart.curves}
    assert len(rest) == 1


def test_handles_stand_at_selected_keys_and_at_the_far_ends_of_their_segments():
    from deftarc.core.changes.keys import KeyRef

    made = scene(layer("A", rotation=numbers((0, 0, EASED[0]), (50, 100, EASED[1]), (80, 0))))
    ref = KeyRef(layer="a", property="rotation", time=at(50))
    main = pair_of(made, [(made.layers[0], "rotation")], AXIS, 300, keys=[ref]).main
    spots = {(h.time, h.side): h for h in main.handles}
    assert set(spots) == {(at(0), "leaving"), (at(50), "arriving"), (at(50), "leaving"), (at(80), "arriving")}
    # Reach 0.42 of 50 frames, on an axis of ten px a frame.
    assert spots[(at(0), "leaving")].x == pytest.approx(210, abs=0.1)
    assert spots[(at(50), "leaving")].kind == "straight"
    assert spots[(at(0), "leaving")].y == pytest.approx(main.value_axis.y(0), abs=0.1)
    [peak] = main.peaks
    assert peak.x == pytest.approx(250, abs=3)


def test_a_handle_of_no_length_is_drawn_where_it_can_be_taken():
    from deftarc.core.changes.keys import KeyRef

    made = scene(layer("A", rotation=numbers((0, 0, {"leaving": side(0, 0)}), (50, 100))))
    ref = KeyRef(layer="a", property="rotation", time=0)
    handle = pair_of(made, [(made.layers[0], "rotation")], AXIS, 300, keys=[ref]).main.handles[0]
    assert handle.x - handle.x0 > 10
    assert handle.true_x == handle.x0


def test_steps_are_drawn_as_stairs_and_speeds_at_a_corner_apart():
    from deftarc.core.curves.sides import Steps

    made = scene(layer("A", rotation=numbers((0, 0, {"steps": Steps(count=4)}), (40, 100), (60, 0), (100, 80))))
    main = pair_of(made, [(made.layers[0], "rotation")], AXIS, 300).main
    assert main.dotted.count("M") == 4
    at_corner = [b for b in main.speed_beads if b.time == at(60)]
    assert [b.sides for b in at_corner] == ["arriving", "leaving"]
    assert at_corner[0].y > at_corner[1].y


def test_frame_ticks_stand_on_the_curve_where_there_is_room():
    made = scene(layer("A", rotation=numbers((0, 0), (50, 100))))
    main = pair_of(made, [(made.layers[0], "rotation")], AXIS, 300).main
    assert main.ticks.count("M") == 51
    far = TimeAxis(0, at(2000), 1000)
    assert pair_of(made, [(made.layers[0], "rotation")], far, 300).main.ticks == ""


def test_a_position_is_its_distance_with_x_and_y_beside_it():
    made = scene(layer("A", position=positions((0, (0, 0)), (50, (30, 40)))))
    pair = pair_of(made, [(made.layers[0], "position")], AXIS, 300)
    assert (pair.title, pair.about) == ("Distance", "A · px along the path")
    assert [thin.name for thin in pair.main.thin] == ["x", "y"]
    assert "50 px" in pair.main.segments[0].told


def test_growth_is_marked_at_round_values_on_equal_ratios():
    track = numbers((0, 1.0), (50, 8.0)).changed(evenly=True)
    made = scene(layer("A", scale=track))
    pair = pair_of(made, [(made.layers[0], "scale")], AXIS, 300)
    marks = {label: y for y, label in pair.value_axis.marks()}
    assert {"100", "200", "500"} <= set(marks)
    assert marks["100"] - marks["200"] == pytest.approx(
        (pair.value_axis.y(np.log(2.0)) - pair.value_axis.y(np.log(4.0))), abs=0.2
    )
    assert pair.speed_unit == "% growth/s"


def moved(page, lift, **snap):
    keys = [{**lane("rotation"), "time": at(40)}]
    edit = {"kind": "move_keys", "scene": "crossing", "keys": keys, "by": 0, "lift": lift}
    asked = {"tolerance": 0, "grabbed": at(40), **snap}
    return page(layers=["gull"], keys=keys, focus=lane("rotation"), edit=edit, snap=asked)["snapped"]


def test_a_value_dragged_near_anothers_is_drawn_to_it_and_else_to_a_round_number(page):
    near = moved(page, -87.5, level=4.0)
    assert near["edit"]["lift"] == -90
    assert near["told"]["level"] == 0
    # 90 − 41.3 lands on a round one.
    rounded = moved(page, -41.3, level=4.0)
    assert 90 + rounded["edit"]["lift"] == pytest.approx(48.5)
    assert rounded["told"]["level"] is None
    assert moved(page, -41.3, level=0)["edit"]["lift"] == -41.3


def test_a_gull_alone_shows_its_first_keyed_property():
    made = scene(gull())
    assert pair_of(made, [(made.layers[0], "position")], AXIS, 300).main.value_axis.high > 500
