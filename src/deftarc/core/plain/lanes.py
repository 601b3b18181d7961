"""Plain lanes: numbers over time as keys with an ease each, as CSS, SVG and Lottie have them.

What the document has as one curve stays one: a segment is a cubic Bézier in time and measure, and leaves as the four
numbers of ``cubic-bezier()``. Where that cannot hold it (handles past the other end, a swing between two equal values)
it is split, which changes nothing of it. All else is samples, of which as few are kept as a tolerance allows.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arrays import Floats
from deftarc.core.curves.curve import TimeCurve
from deftarc.core.curves.inverse import solve_one, solve_parameter, time_coefficients

#: x1, y1, x2, y2 of an even segment.
EVEN = (1 / 3, 1 / 3, 2 / 3, 2 / 3)
#: Splits of one segment in a row: far more than any needs.
MOST_SPLITS = 12
#: A rise beyond so many times the change between two keys is told by a key between them.
MOST_RISE = 1e3
#: Samples that one straight segment may span.
MOST_SPAN = 4_000


@dataclass(frozen=True, eq=False)
class Lane:
    """Keys at rising ``times`` (K,) in flicks with ``rows`` (K, n), and how each segment goes: ``eases`` (K − 1, 4),
    the numbers of cubic-bezier(); a row of NaN holds. Before the first key and after the last the value stays.

    ``exact`` says that it is the document's own curve and no samples of it.
    """

    times: Floats
    rows: Floats
    eases: Floats
    exact: bool = True

    @classmethod
    def still(cls, *values: float) -> "Lane":
        return cls(np.zeros(1), np.array([values], np.float64), np.zeros((0, 4)))

    @property
    def moves(self) -> bool:
        return len(self.times) > 1

    @property
    def value(self) -> Floats:
        """What it is where it does not move."""
        return np.asarray(self.rows[0])

    @cached_property
    def holds(self) -> npt.NDArray[np.bool_]:
        """Segments that stay at their first key, (K − 1,)."""
        return np.isnan(self.eases[:, 0])

    @cached_property
    def even(self) -> npt.NDArray[np.bool_]:
        """Segments in which the value goes evenly, (K − 1,)."""
        return np.asarray(np.all(np.abs(self.eases[:, [0, 2]] - self.eases[:, [1, 3]]) < 1e-9, axis=1))

    def through(self, matrix: Floats, offset: Floats | None = None) -> "Lane":
        """Its rows through a matrix (n, m), and by an offset (m,): what is linear keeps its eases."""
        rows = self.rows @ matrix if offset is None else self.rows @ matrix + offset
        if self.moves and np.all(rows == rows[0]):
            return Lane(self.times[:1], rows[:1], self.eases[:0], self.exact)
        return replace(self, rows=rows)

    def within(self, low: float | None, high: float | None) -> bool:
        """Whether the curve leaves a range nowhere."""
        rows = [self.rows]
        if self.moves:
            change = np.diff(self.rows, axis=0)
            rows += [self.rows[:-1] + change * np.nan_to_num(self.eases[:, [k]]) for k in (1, 3)]
        every = np.concatenate(rows)
        return (low is None or every.min() >= low - 1e-12) and (high is None or every.max() <= high + 1e-12)

    def at(self, times: Floats) -> Floats:
        """Its values at times (F,), (F, n)."""
        if not self.moves:
            return np.repeat(self.rows, len(times), axis=0)
        k = np.clip(np.searchsorted(self.times, times, side="right") - 1, 0, len(self.eases) - 1)
        share = np.clip((times - self.times[k]) / (self.times[k + 1] - self.times[k]), 0.0, 1.0)
        ease = np.where(self.holds[k, None], EVEN, self.eases[k])
        u = solve_parameter(*time_coefficients(ease[:, 0], 1 - ease[:, 2]), share)
        y = u * (3 * (1 - u) * ((1 - u) * ease[:, 1] + u * ease[:, 3]) + u * u)
        y = np.where(self.holds[k], np.where(share >= 1, 1.0, 0.0), np.where(share >= 1, 1.0, y))
        return np.asarray(self.rows[k] + (self.rows[k + 1] - self.rows[k]) * y[:, None])

    def part(self, start: float, end: float) -> "Lane":
        """What of it lies from one moment to another, with a key at each of these where it moves there."""
        if not self.moves:
            return self
        out: list[tuple[float, Floats, tuple[float, float, float, float] | None]] = []
        if start < self.times[0]:
            out.append((start, self.rows[0], None))
        for k in range(len(self.times) - 1):
            a, b = float(self.times[k]), float(self.times[k + 1])
            if b <= start or a >= end:
                continue
            first, last = self.rows[k], self.rows[k + 1]
            if self.holds[k]:
                out.append((max(a, start), first, None))
                continue
            ease = _Ease(*(float(x) for x in self.eases[k]))
            low, high = max(0.0, (start - a) / (b - a)), min(1.0, (end - a) / (b - a))
            cut, from_, to = ease.part(low, high)
            out.append((max(a, start), first + (last - first) * from_, cut))
            if b >= end:
                out.append((end, first + (last - first) * to, None))
        if not out or out[-1][0] < end:
            known = self.times[-1] <= end and self.times[-1] > start
            at = float(self.times[-1]) if known else start
            row = self.rows[-1] if self.times[-1] <= end else self.rows[0]
            if not out or at > out[-1][0]:
                out.append((at, row, None))
        if len(out) == 1 or all(np.array_equal(row, out[0][1]) for _, row, _ in out):
            return Lane(np.array([start]), out[0][1][None], np.zeros((0, 4)), self.exact)
        eases = np.array([(np.nan,) * 4 if ease is None else ease for *_, ease in out[:-1]]).reshape(-1, 4)
        return Lane(np.array([time for time, *_ in out]), np.array([row for _, row, _ in out]), eases, self.exact)


@dataclass(frozen=True)
class _Ease:
    """A segment from (0, 0) to (1, 1)."""

    x1: float
    y1: float
    x2: float
    y2: float

    def part(self, low: float, high: float) -> tuple[tuple[float, float, float, float], float, float]:
        """The ease of its part between two shares of its time, and the shares of the change at these ends."""
        if low <= 0 and high >= 1:
            return (self.x1, self.y1, self.x2, self.y2), 0.0, 1.0
        u0, u1 = (solve_one(self.x1, 1 - self.x2, share) for share in (low, high))
        xs, ys = _between((0.0, self.x1, self.x2, 1.0), u0, u1), _between((0.0, self.y1, self.y2, 1.0), u0, u1)
        change = ys[3] - ys[0]
        if abs(change) < 1e-12:
            return EVEN, ys[0], ys[3]
        return (
            (xs[1] - xs[0]) / (xs[3] - xs[0]), (ys[1] - ys[0]) / change,
            (xs[2] - xs[0]) / (xs[3] - xs[0]), (ys[2] - ys[0]) / change,
        ), ys[0], ys[3]  # fmt: skip


def split_ease(ease: Floats, shares: Sequence[float]) -> Iterator[tuple[Floats, float]]:
    """A rising ease cut where it has reached shares of its change (n), the first 0 and the last 1: n − 1 eases, each
    with the share of the time at which it begins.
    """
    told = _Ease(*(float(x) for x in ease))
    u = [0.0, *(solve_one(told.y1, 1 - told.y2, share) for share in shares[1:-1]), 1.0]
    when = [_between((0.0, told.x1, told.x2, 1.0), 0.0, each)[3] for each in u]
    for low, high in pairwise(when):
        cut, *_ = told.part(low, high)
        yield np.array(cut), low


def _between(p: tuple[float, float, float, float], u0: float, u1: float) -> tuple[float, float, float, float]:
    """The four numbers of the part of a cubic between two parameters (the blossom)."""

    def blossom(a: float, b: float, c: float) -> float:
        def mix(x: float, y: float, u: float) -> float:
            return x + (y - x) * u

        p01, p12, p23 = mix(p[0], p[1], a), mix(p[1], p[2], a), mix(p[2], p[3], a)
        return mix(mix(p01, p12, b), mix(p12, p23, b), c)

    return blossom(u0, u0, u0), blossom(u0, u0, u1), blossom(u0, u1, u1), blossom(u1, u1, u1)


#: A Bézier in time and measure: four places of each.
_Piece = tuple[tuple[float, float, float, float], tuple[float, float, float, float]]


def eased(curve: TimeCurve) -> tuple[Floats, Floats, Floats]:
    """A time curve as keys: times (K,), measures (K,), eases (K − 1, 4); none reaches past its ends in time."""
    times: list[float] = [float(curve.times[0])]
    measures: list[float] = [float(curve.measures[0])]
    eases: list[tuple[float, ...]] = []

    def key(time: float, measure: float, ease: tuple[float, ...]) -> None:
        times.append(time)
        measures.append(measure)
        eases.append(ease)

    hold = (np.nan,) * 4
    for k in range(len(curve.times) - 1):
        t0, t3 = float(curve.times[k]), float(curve.times[k + 1])
        m0, m3 = float(curve.measures[k]), float(curve.measures[k + 1])
        count, first, jumps = (int(n) for n in curve.steps[k])
        if count:
            levels = [m0 + (m3 - m0) * min(n + first, jumps) / max(jumps, 1) for n in range(count)]
            if levels[0] != m0:
                # It jumps at its first moment: what came before ends a flick sooner, the shortest time there is.
                times[-1] = t0 - 1
                key(t0, levels[0], hold)
            for n in range(1, count):
                key(t0 + (t3 - t0) * n / count, levels[n], hold)
            key(t3, m3, hold)
            continue
        length = t3 - t0
        t1, t2 = t0 + float(curve.a[k]) * length, t3 - float(curve.b[k]) * length
        whole: _Piece = ((t0, t1, t2, t3), (m0, m0 + float(curve.la[k]), m3 - float(curve.lb[k]), m3))
        for piece_times, piece in _told(whole, 0):
            (a0, a1, a2, a3), (b0, b1, b2, b3) = piece_times, piece
            change, lasts = b3 - b0, a3 - a0
            if change == 0:
                key(a3, b3, EVEN)
            else:
                key(a3, b3, ((a1 - a0) / lasts, (b1 - b0) / change, (a2 - a0) / lasts, (b2 - b0) / change))
    return np.array(times), np.array(measures), np.array(eases).reshape(-1, 4)


def _told(piece: _Piece, depth: int) -> Iterator[_Piece]:
    """A segment in as many parts as it takes for each to be an ease."""
    (t0, t1, t2, t3), (m0, m1, m2, m3) = piece
    slack = 1e-9 * (t3 - t0)
    past = min(t1, t2) < t0 - slack or max(t1, t2) > t3 + slack
    swing = max(abs(m1 - m0), abs(m2 - m3))
    flat = swing > 1e-9 and swing > MOST_RISE * abs(m3 - m0)
    if depth < MOST_SPLITS and (past or flat):
        for low, high in ((0.0, 0.5), (0.5, 1.0)):
            yield from _told((_between(piece[0], low, high), _between(piece[1], low, high)), depth + 1)
        return
    held = (t0, min(max(t1, t0), t3), min(max(t2, t0), t3), t3)
    yield held, (piece[1] if not flat else (m0, m0, m3, m3))


def sampled(times: Floats, rows: Floats, tolerance: Floats | float, exact: bool = False) -> Lane:
    """A lane through some of the samples (F, n) at rising times (F,), straight between them, off the others by no more
    than ``tolerance``, (n,) or for all. Where it jumps from sample to sample it holds.
    """
    rows = np.asarray(rows, np.float64)
    if len(rows) == 1 or not np.any(np.abs(rows - rows[0]) > 0):
        return Lane.still(*rows[0])
    allowed = np.broadcast_to(np.asarray(tolerance, np.float64), rows.shape[1:])
    if np.all(np.abs(rows - rows[0]) <= allowed):
        return Lane.still(*rows[0])
    chosen = _chosen(times, rows, allowed)
    eases = np.tile(np.array(EVEN), (len(chosen) - 1, 1))
    return Lane(times[chosen].astype(np.float64), rows[chosen], eases, exact)


def product(times: Floats, one: Lane, two: Lane | None, tolerance: float) -> Lane:
    """Two shares at once, each a lane of one; ``two`` None is all."""
    if two is None:
        return one
    if one.moves and two.moves:
        return sampled(times, one.at(times) * two.at(times), tolerance)
    still, other = (one, two) if not one.moves else (two, one)
    return other.through(np.array([[float(still.value[0])]]))


def stepped(times: Floats, rows: Floats) -> Lane:
    """A lane that has each sample from its moment up to the next one's."""
    rows = np.asarray(rows, np.float64)
    new = np.flatnonzero(np.concatenate(([True], np.any(rows[1:] != rows[:-1], axis=1))))
    if len(new) == 1:
        return Lane.still(*rows[0])
    return Lane(times[new].astype(np.float64), rows[new], np.full((len(new) - 1, 4), np.nan), False)


def _chosen(times: Floats, rows: Floats, allowed: Floats) -> list[int]:
    """Numbers of samples that straight segments go through: each reaches as far as the cone of those between leaves
    open.
    """
    last = len(rows) - 1
    out = [0]
    while out[-1] < last:
        first = out[-1]
        stop = min(last, first + MOST_SPAN)
        due = (times[first + 1 : stop + 1] - times[first])[:, None]
        rise = rows[first + 1 : stop + 1] - rows[first]
        low = np.maximum.accumulate((rise - allowed) / due)
        high = np.minimum.accumulate((rise + allowed) / due)
        slope = rise / due
        inside = np.all((slope[1:] >= low[:-1]) & (slope[1:] <= high[:-1]), axis=1)
        sound = np.flatnonzero(inside)
        out.append(first + 2 + int(sound[-1]) if len(sound) else first + 1)
    return out


__all__ = ["EVEN", "Lane", "eased", "product", "sampled", "split_ease", "stepped"]
