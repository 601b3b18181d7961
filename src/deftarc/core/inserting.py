"""A key put into a track, on the motion as it is: nothing changes anywhere (de Casteljau's split)."""

import itertools
from typing import TypeVar

import numpy as np

from deftarc.core.rebuild import key_with, mirrored, rebuilt, side_of, value_of
from deftarc.core.space import Path
from deftarc.core.track import (
    AnyTrack,
    BlendTrack,
    ColourTrack,
    KeyBase,
    NumberTrack,
    OutlineTrack,
    PathKey,
    PathTrack,
)

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)


def insert_key(track: T, time: int) -> T:
    """A key at a time, on the motion as it is, which does not change anywhere (de Casteljau's split).

    On a path the key rests on a new point there. Where a key stands already the track is returned as it is.
    """
    times = track.key_times
    if time in times:
        return track
    if not times:
        if isinstance(track, PathTrack):
            made = PathTrack(value=track.value, points=(track.value,), keys=(PathKey(time=time, at=0.0),))
            return made.changed(loose=track.loose)
        return rebuilt(track, [key_with(track, _blank(time), track.resting())])
    if time < times[0] or time > times[-1]:
        return _append_outside(track, time)
    index = int(np.searchsorted(times, time)) - 1
    curve = track.curve
    left, right = track.keys[index], track.keys[index + 1]
    if curve.hold[index]:
        measure = float(curve.measures[index])
        split = (left, _blank(time, hold=True), right)
        return _with_inserted(track, index, time, measure, split, (1.0, 1.0))
    fraction = np.array([(time - times[index]) / (times[index + 1] - times[index])])
    u = float(curve.parameter(np.array([index]), fraction)[0])
    share = float(fraction[0])
    p = [float(row[index]) for row in curve.control_measures()]
    x = [0.0, float(curve.a[index]), 1.0 - float(curve.b[index]), 1.0]
    (x01, x12, x23), (y01, y12, y23) = (_between(row, u) for row in (x, p))
    (xa, xb), (ya, yb) = _between([x01, x12, x23], u), _between([y01, y12, y23], u)
    measure = ya + (yb - ya) * u
    straight = left.leaving is None and right.arriving is None
    if straight:
        new, first, second = _blank(time), left, right
    else:
        first = left.changed(leaving=side_of(x01 / share, y01 - p[0]))
        second = right.changed(arriving=side_of((1 - x23) / (1 - share), p[3] - y23))
        new = _blank(time).changed(
            arriving=side_of((share - xa) / share, measure - ya),
            leaving=side_of((xb - share) / (1 - share), yb - measure),
            joint="smooth",
        )
    signs = _turned(track, index, measure)
    return _with_inserted(track, index, time, measure, (first, new, second), signs)


def _between(row: list[float], u: float) -> list[float]:
    return [a + (b - a) * u for a, b in itertools.pairwise(row)]


def _blank(time: int, hold: bool = False) -> KeyBase:
    return KeyBase(time=time, hold=hold)


def _append_outside(track: T, time: int) -> T:
    """A key before the first or after the last one, at the value held there.

    What the end key kept for a segment it did not have (a handle, a hold) would now begin to act, and is dropped.
    """
    keys: list[KeyBase] = list(track.keys)
    at = 0 if time < keys[0].time else len(keys)
    if at:
        keys[-1] = keys[-1].changed(leaving=None, hold=False, joint="corner")
    else:
        keys[0] = keys[0].changed(arriving=None, joint="corner")
    if isinstance(track, PathTrack):
        points = list(track.points)
        points.insert(at, points[0] if at == 0 else points[-1])
        keys.insert(at, PathKey(time=time, at=0.0))
        return rebuilt(track, keys, points)
    value = value_of(track, 0 if at == 0 else len(track.keys) - 1)
    keys.insert(at, key_with(track, _blank(time), value))
    return rebuilt(track, keys)


def _turned(track: AnyTrack, index: int, measure: float) -> tuple[float, float]:
    """Whether distance runs the other way on the left and on the right of a point put in at ``measure``.

    Within the stretch it never does; beyond its end (an overshoot) the way on leads back, and so mirrored.
    """
    if not isinstance(track, PathTrack):
        return (1.0, 1.0)
    low, high = (float(m) for m in track.curve.measures[index : index + 2])
    if measure > high:
        return (1.0, -1.0)
    return (-1.0, 1.0) if measure < low else (1.0, 1.0)


def _with_inserted(
    track: T,
    index: int,
    time: int,
    measure: float,
    three: tuple[KeyBase, KeyBase, KeyBase],
    signs: tuple[float, float],
) -> T:
    left, new, right = three
    keys: list[KeyBase] = list(track.keys)
    if isinstance(track, PathTrack):
        spot = track.path.position(np.array([measure]), *track.stretch(np.array([index])))[0]
        points = list(track.points)
        points.insert(index + 1, (float(spot[0]), float(spot[1])))
        keys[index : index + 2] = [
            left.changed(leaving=mirrored(left.leaving, signs[0])),
            new.changed(arriving=mirrored(new.arriving, signs[0]), leaving=mirrored(new.leaving, signs[1])),
            right.changed(arriving=mirrored(right.arriving, signs[1])),
        ]
        if signs != (1.0, 1.0):
            keys[index + 1] = keys[index + 1].changed(joint="corner")
        _turn_resting(track, index, points, keys)
        return rebuilt(track, keys, points)
    if isinstance(track, BlendTrack):
        # Each half is a segment of its own now, and its rises are shares of that.
        share = measure - index
        before, after = (1 / part if abs(part) > 1e-9 else 0.0 for part in (share, 1 - share))
        keys[index : index + 2] = [
            left.changed(leaving=mirrored(left.leaving, before)),
            key_with(track, new, track.at(time)).changed(
                arriving=mirrored(new.arriving, before), leaving=mirrored(new.leaving, after),
                joint="corner" if new.joint == "corner" or abs(before - after) > 1e-9 else "smooth",
            ),
            right.changed(arriving=mirrored(right.arriving, after)),
        ]  # fmt: skip
        return rebuilt(track, keys)
    keys[index : index + 2] = [left, key_with(track, new, (measure,)), right]
    return rebuilt(track, keys)


def _turn_resting(track: PathTrack, index: int, points: list[tuple[float, float]], keys: list[KeyBase]) -> None:
    """Rises mirrored in spans of no length that a new point after ``index`` has turned the other way.

    Such a span takes its direction from its neighbours, and its motion (an overshoot in place) goes that way.
    """
    before, after = track.path.directions, Path(np.array(points, dtype=np.float64)).directions
    lengths = np.diff(track.path.lengths)
    for span in range(len(before)):
        now = span if span < index else span + 1
        if span != index and lengths[span] == 0 and float(before[span] @ after[now]) < 0:
            keys[now] = keys[now].changed(leaving=mirrored(keys[now].leaving, -1.0), joint="corner")
            keys[now + 1] = keys[now + 1].changed(arriving=mirrored(keys[now + 1].arriving, -1.0), joint="corner")
