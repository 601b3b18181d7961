"""Keys turned round in time, in place: what arrived leaves, and the other way; the ways between them are kept.

A curve read backwards: a way from A to B becomes the way from B to A, its handles change sides, its steps jump at the
other end. Ways from a turned key to one that stays keep the shape they had there, in proportion to their new change.
"""

import itertools
from collections.abc import Mapping
from typing import NamedTuple, TypeVar

import numpy as np

from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.places import pinned
from deftarc.core.changes.rebuild import concrete, rebuilt
from deftarc.core.curves.beyond import Beyond
from deftarc.core.curves.curve import THIRD
from deftarc.core.curves.sides import Side, Steps, mirrored
from deftarc.core.document.keys import KeyBase, PathKey
from deftarc.core.document.track import AnyTrack, BlendTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.spaces.bends import with_own_handles
from deftarc.core.spaces.points import PathPoint

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)
_OTHER_END = {"start": "end", "end": "start", "none": "none", "both": "both"}


class Way(NamedTuple):
    """What lies between two keys: how the first leaves, how the second arrives, and whether it goes in steps."""

    leaving: Side | None
    arriving: Side | None
    hold: bool
    steps: Steps | None


def way_after(track: AnyTrack, index: int) -> Way:
    left, right = track.keys[index], track.keys[index + 1]
    return Way(left.leaving, right.arriving, left.hold, left.steps)


def turned(way: Way, sign: float) -> Way:
    """A way read backwards. ``sign`` is −1 where the measure of what is turned stays as it is (a number), 1 where it
    is counted from the other end as well (along a path, or from key to key).
    """
    steps = Steps(count=1) if way.hold else way.steps
    if steps is not None:
        steps = Steps(count=steps.count, jump=_OTHER_END[steps.jump])
    holds = steps is not None and steps.count == 1 and steps.jump == "end"
    return Way(mirrored(way.arriving, sign), mirrored(way.leaving, sign), holds, None if holds else steps)


def reversed_keys(track: T, moves: Mapping[int, int]) -> T:
    """Keys turned round in time: ``moves`` is where each goes, {old time: new time}, the last one first.

    Of a position only a run without gaps can be turned, since its points are turned with it. A key that stays where
    a turned one lands is refused: whoever calls says where they go instead.
    """
    chosen = [k for k, time in enumerate(track.key_times) if time in moves]
    if len(chosen) < 2:
        return track
    if len(chosen) == len(track.keys):
        track = track.changed(before=_side_turned(track.after, moves), after=_side_turned(track.before, moves))
    whole = len(chosen) == len(track.keys)
    edges = () if whole else _edges(chosen)
    track = concrete(track, edges)
    before = track.measures()
    order = _order(track, moves)
    if isinstance(track, PathTrack):
        track = _path_turned(track, chosen, whole)
    sign = -1.0 if isinstance(track, NumberTrack) else 1.0
    # From key to key a colour's or an outline's measure rises by one, whichever stands where.
    measures = before if isinstance(track, BlendTrack) else track.measures()[order]
    ways = []
    for (index, back), change in zip(_sources(order, chosen), np.diff(measures).tolist(), strict=True):
        way, was = way_after(track, index), float(before[index + 1] - before[index])
        ways.append(turned(way, sign) if back else _in_proportion(way, was, change))
    return _joined(track, order, moves, ways, chosen)


def _side_turned(told: Beyond | None, moves: Mapping[int, int]) -> Beyond | None:
    """What went on after the keys goes on before them, read backwards."""
    if told is None or told.part is None:
        return told
    return told.changed(part=moves.get(told.part, told.part))


def _edges(chosen: list[int]) -> tuple[int, ...]:
    """The keys that begin or end a run of chosen ones."""
    some = set(chosen)
    return tuple(k for k in chosen if k - 1 not in some or k + 1 not in some)


def _order(track: AnyTrack, moves: Mapping[int, int]) -> list[int]:
    """Which key stands at each place now, by index."""
    times = {k: moves.get(time, time) for k, time in enumerate(track.key_times)}
    if len(set(times.values())) < len(times):
        raise Refusal("Two keys of one lane would stand at the same time. Reverse fewer keys, or more.")
    return sorted(times, key=lambda k: times[k])


def _sources(order: list[int], chosen: list[int]) -> list[tuple[int, bool]]:
    """For each way between two keys as they stand now, which way it comes from (by its first key), and whether that is
    read backwards.
    """
    some, out = set(chosen), []
    for left, right in itertools.pairwise(order):
        if left in some and (right in some or not right):
            # Read backwards what led to the one that comes first now.
            out.append((left - 1 if left else 0, True))
        elif left in some:
            # What led to the key that stays still does.
            out.append((right - 1, False))
        else:
            out.append((min(left, len(order) - 2), False))
    return out


def _in_proportion(way: Way, was: float, change: float) -> Way:
    """A way whose change ``was`` another, with its rises in proportion; where either is nought they stay."""
    factor = change / was if abs(was) > 1e-12 and abs(change) > 1e-12 else 1.0
    return way._replace(leaving=mirrored(way.leaving, factor), arriving=mirrored(way.arriving, factor))


def _joined(track: T, order: list[int], moves: Mapping[int, int], ways: list[Way], chosen: list[int]) -> T:
    some = set(chosen)
    keys: list[KeyBase] = []
    for n, k in enumerate(order):
        key = track.keys[k]
        before, after = ways[n - 1] if n else None, ways[n] if n < len(ways) else None
        ends = turned(Way(key.leaving, key.arriving, False, None), 1.0) if k in some else None
        automatic = key.automatic
        if automatic is not None and k in some:
            automatic = automatic.changed(bias=-automatic.bias)
        keys.append(
            key.changed(
                time=moves.get(key.time, key.time),
                arriving=before.arriving if before else (ends.arriving if ends else key.arriving),
                leaving=after.leaving if after else (ends.leaving if ends else key.leaving),
                hold=after.hold if after else False,
                steps=after.steps if after else None,
                automatic=automatic,
            )
        )
    for n in range(1, len(keys) - 1):
        if keys[n].joint == "smooth" and not one_speed(keys, n):
            keys[n] = keys[n].changed(joint="corner")
    return rebuilt(track, keys, track.points if isinstance(track, PathTrack) else None)


def one_speed(keys: list[KeyBase], n: int) -> bool:
    """Whether a key arrives as fast as it leaves; what is straight, or has no reach, is taken to."""
    key = keys[n]
    if key.arriving is None or key.leaving is None or not key.arriving.reach or not key.leaving.reach:
        return True
    d0, d1 = ((keys[n + i].time - keys[n + i - 1].time) / FLICKS for i in (0, 1))
    one, other = key.arriving.rise / key.arriving.reach / d0, key.leaving.rise / key.leaving.reach / d1
    return abs(one - other) <= 1e-6 * max(abs(one), abs(other), THIRD)


def _path_turned(track: PathTrack, chosen: list[int], whole: bool) -> PathTrack:
    """A position's points turned where some of its keys will be, the keys' places with them."""
    if whole:
        low, high = 0, len(track.points) - 1
    else:
        if chosen[-1] - chosen[0] + 1 != len(chosen):
            raise Refusal("Of a position a run of keys without gaps is reversed. Select those between as well.")
        for k in (chosen[-1], chosen[0]):
            track = pinned(track, k)
        low, high = (int(track.keys[k].at) for k in (chosen[0], chosen[-1]))
    points = list(track.points)
    if not whole:
        points = with_own_handles(points, (low, high), track.closed)
    # The ends keep what leads to them from outside.
    into, off = points[low].arriving, points[high].leaving
    points[low : high + 1] = [_point_turned(point) for point in reversed(points[low : high + 1])]
    if not whole and low < high:
        points[low] = _with_arms(points[low], into, points[low].leaving)
        points[high] = _with_arms(points[high], points[high].arriving, off)
    some = set(chosen)
    keys: list[KeyBase] = [
        key.changed(at=low + high - key.at, past=-key.past) if k in some and isinstance(key, PathKey) else key
        for k, key in enumerate(track.keys)
    ]
    return track.changed(points=tuple(points), keys=tuple(keys))


def _point_turned(point: PathPoint) -> PathPoint:
    if point.arriving is None and point.leaving is None:
        return point
    return point.changed(arriving=point.leaving, leaving=point.arriving)


def _with_arms(
    point: PathPoint, arriving: tuple[float, float] | None, leaving: tuple[float, float] | None
) -> PathPoint:
    if arriving is None and leaving is None:
        return PathPoint(x=point.x, y=point.y)
    same = (point.arriving, point.leaving) == (arriving, leaving)
    joint = point.joint if same else "corner"
    return PathPoint(x=point.x, y=point.y, joint=joint, arriving=arriving, leaving=leaving)
