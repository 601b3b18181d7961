"""Few keys for many samples: the longest stretch that one segment fits within a tolerance, then the next.

A stretch cut out of one segment is itself such a segment (de Casteljau), so going as far as each fit will carry takes
no more segments than the motion was made of, wherever every fit finds the best there is. Fits are least squares over
both reaches and both rises by the method of Levenberg and Marquardt (Nocedal & Wright, Numerical Optimization, §10.3),
with exact derivatives; a fit counts by its largest deviation, over all samples.
"""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.working import reached
from deftarc.core.curves.inverse import solve_parameter, time_coefficients
from deftarc.core.curves.sides import Side

#: Samples of a stretch that a fit looks at while it searches; all are looked at before it counts.
LOOKED_AT = 28
#: Reaches a search starts from: even, slow ends, quick ends, and one end slower than the other.
STARTS = ((1 / 3, 1 / 3), (0.6, 0.6), (0.1, 0.7), (0.7, 0.1), (0.92, 0.92))
#: Ends tried at once between one that fits and one that does not.
BETWEEN = 5
#: A search ends after so many rounds, or after so many in a row that gained nothing; or, after some patience, where it
#: is so many times further off than it may be (empirical).
MOST_ROUNDS, MOST_IDLE, PATIENCE, HOPELESS = 30, 3, 6, 10.0
#: After so many keys with so few samples each the tolerance is finer than the noise, and curves are not looked for.
MANY, LITTLE = 150, 16
#: Where between two samples a segment is looked at, and how far it may swing out there, of the steps around it
#: (empirical).
WITHIN, SWING = np.array([0.25, 0.5, 0.75]), 0.3
LEAST_REACH, MOST_REACH = 1e-3, 1.0


@dataclass(frozen=True)
class Fit:
    """One segment: reaches and rises as a time curve has them, and whether it is a straight one or a hold."""

    a: float
    la: float
    b: float
    lb: float
    straight: bool = False
    hold: bool = False


@dataclass(frozen=True)
class Fitted:
    """A key that came of it: which sample it stands on, and how it arrives and leaves."""

    sample: int
    arriving: Side | None = None
    leaving: Side | None = None
    hold: bool = False
    smooth: bool = False


def fitted(times: Integers, values: Floats, tolerance: float, fixed: Iterable[int] = ()) -> list[Fitted]:
    """Keys for samples at rising times (n,) with values (n,), n ≥ 1, off by ``tolerance`` at most.

    Samples numbered in ``fixed`` become keys in any case.
    """
    count = len(times)
    if count == 1:
        return [Fitted(0)]
    stops = sorted({*(k for k in fixed if 0 < k < count - 1), count - 1})
    at = times.astype(np.float64)
    starts: list[int] = [0]
    fits: list[Fit] = []
    while starts[-1] < count - 1:
        first = starts[-1]
        reached(first / count)
        stop = next(k for k in stops if k > first)
        if len(starts) > MANY and first < LITTLE * len(starts):
            last, fit = _line(at, values, first, stop, tolerance)
        else:
            last, fit = _furthest(at, values, first, stop, tolerance, first - starts[-2] if len(starts) > 1 else 16)
        starts.append(last)
        fits.append(fit)
    return _joined(at, values, starts, fits, tolerance)


def _furthest(at: Floats, values: Floats, first: int, stop: int, tolerance: float, guess: int) -> tuple[int, Fit]:
    """The furthest sample up to ``stop`` that one segment from ``first`` reaches, and that segment.

    Several ends are tried at once: around ``guess`` samples on, then between the last that fits and the first that
    does not.
    """
    rest = np.flatnonzero(np.abs(values[first + 1 : stop + 1] - values[first]) > tolerance)
    # A hold reaches to the first sample that is elsewhere, if there is a jump.
    still = first + 1 + int(rest[0]) if rest.size else 0
    good, best, bad = first + 1, Fit(1 / 3, 0.0, 1 / 3, 0.0, straight=True), stop + 1
    size = max(guess // 2, 2)
    while good < stop and bad > stop:
        near = {min(first + size * n, stop) for n in (1, 2, 4)}
        bad = _turns_too_often(values, first, max(near), tolerance, bad)
        ends = sorted(end for end in {*near, bad - 1} if good < end < bad and end <= stop)
        size *= 4
        good, best, bad = _tried(at, values, first, ends, tolerance, good, best, bad)
    while bad - good > 1 and bad <= stop:
        ends = sorted({good + round((bad - good) * n / (BETWEEN + 1)) for n in range(1, BETWEEN + 1)} - {good, bad})
        good, best, bad = _tried(at, values, first, ends, tolerance, good, best, bad)
    if still > good and still > first + 1:
        return still, Fit(1 / 3, 0.0, 1 / 3, 0.0, hold=True)
    return good, best


def _line(at: Floats, values: Floats, first: int, stop: int, tolerance: float) -> tuple[int, Fit]:
    """The furthest sample that a straight segment reaches: within the cone that all samples between leave open."""
    due = at[first + 1 : stop + 1][: 40 * LITTLE] - at[first]
    rise = values[first + 1 : stop + 1][: 40 * LITTLE] - values[first]
    low, high = np.maximum.accumulate((rise - tolerance) / due), np.minimum.accumulate((rise + tolerance) / due)
    slope = rise / due
    above = slope >= np.concatenate(([-np.inf], low[:-1]))
    below = slope <= np.concatenate(([np.inf], high[:-1]))
    sound = np.flatnonzero(above & below)
    last = first + 1 + int(sound[-1])
    change = float(values[last] - values[first])
    return last, Fit(1 / 3, change / 3, 1 / 3, change / 3, straight=True)


def _turns_too_often(values: Floats, first: int, last: int, tolerance: float, unknown: int) -> int:
    """The first sample up to ``last`` that no segment from ``first`` can reach, because the samples between turn more
    than twice by more than two tolerances, and a cubic cannot; ``unknown`` where there is none.
    """
    wide = 2 * tolerance
    turns, sign = 0, 0
    low = high = float(values[first])
    for k, value in enumerate(values[first + 1 : last + 1].tolist(), first + 1):
        if sign >= 0 and value < high - wide:
            turns += sign != 0
            sign, low = -1, value
        elif sign <= 0 and value > low + wide:
            turns += sign != 0
            sign, high = 1, value
        if turns > 2:
            return k
        low = min(low, value) if sign <= 0 else low
        high = max(high, value) if sign >= 0 else high
    return unknown


def _tried(
    at: Floats, values: Floats, first: int, ends: list[int], tolerance: float, good: int, best: Fit, bad: int
) -> tuple[int, Fit, int]:
    """The furthest end that fits, its fit, and the nearest beyond it that does not, some ``ends`` now tried too."""
    for end, fit in zip(ends, fit_segments(at, values, first, ends, tolerance, best), strict=True):
        if fit is None:
            return good, best, min(bad, end)
        good, best = end, fit
    return good, best, bad


def fit_segments(
    at: Floats, values: Floats, first: int, ends: list[int], tolerance: float, near: Fit | None = None
) -> list[Fit | None]:
    """For each of some ends, one segment from sample ``first`` to it; None where none was found that fits.

    The search starts ``near`` another fit, too.
    """
    out: list[Fit | None] = []
    bent = []
    for end in ends:
        x = (at[first : end + 1] - at[first]) / (at[end] - at[first])
        v = values[first : end + 1]
        change = float(v[-1] - v[0])
        off = float(np.abs(v - (v[0] + change * x)).max())
        out.append(Fit(1 / 3, change / 3, 1 / 3, change / 3, straight=True) if off <= tolerance else None)
        if off > tolerance and end - first > 1:
            bent.append(len(out) - 1)
    if not bent:
        return out
    looked = min(LOOKED_AT, max(ends) - first + 1)
    chosen = np.array([np.linspace(first, ends[k], looked).round().astype(int) for k in bent])
    x = (at[chosen] - at[first]) / (at[[ends[k] for k in bent]] - at[first])[:, None]
    y = values[chosen] - values[first]
    scale = np.maximum(np.ptp(y, axis=1), 1e-12)
    y = y / scale[:, None]
    # Beside one that fits fewer others are enough (empirical).
    starts = STARTS if near is None or near.straight else ((near.a, near.b), *STARTS[:3])
    count = len(starts)
    p, worst = _search(
        np.repeat(x, count, 0), np.repeat(y, count, 0), np.tile(np.array(starts), (len(bent), 1)),
        np.repeat(tolerance / scale, count), count,
    )  # fmt: skip
    for n, k in enumerate(bent):
        part = slice(n * count, (n + 1) * count)
        for m in np.argsort(worst[part]):
            if worst[part][m] > 1.5 * tolerance / scale[n]:
                break
            a, b, la, lb = (float(q) for q in p[part][m])
            fit = Fit(a, la * float(scale[n]), b, lb * float(scale[n]))
            if _off(at, values, first, ends[k], fit) <= tolerance:
                out[k] = fit
                break
    return out


def _off(at: Floats, values: Floats, first: int, last: int, fit: Fit) -> float:
    """How far a segment from one sample to another is off those between at most, or swings out between two of them."""
    x = (at[first : last + 1] - at[first]) / (at[last] - at[first])
    row = values[first : last + 1]
    # Three looks between each two samples: what was not sampled did not happen.
    between = (x[:-1, None] + np.diff(x)[:, None] * WITHIN).ravel()
    every = np.concatenate([x, between])
    ones = np.ones(len(every))
    u = solve_parameter(*time_coefficients(fit.a * ones, fit.b * ones), every)
    made = row[0] + _values(u, fit.la, fit.lb, float(row[-1] - row[0]))
    off = float(np.abs(made[: len(x)] - row).max())
    step = np.abs(np.diff(values[max(0, first - 1) : last + 2]))
    around = np.pad(step, 1, mode="edge")
    near = np.maximum(np.maximum(around[:-2], step), around[2:])
    room = SWING * near[min(first, 1) : min(first, 1) + len(x) - 1]
    low, high = np.minimum(row[:-1], row[1:]) - room, np.maximum(row[:-1], row[1:]) + room
    inside = made[len(x) :].reshape(-1, len(WITHIN))
    swing = float(np.maximum(low[:, None] - inside, inside - high[:, None]).max())
    return max(off, swing)


def _values(u: Floats, la: Floats | float, lb: Floats | float, change: Floats | float) -> Floats:
    """A segment from 0 to ``change`` at parameters."""
    v = 1 - u
    return np.asarray(3 * v * v * u * la + 3 * v * u * u * (change - lb) + u**3 * change)


def nearest(x: Floats, y: Floats, start: Floats, slopes: Floats) -> tuple[Floats, Floats]:
    """One segment each through samples (P, n) from (0, 0) to (1, last), as near as it can be: reaches and rises (P, 4)
    as a, b, la, lb, and how far off each is at most, (P,). ``slopes`` (P, 2) are those at which it leaves and arrives,
    NaN where they are free.
    """
    scale = np.maximum(np.ptp(y, axis=1), 1e-12)[:, None]
    p, worst = _search(x, y / scale, start, np.full(len(x), 1e-12), 1, slopes / scale, patient=True)
    return p * np.concatenate([np.ones_like(p[:, :2]), np.repeat(scale, 2, 1)], axis=1), worst * scale[:, 0]


def _search(
    x: Floats,
    y: Floats,
    start: Floats,
    enough: Floats,
    starts: int,
    slopes: Floats | None = None,
    patient: bool = False,
) -> tuple[Floats, Floats]:
    """Reaches and rises (P, 4) as a, b, la, lb near starts (P, 2) that come nearest to samples (P, n) from (0, 0) to
    the last, and how far off each is at most, (P,). All problems take their steps together; every ``starts`` in a row
    are one problem, and done when one of them is. ``slopes`` (P, 2) are kept where they are numbers.
    """
    change = y[:, -1:]
    slopes = np.full((len(x), 2), np.nan) if slopes is None else slopes
    bound = np.isfinite(slopes)
    p = np.concatenate([start, np.zeros((len(start), 2))], axis=1)
    u = _parameters(x, p, x, 8)
    p[:, 2:] = np.where(bound, np.nan_to_num(slopes) * p[:, :2], _rises(u, y, change))
    error = _values(u, p[:, 2:3], p[:, 3:], change) - y
    cost = (error**2).sum(axis=1)
    damping = np.full(len(p), 1e-3)
    idle = np.zeros(len(p), int)
    for turn in range(MOST_ROUNDS):
        worst = np.abs(error).max(axis=1)
        busy = (worst > 0.5 * enough) & (idle < MOST_IDLE)
        solved = (worst <= 0.9 * enough).reshape(-1, starts).any(axis=1)
        busy &= ~np.repeat(solved, starts)
        if turn >= PATIENCE and not patient:
            # What is far off by now will not arrive.
            busy &= worst < HOPELESS * enough
        live = np.flatnonzero(busy)
        if not live.size:
            break
        q, v, e = p[live], u[live], error[live]
        jacobian = _derivatives(v, q, change[live])
        held = bound[live][:, None, :]
        if held.any():
            # Where a slope is kept the rise goes with its reach.
            jacobian[:, :, :2] += np.where(held, np.nan_to_num(slopes[live])[:, None, :] * jacobian[:, :, 2:], 0.0)
            jacobian[:, :, 2:] = np.where(held, 0.0, jacobian[:, :, 2:])
        normal = np.swapaxes(jacobian, 1, 2) @ jacobian
        slope = (jacobian * e[:, :, None]).sum(axis=1)
        diagonal = np.einsum("pii->pi", normal)
        normal = normal + np.einsum("pi,ij->pij", damping[live, None] * (diagonal + 1e-9) + 1e-12, np.eye(4))
        made = q - np.linalg.solve(normal, slope[:, :, None])[:, :, 0]
        made[:, :2] = np.clip(made[:, :2], LEAST_REACH, MOST_REACH)
        made[:, 2:] = np.where(bound[live], np.nan_to_num(slopes[live]) * made[:, :2], made[:, 2:])
        w = _parameters(x[live], made, v, 3)
        new = _values(w, made[:, 2:3], made[:, 3:], change[live]) - y[live]
        now = (new**2).sum(axis=1)
        better = now < cost[live]
        gained = now < cost[live] * (1 - 1e-3)
        idle[live] = np.where(gained, 0, idle[live] + 1)
        damping[live] *= np.where(better, 0.2, 8.0)
        taken = live[better]
        p[taken], u[taken], error[taken], cost[taken] = made[better], w[better], new[better], now[better]
    return p, np.abs(error).max(axis=1)


def _parameters(x: Floats, p: Floats, u: Floats, steps: int) -> Floats:
    """u at shares of time (P, n), by some steps of Newton's from others near by."""
    a, b = p[:, :1], p[:, 1:2]
    A, B, C = 3 * a + 3 * b - 2, 3 - 3 * b - 6 * a, 3 * a
    for _ in range(steps):
        slope = (3 * A * u + 2 * B) * u + C
        u = np.clip(u - (((A * u + B) * u + C) * u - x) / np.maximum(slope, 1e-3), 0.0, 1.0)
    return u


def _rises(u: Floats, y: Floats, change: Floats) -> Floats:
    """The best rises (P, 2) for given reaches: a linear least squares problem each."""
    v = 1 - u
    basis = np.stack([3 * v * v * u, -3 * v * u * u], axis=2)
    due = y - change * (3 * v * u * u + u**3)
    normal = np.swapaxes(basis, 1, 2) @ basis + 1e-9 * np.eye(2)
    return np.asarray(np.linalg.solve(normal, (basis * due[:, :, None]).sum(axis=1)[:, :, None])[:, :, 0])


def _derivatives(u: Floats, p: Floats, change: Floats) -> Floats:
    """How the samples change with (a, b, la, lb), (P, n, 4); a and b act by moving u at a fixed time."""
    a, b, la, lb = (p[:, k : k + 1] for k in range(4))
    v = 1 - u
    dx = 3 * (a * v * v + 2 * (1 - a - b) * u * v + b * u * u)
    dy = 3 * (la * v * v + 2 * (change - lb - la) * u * v + lb * u * u)
    speed = dy / np.maximum(dx, 1e-4)
    leaving, arriving = 3 * v * v * u, 3 * v * u * u
    return np.stack([-speed * leaving, speed * arriving, leaving, -arriving], axis=2)


def _joined(at: Floats, values: Floats, starts: list[int], fits: list[Fit], tolerance: float) -> list[Fitted]:
    """Keys where the fits meet; one speed on both sides where the samples allow it."""
    fits = list(fits)
    smooth = [False] * len(starts)
    for k in range(1, len(starts) - 1):
        made = _one_speed(at, values, starts[k - 1 : k + 2], fits[k - 1], fits[k], tolerance)
        if made is not None:
            fits[k - 1], fits[k] = made
            smooth[k] = True
    out = []
    for k, sample in enumerate(starts):
        before = fits[k - 1] if k else None
        after = fits[k] if k < len(fits) else None
        bent_before = before is not None and not (before.straight or before.hold)
        bent_after = after is not None and not (after.straight or after.hold)
        out.append(
            Fitted(
                sample,
                Side(reach=before.b, rise=before.lb) if bent_before and before else None,
                Side(reach=after.a, rise=after.la) if bent_after and after else None,
                after is not None and after.hold,
                smooth[k],
            )
        )
    return out


def _one_speed(
    at: Floats, values: Floats, three: list[int], before: Fit, after: Fit, tolerance: float
) -> tuple[Fit, Fit] | None:
    """Two fits with one speed where they meet, if all samples stay within the tolerance."""
    if before.hold or after.hold or before.straight or after.straight:
        return None
    first, here, last = three
    d0, d1 = at[here] - at[first], at[last] - at[here]
    arriving, leaving = before.lb / (before.b * d0), after.la / (after.a * d1)
    speed = (arriving * d0 + leaving * d1) / (d0 + d1)
    one = Fit(before.a, before.la, before.b, speed * before.b * d0)
    two = Fit(after.a, speed * after.a * d1, after.b, after.lb)
    for fit, low, high in ((one, first, here), (two, here, last)):
        if _off(at, values, low, high, fit) > tolerance:
            return None
    return one, two
