"""The time curve: one real number, the measure, over time.

Between two keys runs one cubic Bézier in (time, measure), or steps, a hold among them. A curve is laid out in arrays
over its K keys and K−1 segments, so that a thousand curves can be sampled in one go.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.time import FLICKS
from deftarc.core.curves.inverse import solve_one, solve_parameter, time_coefficients

#: The reach of a straight side.
THIRD = 1.0 / 3.0
#: Samples that many curves are evaluated at in one go.
SAMPLES_AT_ONCE = 1 << 15
#: Below this fraction x'(u) counts as standing still, and a speed is taken as a limit.
STILL = 1e-9


@dataclass(frozen=True, eq=False)
class TimeCurve:
    """Keys and sides as arrays. ``times`` int64 flicks (K,), ``measures`` (K,); for each segment its leaving
    reach ``a`` and rise ``la``, its arriving reach ``b`` and rise ``lb``, (K−1,), and its ``steps``, (K−1, 3): how
    many equal parts of time (0 is a curve), jumps already made at the start, and jumps in all. A hold is (1, 0, 1).
    Times rise strictly; K ≥ 1. Rises are in measure units.
    """

    times: Integers
    measures: Floats
    a: Floats
    la: Floats
    b: Floats
    lb: Floats
    steps: Integers

    @cached_property
    def duration(self) -> Floats:
        """Each segment's duration in flicks, (K−1,)."""
        return np.diff(self.times).astype(np.float64)

    @cached_property
    def even(self) -> npt.NDArray[np.bool_]:
        """Segments in which time runs evenly in u, so that u is the fraction itself."""
        return is_even(self.a, self.b)

    @cached_property
    def stepped(self) -> npt.NDArray[np.bool_]:
        """Segments that go in steps, holds among them, (K−1,)."""
        return np.asarray(self.steps[:, 0] > 0)

    @cached_property
    def hold(self) -> npt.NDArray[np.bool_]:
        """Segments that rest at their first key all the way, (K−1,)."""
        return np.asarray((self.steps[:, 0] == 1) & (self.steps[:, 1] == 0))

    def control_measures(self) -> tuple[Floats, Floats, Floats, Floats]:
        """The four measures P0…P3 of each segment's Bézier, (K−1,) each."""
        start, end = self.measures[:-1], self.measures[1:]
        return start, start + self.la, end - self.lb, end

    def parameter(self, segment: Integers, fraction: Floats) -> Floats:
        """u where each segment has run a fraction of its duration; (n,), (n,) to (n,)."""
        u = np.array(fraction, dtype=np.float64)
        bent = ~self.even[segment]
        if bent.any():
            chosen = segment[bent]
            u[bent] = solve_parameter(*time_coefficients(self.a[chosen], self.b[chosen]), u[bent])
        return u

    def locate(self, times: npt.ArrayLike) -> tuple[Integers, Floats]:
        """The segment and the fraction of it at each time, held to the first and the last key."""
        at = np.asarray(times, dtype=np.float64)
        if len(self.times) == 1:
            return np.zeros(at.shape, np.int64), np.zeros(at.shape)
        segment = np.clip(np.searchsorted(self.times, at, side="right") - 1, 0, len(self.times) - 2)
        fraction = (at - self.times[segment]) / self.duration[segment]
        return segment, np.clip(fraction, 0.0, 1.0)

    def at(self, times: npt.ArrayLike) -> Floats:
        """The measure at each time (n,), by exact inversion: the judge of every faster way."""
        at = np.asarray(times, dtype=np.float64)
        if len(self.times) == 1:
            return np.full(at.shape, self.measures[0])
        segment, fraction = self.locate(at)
        value = bezier(self.parameter(segment, fraction), *(p[segment] for p in self.control_measures()))
        jumping = self.stepped[segment]
        if jumping.any():
            at_step = segment[jumping]
            share = step_share(self.steps[at_step], at[jumping] - self.times[at_step], self.duration[at_step])
            value[jumping] = self.measures[at_step] + share * (self.measures[at_step + 1] - self.measures[at_step])
            value = np.where(at < self.times[0], self.measures[0], value)
        return np.where(at >= self.times[-1], self.measures[-1], value)

    def one(self, time: float) -> float:
        """The measure at one time: as ``at``, without the cost of arrays."""
        last = len(self.times) - 1
        if time >= self.times[last]:
            return float(self.measures[last])
        k = int(np.searchsorted(self.times, time, side="right")) - 1
        if k < 0 or self.steps[k, 0]:
            return float(self.at([time])[0])
        p0, p3 = float(self.measures[k]), float(self.measures[k + 1])
        a, b = float(self.a[k]), float(self.b[k])
        u = (time - int(self.times[k])) / (int(self.times[k + 1]) - int(self.times[k]))
        if abs(a - THIRD) >= 1e-15 or abs(b - THIRD) >= 1e-15:
            u = solve_one(a, b, u)
        v = 1 - u
        p1, p2 = p0 + float(self.la[k]), p3 - float(self.lb[k])
        return v * v * v * p0 + 3 * v * v * u * p1 + 3 * v * u * u * p2 + u * u * u * p3

    def speed(self, times: npt.ArrayLike) -> Floats:
        """dm/dt in measure units per second at each time (n,); infinite where unbounded, 0 outside the keys.

        At a key it is the leaving speed; at the last key the arriving one.
        """
        at = np.asarray(times, dtype=np.float64)
        if len(self.times) == 1:
            return np.zeros(at.shape)
        segment, fraction = self.locate(at)
        speed = self.speed_at(segment, self.parameter(segment, fraction))
        outside = (at < self.times[0]) | (at > self.times[-1])
        return np.where(outside, 0.0, speed)

    def at_and_speed(self, times: npt.ArrayLike) -> tuple[Floats, Floats]:
        """Measure and speed at each time (n,), (n,): both from one inversion."""
        at = np.asarray(times, dtype=np.float64)
        if len(self.times) == 1 or self.stepped.any():
            return self.at(at), self.speed(at)
        segment, fraction = self.locate(at)
        u = self.parameter(segment, fraction)
        value = bezier(u, *(p[segment] for p in self.control_measures()))
        outside = (at < self.times[0]) | (at > self.times[-1])
        speed = np.where(outside, 0.0, self.speed_at(segment, u))
        return np.where(at >= self.times[-1], self.measures[-1], value), speed

    def speed_at(self, segment: Integers, u: Floats) -> Floats:
        """Speed per second at parameters of segments: y'(u) / (d·x'(u)); the limit where time stands still."""
        a, b = self.a[segment], self.b[segment]
        p0, p1, p2, p3 = (p[segment] for p in self.control_measures())
        seconds = self.duration[segment] / FLICKS
        dx = 3 * (a * (1 - u) ** 2 + 2 * (1 - a - b) * u * (1 - u) + b * u**2)
        dy = 3 * ((p1 - p0) * (1 - u) ** 2 + 2 * (p2 - p1) * u * (1 - u) + (p3 - p2) * u**2)
        still = np.abs(dx) < STILL
        size = np.maximum(np.abs(p1 - p0) + np.abs(p2 - p1), np.abs(p3 - p2)) + 1e-300
        with np.errstate(divide="ignore", invalid="ignore"):
            speed = dy / (dx * seconds)
            if still.any():
                # De l'Hôpital, once: both derivatives vanish together at a handle of no length.
                ddx = 6 * ((1 - 2 * a - b) * (1 - u) + (a + 2 * b - 1) * u)
                ddy = 6 * ((p2 - 2 * p1 + p0) * (1 - u) + (p3 - 2 * p2 + p1) * u)
                flat = np.abs(dy) < 1e-9 * size
                limit = np.where(np.abs(ddx) > STILL, ddy / (ddx * seconds), np.where(ddy == 0, 0.0, np.inf * ddy))
                jump = np.where(dy == 0, 0.0, np.inf * np.sign(dy))
                speed = np.where(still, np.where(flat, limit, jump), speed)
        return np.where(self.stepped[segment] | np.isnan(speed), 0.0, speed)

    def extremes(self) -> list[tuple[float, float]]:
        """(time, measure) of each peak and trough strictly inside a segment, in order."""
        return list(self._extremes)

    @cached_property
    def _extremes(self) -> list[tuple[float, float]]:
        p0, p1, p2, p3 = self.control_measures()
        if not len(p0):
            return []
        first, second, third = p1 - p0, p2 - p1, p3 - p2
        segments, u = roots_within(first - 2 * second + third, 2 * (second - first), first)
        chosen = ~self.stepped[segments]
        segments, u = segments[chosen], u[chosen]
        x = bezier(u, np.zeros(len(u)), self.a[segments], 1 - self.b[segments], np.ones(len(u)))
        y = bezier(u, p0[segments], p1[segments], p2[segments], p3[segments])
        times = self.times[segments] + x * self.duration[segments]
        return list(zip(times.tolist(), y.tolist(), strict=True))


def step_share(steps: Integers, elapsed: Floats, duration: Floats) -> Floats:
    """The share of the change made at times ``elapsed`` (n,) of segments with ``steps`` (n, 3) and ``duration`` (n,).

    CSS Easing Functions Level 1, *step easing function*. Times are whole flicks, so the product is exact and no
    step comes a sample late.
    """
    count, first, jumps = steps[:, 0], steps[:, 1], steps[:, 2]
    gone = np.floor(np.maximum(elapsed, 0.0) * count / duration) + first
    return np.asarray(np.minimum(gone, jumps) / jumps)


def is_even(a: Floats, b: Floats) -> npt.NDArray[np.bool_]:
    """Whether time runs evenly in u for leaving reaches a and arriving reaches b."""
    return np.asarray((np.abs(a - THIRD) < 1e-15) & (np.abs(b - THIRD) < 1e-15))


def bezier(u: Floats, p0: npt.ArrayLike, p1: npt.ArrayLike, p2: npt.ArrayLike, p3: npt.ArrayLike) -> Floats:
    """A cubic Bézier's value at u, all broadcast together, by de Casteljau's weights."""
    v = 1.0 - u
    p0, p1, p2, p3 = np.asarray(p0), np.asarray(p1), np.asarray(p2), np.asarray(p3)
    out: Floats = v * v * v * p0 + 3 * v * v * u * p1 + 3 * v * u * u * p2 + u * u * u * p3
    return out


def first_root(y: Sequence[float], value: float) -> float:
    """The first u in [0, 1] at which a cubic Bézier of numbers has a value that lies between its ends."""
    p0, p1, p2, p3 = y
    size = max(abs(p - value) for p in y) or 1.0
    row = np.array([p3 - 3 * p2 + 3 * p1 - p0, 3 * (p2 - 2 * p1 + p0), 3 * (p1 - p0), p0 - value]) / size
    row[np.abs(row) < 1e-13] = 0.0
    real = [float(r.real) for r in np.roots(row) if abs(r.imag) < 1e-7 and -1e-9 <= r.real <= 1 + 1e-9]
    if not real:
        return 0.0 if abs(p0 - value) < abs(p3 - value) else 1.0
    return min(1.0, max(0.0, min(real)))


def cut(controls: Floats, u: float) -> tuple[Floats, Floats]:
    """The Bézier points (4, …) of both parts of a cubic cut at u (de Casteljau)."""
    first = controls[:-1] + (controls[1:] - controls[:-1]) * u
    second = first[:-1] + (first[1:] - first[:-1]) * u
    middle = second[0] + (second[1] - second[0]) * u
    return np.array([controls[0], first[0], second[0], middle]), np.array([middle, second[1], first[2], controls[3]])


def roots_within(a: Floats, b: Floats, c: Floats) -> tuple[Integers, Floats]:
    """Real roots of a·u² + b·u + c (n,) strictly inside (0, 1) where the sign changes: which equation, and u, in order.

    By q = −½(b + sgn(b)·√(b² − 4ac)), roots q/a and c/q (Numerical Recipes, §5.6).
    """
    scale = np.maximum(np.maximum(np.abs(a), np.abs(b)), np.abs(c))
    linear = np.abs(a) < 1e-12 * scale
    under = b * b - 4 * a * c
    q = -0.5 * (b + np.copysign(np.sqrt(np.maximum(under, 0.0)), b))
    with np.errstate(divide="ignore", invalid="ignore"):
        one = np.where(linear, np.where(np.abs(b) > 1e-12 * scale, -c / b, np.nan), q / a)
        other = np.where(linear, np.nan, np.where(q != 0, c / q, 0.0))
    roots = np.sort(np.stack([one, other], axis=1), axis=1)
    sound = (scale > 0) & (linear | (under > 0))
    inside = sound[:, None] & (roots > 1e-12) & (roots < 1 - 1e-12)
    which, _ = np.nonzero(inside)
    return which, roots[inside]


def sample_many(curves: Sequence[TimeCurve], times: Integers) -> Floats:
    """The measures of many curves at the same rising times: (n curves, F). Equals ``at`` of each, in one go.

    Samples are laid out segment by segment, so that the cost is per sample and not per curve; so many curves at
    a time that the working arrays stay in the processor's cache.
    """
    out = np.empty((len(curves), len(times)))
    if len(times):
        together = max(1, SAMPLES_AT_ONCE // len(times))
        for first in range(0, len(curves), together):
            _sample_group(curves[first : first + together], times, out[first : first + together])
    return out


def _sample_group(curves: Sequence[TimeCurve], times: Integers, out: Floats) -> None:
    """Fills ``out`` (n curves, F), a contiguous stretch of rows."""
    count = len(times)
    sizes = np.array([len(curve.times) for curve in curves])
    keys = np.concatenate([curve.times for curve in curves])
    first_key = np.concatenate(([0], np.cumsum(sizes)[:-1]))
    last_key = first_key + sizes - 1
    start = np.searchsorted(times, keys, side="left")
    for row, curve in enumerate(curves):
        out[row, : start[first_key[row]]] = curve.measures[0]
        out[row, start[last_key[row]] :] = curve.measures[-1]
    if len(keys) == len(curves):
        return

    left_key = np.ones(len(keys), bool)
    left_key[last_key] = False
    left = np.flatnonzero(left_key)
    begin, end = start[left], start[left + 1]
    per_segment = end - begin
    row_of = np.repeat(np.arange(len(curves)), sizes)[left]
    total = int(per_segment.sum())
    offset = np.concatenate(([0], np.cumsum(per_segment)[:-1]))
    column = np.arange(total) - np.repeat(offset - begin, per_segment)

    duration = (keys[left + 1] - keys[left]).astype(np.float64)
    a, la = np.concatenate([curve.a for curve in curves]), np.concatenate([curve.la for curve in curves])
    b, lb = np.concatenate([curve.b for curve in curves]), np.concatenate([curve.lb for curve in curves])
    steps = np.concatenate([curve.steps for curve in curves])
    stepped = steps[:, 0] > 0
    measures = np.concatenate([curve.measures for curve in curves])
    p0, p3 = measures[left], measures[left + 1]
    p1, p2 = p0 + la, p3 - lb
    fraction = (times[column] - np.repeat(keys[left], per_segment)) * np.repeat(1.0 / duration, per_segment)
    bent = ~is_even(a, b) & ~stepped
    if bent.any():
        counts = per_segment[bent]
        A, B, C = (np.repeat(c, counts) for c in time_coefficients(a[bent], b[bent]))
        if bent.all():
            fraction = solve_parameter(A, B, C, fraction)
        else:
            chosen = np.repeat(bent, per_segment)
            fraction[chosen] = solve_parameter(A, B, C, fraction[chosen])
    # The measure as a power basis in u: four products instead of a dozen.
    c1, c2, c3 = 3 * (p1 - p0), 3 * (p2 - 2 * p1 + p0), p3 - p0 + 3 * (p1 - p2)
    if stepped.any():
        c1, c2, c3 = (np.where(stepped, made, c) for made, c in ((p3 - p0, c1), (0.0, c2), (0.0, c3)))
        jumping = np.repeat(stepped, per_segment)
        which = np.repeat(np.flatnonzero(stepped), per_segment[stepped])
        fraction[jumping] = step_share(steps[which], times[column[jumping]] - keys[left[which]], duration[which])
    c0, c1, c2, c3 = (np.repeat(c, per_segment) for c in (p0, c1, c2, c3))
    values = ((c3 * fraction + c2) * fraction + c1) * fraction + c0
    out.reshape(-1)[np.repeat(row_of, per_segment) * count + column] = values
