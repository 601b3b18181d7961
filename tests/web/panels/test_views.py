"""View models: axes, beads, bands, the pair and the figures, against worked numbers."""

import re

import numpy as np
import pytest

from deftarc.core.base.time import RATES
from deftarc.core.evaluate import pose
from deftarc.web.panels.axis import TimeAxis, spanning, ticks
from deftarc.web.panels.bead import sides_of
from deftarc.web.panels.figures.numbers import number, rows_of
from deftarc.web.panels.figures.segment import key_figures, segment_figures
from deftarc.web.panels.list.lanes import BAND, band_path, lane
from deftarc.web.panels.pair.frame import pair_of
from tests.scenes import EASED, at, gull, layer, numbers, scene, side

AXIS = TimeAxis(0, at(100), 1000)


def test_ticks_keep_room_for_their_labels():
    for width in (120, 567, 1400):
        made = ticks(TimeAxis(0, at(100), width), RATES["25"])
        labelled = [tick.x for tick in made if tick.label]
        assert min(np.diff(labelled), default=99) >= 64
    assert [tick.label for tick in ticks(AXIS, RATES["25"]) if tick.label][:3] == ["0:00:00", "0:00:10", "0:00:20"]


def test_value_axes_have_round_marks_and_room_for_flat_curves():
    assert [label for _, label in spanning(np.array([0.0, 1678]), 0, 200).marks()] == ["0", "500", "1000", "1500"]
    flat = spanning(np.array([5.0, 5.0]), 0, 100)
    assert flat.y(5) == pytest.approx(50)
    assert spanning(np.array([np.inf, 3.0]), 0, 100).high < 5


def test_a_bead_shows_curve_straight_and_hold():
    track = numbers((0, 0, EASED[0]), (10, 5, {"arriving": side(0.4, 0), "hold": True}), (20, 5), (30, 9))
    assert [sides_of(track, k) for k in range(4)] == [
        ("none", "curve"),
        ("curve", "none"),
        ("none", "straight"),
        ("straight", "none"),
    ]


def test_the_pace_band_is_thickest_where_it_is_fastest():
    curve = numbers((0, 0, EASED[0]), (100, 90, EASED[1])).curve
    spots = np.array(re.findall(r"(-?[\d.]+) (-?[\d.]+)", band_path(curve, AXIS, 13.0)), float)
    x, y = spots[: len(spots) // 2].T
    assert 13 - y[np.argmin(np.abs(x - 500))] == pytest.approx(BAND, abs=0.1)
    assert 13 - y[0] < 1.5


def test_lanes_draw_only_what_is_in_view():
    made = scene(gull())
    far = TimeAxis(at(60), at(90), 500)
    assert lane(made, made.layers[0], "rotation", 0, far, 27, False, "timecode").beads == []
    assert len(lane(made, made.layers[0], "rotation", 0, AXIS, 27, False, "timecode").beads) == 2


def test_the_value_curve_is_drawn_as_the_bezier_it_is():
    made = scene(gull())
    pair = pair_of(made, [(made.layers[0], "position")], AXIS, 300)
    assert (pair.title, pair.speed_unit) == ("Distance", "px/s")
    control = re.search(r"C([\d.]+) ([\d.]+) ([\d.]+) ([\d.]+) ([\d.]+) ([\d.]+)", pair.main.curve)
    x1, y1, x2, y2, x3, y3 = map(float, control.groups())
    assert (x1, x2, x3) == pytest.approx((210, 290, 500), abs=0.02)
    assert y1 == pytest.approx(pair.value_axis.y(0), abs=0.02)
    assert y2 == y3 == pytest.approx(pair.value_axis.y(500), abs=0.02)
    assert [t.name for t in pair.main.thin] == ["x", "y"]


def test_what_goes_past_its_keys_is_marked_with_how_far():
    made = scene(layer("Sign", rotation=numbers((0, 0), (50, 100, {"arriving": side(0.5, -60)}))))
    track = made.layers[0].track("rotation")
    [past] = pair_of(made, [(made.layers[0], "rotation")], AXIS, 300).main.past
    over = max(v for _, v in track.curve.extremes()) - 100
    assert past.words == f"{over:.0f}° past the key" if over >= 10 else f"{over:.1f}° past the key"
    assert past.above


def test_unbounded_speed_is_drawn_and_said_and_never_nan():
    made = scene(layer("Sign", rotation=numbers((0, 0, {"leaving": side(0, 40)}), (50, 100))))
    pair = pair_of(made, [(made.layers[0], "rotation")], AXIS, 300)
    assert "nan" not in str(pair.main.speed) + pair.main.curve
    assert key_figures(made, made.layers[0], "rotation", 0, "timecode").leaving.unbounded
    assert "unbounded" in pair.main.speed_beads[0].title


def test_figures_tell_the_four_states_apart():
    made = scene(gull())
    states = {row.label: row.state for row in rows_of(made.layers[0], at(40), pose(made.layers[0], at(40)), "motion")}
    assert states == {
        "Position": "elsewhere",
        "Rotation": "here",
        "Scale": "none",
        "Skew": "none",
        "Pivot": "none",
        "Opacity": "elsewhere",
    }


def test_the_key_and_its_segment_are_told_in_numbers():
    made = scene(gull())
    figures = key_figures(made, made.layers[0], "position", 0, "timecode")
    leaving = figures.leaving
    assert figures.arriving.rest == "first key, before it"
    assert (leaving.speed, leaving.unit, leaving.reach, leaving.frames) == ("0", "px/s", "42", "21")
    segment = segment_figures(made, made.layers[0], "position", [], 1)
    assert segment.about == "50 frames · 500 px · mean 250, top 431 px/s"
    assert (segment.ease, round(segment.strength)) == ("Slow ends", 50)
    alone = scene(layer("A", rotation=numbers((0, 1))))
    assert segment_figures(alone, alone.layers[0], "rotation", [], 0) is None


@pytest.mark.parametrize(
    ("value", "shown"), [(-0.01, "0"), (12.0, "12"), (1 / 3, "0.3"), (-4.25, "-4.2"), (1000.0, "1000")]
)
def test_numbers_are_as_short_as_they_can_be(value, shown):
    assert number(value, 1) == shown
