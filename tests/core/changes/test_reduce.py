"""Few keys for many samples: as few as the motion was made of, within the tolerance; with noise too."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.changes.reduce import fitted
from deftarc.core.changes.split import number_keys
from deftarc.core.changes.trace import traced
from deftarc.core.curves.sides import Side
from deftarc.core.document.keys import NumberKey, PathKey
from deftarc.core.document.track import NumberTrack, PathTrack
from deftarc.core.spaces.points import PathPoint, point_at
from tests.scenes import at


def frames(count):
    return np.array([at(n) for n in range(count)])


@st.composite
def motions(draw):
    """A number's motion of a few keys on whole frames, shaped in all ways."""
    steps = draw(st.lists(st.integers(8, 60), min_size=1, max_size=7))
    times = np.concatenate(([0], np.cumsum(steps)))
    values = [draw(st.floats(-200, 200)) for _ in times]
    keys = []
    for k, (time, value) in enumerate(zip(times, values, strict=True)):
        arm = lambda change: None if draw(st.booleans()) else Side(  # noqa: E731
            reach=draw(st.floats(0.05, 0.95)), rise=draw(st.floats(-0.4, 1.2)) * change)  # fmt: skip
        keys.append(
            NumberKey(
                time=at(int(time)), value=value, hold=draw(st.integers(0, 6)) == 0,
                arriving=arm(value - values[k - 1]) if k else None,
                leaving=arm(values[k + 1] - value) if k < len(values) - 1 else None,
            )
        )  # fmt: skip
    return NumberTrack(value=0.0, keys=tuple(keys))


def again(times, values, tolerance):
    keys = number_keys(times, values, fitted(times, values, tolerance))
    return NumberTrack(value=0.0, keys=tuple(keys))


@settings(max_examples=40, deadline=None)
@given(motions())
def test_a_motion_of_few_keys_is_found_again_with_few(track):
    times = frames(round(track.key_times[-1] / at(1)) + 1)
    values = track.curve.at(times)
    made = again(times, values, 0.3)
    assert np.abs(made.curve.at(times) - values).max() <= 0.3 + 1e-9
    assert len(made.keys) <= 1.5 * len(track.keys)


@settings(max_examples=15, deadline=None)
@given(motions(), st.integers(0, 2**32 - 1))
def test_with_noise_it_stays_within_the_tolerance(track, seed):
    times = frames(round(track.key_times[-1] / at(1)) + 1)
    noise = np.random.default_rng(seed).normal(0, 0.4, len(times))
    values = track.curve.at(times) + noise
    made = again(times, values, 1.5)
    assert np.abs(made.curve.at(times) - values).max() <= 1.5 + 1e-9
    assert len(made.keys) < len(times)


def test_noise_finer_than_the_tolerance_allows_ends_in_straight_ways():
    values = np.random.default_rng(4).normal(0, 5, 4000)
    made = again(frames(4000), values, 0.5)
    assert np.abs(made.curve.at(frames(4000)) - values).max() <= 0.5 + 1e-9


def test_a_jump_becomes_a_hold_and_a_line_has_two_keys():
    values = np.where(np.arange(40) < 25, 10.0, 90.0)
    made = again(frames(40), values, 0.1)
    assert [(key.time, key.value, key.hold) for key in made.keys][:2] == [(0, 10.0, True), (at(25), 90.0, False)]
    assert len(again(frames(100), np.linspace(0, 5, 100), 1e-6).keys) == 2
    assert len(fitted(frames(1), np.array([3.0]), 1.0)) == 1


def test_samples_that_must_be_keys_are():
    values = np.sin(np.linspace(0, 3, 50)) * 100
    rows = fitted(frames(50), values, 5.0, fixed=[7, 30])
    assert {7, 30} <= {row.sample for row in rows}


def bent_motion(seed):
    """A position on a bent path with a key on each point, and frames long enough to be read back."""
    rng = np.random.default_rng(seed)
    count = int(rng.integers(2, 8))
    times = np.concatenate(([0], np.cumsum(rng.integers(14, 60, count - 1))))
    points = []
    for _ in range(count):
        x, y = rng.uniform(0, 1000, 2)
        kind = rng.integers(0, 4)
        if kind == 0:
            points.append(point_at((x, y)))
        elif kind == 1:
            arms = rng.uniform(-150, 150, 4)
            points.append(PathPoint(x=x, y=y, joint="corner", arriving=tuple(arms[:2]), leaving=tuple(arms[2:])))
        else:
            points.append(point_at((x, y), rng.uniform(0.3, 0.7)))
    keys = tuple(PathKey(time=at(int(t)), at=float(k)) for k, t in enumerate(times))
    track = PathTrack(value=(0, 0), points=tuple(points), keys=keys)
    change = np.diff(track.measures())
    eased = list(keys)
    for k, d in enumerate(change):
        eased[k] = eased[k].changed(leaving=Side(reach=rng.uniform(0.1, 0.7), rise=rng.uniform(0, 0.4) * d))
        eased[k + 1] = eased[k + 1].changed(arriving=Side(reach=rng.uniform(0.1, 0.7), rise=rng.uniform(0, 0.4) * d))
    return track.changed(keys=tuple(eased))


@pytest.mark.parametrize("seed", range(12))
def test_a_way_recorded_frame_by_frame_becomes_a_path_with_few_keys(seed):
    track = bent_motion(seed)
    times = frames(round(track.key_times[-1] / at(1)) + 1)
    spots = track.positions(times.astype(float))
    made, off = traced(times, spots, 1.0)
    assert off <= 1.0
    assert np.hypot(*(made.positions(times.astype(float)) - spots).T).max() <= 1.0 + 1e-9
    assert len(made.keys) <= 1.5 * len(track.keys)


def test_a_shaky_hand_stays_within_the_tolerance():
    track = bent_motion(3)
    times = frames(round(track.key_times[-1] / at(1)) + 1)
    spots = track.positions(times.astype(float)) + np.random.default_rng(1).normal(0, 0.6, (len(times), 2))
    made, off = traced(times, spots, 3.0)
    assert off <= 3.0
    assert len(made.keys) < len(times) / 4


def test_resting_and_one_spot_are_motions_too():
    times = frames(30)
    still, off = traced(times, np.repeat([[5.0, 6.0]], 30, axis=0), 1.0)
    assert (len(still.keys), off) == (1, 0)
    pause = np.concatenate([np.linspace(0, 100, 10), np.full(10, 100.0), np.linspace(100, 300, 10)])
    made, off = traced(times, np.stack([pause, pause * 0], axis=1), 1.0)
    assert off <= 1.0
    assert len(made.keys) <= 4


def test_a_way_that_goes_back_on_itself_turns_where_it_did():
    x = np.concatenate([np.linspace(0, 200, 20), np.linspace(190, 20, 18)])
    made, off = traced(frames(38), np.stack([x, 0 * x], axis=1), 1.0)
    assert off <= 1.0
    assert len(made.keys) <= 4
