"""Two motions of one property made one: a piece's keys among or in place of a track's own.

Each way between two keys that were neighbours before is kept as it was. Ways that are new, from a key of the one to a
key of the other, leave and arrive as these keys do.
"""

import itertools
import math
from collections.abc import Sequence
from typing import NamedTuple, TypeVar

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.changes.places import pinned
from deftarc.core.changes.rebuild import rebuilt, value_of
from deftarc.core.changes.reverse import one_speed
from deftarc.core.curves.sides import mirrored
from deftarc.core.document.keys import KeyBase, PathKey
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack
from deftarc.core.spaces.bends import with_own_handles
from deftarc.core.spaces.points import PathPoint

T = TypeVar("T", NumberTrack, PathTrack, ColourTrack, OutlineTrack, AnyTrack)
#: Points nearer to one another than this, in px, are one.
SAME = 1e-9
#: A key of one of two tracks: which of them, and its index there.
Of = tuple[int, int]


def woven(track: T, piece: T) -> T:
    """A track with the keys of a piece among its own; where two stand at one time the piece's stays.

    Both are of one kind, numbers both evenly or both not. Refusal where that is more keys than a lane has.
    """
    mine = {time: (0, k) for k, time in enumerate(track.key_times)}
    theirs = {time: (1, k) for k, time in enumerate(piece.key_times)}
    both = {**mine, **theirs}
    if len(both) > limits.MAX_KEYS_PER_LANE:
        raise Refusal(f"That would be more than {limits.MAX_KEYS_PER_LANE:,} keys in a lane.")
    order = [both[time] for time in sorted(both)]
    if isinstance(track, PathTrack):
        assert isinstance(piece, PathTrack)
        return _paths_woven(track, piece, order)
    sources = (track, piece)
    keys: list[KeyBase] = [sources[which].keys[k] for which, k in order]
    made = track.changed(keys=tuple(keys))
    return rebuilt(track, honest(_in_proportion(sources, order, keys, made)))


def _in_proportion(
    sources: tuple[AnyTrack, AnyTrack], order: Sequence[Of], keys: list[KeyBase], made: AnyTrack
) -> list[KeyBase]:
    """New ways: the sides of those that led elsewhere before get rises in proportion to what they lead to now."""
    measures = made.measures()
    before = [source.measures() if source.keys else () for source in sources]
    for n, (left, right) in enumerate(itertools.pairwise(order)):
        if left[0] == right[0] and right[1] == left[1] + 1:
            continue
        change = float(measures[n + 1] - measures[n])
        (a, i), (b, j) = left, right
        if i + 1 < len(before[a]):
            factor = _factor(float(before[a][i + 1] - before[a][i]), change)
            keys[n] = keys[n].changed(leaving=mirrored(keys[n].leaving, factor))
        if j:
            factor = _factor(float(before[b][j] - before[b][j - 1]), change)
            keys[n + 1] = keys[n + 1].changed(arriving=mirrored(keys[n + 1].arriving, factor))
    return keys


def _factor(was: float, now: float) -> float:
    return now / was if abs(was) > 1e-12 else 1.0


def honest(keys: list[KeyBase]) -> list[KeyBase]:
    """Smooth joints that have two speeds made corners: it is the shapes that are kept."""
    return [
        key.changed(joint="corner")
        if key.joint == "smooth" and 0 < n < len(keys) - 1 and not one_speed(keys, n)
        else key
        for n, key in enumerate(keys)
    ]


def _paths_woven(track: PathTrack, piece: PathTrack, order: Sequence[Of]) -> PathTrack:
    """Two positions on one path: runs of keys that were neighbours keep the path between them, and from run to run it
    goes straight. Where a run ends at the spot at which the next begins they share the point.
    """
    sources = [track, piece]
    runs = _runs(order, sources)
    if len(runs) == 1:
        only = sources[runs[0].which]
        return track.changed(points=only.points, keys=only.keys, closed=only.closed)
    for n, run in enumerate(runs):
        # Where runs meet they need points to meet in; at its two ends the path stays as it is, with what lies beyond.
        meets = ({run.begin, run.first} if n else set()) | ({run.last, run.end} if n + 1 < len(runs) else set())
        for k in meets:
            sources[run.which] = pinned(sources[run.which], k)
    points: list[PathPoint] = []
    keys: list[KeyBase] = []
    for n, run in enumerate(runs):
        source = sources[run.which]
        low = int(source.keys[run.begin].at) if n else 0
        high = int(source.keys[run.end].at) if n + 1 < len(runs) else len(source.points) - 1
        own = with_own_handles(source.points, (low, high), source.closed)[low : high + 1]
        if n:
            own[0] = _without(own[0], "arriving")
        if n + 1 < len(runs):
            own[-1] = _without(own[-1], "leaving")
        base = len(points)
        if points and math.dist(points[-1].spot, own[0].spot) < SAME:
            base -= 1
            points[-1] = _one_point(points[-1], own[0])
            points += own[1:]
        else:
            points += own
        keys += [_placed(key, low, high, base) for key in source.keys[run.first : run.last + 1]]
    opened = track.changed(closed=False)
    shaped = _in_proportion((track, piece), order, keys, opened.changed(points=tuple(points), keys=tuple(keys)))
    return rebuilt(opened, honest(shaped), points)


class Run(NamedTuple):
    """Keys that were neighbours, ``first`` to ``last`` of a track. The path with them goes from key ``begin`` to
    ``end``: one further where that key is at the place and time of one of the other track, which stands for both.
    """

    which: int
    first: int
    last: int
    begin: int
    end: int


def _runs(order: Sequence[Of], sources: Sequence[PathTrack]) -> list[Run]:
    runs: list[list[int]] = []
    for which, k in order:
        if runs and runs[-1][0] == which and runs[-1][2] + 1 == k:
            runs[-1][2] = k
        else:
            runs.append([which, k, k])
    out = []
    for n, (which, first, last) in enumerate(runs):
        before = order[sum(r[2] - r[1] + 1 for r in runs[:n]) - 1] if n else None
        after = (runs[n + 1][0], runs[n + 1][1]) if n + 1 < len(runs) else None
        begin = first - 1 if before and first and _one(sources, (which, first - 1), before) else first
        more = last + 1 < len(sources[which].keys)
        end = last + 1 if after and more and _one(sources, (which, last + 1), after) else last
        out.append(Run(which, first, last, begin, end))
    return out


def _one(sources: Sequence[PathTrack], one: Of, other: Of) -> bool:
    """Whether two keys stand at the same place and time."""
    a, b = (sources[which].keys[k].time for which, k in (one, other))
    if a != b:
        return False
    x, y = (value_of(sources[which], k) for which, k in (one, other))
    return math.dist(x, y) < SAME


def _placed(key: PathKey, low: int, high: int, base: int) -> PathKey:
    """A key of a run whose path from point ``low`` to ``high`` begins at point ``base`` now."""
    at = min(max(key.at, float(low)), float(high))
    return key.changed(at=base + at - low)


def _without(point: PathPoint, side: str) -> PathPoint:
    if getattr(point, side) is None:
        return point
    other = point.leaving if side == "arriving" else point.arriving
    if other is None:
        return PathPoint(x=point.x, y=point.y)
    return point.changed(**{side: None, "joint": "corner"})


def _one_point(before: PathPoint, after: PathPoint) -> PathPoint:
    """Two points in one place made one: it arrives as the first does and leaves as the second does."""
    if before.arriving is None and after.leaving is None:
        return PathPoint(x=before.x, y=before.y)
    return PathPoint(x=before.x, y=before.y, joint="corner", arriving=before.arriving, leaving=after.leaving)
