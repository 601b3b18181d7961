"""A key put into a track, on the motion as it is: nothing changes anywhere (de Casteljau's split)."""

import itertools
from typing import TypeVar

import numpy as np

from deftarc.core.changes.places import pinned
from deftarc.core.changes.rebuild import concrete, key_at, key_with, rebuilt, side_of, value_of
from deftarc.core.curves.sides import Side, Steps, mirrored
from deftarc.core.document.keys import KeyBase, PathKey
from deftarc.core.document.track import AnyTrack, BlendTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.spaces.bends import with_own_handles
from deftarc.core.spaces.points import point_at

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)


def insert_key(track: T, time: int, pace: bool = False) -> T:
    """A key at a time, on the motion as it is, which does not change anywhere (de Casteljau's split).

    On a path the key rests on a new point there, or is a ``pace`` key; beyond the way it travels it is one anyway.
    Where a key stands already the track is returned as it is.
    """
    times = track.key_times
    if time in times:
        return track
    if not times:
        if isinstance(track, PathTrack):
            return rebuilt(track, [PathKey(time=time, at=0.0)], [point_at(track.value, track.rounded)])
        return rebuilt(track, [key_with(track, _blank(time), track.resting())])
    if time < times[0] or time > times[-1]:
        return _append_outside(track, time)
    index = int(np.searchsorted(times, time)) - 1
    # What an automatic joint would make of its new neighbour is another motion: it keeps what it had.
    track = concrete(track, (index - 1, index, index + 1, index + 2))
    curve = track.curve
    left, right = track.keys[index], track.keys[index + 1]
    if curve.stepped[index]:
        return _into_steps(track, index, time, pace)
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
    return _with_inserted(track, index, measure, (first, new, second), pace)


def _between(row: list[float], u: float) -> list[float]:
    return [a + (b - a) * u for a, b in itertools.pairwise(row)]


def _blank(time: int, hold: bool = False) -> KeyBase:
    return KeyBase(time=time, hold=hold)


def _into_steps(track: T, index: int, time: int, pace: bool) -> T:
    """A key put into a segment of steps; jumps fall on the first whole flick that is not before them.

    A hold is held on both sides, and steps that jump at their end are counted out. Others cannot be parted into even
    steps: each part becomes a hold, the first one, where it jumps at once, half of a step that jumps at both ends.
    """
    curve, left, right = track.curve, track.keys[index], track.keys[index + 1]
    steps = left.steps
    level = float(curve.at([time])[0])
    if steps is None:
        return _with_inserted(track, index, level, (left, _blank(time, hold=True), right), pace)
    count, first, _ = steps.row
    starts = [left.time + -(-n * (right.time - left.time) // count) for n in range(count)] + [right.time]
    part = int(np.searchsorted(starts, time, side="right")) - 1
    if count == 1:
        # All of it rests at one level, which the new key takes.
        before = left.changed(steps=None, hold=True) if not first else left.changed(steps=Steps(count=1, jump="start"))
        return _with_inserted(track, index, level, (before, _blank(time, hold=True), right), pace)
    if steps.jump == "end":
        if time != starts[part]:
            track = insert_key(track, starts[part], pace=True) if part else track
            return insert_key(insert_key(track, starts[part + 1], pace=True), time, pace)
        before = left.changed(steps=Steps(count=part))
        after = _blank(time).changed(steps=Steps(count=count - part))
        return _with_inserted(track, index, level, (before, after, right), pace)
    row: list[KeyBase] = list(track.keys)
    row[index] = left.changed(steps=Steps(count=1, jump="both") if first else None, hold=not first)
    inner: list[KeyBase] = [key_at(track, _blank(t, hold=True), float(curve.at([t])[0]), index) for t in starts[1:-1]]
    return insert_key(rebuilt(track, [*row[: index + 1], *inner, *row[index + 1 :]]), time, pace)


def _append_outside(track: T, time: int) -> T:
    """A key before the first or after the last one, at the value held there.

    What the end key kept for a segment it did not have (a handle, a hold) would now begin to act, and is dropped.
    """
    # What an automatic end worked out for itself it keeps, though it has a neighbour now.
    track = concrete(track, (0, len(track.keys) - 1))
    keys: list[KeyBase] = list(track.keys)
    at = 0 if time < keys[0].time else len(keys)
    if at:
        keys[-1] = keys[-1].changed(leaving=None, hold=False, joint="corner")
    else:
        keys[0] = keys[0].changed(arriving=None, joint="corner")
    if isinstance(track, PathTrack):
        end = track.keys[0 if at == 0 else -1]
        if track.closed or not end.rests or end.at != (0 if at == 0 else len(track.points) - 1):
            # No end of the path, so no new one: it rests where the motion does.
            keys.insert(at, PathKey(time=time, at=end.at, past=end.past, pace=True))
            return rebuilt(track, keys)
        # So do the path's end and its neighbour; the new span has no length and bends nowhere.
        count = len(track.points)
        points = with_own_handles(track.points, (0, 1, count - 2, count - 1))
        last = points[-1 if at else 0]
        kept = last.arriving if at else last.leaving
        side = {"arriving": kept if at else None, "leaving": None if at else kept}
        joint = "straight" if kept is None else "corner"
        points[-1 if at else 0] = last.changed(joint=joint, **side) if last.joint != "automatic" else last
        points.insert(len(points) if at else 0, point_at(last.spot, track.rounded))
        if at == 0:
            keys = [key.changed(at=key.at + 1) for key in keys if isinstance(key, PathKey)]
        keys.insert(at, PathKey(time=time, at=0.0 if at == 0 else len(points) - 1.0))
        return rebuilt(track, keys, points)
    value = value_of(track, 0 if at == 0 else len(track.keys) - 1)
    keys.insert(at, key_with(track, _blank(time), value))
    return rebuilt(track, keys)


def _alike_within(track: AnyTrack, index: int) -> bool:
    """Whether two segments of a track kept within its keys are not shortened."""
    bare, curve = track.bare, track.curve
    both = slice(index, index + 2)
    return bool(max(np.abs(bare.la[both] - curve.la[both]).max(), np.abs(bare.lb[both] - curve.lb[both]).max()) < 1e-9)


def _laid(track: T) -> T:
    """A track kept within its keys with the sides that this leaves it, and no longer kept so."""
    curve = track.curve
    bent = ~curve.stepped & ((np.abs(curve.la - track.bare.la) > 1e-12) | (np.abs(curve.lb - track.bare.lb) > 1e-12))
    keys: list[KeyBase] = list(concrete(track, range(len(track.keys))).keys)
    for k in np.flatnonzero(bent).tolist():
        keys[k] = keys[k].changed(leaving=Side(reach=float(curve.a[k]), rise=float(curve.la[k])))
        keys[k + 1] = keys[k + 1].changed(arriving=Side(reach=float(curve.b[k]), rise=float(curve.lb[k])))
    keys = [key.changed(joint="corner") if key.joint == "smooth" else key for key in keys]
    return rebuilt(track.changed(within=False), keys)


def _with_inserted(track: T, index: int, measure: float, three: tuple[KeyBase, KeyBase, KeyBase], pace: bool) -> T:
    left, new, right = three
    keys: list[KeyBase] = list(track.keys)
    if isinstance(track, BlendTrack):
        # Each half is a segment of its own now, and its rises are shares of that.
        share = measure - index
        before, after = (1 / part if abs(part) > 1e-9 else 0.0 for part in (share, 1 - share))
        keys[index : index + 2] = [
            left.changed(leaving=mirrored(left.leaving, before)),
            key_with(track, new, track.between(index, share)).changed(
                arriving=mirrored(new.arriving, before), leaving=mirrored(new.leaving, after),
                joint="corner" if new.joint == "corner" or abs(before - after) > 1e-9 else "smooth",
            ),
            right.changed(arriving=mirrored(right.arriving, after)),
        ]  # fmt: skip
        return rebuilt(track, keys)
    keys[index : index + 2] = [left, key_at(track, new, measure, index), right]
    made = rebuilt(track, keys)
    if track.within and not _alike_within(made, index):
        # A part that was within its segment's keys may go past its own: it keeps its shape, and the switch goes off.
        return insert_key(_laid(track), new.time, pace)
    if isinstance(made, PathTrack) and not pace and made.keys[index + 1].past == 0:
        return pinned(made, index + 1)
    return made
