"""The second map: positions at distances along a path of straight spans."""

import numpy as np
import pytest

from deftarc.core.spaces.path import Path
from tests.scenes import at, positions, side


def test_a_position_lies_at_its_distance_along_the_way():
    path = Path(np.array([[0.0, 0.0], [30.0, 40.0], [30.0, 100.0]]))
    first, last = np.zeros(3, int), np.ones(3, int)
    assert np.allclose(path.lengths, [0, 50, 110])
    assert np.allclose(path.position(np.array([25.0, 50.0, 80.0]), first, last), [[15, 20], [30, 40], [30, 70]])


def test_overshoot_runs_straight_on_and_never_round_the_corner():
    track = positions(
        (0, (0, 0)), (10, (100, 0), {"arriving": side(0.4, -30), "leaving": side(0.3, 0)}), (20, (100, 80))
    )
    x, y = track.positions(np.linspace(at(0), at(9.99), 400)).T
    assert x.max() > 101
    assert np.abs(y).max() == 0
    assert track.value_at(at(10)) == (100, 0)


def test_a_wind_up_starts_backwards_along_the_first_span():
    track = positions((0, (0, 0), {"leaving": side(0.4, -20)}), (10, (100, 0)))
    assert track.positions(np.linspace(at(0), at(10), 200))[:, 0].min() < -1


def test_spans_of_no_length_borrow_a_direction():
    path = Path(np.array([[5.0, 5.0], [5.0, 5.0], [5.0, 25.0], [5.0, 25.0]]))
    assert np.allclose(path.directions, [[[0, 1]] * 2] * 3)
    lonely = Path(np.array([[5.0, 5.0], [5.0, 5.0]]))
    assert np.allclose(lonely.position(np.array([3.0]), np.array([0]), np.array([0])), [[8, 5]])


def test_speed_along_the_way_is_the_time_curves():
    track = positions((0, (0, 0), {"leaving": side(0.42, 0)}), (25, (300, 400), {"arriving": side(0.42, 0)}))
    times = np.linspace(at(1), at(24), 50)
    ahead, behind = track.positions(times + 5e4), track.positions(times - 5e4)
    moved = np.hypot(*(ahead - behind).T) / 1e5 * 705_600_000
    assert np.allclose(moved, track.curve.speed(times), rtol=1e-5)


def test_the_place_of_a_key_gives_its_distance():
    assert positions((0, (0, 0)), (5, (3, 4)), (9, (3, 14))).measures() == pytest.approx([0, 5, 15])
