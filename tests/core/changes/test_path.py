"""Paths edited on the picture: what moves, and what must not."""

from functools import partial

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.path import (
    at_even_distances,
    at_one_speed,
    closed,
    dragged,
    joined,
    point_added,
    points_deleted,
    reversed_path,
    spread,
    toggled,
)
from deftarc.core.document.keys import PathKey
from deftarc.core.document.track import PathTrack
from deftarc.core.edit import apply
from deftarc.core.edit.pace import EvenPace, TimeSegment
from deftarc.core.edit.paths import AddPathPoint, BendPath, ClosePath, JoinPath, ReversePath, SetRounding, TakePath
from deftarc.core.edit.values import SetValue
from deftarc.core.spaces.points import PathPoint, point_at
from tests.core.spaces.test_bends import rows
from tests.scenes import at, floated, layer, numbers, positions, project, side

TIMES = np.linspace(0, at(40), 200)


def keyed(points):
    """A motion with a key on each point, each segment shaped a little."""
    plain = positions(*((10 * n, (0, 0)) for n in range(len(points))))
    track = plain.changed(points=tuple(points))
    change = np.diff(track.measures())
    keys = list(track.keys)
    for k, d in enumerate(change):
        keys[k] = keys[k].changed(leaving=side(0.4, 0.1 * d))
        keys[k + 1] = keys[k + 1].changed(arriving=side(0.3, 0.6 * d))
    return track.changed(keys=tuple(keys))


def fractions(track):
    """How each segment's shape is, without its size."""
    change = np.diff(track.measures())
    return [
        (key.leaving.reach, key.leaving.rise / d) for key, d in zip(track.keys, change, strict=False) if abs(d) > 1e-6
    ]


@settings(max_examples=60, deadline=None)
@given(
    rows(3, 6),
    st.integers(0, 5),
    st.sampled_from(["point", "arriving", "leaving"]),
    st.floats(-300, 300),
    st.booleans(),
)
def test_bending_changes_no_time_and_no_fraction(points, k, part, by, apart):
    track = keyed(points)
    bent = dragged(track, [k % len(points)], part, (by, 40.0), apart)
    assert bent.key_times == track.key_times
    assert [key.at for key in bent.keys] == [key.at for key in track.keys]
    if (np.diff(track.measures()) > 1e-6).all() and (np.diff(bent.measures()) > 1e-6).all():
        assert np.array(fractions(bent)) == pytest.approx(np.array(fractions(track)))


@settings(max_examples=60, deadline=None)
@given(rows(2, 6), st.integers(0, 4), st.floats(0.05, 0.95))
def test_adding_a_point_changes_no_sample(points, span, u):
    track = keyed(points)
    more = point_added(track, span % (len(points) - 1), u)
    assert len(more.points) == len(points) + 1
    assert more.key_times == track.key_times
    times = np.linspace(0, track.key_times[-1], 200)
    assert np.abs(more.positions(times) - track.positions(times)).max() < 5e-3


@settings(max_examples=40, deadline=None)
@given(rows(2, 6))
def test_turned_round_twice_is_the_path_again(points):
    track = keyed(points)
    # A way of no length has no shape to keep.
    assume((np.diff(track.measures()) > 1e-3).all())
    once = reversed_path(track)
    ends = np.array([0.0, track.key_times[-1]])
    assert once.positions(ends) == pytest.approx(track.positions(ends)[::-1], abs=1e-5)
    again = reversed_path(once)
    assert again.points == track.points
    times = np.linspace(0, track.key_times[-1], 120)
    assert again.positions(times) == pytest.approx(track.positions(times), abs=1e-5)


def test_a_smooth_points_other_handle_turns_along_and_keeps_its_length():
    track = keyed(
        [
            point_at((0, 0)),
            PathPoint(x=100, y=0, joint="smooth", arriving=(-30, 0), leaving=(60, 0)),
            point_at((200, 0)),
        ]
    )
    bent = dragged(track, [1], "leaving", (0, 60), False)
    assert bent.points[1].leaving == (60, 60)
    assert bent.points[1].arriving == pytest.approx((-30 / 2**0.5, -30 / 2**0.5))
    apart = dragged(track, [1], "leaving", (0, 60), True)
    assert apart.points[1].arriving == (-30, 0)
    assert apart.points[1].joint == "corner"


def test_a_handle_drawn_out_of_an_automatic_point_keeps_what_it_had():
    track = floated()
    had = track.path.handles[1]
    bent = dragged(track, [1], "leaving", (5, 0), False)
    assert bent.points[1].joint == "smooth"
    assert bent.points[1].leaving == pytest.approx((had[2] + 5, had[3]))
    back = joined(bent, [1], "automatic")
    assert back.path.handles == pytest.approx(track.path.handles)


def test_a_toggle_rounds_a_sharp_point_and_sharpens_a_round_one():
    track = positions((0, (0, 0)), (10, (100, 100)), (20, (200, 0)))
    smooth = toggled(track, [1])
    assert smooth.points[1].joint == "smooth"
    # A third of each span, along the tangent of the circle through the three.
    assert smooth.points[1].leaving == pytest.approx((2**0.5 * 100 / 3, 0))
    assert toggled(smooth, [1]).points[1] == point_at((100, 100))


def test_points_are_spread_at_even_distances_and_float():
    track = floated()
    made = spread(track, 0, 2, 3)
    lengths = made.path.lengths
    placed = [lengths[k] for k in range(len(lengths))]
    whole = track.path.lengths[-1]
    for n in (1, 2, 3):
        assert min(abs(d - whole * n / 4) for d in placed) < 1e-3
    assert len(made.keys) == 2
    assert made.positions(TIMES) == pytest.approx(track.positions(TIMES), abs=1e-3)


def test_deleting_a_floating_point_keeps_the_keys_and_one_with_a_key_takes_it_along():
    assert points_deleted(floated(), [1]).key_times == [0, at(40)]
    short = points_deleted(positions((0, (0, 0)), (10, (50, 50)), (20, (99, 0))), [1])
    assert short.key_times == [0, at(20)]
    assert short.spots == ((0, 0), (99, 0))


def test_a_closed_path_is_smooth_through_its_seam_and_its_ends_move_as_one():
    ring = positions((0, (0, 0)), (10, (100, 0)), (20, (100, 100)), (30, (0, 100)))
    made = closed(joined(ring, range(4), "automatic", 0.5), True)
    assert made.closed
    assert made.points[0].spot == made.points[-1].spot == (0, 0)
    assert made.path.directions[0, 0] == pytest.approx(made.path.directions[-1, 1])
    moved = dragged(made, [3], "point", (-20, -10), False)
    assert moved.points[0].spot == moved.points[3].spot == (-20, -10)
    # A handle of the seam turns the one on its other side.
    smooth = joined(made, [0], "smooth")
    turned = dragged(smooth, [0], "leaving", (40, 40), False)
    first, last = np.array(turned.points[0].leaving), np.array(turned.points[3].arriving)
    assert first @ last == pytest.approx(-np.hypot(*first) * np.hypot(*last))
    assert not closed(moved, False).closed
    with pytest.raises(Refusal, match="third point"):
        closed(positions((0, (0, 0)), (10, (9, 9))), True)


def test_one_speed_moves_inner_keys_in_time_until_the_dots_are_even():
    track = keyed([point_at((0, 0), 0.5), point_at((30, 80), 0.5), point_at((300, 0), 0.5), point_at((300, 50))])
    made = at_one_speed(track, 0, 3)
    assert made.path.lengths == pytest.approx(track.path.lengths)
    inside = np.linspace(1, made.key_times[-1] - 1, 50)
    assert made.curve.speed(inside) == pytest.approx(made.path.lengths[-1] / (30 / 25), rel=1e-6)
    assert made.key_times[0] == 0
    assert made.key_times[-1] == at(30)


def test_even_distances_move_keys_along_the_path_at_the_times_they_have():
    track = keyed([point_at((0, 0), 0.5), point_at((30, 80), 0.5), point_at((300, 0), 0.5)])
    made = at_even_distances(track, 0, 2)
    assert made.key_times == track.key_times
    assert made.points == track.points
    assert np.diff(made.measures()) == pytest.approx([track.path.lengths[-1] / 2] * 2)
    with pytest.raises(Refusal, match="three keys"):
        at_even_distances(floated(), 0, 1)


def harbour(**more):
    return project(layer("Gull", position=floated(), rotation=numbers((0, 0), (10, 5), (30, 9))), **more)


def track_of(made, name="position"):
    return made.scenes[0].layer("gull").track(name)


def edit(kind, **fields):
    return kind(scene="crossing", layer="gull", **fields)


def test_a_drag_on_the_picture_is_taken_back_through_what_carries_the_layer():
    mast = layer("Mast", rotation=numbers(value=90.0), scale=numbers(value=2.0))
    scene = project(mast, layer("Gull", position=floated()).changed(parent="mast"))
    made = apply(scene, edit(BendPath, points=(1,), dx=0.0, dy=20.0, time=0))
    # Under a mast turned by 90° and twice as large, 20 px down are 10 px along its x.
    assert track_of(made).points[1].spot == pytest.approx((110, 80))


def test_shift_takes_points_level_or_at_45_degrees_and_lays_handles_so():
    made = apply(harbour(), edit(BendPath, points=(1,), dx=40.0, dy=7.0, time=0, constrain=True))
    assert track_of(made).points[1].spot == pytest.approx((140, 80))
    made = apply(harbour(), edit(BendPath, points=(1,), dx=40.0, dy=33.0, time=0, constrain=True))
    assert track_of(made).points[1].spot == pytest.approx((136.5, 116.5))
    made = apply(harbour(), edit(BendPath, points=(1,), part="leaving", dx=3.0, dy=60.0, time=0, constrain=True))
    x, y = track_of(made).points[1].leaving
    assert abs(x) == pytest.approx(abs(y))


def test_joining_the_whole_path_says_how_new_points_will_be():
    made = apply(harbour(), edit(JoinPath, joint="automatic", roundness=0.9))
    assert track_of(made).rounded == 0.9
    put = SetValue(scene="crossing", layer="gull", property="position", value=55.0, time=at(20), keying=True)
    more = track_of(apply(made, put))
    assert len(more.points) == 4
    assert all(point.joint == "automatic" for point in more.points)
    straight = track_of(apply(made, edit(JoinPath, joint="straight")))
    assert straight.rounded is None
    assert not straight.path.bent.any()


def test_a_projects_default_rounds_paths_as_they_are_made():
    plain = project(layer("Gull"))
    rounded = apply(plain, SetRounding(rounded=0.5))
    for frame, x in ((0, 0.0), (10, 80.0), (20, 20.0)):
        put = SetValue(scene="crossing", layer="gull", property="position", value=x, time=at(frame), keying=True)
        rounded = apply(rounded, put)
        moved = SetValue(
            scene="crossing",
            layer="gull",
            property="position",
            component=1,
            value=3.0 * frame,
            time=at(frame),
            keying=True,
        )
        rounded = apply(rounded, moved)
    assert [point.joint for point in track_of(rounded).points] == ["automatic"] * 3
    assert track_of(rounded).path.bent.all()


def test_frames_by_segment_are_typed_with_the_total_kept_or_not():
    def times(told, start, keep):
        made = apply(harbour(), edit(TimeSegment, property="rotation", time=at(start), told=told, keep=keep))
        return [t // at(1) for t in track_of(made, "rotation").key_times]

    assert times("14", 0, False) == [0, 14, 34]
    assert times("14", 0, True) == [0, 14, 30]
    assert times("0.4s", 10, True) == [0, 20, 30]
    assert times("0:01:00", 10, False) == [0, 10, 35]
    with pytest.raises(Refusal, match="next segment is not long enough"):
        times("30", 0, True)
    with pytest.raises(Refusal, match="a frame at least"):
        times("0", 0, False)
    with pytest.raises(Refusal, match="no time"):
        times("soon", 0, False)


def test_a_path_taken_whole_keeps_the_ends_times_and_needs_two_keys():
    rows_ = ((0, 0, 0, 0, 40, 0), (100, 50, -30, 0, 30, 0), (200, 0, 0, 0, 0, 0))
    made = apply(harbour(), edit(TakePath, points=rows_, time=0, end=at(9)))
    track = track_of(made)
    assert track.key_times == [0, at(40)]
    assert [point.joint for point in track.points] == ["corner", "smooth", "straight"]
    ring = track_of(apply(project(layer("Gull")), edit(TakePath, points=rows_, closed=True, time=at(2), end=at(9))))
    assert ring.closed
    assert len(ring.points) == 4
    assert ring.key_times == [at(2), at(9)]
    with pytest.raises(Refusal, match="ends after it begins"):
        apply(project(layer("Gull")), edit(TakePath, points=rows_, time=at(9), end=at(9)))


@pytest.mark.parametrize("joint", ["straight", "automatic"])
def test_a_path_is_closed_by_a_way_back_and_all_its_points_and_keys_stay(joint):
    rows_ = [point.changed(joint=joint) for point in (PathPoint(x=0, y=0), PathPoint(x=90, y=0), PathPoint(x=90, y=60))]
    way = PathTrack(value=(0, 0), points=tuple(rows_), keys=tuple(
        PathKey(time=at(10 * n), at=float(n)) for n in range(3)
    ))  # fmt: skip
    before = project(layer("Gull", position=way))
    made = apply(before, edit(ClosePath, closed=True, back=True))
    track = track_of(made)
    assert track.closed
    assert [point.spot for point in track.points] == [(0, 0), (90, 0), (90, 60), (0, 0)]
    assert track.key_times[:3] == way.key_times
    # At the mean speed of what was there.
    assert track.key_times[3] == at(10 + 10 + round(20 * np.hypot(90, 60) / way.path.lengths[-1]))
    if joint == "straight":
        times = np.linspace(0, at(20), 200)
        assert track.positions(times) == pytest.approx(way.positions(times), abs=1e-9)
    assert f"{track.key_times[3] // at(1)} f" in edit(ClosePath, closed=True, back=True).notes(before, made)[0].text
    opened = track_of(apply(made, edit(ClosePath, closed=False)))
    assert opened.positions(np.linspace(0, at(20), 200)) == pytest.approx(
        way.positions(np.linspace(0, at(20), 200)), abs=1e-6
    )
    assert opened.key_times == way.key_times
    # Turned round, or with another point in it, what was added is no longer known by itself: it opens as it lies.
    for other in (ReversePath, partial(AddPathPoint, span=0)):
        changed = apply(made, edit(other))
        assert len(track_of(apply(changed, edit(ClosePath, closed=False))).points) == len(track_of(changed).points)
    again = apply(apply(made, edit(ClosePath, closed=False)), edit(ClosePath, closed=True, back=True))
    assert track_of(again) == track
    # The end that a hand puts on the start stays where it was put.
    by_hand = track_of(apply(apply(before, edit(ClosePath, closed=True)), edit(ClosePath, closed=False)))
    assert [point.spot for point in by_hand.points] == [(0, 0), (90, 0), (0, 0)]


def test_what_there_is_no_path_for_is_said():
    bare = project(layer("Gull"))
    with pytest.raises(Refusal, match="has no path yet"):
        apply(bare, edit(JoinPath, joint="smooth"))
    with pytest.raises(Refusal, match="no way to go yet"):
        apply(bare, edit(EvenPace))
    with pytest.raises(Refusal, match="not there any more"):
        apply(harbour(), edit(BendPath, points=(9,), dx=1, dy=1, time=0))
    with pytest.raises(Refusal, match="no way on"):
        apply(harbour(), edit(AddPathPoint, span=7))
    with pytest.raises(Refusal, match="nothing to close"):
        apply(project(layer("Gull", position=positions((0, (0, 0)), (9, (5, 5))))), edit(ClosePath, closed=True))


def test_no_point_or_handle_is_moved_beyond_what_a_project_holds():
    far = edit(BendPath, points=(1,), dx=9e6, dy=0.0, time=0)
    once = apply(harbour(), far)
    with pytest.raises(Refusal, match="far out"):
        apply(once, far)
    arm = edit(BendPath, points=(1,), part="leaving", dx=9e6, dy=0.0, time=0)
    with pytest.raises(Refusal, match="far out"):
        apply(apply(harbour(), arm), arm)
