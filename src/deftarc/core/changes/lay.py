"""Any motion made into keys: few of them, within a tolerance that holds at every time, or one at each frame where that
cannot be.
"""

from collections.abc import Iterable

import numpy as np

from deftarc.core.base.arrays import Integers
from deftarc.core.base.limits import MAX_KEYS_PER_LANE
from deftarc.core.changes.deviation import Motion, around, greatest, motion_of, sampled_times, steep
from deftarc.core.changes.reduce import fitted
from deftarc.core.changes.split import FINER, TRIES, number_keys, retraced
from deftarc.core.document.keys import NumberKey, PathKey
from deftarc.core.document.track import NumberTrack, PathTrack
from deftarc.core.spaces.points import point_at


def laid_number(motion: Motion, knots: Iterable[int], frame: int, tolerance: float) -> NumberTrack:
    """A number's motion from the first to the last knot as keys, off by ``tolerance`` at most; ``frame`` in flicks."""
    row, at = _looked_at(knots, frame)
    values = motion(at.astype(np.float64))[:, 0]
    if np.ptp(values) <= tolerance * 1e-3:
        return NumberTrack(value=float(values[0]), keys=(NumberKey(time=row[0], value=float(values[0])),))
    share = 1.0
    for _ in range(TRIES):
        values = motion(at.astype(np.float64))[:, 0]
        keys = tuple(number_keys(at, values, fitted(at, values, tolerance * share)))
        if len(keys) > MAX_KEYS_PER_LANE:
            break
        made = NumberTrack(value=float(values[0]), keys=keys)
        off, peaks = greatest(motion, motion_of(made), {*row, *made.key_times}, [steep(made)])
        if off <= tolerance:
            return made
        at = np.unique(np.concatenate([at, around(peaks, frame, row[0], row[-1])]))
        share *= FINER
    times = _frames(row, frame)
    values = motion(times.astype(np.float64))[:, 0]
    keys = tuple(NumberKey(time=t, value=v) for t, v in zip(times.tolist(), values.tolist(), strict=True))
    return NumberTrack(value=float(values[0]), keys=keys)


def laid_path(motion: Motion, knots: Iterable[int], frame: int, tolerance: float) -> PathTrack:
    """A position's motion from the first to the last knot as a path with keys, off by ``tolerance`` px at most."""
    row, at = _looked_at(knots, frame)
    made = retraced(motion, at, row, frame, tolerance, [])
    if made is not None and len(made.keys) <= MAX_KEYS_PER_LANE:
        return made
    times = _frames(row, frame)
    spots = motion(times.astype(np.float64)).tolist()
    return PathTrack(
        value=(spots[0][0], spots[0][1]), points=tuple(point_at((x, y)) for x, y in spots),
        keys=tuple(PathKey(time=time, at=float(n)) for n, time in enumerate(times.tolist())),
    )  # fmt: skip


def _looked_at(knots: Iterable[int], frame: int) -> tuple[list[int], Integers]:
    """The knots, and the times to look at: just before each knot as well, where a jump may end."""
    row = sorted(set(knots))
    at = sampled_times(row, frame)
    before = np.array(row[1:], np.int64) - 1
    return row, np.unique(np.concatenate([at, before[before > row[0]]]))


def _frames(row: list[int], frame: int) -> Integers:
    count = min(-(-(row[-1] - row[0]) // frame), MAX_KEYS_PER_LANE - 1)
    return np.unique(np.append(row[0] + np.arange(count, dtype=np.int64) * frame, row[-1]))
