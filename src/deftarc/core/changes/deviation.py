"""How far two motions are apart at most, over all times and not only at those one of them was made from.

Both are smooth between their keys, so the distance is looked at densely between each two of those, and again ever more
finely around where it is greatest: what is found is the greatest there is but for the last digits.
"""

import itertools
from collections.abc import Callable, Iterable

import numpy as np

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.changes.floating import passed
from deftarc.core.document.track import AnyTrack, PathTrack

#: Looks between two neighbouring knots at first, at most in all, and around each of so many peaks, so many times.
LOOKS, MOST, PEAKS, ROUNDS, AROUND = 24, 400_000, 24, 5, 17
#: Shares of the way between two looks at which the surroundings of a knot are looked at besides.
NEARER = 4.0 ** -np.arange(1, 7)
#: Samples to a frame, between two knots at least, and at most in all, of a motion that is to be made anew.
FINE, LEAST, MOST_SAMPLES = 4, 12, 24_000

#: Values (n, components) at times (n,) in flicks.
Motion = Callable[[Floats], Floats]


def knots_of(track: AnyTrack) -> list[int]:
    """The times between which a motion is smooth: its keys, the points passed between them, the jumps of steps."""
    times = set(track.key_times)
    if isinstance(track, PathTrack) and len(track.keys) > 1:
        times |= {round(time) for time in passed(track).values()}
    return sorted(times | set(jumps_of(track)))


def jumps_of(track: AnyTrack) -> list[int]:
    """The first whole flick after each jump that a stepped segment makes between its keys."""
    out: list[int] = []
    if len(track.keys) < 2:
        return out
    curve = track.curve
    for k in np.flatnonzero(curve.stepped).tolist():
        count = int(curve.steps[k, 0])
        start, length = int(curve.times[k]), float(curve.duration[k])
        out += [start + int(np.ceil(length * n / count)) for n in range(1, min(count, 2_000))]
    return out


def starts_with_jump(track: AnyTrack) -> list[int]:
    """The times of keys at which the value leaves by a jump: what arrives there ends just before."""
    if len(track.keys) < 2:
        return []
    curve = track.curve
    return [int(curve.times[k]) for k in np.flatnonzero(curve.stepped & (curve.steps[:, 1] > 0)).tolist()]


def sampled_times(knots: Iterable[int], frame: int) -> Integers:
    """Times from the first to the last knot: all of them, FINE to a frame and LEAST between each two at least."""
    row = sorted(set(knots))
    first, last = row[0], row[-1]
    step = max(frame // FINE, (last - first) // MOST_SAMPLES, 1)
    # Counted from 0, so that whole frames are among them wherever the keys lie.
    parts = [np.array(row, np.int64), np.arange(-(-first // step) * step, last + 1, step, dtype=np.int64)]
    room = max(2, min(LEAST, MOST_SAMPLES // max(len(row), 1)))
    for a, b in itertools.pairwise(row):
        if b - a < step * room:
            parts.append(np.linspace(a, b, room + 1).astype(np.int64))
    return np.unique(np.concatenate(parts))


def steep(track: AnyTrack) -> Floats:
    """Times that lie close where a motion is fast: even steps of each segment's own parameter."""
    if len(track.keys) < 2:
        return np.empty(0)
    curve = track.curve
    u = np.linspace(0, 1, int(max(4, min(LOOKS, MOST // len(track.keys)))))[None, :]
    v, a, b = 1 - u, curve.a[:, None], 1 - curve.b[:, None]
    share = 3 * v * v * u * a + 3 * v * u * u * b + u**3
    return np.asarray((curve.times[:-1, None] + curve.duration[:, None] * share).ravel())


def greatest(one: Motion, other: Motion, knots: Iterable[int], also: Iterable[Floats] = ()) -> tuple[float, Floats]:
    """The greatest distance between two motions from the first to the last knot, and the times of its peaks.

    Times are whole flicks; ``also`` are some more to look at, as ``steep`` gives them.
    """
    row = np.array(sorted(set(knots)), np.float64)
    if len(row) < 2:
        return float(_apart(one, other, row).max()) if len(row) else 0.0, row
    looks = int(max(4, min(LOOKS, MOST // len(row))))
    inner = np.linspace(0, 1, looks, endpoint=False)
    times = np.append((row[:-1, None] + np.diff(row)[:, None] * inner).ravel(), row[-1])
    # Just before a knot, too, where a jump is seen from both sides; and ever nearer to it: a way that is hardly rounded
    # turns within a thousandth of a frame.
    near = (np.diff(row)[:, None] * NEARER / looks).ravel()
    beside = [np.repeat(row[:-1], len(NEARER)) + near, np.repeat(row[1:], len(NEARER)) - near]
    times = np.concatenate([times, row[1:] - 1.0, *beside, *also])
    times = np.unique(np.clip(times, row[0], row[-1]).round())
    off = _apart(one, other, times)
    best = float(off.max())
    rising = np.concatenate(([True], off[1:] >= off[:-1])) & np.concatenate((off[:-1] >= off[1:], [True]))
    peaks = np.flatnonzero(rising)
    peaks = peaks[np.argsort(off[peaks])[::-1][:PEAKS]]
    low = times[np.maximum(peaks - 1, 0)]
    high = times[np.minimum(peaks + 1, len(times) - 1)]
    at = times[peaks]
    share = np.linspace(0, 1, AROUND)
    for _ in range(ROUNDS):
        near = (low[:, None] + (high - low)[:, None] * share).round()
        found = _apart(one, other, near.ravel()).reshape(near.shape)
        k = found.argmax(axis=1)
        rows = np.arange(len(k))
        at, best = near[rows, k], max(best, float(found.max()))
        low, high = near[rows, np.maximum(k - 1, 0)], near[rows, np.minimum(k + 1, AROUND - 1)]
    return best, at


def _apart(one: Motion, other: Motion, times: Floats) -> Floats:
    return np.asarray(np.sqrt(((one(times) - other(times)) ** 2).sum(axis=1)))


def motion_of(track: AnyTrack) -> Motion:
    """A track's values at any times."""
    if not track.keys:
        return lambda times: np.repeat(np.array([track.resting()], np.float64), len(times), axis=0)
    return track.motion


def around(peaks: Floats, frame: int, first: int, last: int) -> Integers:
    """More times to look at beside peaks: on both sides of each, ever nearer."""
    steps = np.concatenate(([0.0], *(np.array([-1.0, 1.0]) * frame / n for n in (8, 24, 80, 300, 2_000, 20_000))))
    times = (peaks[:, None] + steps).ravel().round().astype(np.int64)
    return np.unique(np.clip(times, first, last))
