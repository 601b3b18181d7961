"""A key that was put in is taken away as if it had never been; any other leaves the motion as near as one segment can."""

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from deftarc.core.changes.deviation import motion_of
from deftarc.core.changes.insert import insert_key
from deftarc.core.changes.join import joined
from deftarc.core.changes.keys import delete_keys
from deftarc.core.curves.sides import Side, Steps
from deftarc.core.document.keys import PathKey
from deftarc.core.document.track import ColourTrack, NumberTrack
from tests.random_motion import curves, paths, stays_on_its_way
from tests.scenes import at, numbers, positions

TIMES = np.linspace(at(-5), at(65), 1201)


def off(one, other, times=TIMES):
    return float(np.abs(motion_of(one)(times) - motion_of(other)(times)).max())


def size(track):
    rows = motion_of(track)(TIMES)
    return max(1e-3, float(np.ptp(rows, axis=0).max()))


def inserted(track, times, pace=False):
    for time in times:
        track = insert_key(track, time, pace)
    return track


INSIDE = st.lists(st.floats(0.0, 1.0), min_size=1, max_size=4)


def places(track, shares):
    first, last = track.key_times[0], track.key_times[-1]
    found = {first + round(share * (last - first)) for share in shares} - set(track.key_times)
    # Steps that jump elsewhere than at their ends come apart into holds, and cannot be put together again.
    whole = [key.steps is None or key.steps.jump == "end" for key in track.keys]
    return sorted(time for time in found if whole[int(np.searchsorted(track.key_times, time)) - 1])


@given(curves(), INSIDE, st.booleans())
@settings(max_examples=250, deadline=None)
def test_a_key_put_into_a_curve_and_taken_away_leaves_the_curve_as_it_was(track, shares, within):
    track = track.changed(within=within)
    times = places(track, shares)
    made = inserted(track, times)
    back = joined(made, set(made.key_times) - set(track.key_times))
    assert back.key_times == track.key_times
    assert off(back, track) <= 1e-6 * size(track)


@given(paths(), INSIDE, st.booleans())
@settings(max_examples=150, deadline=None, suppress_health_check=[HealthCheck.filter_too_much])
def test_so_does_one_put_into_a_path_be_it_a_point_or_a_pace_key(track, shares, pace):
    # Past the end of its way a key is put on a detour, which is another path.
    stays_on_its_way(track)
    times = places(track, shares)
    # Nor is a way that doubles back where it comes back to a point: the points put there lie on both ways of it.
    along = track.curve.at(np.array(sorted({*track.key_times, *times}), np.float64))
    assume(pace or bool((np.diff(along) >= 0).all()))
    made = inserted(track, times, pace)
    back = joined(made, set(made.key_times) - set(track.key_times))
    assert back.key_times == track.key_times
    assert off(back, track) <= 2e-4 * size(track)


def test_a_colour_comes_back_too():
    red, blue, white = (0.9, 0.1, 0.1, 1.0), (0.1, 0.2, 0.9, 1.0), (1.0, 1.0, 1.0, 1.0)
    track = ColourTrack(value=red, keys=(
        {"time": 0, "value": red, "leaving": Side(reach=0.8, rise=0.1)},
        {"time": at(20), "value": blue, "arriving": Side(reach=0.5, rise=-0.2)},
        {"time": at(40), "value": white},
    ))  # fmt: skip
    times = [at(3), at(11), at(30)]
    assert off(joined(inserted(track, times), set(times)), track) < 1e-4


@given(curves(least=3), st.data())
@settings(max_examples=150, deadline=None)
def test_any_other_leaves_it_at_least_as_near_as_its_neighbours_speeds_would(track, data):
    gone = data.draw(st.sets(st.sampled_from(track.key_times[1:-1]), min_size=1))
    kept, plain = joined(track, gone), delete_keys(track, gone)
    assert kept.key_times == plain.key_times
    if not any(key.steps for key in track.keys):
        assert off(kept, track) <= 1.02 * off(plain, track) + 1e-6 * size(track)
    # Nothing beyond the gap moves.
    before = min(time for time in track.key_times if time in gone)
    first = max(time for time in track.key_times if time < before)
    assert off(kept, track, np.linspace(at(-5), first - 1, 200)) <= 1e-6 * size(track)


def test_a_bump_stays_one():
    """Up and down again with slow ends: one segment with both handles up comes near to it."""
    bump = numbers(
        (0, 0, {"leaving": Side(reach=0.5, rise=0)}),
        (10, 100, {"arriving": Side(reach=0.5, rise=0), "leaving": Side(reach=0.5, rise=0), "joint": "smooth"}),
        (20, 0, {"arriving": Side(reach=0.5, rise=0)}),
    )
    assert off(joined(bump, {at(10)}), bump) < 15
    assert off(delete_keys(bump, {at(10)}), bump) > 99


def test_a_smooth_joint_at_the_end_of_a_gap_stays_smooth():
    wave = numbers(
        (0, 0), (10, 60, {"arriving": Side(reach=0.4, rise=30), "leaving": Side(reach=0.4, rise=30), "joint": "smooth"}),
        (20, 90, {"arriving": Side(reach=0.3, rise=2)}), (30, 20),
    )  # fmt: skip
    made = joined(wave, {at(20)})
    hair = 1e-3
    key = at(10)
    one, before, after = (motion_of(made)(np.array([key + n * hair * at(1)]))[0, 0] for n in (0, -1, 1))
    assert (one - before) == pytest.approx(after - one, rel=0.01)


def test_holds_and_steps_are_counted_together():
    held = numbers((0, 5, {"hold": True}), (20, 9))
    assert joined(insert_key(held, at(7)), {at(7)}) == held
    steps = numbers((0, 0, {"steps": Steps(count=4)}), (20, 40))
    assert joined(insert_key(steps, at(10)), {at(10)}) == steps


@pytest.mark.parametrize("bent", [False, True])
def test_a_key_one_flick_from_its_neighbour_goes(bent):
    side = {"leaving": Side(reach=0.6, rise=5)} if bent else {}
    way = positions((0, (0, 0), side), (20, (300, 40)), (40, (600, 0)))
    near = insert_key(insert_key(way, at(10), pace=True), at(10) + 1, pace=True)
    for gone in ({at(10)}, {at(10) + 1}, {at(10), at(10) + 1}):
        assert off(joined(near, gone), way) < 0.05
        assert delete_keys(near, gone).key_times == [time for time in near.key_times if time not in gone]
    number = inserted(numbers((0, 0, {"leaving": Side(reach=0.9, rise=80)}), (40, 100)), [at(10), at(10) + 1])
    assert delete_keys(number, {at(10)}).key_times == [0, at(10) + 1, at(40)]
    assert off(joined(number, {at(10)}), number) < 1e-3


def test_the_first_and_the_last_go_as_always():
    track = numbers((0, 5), (10, 20), (20, 0))
    assert joined(track, {0}) == delete_keys(track, {0})
    assert joined(track, set(track.key_times)) == NumberTrack(value=5.0)
    away = positions((0, (0, 0)), (10, (50, 0)), (20, (90, 0)))
    assert joined(away, {at(20)}) == delete_keys(away, {at(20)})


def test_a_straight_path_stays_straight_and_its_time_goes_on():
    way = positions((0, (0, 0)), (10, (100, 100)), (20, (200, 0)))
    made = joined(way, {at(10)})
    assert made.spots == ((0, 0), (200, 0))
    assert all(isinstance(key, PathKey) for key in made.keys)
    assert made.value_at(at(10)) == pytest.approx((100, 0), abs=1e-6)
