"""The time curve against scipy's root finding, numeric derivatives and worked numbers."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from deftarc.core.base.time import FLICKS
from deftarc.core.curves.curve import TimeCurve, sample_many
from deftarc.core.curves.inverse import is_monotone, solve_parameter, time_coefficients
from tests.scenes import at, numbers, side

reach = st.floats(0, 1)
HOSTILE = [
    (0, 0),
    (1, 1),
    (0, 1),
    (1, 0),
    (1, 0.999999),
    (1e-12, 1),
    (0.9999999, 0.9999999),
    (1 / 3, 1 / 3),
    (4 / 3, 1 / 3),
]


def x_of(a, b, u):
    return 3 * a * u * (1 - u) ** 2 + 3 * (1 - b) * u**2 * (1 - u) + u**3


@pytest.mark.parametrize(("a", "b"), HOSTILE)
def test_time_is_inverted_to_a_billionth_of_a_thousandth_even_at_cusps(a, b):
    fraction = np.concatenate([[0, 1, 0.5, 1e-15, 1 - 1e-15], np.linspace(0, 1, 997), np.geomspace(1e-14, 1, 300)])
    A, B, C = (np.full(len(fraction), float(c)) for c in time_coefficients(np.float64(a), np.float64(b)))
    u = solve_parameter(A, B, C, fraction)
    assert ((u >= 0) & (u <= 1)).all()
    assert np.abs(x_of(a, b, u) - fraction).max() < 1e-12


@given(reach, reach, st.floats(0, 1))
def test_inversion_agrees_with_scipys_root_finder(a, b, fraction):
    coefficients = (np.array([float(c)]) for c in time_coefficients(np.float64(a), np.float64(b)))
    u = float(solve_parameter(*coefficients, np.array([fraction]))[0])

    def off(v):
        return x_of(a, b, v) - fraction

    # Within rounding of an end there is no change of sign for a root finder to work with.
    other = 0.0 if off(0) >= 0 else 1.0 if off(1) <= 0 else brentq(off, 0, 1, xtol=1e-15)
    assert abs(x_of(a, b, u) - x_of(a, b, other)) < 1e-12


@given(st.floats(0, 1.4), st.floats(0, 1.4))
def test_monotone_time_is_recognised(a, b):
    slope = np.diff(x_of(a, b, np.linspace(0, 1, 400)))
    if is_monotone(a, b, 0):
        assert slope.min() > -1e-12
    elif slope.min() > 1e-6:
        pytest.fail("a segment whose time plainly rises was called backward")


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000), st.integers(1, 8))
def test_one_sample_alone_is_the_same_as_among_many(seed, keys):
    rng = np.random.default_rng(seed)
    curve = random_curve(rng, keys, 1.0)
    times = rng.uniform(curve.times[0] - 1e8, curve.times[-1] + 1e8, 40)
    times[: len(curve.times)] = curve.times
    alone = [curve.one(float(time)) for time in times]
    assert alone == pytest.approx(curve.at(times), abs=1e-7)
    measure, speed = curve.at_and_speed(times)
    assert measure == pytest.approx(curve.at(times), abs=1e-9)
    assert np.array_equal(speed, curve.speed(times))


def test_two_straight_sides_are_exactly_linear():
    curve = numbers((0, 10), (40, 50)).curve
    assert np.allclose(curve.at([at(f) for f in (0, 10, 20, 40)]), [10, 20, 30, 50], atol=1e-12)
    assert np.allclose(curve.speed([at(5), at(25)]), 40 / 1.6)


def test_slow_ends_is_halfway_at_half_time_and_slow_at_both_ends():
    curve = numbers((0, 0, {"leaving": side(0.42, 0)}), (50, 100, {"arriving": side(0.42, 0)})).curve
    assert curve.at([at(25)])[0] == pytest.approx(50, abs=1e-10)
    # CSS ease-in-out at a quarter of its time, from its definition solved by hand: 12.9161 %.
    assert curve.at([at(12.5)])[0] == pytest.approx(12.9161, abs=1e-3)
    assert np.allclose(curve.speed([at(0), at(50)]), 0)


def test_a_hold_keeps_its_value_until_the_next_key():
    curve = numbers((0, 1, {"hold": True}), (10, 5)).curve
    assert list(curve.at([at(-3), at(0), at(9.99), at(10), at(30)])) == [1, 1, 1, 5, 5]
    assert curve.speed([at(4)])[0] == 0


def test_speed_is_the_derivative():
    curve = numbers((0, 0, {"leaving": side(0.7, 30)}), (25, 10, {"arriving": side(0.2, -40), "leaving": side(0.5, 2)}),
                    (75, -90, {"arriving": side(0.9, 3)})).curve  # fmt: skip
    times = np.linspace(at(0.5), at(74.5), 400)
    step = 2000.0
    numeric = (curve.at(times + step) - curve.at(times - step)) / (2 * step) * FLICKS
    assert np.allclose(curve.speed(times), numeric, rtol=1e-4, atol=1e-3)


def test_a_handle_without_reach_but_with_rise_is_unbounded_and_never_nan():
    curve = numbers((0, 0, {"leaving": side(0, 10)}), (25, 10, {"arriving": side(0, 0)})).curve
    speed = curve.speed([at(0), at(5), at(25)])
    assert speed[0] == np.inf
    assert not np.isnan(speed).any()


def test_speed_at_a_handle_of_no_length_is_its_limit():
    # P0 = P1, so the curve leaves towards P2 = (0.6 d, 4): 4 / (0.6 · 1 s).
    curve = numbers((0, 0, {"leaving": side(0, 0)}), (25, 10, {"arriving": side(0.4, 6)})).curve
    assert curve.speed([at(0)])[0] == pytest.approx(4 / 0.6)


def test_extremes_are_where_the_speed_changes_sign():
    curve = numbers((0, 0, {"leaving": side(0.3, 0)}), (25, 10, {"arriving": side(0.4, -6)})).curve
    [(time, value)] = curve.extremes()
    dense = curve.at(np.linspace(at(0), at(25), 20_001))
    assert value == pytest.approx(dense.max(), abs=1e-6)
    assert abs(curve.speed([time])[0]) < 1e-6


def random_steps(rng, count):
    """A tenth of the segments hold, a tenth go in steps of every kind."""
    rows = np.zeros((count, 3), np.int64)
    for k in np.flatnonzero(rng.random(count) < 0.2):
        n = int(rng.integers(2, 7))
        rows[k] = [(1, 0, 1), (n, 0, n), (n, 1, n), (n, 0, n - 1), (n, 1, n + 1)][rng.integers(0, 5)]
    return rows


def random_curve(rng, count, most=0.95):
    times = np.cumsum(rng.integers(1, 400, count) * 7_056_000)
    n = count - 1
    return TimeCurve(
        times.astype(np.int64), rng.normal(size=count) * 100, rng.uniform(0, most, n), rng.normal(size=n) * 60,
        rng.uniform(0, most, n), rng.normal(size=n) * 60, random_steps(rng, n),
    )  # fmt: skip


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10_000), st.integers(1, 7), st.integers(1, 6))
def test_sampling_many_curves_equals_each_alone(seed, curves, keys):
    rng = np.random.default_rng(seed)
    rows = [random_curve(rng, keys) for _ in range(curves)]
    times = np.sort(rng.integers(-(10**9), 3 * 10**9, 90))
    together = sample_many(rows, times)
    for curve, row in zip(rows, together, strict=True):
        assert np.allclose(row, curve.at(times), rtol=0, atol=1e-9)
