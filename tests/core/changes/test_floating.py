"""Points of a path without a key: when they are passed, set and floated again."""

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.floating import floating, passed, with_keys, without_keys
from deftarc.core.curves.sides import Side, Steps
from deftarc.core.document.keys import PathKey
from deftarc.core.document.track import PathTrack
from deftarc.core.spaces.points import point_at
from tests.scenes import at, floated, positions, side

FAR = st.floats(0, 900, allow_nan=False)


@st.composite
def drawn(draw):
    """A path with many points and only two keys, eased somehow but never past them."""
    count = draw(st.integers(3, 9))
    points = tuple(point_at((draw(FAR), draw(FAR)), draw(st.sampled_from([None, 0.5, 1.0]))) for _ in range(count))
    keys = (PathKey(time=0, at=0.0), PathKey(time=at(50), at=count - 1.0))
    track = PathTrack(value=(0, 0), points=points, keys=keys)
    length = track.path.lengths[-1]
    a, b, la, lb = (draw(st.floats(0.01, 0.99)) for _ in range(4))
    return track.changed(
        keys=(
            keys[0].changed(leaving=Side(reach=a, rise=la * length)),
            keys[1].changed(arriving=Side(reach=b, rise=lb * length)),
        )
    )


@settings(max_examples=60, deadline=None)
@given(drawn())
def test_floating_points_are_passed_in_order_where_they_lie(track):
    times = passed(track)
    assert list(times) == floating(track) == list(range(1, len(track.points) - 1))
    row = list(times.values())
    assert all(a <= b for a, b in itertools.pairwise(row))
    for point, time in times.items():
        assert track.curve.at([time])[0] == pytest.approx(track.path.lengths[point], abs=1e-5 * track.path.lengths[-1])


@settings(max_examples=40, deadline=None)
@given(drawn())
def test_setting_points_leaves_the_motion_and_floating_them_gives_back_two_keys(track):
    try:
        made = with_keys(track, floating(track))
    except Refusal:
        return
    times = np.linspace(0, at(50), 300)
    # Points that are passed within the same flick share one key.
    assert len(made.keys) <= len(track.points)
    assert made.positions(times) == pytest.approx(track.positions(times), abs=2e-3)
    inner = made.key_times[1:-1]
    if inner:
        again = without_keys(made, inner)
        assert len(again.keys) == 2
        assert again.points == made.points


def test_one_even_curve_runs_through_all_points():
    track = floated()
    even = track.changed(keys=tuple(key.changed(leaving=None, arriving=None) for key in track.keys))
    share = even.path.lengths[1] / even.path.lengths[2]
    assert passed(even)[1] == pytest.approx(share * at(40))
    made = with_keys(even, [1])
    assert [key.at for key in made.keys] == [0, 1, 2]
    assert made.key_times[1] == round(share * at(40))


def test_a_key_between_floats_with_its_neighbours_shapes():
    track = positions(
        (0, (0, 0), {"leaving": side(0.5, 0)}), (10, (100, 0)), (30, (100, 200), {"arriving": side(0.4, 0)})
    )
    made = without_keys(track, [at(10)])
    assert made.points == track.points
    assert len(made.keys) == 2
    assert made.keys[0].leaving.rise == 0
    assert made.keys[1].arriving.rise == 0
    with pytest.raises(Refusal, match="between"):
        without_keys(track, [0, at(30)])


def test_steps_pass_a_point_at_the_jump_that_gets_there():
    track = floated()
    stepped = track.changed(keys=(track.keys[0].changed(steps=Steps(count=4), leaving=None), track.keys[1]))
    when = passed(stepped)[1]
    assert when == at(20)
    held = track.changed(keys=(track.keys[0].changed(hold=True), track.keys[1]))
    assert passed(held)[1] == at(40)


def test_what_a_motion_never_reaches_is_left_alone():
    track = floated()
    short = track.changed(keys=(track.keys[0], track.keys[1].changed(at=0.5, pace=True)))
    assert passed(short) == {}
    with pytest.raises(Refusal, match="passed"):
        with_keys(short, floating(short))
