"""Jumps of linear() fall on their instant, as CSS Easing Functions Level 2 says, read and written."""

import re

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from deftarc.core.base.time import FrameRate
from deftarc.core.changes.css import easing_text, parse_easing
from deftarc.core.changes.ease import with_shape
from deftarc.core.curves.knots import Knot
from deftarc.core.curves.sides import Side, Steps
from tests.scenes import at, numbers

LONG = at(25)
STOPS = st.lists(
    st.tuples(st.sampled_from([0, 10, 25, 40, 50, 64, 75, 100]), st.sampled_from([-0.5, 0, 0.2, 0.5, 1, 1.4])),
    max_size=7,
)


def as_css_says(stops, time):
    """The standard's algorithm: of those at one place the last is there, and before it what leads to the first."""
    x = time / LONG
    after = next((n for n, (place, _) in enumerate(stops) if place / 100 > x), None)
    if after is None:
        return stops[-1][1]
    (a, one), (b, other) = stops[after - 1], stops[after]
    return one + (x - a / 100) / ((b - a) / 100) * (other - one)


def drawn(knots):
    return with_shape(numbers((0, 0), (25, 1)), 0, knots)


def moments(stops):
    """All over the segment, at each place and a flick before it."""
    places = sorted({round(LONG * place / 100) for place, _ in stops})
    return [*range(0, LONG, LONG // 97), *places, *(place - 1 for place in places if place)]


@given(STOPS)
@example([(50, 0), (50, 1)])
@example([(0, 0.5)])
@example([(100, 0.2), (100, 0.5)])
@example([(50, 0.2), (50, 1.4), (50, 0.5), (75, 0.5)])
@settings(max_examples=150, deadline=None)
def test_what_is_read_is_there_at_each_instant(row):
    stops = [(0, 0.0), *sorted(row, key=lambda stop: stop[0]), (100, 1.0)]
    text = "linear(" + ", ".join(f"{value} {place}%" for place, value in stops) + ")"
    track = drawn(parse_easing(text))
    times = moments(stops)
    wanted = [as_css_says(stops, time) for time in times]
    assert np.abs(track.curve.at(times) - wanted).max() < 5e-5
    # It goes out as it came in, and again.
    again = drawn(parse_easing(easing_text(parse_easing(text))))
    assert np.abs(again.curve.at(times) - wanted).max() < 1.2e-4
    assert len(again.keys) <= len(track.keys)


def test_a_jump_after_a_rest_is_a_hold():
    track = drawn(parse_easing("linear(0, 0.4 20%, 0.4 60%, 0.9 60%, 1)"))
    assert [(key.time, key.hold) for key in track.keys][1:3] == [(at(5), True), (at(15), False)]


@pytest.mark.parametrize("side", [Side(reach=0, rise=1), Side(reach=1e-9, rise=0.7)])
def test_no_place_is_written_below_0_or_past_100_per_cent(side):
    for run in (
        [Knot(x=0, y=0, leaving=side), Knot(x=0.4, y=0.9, arriving=side), Knot(x=1, y=1)],
        [Knot(x=0, y=0, steps=Steps(count=1, jump="start")), Knot(x=0.4, y=0.9), Knot(x=1, y=1, arriving=side)],
        [Knot(x=0, y=0, leaving=Side(reach=0, rise=0.5)), Knot(x=0.5, y=0.5, arriving=Side(reach=1, rise=0)),
         Knot(x=1, y=1, arriving=Side(reach=1.0, rise=0.2))],
    ):  # fmt: skip
        places = [float(each) for each in re.findall(r"(-?[\d.]+)%", easing_text(run))]
        assert places == sorted(places)
        assert places[0] == 0
        assert places[-1] == 100


def test_the_instant_is_the_same_at_any_rate():
    rate = FrameRate(numerator=30_000, denominator=1001)
    track = drawn(parse_easing("linear(0, 0.1 33.3%, 0.8 33.3%, 1)"))
    jump = int(np.ceil(LONG * 0.333))
    before, after = track.curve.at([jump - rate.flicks // 1000, jump])
    assert (before, after) == pytest.approx((0.1, 0.8), abs=1e-3)
