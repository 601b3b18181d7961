"""Automatic joints against worked numbers of Kochanek and Bartels, their limits, and curves kept within their keys."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.changes.keys import change_key, insert_key
from deftarc.core.changes.rebuild import concrete
from deftarc.core.curves.joints import goes_past, harmless_reach, within_keys
from deftarc.core.curves.sides import Automatic
from tests.scenes import at, numbers, side

AUTO = {"joint": "automatic"}


def free(**told):
    return {"joint": "automatic", "automatic": Automatic(free=True, **told)}


def speeds(track, frame):
    """Arriving and leaving speed per frame at a key's own sides."""
    curve = track.curve
    k = track.key_times.index(at(frame))
    arriving = curve.lb[k - 1] / (curve.b[k - 1] * curve.duration[k - 1])
    leaving = curve.la[k] / (curve.a[k] * curve.duration[k])
    return arriving * at(1), leaving * at(1)


# Keys 0, 10, 40 at frames 0, 10, 20: chords of 1 and 3 a frame. From the paper's formulas, even spacing:
# DS = (1−t)((1−c)(1+b)·10 + (1+c)(1−b)·30)/2, DD = (1−t)((1+c)(1+b)·10 + (1−c)(1−b)·30)/2, over 10 frames.
@pytest.mark.parametrize(
    ("told", "arriving", "leaving"),
    [
        ({}, 2.0, 2.0),
        ({"tension": 1.0}, 0.0, 0.0),
        ({"tension": -1.0}, 4.0, 4.0),
        ({"continuity": 1.0}, 3.0, 1.0),
        ({"continuity": -1.0}, 1.0, 3.0),
        ({"bias": 1.0}, 1.0, 1.0),
        ({"bias": -1.0}, 3.0, 3.0),
        ({"tension": 0.5, "continuity": 0.5, "bias": 0.25}, 1.0, 0.75),
    ],
)
def test_tension_continuity_and_bias_give_the_papers_tangents(told, arriving, leaving):
    track = numbers((0, 0), (10, 10, free(**told)), (20, 40))
    assert speeds(track, 10) == pytest.approx((arriving, leaving))


def test_uneven_spacing_leaves_one_speed_where_continuity_is_nought():
    # (40 − 0) over 25 frames, however the key between divides them.
    track = numbers((0, 0), (10, 10, free()), (25, 40))
    assert speeds(track, 10) == pytest.approx((1.6, 1.6))


def test_what_rests_does_not_drift():
    track = numbers((0, 0), (10, 50, AUTO), (20, 50, AUTO), (30, 100))
    assert track.curve.at([at(12), at(15), at(18)]) == pytest.approx([50, 50, 50])


def test_a_peak_is_level_and_stays_the_peak():
    track = numbers((0, 0, AUTO), (10, 90, AUTO), (14, 20, AUTO), (30, 30, AUTO))
    dense = track.curve.at(np.linspace(at(0), at(30), 4001))
    assert dense.max() == pytest.approx(90)
    assert dense.min() == pytest.approx(0)
    assert speeds(track, 10) == pytest.approx((0, 0))


def test_no_speed_is_above_three_times_the_slope_beside_it():
    track = numbers((0, 0), (10, 1, AUTO), (11, 101))
    assert speeds(track, 10) == pytest.approx((0.3, 0.3))


@settings(max_examples=80, deadline=None)
@given(st.lists(st.tuples(st.integers(1, 30), st.floats(-500, 500)), min_size=2, max_size=9))
def test_automatic_joints_stay_within_their_keys(rows):
    frames = np.cumsum([gap for gap, _ in rows])
    track = numbers(*[(int(f), v, AUTO) for f, (_, v) in zip(frames, rows, strict=True)])
    curve = track.curve
    change = np.diff(curve.measures)
    assert not goes_past(curve.la, curve.lb, change).any()


def test_beside_steps_and_at_ends_a_joint_goes_with_its_one_slope():
    track = numbers((0, 0, AUTO), (10, 20, {**AUTO, "hold": True}), (20, 50))
    assert track.curve.at([at(5)])[0] == pytest.approx(10)
    eased = numbers((0, 0, {"joint": "automatic", "automatic": Automatic(tension=1)}), (10, 20))
    assert eased.curve.speed([at(0)])[0] == 0


def test_automatic_joints_follow_when_a_neighbour_changes_and_keep_still_when_a_key_is_put_in():
    track = numbers((0, 0), (10, 10, AUTO), (20, 40), (30, 90))
    later = change_key(track, 2, (20,))
    assert speeds(later, 10) == pytest.approx((1, 1))
    made = insert_key(track, at(15))
    times = np.linspace(at(0), at(30), 601)
    assert made.curve.at(times) == pytest.approx(track.curve.at(times))
    assert made.keys[1].joint == "smooth"


def test_made_concrete_the_curve_is_the_same():
    track = numbers((0, 0, AUTO), (10, 10, free(continuity=-0.5)), (25, 40, AUTO))
    times = np.linspace(at(0), at(25), 301)
    plain = concrete(track, range(3))
    assert [key.joint for key in plain.keys] == ["smooth", "corner", "smooth"]
    assert plain.curve.at(times) == pytest.approx(track.curve.at(times))


@given(st.floats(-300, 300), st.floats(-300, 300), st.floats(-100, 100))
def test_kept_within_no_extreme_lies_past_a_key(la, lb, change):
    a, b = (np.array([x]) for x in (la, lb))
    size = np.array([change])
    p, q = within_keys(a, b, size)
    assert not goes_past(p, q, size, 1e-6).any()
    if not goes_past(a, b, size, 1e-12).any() and la * change >= 0 and lb * change >= 0 and change:
        assert (p, q) == (pytest.approx(a), pytest.approx(b))


def test_within_shortens_no_more_than_it_must():
    # 4 · Δ each way over Δ = 10: the ends are reached, not merely approached from afar.
    p, q = within_keys(np.array([40.0]), np.array([40.0]), np.array([10.0]))
    assert p == pytest.approx(q)
    assert goes_past(p * 1.001, q * 1.001, np.array([10.0])).all()


def test_a_whole_curve_can_be_kept_within_and_let_go_again():
    track = numbers((0, 0, {"leaving": side(0.3, 80)}), (20, 10, {"arriving": side(0.3, 0)}))
    kept = track.changed(within=True)
    assert kept.curve.at(np.linspace(at(0), at(20), 400)).max() <= 10 + 1e-9
    assert kept.changed(within=False).curve.extremes() == track.curve.extremes()


def test_the_largest_harmless_reach_keeps_within_and_a_little_more_does_not():
    reach = harmless_reach(40.0, 1.0, 10.0, 0.0)
    assert 0.2 < reach < 1
    rise = np.array([40.0 * reach])
    assert not goes_past(rise, np.zeros(1), np.array([10.0])).any()
    assert goes_past(rise * 1.01, np.zeros(1), np.array([10.0])).all()
    assert harmless_reach(-5.0, 1.0, 10.0, 0.0) is None
    assert harmless_reach(5.0, 1.0, 10.0, 0.0) == 1.0
