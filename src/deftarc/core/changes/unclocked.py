"""Motion in the time of a clock made into motion in the time around it, so that the clock can go."""

from collections.abc import Sequence

import numpy as np

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.retime import track_retimed
from deftarc.core.changes.reverse import reversed_keys
from deftarc.core.document.keys import BlendKey, KeyBase, NumberKey, PathKey
from deftarc.core.document.track import AnyTrack, BlendTrack, NumberTrack, PathTrack
from deftarc.core.evaluate.clocks import inner_times
from deftarc.core.spaces.points import PathPoint

#: What is no difference, in px or parts of a value.
NEAR = 1e-4
#: A change within one flick by more than this share of all there is, is a jump.
JUMP = 1e-4


class Even:
    """A clock that runs on evenly: at ``begins`` it shows ``shows``, in flicks, and goes at ``rate``."""

    def __init__(self, rate: float, begins: int, shows: float) -> None:
        self.rate, self.begins, self.shows = rate, begins, shows

    def when(self, time: int) -> int:
        """When it shows a moment."""
        return round(self.begins + (time - self.shows) / self.rate)


def even_of(track: NumberTrack) -> Even | None:
    """How a clock runs on evenly; None where it does not, or stands still."""
    goes_on = all(side is not None and side.how == "continue" for side in (track.before, track.after))
    if len(track.keys) != 2 or not goes_on:
        return None
    a, b = track.keys
    straight = a.leaving is None and b.arriving is None and not a.stepped
    rate = (b.value - a.value) * FLICKS / (b.time - a.time)
    return Even(rate, a.time, a.value * FLICKS) if straight and abs(rate) > 1e-6 else None


def unclocked(track: AnyTrack, clock: NumberTrack, times: Integers) -> AnyTrack:
    """A track without its clock: its keys moved to when this shows them where it runs evenly, forwards or backwards,
    else as it shows at ``times`` (n,), with its jumps between them.
    """
    if not track.keys:
        return track
    even = even_of(clock)
    if even is not None and even.rate > 0:
        return track_retimed(track, even.when)
    if even is not None:
        moves = {time: even.when(time) for time in track.key_times}
        if len(track.keys) > 1 and len(set(moves.values())) == len(moves):
            turned = reversed_keys(track, moves)
            # What jumps does so after its moment then, and at it before: on a frame that is another one.
            if _same(turned.motion(times.astype(np.float64)), track.motion(inner_times((clock,), times.astype(float)))):
                return turned
        elif len(track.keys) == 1:
            return track_retimed(track, even.when)
    return by_moments(track, clock, times)


def _same(one: Floats, other: Floats) -> bool:
    return bool(np.abs(one - other).max() <= NEAR * max(1.0, float(np.abs(other).max()) * 1e-3))


def by_moments(track: AnyTrack, clock: NumberTrack, times: Integers) -> AnyTrack:
    """A track with a key at each of some times (n,), in which it shows what its clock has it show, straight between
    them but for jumps.
    """
    at = times.astype(np.float64)
    now = inner_times((clock,), at)
    before = inner_times((clock,), at - 1)
    here, ends = track.motion(now), track.motion(before)
    size = max(float(np.ptp(here, axis=0).max()), 1e-6)
    jumps = np.abs(here - ends).max(axis=1) > JUMP * size
    moments: list[int] = []
    inner: list[float] = []
    holds: list[bool] = []
    for k, time in enumerate(times.tolist()):
        jumped = k > 0 and bool(jumps[k])
        rests = jumped and float(np.abs(ends[k] - here[k - 1]).max()) <= JUMP * size
        if jumped and not rests:
            # It gets to where it jumps from.
            moments.append(time - 1)
            inner.append(float(before[k]))
            holds.append(True)
        elif jumped:
            holds[-1] = True
        moments.append(time)
        inner.append(float(now[k]))
        holds.append(False)
    return _keyed(track, moments, np.array(inner), holds)


def _keyed(track: AnyTrack, moments: Sequence[int], inner: Floats, holds: Sequence[bool]) -> AnyTrack:
    bare = track.changed(crafts=(), before=None, after=None, loose=None)
    rows = list(zip(moments, holds, strict=True))
    keys: list[KeyBase]
    if isinstance(track, PathTrack):
        spots = track.motion(inner)
        inside = np.clip(track.folded(inner).at if track.lasts else inner, track.key_times[0], track.key_times[-1])
        keys = [
            PathKey(time=time, at=float(track.path.place_at(float(m))), pace=True, hold=hold)
            for (time, hold), m in zip(rows, track.curve.at(inside), strict=True)
        ]
        made = bare.changed(keys=tuple(keys))
        if _same(made.motion(np.array(moments, np.float64)), spots):
            return made
        # It leaves its path, or goes along it again from elsewhere: the way it takes is another one.
        points = tuple(PathPoint(x=float(x), y=float(y)) for x, y in spots)
        keys = [PathKey(time=time, at=float(k), hold=hold) for k, (time, hold) in enumerate(rows)]
        return bare.changed(points=points, keys=tuple(keys), closed=False, way_back=0)
    values = np.broadcast_to(track.motion(inner), (len(rows), track.width))
    if isinstance(track, BlendTrack):
        keys = [
            BlendKey(time=time, value=tuple(map(float, row)), hold=hold)
            for (time, hold), row in zip(rows, values, strict=True)
        ]
    else:
        keys = [
            NumberKey(time=time, value=float(row[0]), hold=hold) for (time, hold), row in zip(rows, values, strict=True)
        ]
    return bare.changed(keys=tuple(keys))


__all__ = ["Even", "by_moments", "even_of", "unclocked"]
