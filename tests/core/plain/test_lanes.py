"""Plain lanes: what the document's curves are as keys with an ease each, judged by the curves themselves."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.curves.inverse import solve_one
from deftarc.core.document.keys import NumberKey
from deftarc.core.document.track import NumberTrack
from deftarc.core.plain.lanes import EVEN, Lane, eased, sampled, split_ease, stepped
from tests.random_motion import curves
from tests.scenes import at, numbers


def shown(lane, times):
    """What a player of such lanes shows."""
    out = []
    for time in times:
        if time <= lane.times[0] or not lane.moves:
            out.append(lane.rows[0])
            continue
        if time >= lane.times[-1]:
            out.append(lane.rows[-1])
            continue
        k = int(np.searchsorted(lane.times, time, side="right")) - 1
        if lane.holds[k]:
            out.append(lane.rows[k])
            continue
        x1, y1, x2, y2 = lane.eases[k]
        share = (time - lane.times[k]) / (lane.times[k + 1] - lane.times[k])
        u = solve_one(x1, 1 - x2, share)
        y = 3 * u * (1 - u) ** 2 * y1 + 3 * u**2 * (1 - u) * y2 + u**3
        out.append(lane.rows[k] + (lane.rows[k + 1] - lane.rows[k]) * y)
    return np.array(out)


def lane_of(track):
    times, measures, eases = eased(track.curve)
    return Lane(times, measures[:, None], eases)


TIMES = np.arange(0, 62 * 4, dtype=np.float64) * (at(1) / 4)


@settings(max_examples=200, deadline=None)
@given(curves())
def test_a_curve_as_keys_with_eases_is_the_same_curve(track):
    lane = lane_of(track)
    truth = track.curve.at(TIMES)
    size = max(1.0, float(np.abs(track.curve.measures).max()))
    assert shown(lane, TIMES)[:, 0] == pytest.approx(truth, abs=1e-5 * size)
    moving = lane.eases[~lane.holds]
    assert np.all((moving[:, [0, 2]] >= 0) & (moving[:, [0, 2]] <= 1))
    assert np.all(np.diff(lane.times) > 0)


@settings(max_examples=200, deadline=None)
@given(curves(), st.integers(0, 240), st.integers(1, 240))
def test_a_part_of_it_is_that_part(track, first, more):
    lane = lane_of(track)
    start, end = TIMES[first], TIMES[min(len(TIMES) - 1, first + more)]
    part = lane.part(start, end)
    inside = TIMES[(start <= TIMES) & (end > TIMES)]
    size = max(1.0, float(np.abs(lane.rows).max()))
    assert shown(part, inside) == pytest.approx(shown(lane, inside), abs=1e-5 * size)
    if part.moves:
        assert part.times[0] >= start - 1
        assert part.times[-1] <= end + 1


def test_a_swing_between_two_equal_values_gets_a_key_where_it_is_furthest_out():
    track = NumberTrack(value=0, keys=(
        NumberKey(time=0, value=5, leaving={"reach": 0.3, "rise": 40}), NumberKey(time=at(20), value=5, arriving={"reach": 0.3, "rise": -40}),
    ))  # fmt: skip
    lane = lane_of(track)
    assert len(lane.times) == 3
    assert lane.rows[1, 0] == pytest.approx(35)
    assert shown(lane, TIMES)[:, 0] == pytest.approx(track.curve.at(TIMES), abs=1e-6)


@settings(max_examples=100, deadline=None)
@given(st.lists(st.tuples(st.floats(-100, 100), st.floats(-100, 100)), min_size=1, max_size=60), st.floats(0.01, 20))
def test_samples_are_kept_within_the_tolerance_and_as_few_as_that_takes(rows, near):
    told = np.array(rows)
    times = np.arange(len(told), dtype=np.float64)
    lane = sampled(times, told, near)
    assert np.abs(shown(lane, times) - told).max() <= near + 1e-9
    if len(told) > 2:
        straight = np.linspace(told[0], told[-1], len(told))
        assert len(sampled(times, straight, near).times) <= 2


def test_what_is_stepped_has_each_value_up_to_the_next_one():
    lane = stepped(np.arange(6.0), np.array([[1], [1], [3], [3], [2], [2]]))
    assert list(lane.times) == [0, 2, 4]
    assert lane.holds.all()
    assert stepped(np.arange(3.0), np.ones((3, 1))).moves is False


def test_where_a_curve_leaves_a_range_is_known_from_its_eases():
    lane = lane_of(numbers((0, 0), (10, 1)))
    assert lane.within(0, 1)
    assert lane.even.all()
    assert lane.eases[0] == pytest.approx(EVEN)
    swung = Lane(lane.times, lane.rows, np.array([[0.3, -0.2, 0.6, 1.0]]))
    assert not swung.within(0, 1)
    assert swung.within(None, 1)


@given(curves())
@settings(max_examples=60, deadline=None)
def test_values_at_many_moments_are_those_at_each(track):
    lane = lane_of(track)
    times = np.linspace(lane.times[0] - 1e6, lane.times[-1] + 1e6, 61)
    assert np.allclose(lane.at(times), shown(lane, times), atol=1e-6 * max(1.0, np.abs(lane.rows).max()))


def test_a_part_that_ends_at_a_key_has_that_key():
    lane = Lane(np.array([0.0, 10.0, 20.0]), np.array([[0.0], [4.0], [9.0]]), np.tile(EVEN, (2, 1)))
    part = lane.part(2.0, 10.0)
    assert part.times.tolist() == [2.0, 10.0]
    assert part.rows[:, 0].tolist() == pytest.approx([0.8, 4.0])


@given(st.floats(0, 1), st.floats(0, 1), st.floats(0, 1), st.floats(0, 1), st.floats(0.1, 0.9))
@settings(max_examples=100, deadline=None)
def test_an_ease_cut_at_a_share_of_its_change_goes_the_same_way(x1, y1, x2, y2, share):
    ease = np.array([x1, y1, x2, y2])
    (first, zero), (second, when) = split_ease(ease, [0.0, share, 1.0])
    assert zero == 0
    if not 1e-3 < when < 1 - 1e-3:
        return
    whole = Lane(np.array([0.0, 1.0]), np.array([[0.0], [1.0]]), ease[None])
    cut = Lane(np.array([0.0, when, 1.0]), np.array([[0.0], [share], [1.0]]), np.stack([first, second]))
    times = np.linspace(0, 1, 31)
    assert np.allclose(whole.at(times), cut.at(times), atol=2e-5)
