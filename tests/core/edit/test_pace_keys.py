"""Keys between the points of a path: put, dragged along it, released, given a point of their own."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.changes.insert import insert_key
from deftarc.core.changes.keys import change_key, delete_keys, in_proportion, move_keys
from deftarc.core.changes.places import at_distance, pinned, released
from deftarc.core.changes.rebuild import value_of
from deftarc.core.document.keys import PathKey
from deftarc.core.document.track import PathTrack
from tests.scenes import EASED, at, positions, side

# An L of 300 and 400 px: three points, eased into the corner and out of it.
TURN = positions((0, (0, 0), EASED[0]), (20, (300, 0), {**EASED[1], **EASED[0]}), (50, (300, 400), EASED[1]))
FRAMES = np.linspace(at(0), at(50), 401)


def same_motion(one, other, near=1e-6):
    assert one.positions(FRAMES) == pytest.approx(other.positions(FRAMES), abs=near)


@pytest.mark.parametrize("frame", [3, 10, 19, 21, 30, 49])
def test_a_pace_key_put_on_the_curve_changes_neither_path_nor_motion(frame):
    made = insert_key(TURN, at(frame), pace=True)
    assert made.spots == TURN.spots
    assert not made.keys[made.key_times.index(at(frame))].rests
    same_motion(made, TURN)


def test_a_pace_key_moves_along_the_path_and_stays_on_it():
    made = insert_key(TURN, at(10), pace=True)
    before = made.measures()
    moved = in_proportion(at_distance(made, 1, 250.0), before)
    assert moved.value_at(at(10)) == pytest.approx((250, 0))
    assert moved.spots == TURN.spots
    beyond = at_distance(made, 1, 340.0)
    # Between keys 0 and 1 it may run past the corner, straight on.
    assert value_of(beyond, 1) == pytest.approx((340, 0))
    back = at_distance(made, 1, -30.0)
    assert value_of(back, 1) == pytest.approx((-30, 0))


def test_what_rests_on_a_point_keeps_its_height_until_it_is_released():
    assert at_distance(TURN, 1, 120.0) is TURN
    free = released(TURN, 1)
    same_motion(free, TURN)
    moved = at_distance(free, 1, 350.0)
    # Released from the corner it may go round it: the point stays, and floats.
    assert len(moved.points) == 3
    assert value_of(moved, 1) == pytest.approx((300, 50))
    assert value_of(at_distance(free, 1, 260.0), 1) == pytest.approx((260, 0))
    assert not moved.keys[1].rests


def test_a_pace_key_moved_on_the_picture_gets_a_point_of_its_own():
    made = insert_key(TURN, at(10), pace=True)
    bent = change_key(made, 1, (150.0, 80.0))
    assert len(bent.points) == 4
    assert bent.value_at(at(10)) == pytest.approx((150, 80))
    assert [key.at for key in bent.keys] == [0, 1, 2, 3]
    same_motion(pinned(made, 1), TURN)


def test_deleting_a_pace_key_leaves_the_path_and_deleting_a_point_keeps_the_shares():
    made = insert_key(TURN, at(35), pace=True)
    assert delete_keys(made, {at(35)}).spots == TURN.spots
    share = made.keys[2].at - 1
    short = delete_keys(insert_key(made, at(10), pace=True), {at(20)})
    assert short.spots == ((0, 0), (300, 400))
    # Px along the old way, as a share of it all, on the new one.
    assert short.keys[2].at == pytest.approx((300 + 400 * share) / 700)


def test_pace_keys_that_pass_a_point_in_time_keep_their_place():
    made = insert_key(TURN, at(10), pace=True)
    spot = value_of(made, 1)
    moved = move_keys(made, {at(10): at(30)})
    assert value_of(moved, 2) == pytest.approx(spot)
    assert moved.value_at(at(20)) == pytest.approx((300, 0))


def test_points_are_passed_in_their_order_and_keys_lie_on_the_path():
    points = ((0.0, 0.0), (10.0, 0.0), (20.0, 0.0))
    with pytest.raises(ValueError, match="in their order"):
        PathTrack(value=(0, 0), points=points, keys=(PathKey(time=0, at=2), PathKey(time=9, at=1)))
    with pytest.raises(ValueError, match="lies on its path"):
        PathTrack(value=(0, 0), points=points, keys=(PathKey(time=0, at=2.5),))
    PathTrack(value=(0, 0), points=points, keys=(PathKey(time=0, at=1.5), PathKey(time=9, at=0.5)))


spot = st.tuples(st.integers(-200, 200), st.integers(-200, 200)).map(lambda p: (float(p[0]), float(p[1])))
handle = st.builds(side, st.floats(0, 1), st.floats(-150, 150))


@settings(max_examples=80, deadline=None)
@given(
    st.lists(spot, min_size=2, max_size=5), st.lists(handle, min_size=8, max_size=8), st.integers(1, 200), st.booleans()
)
def test_a_key_put_anywhere_on_any_path_changes_no_position(spots, handles, when, pace):
    rows = [(20 * n, p, {"leaving": handles[n], "arriving": handles[-n]}) for n, p in enumerate(spots)]
    track = positions(*rows)
    end = track.key_times[-1]
    time = round(end * when / 201)
    made = insert_key(track, time, pace=pace)
    times = np.linspace(0, end, 200)
    assert made.positions(times) == pytest.approx(track.positions(times), abs=1e-5)


def test_a_pace_key_past_a_corner_is_brought_back_when_what_followed_it_is_gone():
    row = (
        PathKey(time=0, at=0), PathKey(time=at(10), at=1, past=40.0, pace=True), PathKey(time=at(20), at=1),
        PathKey(time=at(30), at=2),
    )  # fmt: skip
    track = PathTrack(value=(0, 0), points=TURN.points, keys=row)
    assert track.value_at(at(10)) == pytest.approx((340, 0))
    left = delete_keys(insert_key(track, at(25), pace=True), {at(20)})
    jumps = np.abs(np.diff(left.positions(np.linspace(0, at(30), 3001)), axis=0)).max()
    assert jumps < 2
