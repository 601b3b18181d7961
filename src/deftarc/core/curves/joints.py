"""What a curve works out for itself: speeds at automatic joints, and rises that keep it within its keys."""

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arrays import Floats

#: Halvings that find how far two rises must be shortened.
HALVINGS = 46


def automatic_speeds(
    times: npt.NDArray[np.int64],
    measures: Floats,
    stepped: npt.NDArray[np.bool_],
    told: Floats,
) -> tuple[Floats, Floats]:
    """Arriving and leaving speed at each key, per flick, (K,) each: as if every key had an automatic joint.

    ``told`` (K, 4) holds tension, continuity and bias, −1 to 1, and whether the curve may go past its keys.
    D. Kochanek and R. Bartels, *Interpolating splines with local tension, continuity, and bias control* (1984),
    with their adjustment for uneven spacing; held as F. Fritsch and R. Carlson, *Monotone piecewise cubic
    interpolation* (1980): no speed above three times the slope beside it, level beside equal neighbours and at
    peaks. At an end, and beside steps, the speed is the one segment's own slope, less the tension.
    """
    count = len(times)
    if count == 1:
        return np.zeros(1), np.zeros(1)
    tension, continuity, bias, free = told.T
    duration = np.diff(times).astype(np.float64)
    change = np.diff(measures)
    # A segment of steps has no slope to take part with.
    joined = ~stepped
    before = np.concatenate(([False], joined))
    after = np.concatenate((joined, [False]))
    d0 = np.concatenate((duration[:1], duration))
    d1 = np.concatenate((duration, duration[-1:]))
    rise0 = np.concatenate(([0.0], change))
    rise1 = np.concatenate((change, [0.0]))
    both = before & after
    loose = (1 - tension) / 2
    arriving = loose * ((1 - continuity) * (1 + bias) * rise0 + (1 + continuity) * (1 - bias) * rise1)
    leaving = loose * ((1 + continuity) * (1 + bias) * rise0 + (1 - continuity) * (1 - bias) * rise1)
    even = 2 / (d0 + d1)
    # Tangents are per segment in the paper; per flick, both adjustments come to one.
    arriving, leaving = arriving * even, leaving * even
    slope0, slope1 = rise0 / d0, rise1 / d1
    alone = np.where(before, slope0, np.where(after, slope1, 0.0)) * (1 - tension)
    arriving, leaving = np.where(both, arriving, alone), np.where(both, leaving, alone)
    least = np.where(both, np.minimum(np.abs(slope0), np.abs(slope1)), np.inf)
    peak = both & (slope0 * slope1 <= 0)
    one = both & (continuity == 0)

    def held(speed: Floats, slope: Floats, touches: npt.NDArray[np.bool_]) -> Floats:
        most = 3 * np.where(one, least, np.abs(slope))
        within = np.clip(speed, -most, most)
        within = np.where((speed * slope < 0) | (one & peak), 0.0, within)
        return np.where((free > 0) | ~touches, speed, within)

    return held(arriving, slope0, before), held(leaving, slope1, after)


def within_keys(la: Floats, lb: Floats, change: Floats) -> tuple[Floats, Floats]:
    """Rises (n,), (n,) of segments with ``change`` (n,), shortened until no extreme lies past a key.

    A rise that sets off the wrong way becomes level; then both shorten in proportion, by as little as does it.
    """
    toward = np.sign(change)
    p = np.where(change == 0, 0.0, np.maximum(la * toward, 0.0))
    q = np.where(change == 0, 0.0, np.maximum(lb * toward, 0.0))
    size = np.abs(change)
    past = _reaches_past(p, q, size)
    if past.any():
        p1, q1, s1 = p[past], q[past], size[past]
        low, high = np.zeros_like(p1), np.ones_like(p1)
        for _ in range(HALVINGS):
            middle = 0.5 * (low + high)
            over = _reaches_past(p1 * middle, q1 * middle, s1)
            low, high = np.where(over, low, middle), np.where(over, middle, high)
        p[past], q[past] = p1 * low, q1 * low
    return p * toward, q * toward


def goes_past(la: Floats, lb: Floats, change: Floats, slack: float = 1e-9) -> npt.NDArray[np.bool_]:
    """Which segments (n,) go past one of their keys by more than ``slack`` of their size."""
    toward = np.where(change < 0, -1.0, 1.0)
    return _reaches_past(la * toward, lb * toward, np.abs(change), slack)


def _reaches_past(p: Floats, q: Floats, size: Floats, slack: float = 1e-12) -> npt.NDArray[np.bool_]:
    """Whether Béziers 0, p, size − q, size leave [0, size], for arrays (n,)."""
    room = slack * (size + np.abs(p) + np.abs(q))
    # y' = 3·(A·u² + B·u + C)
    A, B, C = 3 * p + 3 * q - 2 * size, 2 * (size - q - 2 * p), p
    under = B * B - 4 * A * C
    root = np.sqrt(np.maximum(under, 0.0))
    turn = -0.5 * (B + np.where(B < 0, -1.0, 1.0) * root)
    out = np.zeros(p.shape, bool)
    with np.errstate(divide="ignore", invalid="ignore"):
        for u in (turn / A, C / turn):
            inside = (under > 0) & (u > 0) & (u < 1)
            at = np.where(inside, u, 0.0)
            y = 3 * at * (1 - at) ** 2 * p + 3 * at**2 * (1 - at) * (size - q) + at**3 * size
            out |= inside & ((y < -room) | (y > size + room))
    return out


def harmless_reach(speed: float, duration: float, change: float, other: float) -> float | None:
    """The largest reach up to 1 at which a side of this speed keeps its segment within its keys; None if none does.

    ``speed`` per second over ``duration`` seconds, ``other`` the far side's rise, all towards the segment.
    """
    if speed * change <= 0:
        return None if speed else 1.0

    def past(reach: float) -> bool:
        rise = np.array([speed * reach * duration])
        return bool(goes_past(rise, np.array([other]), np.array([change]))[0])

    if past(1e-4):
        return None
    low, high = 1e-4, 1.0
    if not past(1.0):
        return 1.0
    for _ in range(HALVINGS):
        middle = 0.5 * (low + high)
        low, high = (low, middle) if past(middle) else (middle, high)
    return low
