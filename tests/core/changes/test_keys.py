"""What must not change while keys are edited."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.ease import ease_segments
from deftarc.core.changes.keys import change_key, change_value, delete_keys, insert_key, move_keys, shifted
from tests.scenes import at, numbers, positions, side

# Reaches of 1 on both sides make a cusp, where a value is only as exact as the residual in time allows.
sides = st.one_of(st.none(), st.builds(side, st.floats(0, 0.9), st.floats(-80, 80)))
FRAMES = np.arange(-2, 64, 0.37)


def key_fields():
    return st.fixed_dictionaries({"arriving": sides, "leaving": sides, "hold": st.booleans()})


number_tracks = st.lists(st.tuples(st.floats(-100, 100), key_fields()), min_size=2, max_size=5).map(
    lambda keys: numbers(*((12 * n, value, fields) for n, (value, fields) in enumerate(keys)))
)
path_tracks = st.lists(
    st.tuples(st.tuples(st.floats(0, 500), st.floats(0, 300)), key_fields()), min_size=2, max_size=4
).map(lambda keys: positions(*((12 * n, spot, fields) for n, (spot, fields) in enumerate(keys))))


def times(frames=FRAMES):
    return np.array([at(f) for f in frames], float)


@settings(max_examples=80, deadline=None)
@given(number_tracks, st.floats(-5, 60))
def test_a_key_put_on_a_curve_changes_the_motion_nowhere(track, frame):
    after = insert_key(track, at(frame))
    assert len(after.keys) >= len(track.keys)
    assert np.allclose(after.curve.at(times()), track.curve.at(times()), atol=1e-7)


@settings(max_examples=80, deadline=None)
@given(path_tracks, st.floats(-5, 50))
def test_a_key_put_on_a_path_changes_the_motion_nowhere_even_past_its_end(track, frame):
    after = insert_key(track, at(frame))
    assert np.allclose(after.positions(times()), track.positions(times()), atol=2e-5)


@settings(max_examples=60, deadline=None)
@given(number_tracks, st.integers(-30, 30))
def test_moving_all_keys_moves_the_motion_as_it_is(track, by):
    after = move_keys(track, {time: time + at(by) for time in track.key_times})
    assert np.allclose(after.curve.at(times() + at(by)), track.curve.at(times()), atol=1e-7)


def test_a_moved_key_keeps_its_fractions_and_rises():
    track = numbers((0, 0, {"leaving": side(0.5, 7)}), (10, 20, {"arriving": side(0.25, 1)}))
    moved = move_keys(track, {at(10): at(40)})
    assert moved.keys[0].leaving == side(0.5, 7)
    assert moved.keys[1].arriving == side(0.25, 1)
    assert moved.key_times == [0, at(40)]


def test_a_changed_value_scales_rises_in_proportion_and_level_stays_level():
    track = numbers((0, 0, {"leaving": side(0.4, 0)}), (10, 20, {"arriving": side(0.4, -6)}))
    changed = change_key(track, 1, (40.0,))
    assert changed.keys[0].leaving.rise == 0
    assert changed.keys[1].arriving.rise == pytest.approx(-12)


def test_where_nothing_changed_before_rises_stay():
    track = numbers((0, 5, {"leaving": side(0.4, 9)}), (10, 5))
    assert change_key(track, 1, (8.0,)).keys[0].leaving.rise == 9


def test_a_smooth_joint_stays_smooth_with_the_mean_speed_weighted_by_duration():
    track = insert_key(numbers((0, 0, {"leaving": side(0.42, 0)}), (40, 100, {"arriving": side(0.42, 0)})), at(20))
    assert track.keys[1].joint == "smooth"
    moved = move_keys(track, {at(20): at(10)})
    before, after = moved.keys[1].arriving, moved.keys[1].leaving
    assert before.rise / (before.reach * 10) == pytest.approx(after.rise / (after.reach * 30))


def test_a_moved_point_scales_the_rises_of_its_neighbours_with_the_way():
    track = positions((0, (0, 0), {"leaving": side(0.4, 30)}), (10, (100, 0)), (20, (100, 50)))
    bent = change_key(track, 1, (200.0, 0.0))
    assert bent.keys[0].leaving.rise == pytest.approx(60)
    assert bent.key_times == track.key_times


def test_keys_that_pass_each_other_take_their_points_along():
    track = positions((0, (0, 0)), (10, (100, 0)), (20, (100, 50)))
    passed = move_keys(track, {at(10): at(30)})
    assert passed.key_times == [0, at(20), at(30)]
    assert passed.spots == ((0, 0), (100, 50), (100, 0))
    assert passed.value_at(at(20)) == (100, 50)


def test_a_key_that_lands_on_another_takes_its_place():
    moved = move_keys(numbers((0, 1), (10, 2), (20, 3)), {at(10): at(20)})
    assert [(key.time, key.value) for key in moved.keys] == [(0, 1), (at(20), 2)]


def test_two_moved_keys_cannot_land_on_one_time():
    with pytest.raises(Refusal, match="same time"):
        move_keys(numbers((0, 1), (10, 2)), {0: at(5), at(10): at(5)})


def test_a_deleted_key_leaves_its_neighbours_speeds():
    track = numbers((0, 0, {"leaving": side(0.3, 6)}), (10, 20), (20, 30, {"arriving": side(0.4, 0)}))
    rest = delete_keys(track, {at(10)})
    assert rest.curve.speed([0])[0] == pytest.approx(track.curve.speed([0])[0])
    assert rest.curve.speed([at(20)])[0] == pytest.approx(0)


def test_the_last_deleted_key_leaves_its_value():
    assert delete_keys(numbers((5, 42)), {at(5)}).value == 42
    assert delete_keys(positions((5, (3, 4))), {at(5)}).value == (3, 4)


def test_a_change_keys_only_where_it_should():
    track = numbers((0, 0), (20, 100))
    keyed = change_value(track, at(10), (80.0,), keying=True)
    assert keyed.key_times == [0, at(10), at(20)]
    assert keyed.value_at(at(10)) == pytest.approx(80)
    loose = change_value(track, at(10), (80.0,), keying=False)
    assert loose.keys == track.keys
    assert (loose.loose.time, loose.loose.value) == (at(10), 80)
    assert loose.value_at(at(10)) == pytest.approx(50)
    on_key = change_value(track, at(20), (60.0,), keying=False)
    assert on_key.keys[1].value == 60
    assert change_value(numbers(), at(10), (3.0,), keying=False).keys == ()


@pytest.mark.parametrize(
    ("ease", "middle"),
    [("straight", 50), ("slow-ends", 50), ("hold", 0), ("slow-start", 31.5357), ("slow-stop", 68.4643)],
)
def test_eases_at_half_time_are_those_of_css(ease, middle):
    eased = ease_segments(numbers((0, 0), (20, 100)), [0], ease, 50)
    assert eased.value_at(at(10)) == pytest.approx(middle, abs=1e-3)
    assert eased.value_at(at(20)) == 100


def test_the_whole_motion_is_shifted_without_a_new_key():
    moved = shifted(positions((0, (0, 0)), (10, (10, 0))), (5, -2))
    assert moved.spots == ((5, -2), (15, -2))
