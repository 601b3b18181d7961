"""A path and its keys for a row of spots: first where they go, then when along it.

Where: the longest stretch one cubic Bézier follows within a tolerance, then the next, as in reduce.py; fitted by the
distance along normals at the nearest points (tangent distance minimisation; Wang, Pottmann & Liu, ACM Transactions on
Graphics 25(2), 2006, with the damping of Levenberg and Marquardt). When: the distances at which the spots lie on that
path are reduced as any number is. So points of the path that no change of pace needs have no key.
"""

import numpy as np
import numpy.typing as npt

from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.working import reached, stage
from deftarc.core.changes.reduce import fitted
from deftarc.core.document.keys import PathKey
from deftarc.core.document.track import PathTrack
from deftarc.core.spaces.bends import arm, path_of
from deftarc.core.spaces.path import Path
from deftarc.core.spaces.points import PathPoint

#: Spots of a stretch that a fit looks at while it searches.
LOOKED_AT = 32
ROUNDS = 24
#: Handles that turn by less than this at a point are put in one line if the spots allow it (radians).
TURN = 0.6
#: The shares of the tolerance that the path and the pace along it begin with, and what they shrink by (empirical).
ACROSS, ALONG, SHRINK, TRIES = 0.55, 0.7, 0.7, 7
#: After so many tries off by the very same, no path goes there. (Off by less or more from try to try is no sign: of
#: wild ways the last try may be the first that holds.)
STUCK = 4
Row = list[PathPoint]


def traced(times: Integers, spots: Floats, tolerance: float) -> tuple[PathTrack, float]:
    """A position's track for spots (n, 2) at rising times (n,), and how far it is off them at most, in px."""
    offs: list[float] = []
    for n in range(1 + TRIES):
        with stage(n, 1 + TRIES):
            made, off = _traced(times, spots, tolerance * SHRINK**n)
        offs.append(off)
        if off <= tolerance or stuck(offs):
            break
    return made, off


def stuck(offs: list[float], tries: int = STUCK) -> bool:
    """Whether the last tries were all off by the same."""
    last = offs[-tries:]
    return len(last) == tries and max(last) - min(last) <= 1e-9 * max(last)


def _traced(times: Integers, spots: Floats, tolerance: float) -> tuple[PathTrack, float]:
    with stage(0, 2):
        points, cuts = follow(spots, tolerance * ACROSS)
    value = (float(spots[0, 0]), float(spots[0, 1]))
    if len(points) == 1:
        track = PathTrack(value=value, points=tuple(points), keys=(PathKey(time=int(times[0]), at=0.0),))
        return track, float(np.hypot(*(spots - spots[0]).T).max())
    path = path_of(points)
    distance = distances_of(path, spots, cuts)
    with stage(1, 2):
        rows = fitted(times, distance, tolerance * ALONG)
    keys = []
    for row in rows:
        here = float(distance[row.sample])
        near = int(np.argmin(np.abs(path.lengths - here)))
        on_point = abs(float(path.lengths[near]) - here) <= 0.2 * tolerance
        place = float(near) if on_point else path.place_at(here)
        keys.append(
            PathKey(
                time=int(times[row.sample]), at=place, pace=not on_point, arriving=row.arriving, leaving=row.leaving,
                hold=row.hold, joint="smooth" if row.smooth else "corner",
            )
        )  # fmt: skip
    track = PathTrack(value=value, points=tuple(points), keys=tuple(_in_order(keys)))
    return track, float(np.hypot(*(track.positions(times.astype(np.float64)) - spots).T).max())


def _in_order(keys: list[PathKey]) -> list[PathKey]:
    """Keys of which those that rest on points pass them in order: whoever would go back does not rest."""
    furthest = -1.0
    out = []
    for key in keys:
        if key.rests and key.at < furthest:
            key = key.changed(pace=True)
        furthest = max(furthest, key.at) if key.rests else furthest
        out.append(key)
    return out


def follow(spots: Floats, tolerance: float) -> tuple[Row, Integers]:
    """Points of a path that lies within ``tolerance`` px of spots (n, 2) in their order, and the numbers of the spots
    that became points.
    """
    step = np.hypot(*np.diff(spots, axis=0).T) if len(spots) > 1 else np.empty(0)
    kept = [0]
    for k in np.flatnonzero(step > 0).tolist():
        if float(np.hypot(*(spots[k + 1] - spots[kept[-1]]))) > 0.2 * tolerance:
            kept.append(k + 1)
    if len(kept) > 1:
        # What is too near the end to count gives way to it.
        kept[-1] = len(spots) - 1
    chosen = np.array(kept)
    row = spots[chosen]
    if len(row) == 1:
        return [PathPoint(x=float(row[0, 0]), y=float(row[0, 1]))], chosen
    starts, guess = [0], 16
    spans: list[Span] = []
    while starts[-1] < len(row) - 1:
        reached(starts[-1] / len(row))
        last, span = _furthest(row, starts[-1], guess, tolerance)
        guess = max(last - starts[-1], 4)
        starts.append(last)
        spans.append(span)
    spans = _lined_up(row, starts, spans, tolerance)
    points: Row = []
    for k, start in enumerate(starts):
        spot = row[start]
        before = spans[k - 1] if k else None
        after = spans[k] if k < len(spans) else None
        arriving = None if before is None else arm(before[2] - spot)
        leaving = None if after is None else arm(after[1] - spot)
        joint = "straight" if arriving is None and leaving is None else "corner"
        if arriving and leaving and _turn(-np.array(arriving), np.array(leaving)) < 1e-4:
            joint = "smooth"
        points.append(PathPoint(x=float(spot[0]), y=float(spot[1]), joint=joint, arriving=arriving, leaving=leaving))
    return points, chosen[starts]


#: The four Bézier points of a span, None where it is straight.
Span = Floats | None


def _furthest(row: Floats, first: int, guess: int, tolerance: float) -> tuple[int, Span]:
    count = len(row) - 1
    good, best, bad = first + 1, None, count + 1
    size = max(guess // 2, 2)
    while good < count and bad > count:
        ends = sorted({e for e in (min(first + size * n, count) for n in (1, 2, 4)) if e > good})
        size *= 4
        good, best, bad = _tried(row, first, ends, tolerance, good, best, bad)
    while bad - good > 1 and bad <= count:
        ends = sorted({good + round((bad - good) * n / 5) for n in range(1, 5)} - {good, bad})
        good, best, bad = _tried(row, first, ends, tolerance, good, best, bad)
    return good, best


def _tried(
    row: Floats, first: int, ends: list[int], tolerance: float, good: int, best: Span, bad: int
) -> tuple[int, Span, int]:
    for end in ends:
        spots = row[first : end + 1]
        chord = spots[-1] - spots[0]
        if _off_line(spots) <= tolerance and bool((np.diff(spots @ chord) >= -tolerance * np.hypot(*chord)).all()):
            good, best = end, None
            continue
        found = fit_span(spots, tolerance)
        if found is None:
            return good, best, min(bad, end)
        good, best = end, found
    return good, best, bad


def _off_line(spots: Floats) -> float:
    """How far spots (n, 2) are off the straight line between the first and the last at most."""
    chord = spots[-1] - spots[0]
    length = float(np.hypot(*chord))
    away = spots - spots[0]
    if length < 1e-12:
        return float(np.hypot(*away.T).max())
    return float(np.abs(away[:, 0] * chord[1] - away[:, 1] * chord[0]).max() / length)


def fit_span(spots: Floats, tolerance: float) -> Floats | None:
    """A cubic Bézier (4, 2) from the first to the last of some spots, within a tolerance of all; None if none is."""
    if len(spots) < 3:
        return None
    chosen = np.arange(len(spots)) if len(spots) <= LOOKED_AT else _even(spots)
    looked = spots[chosen]
    step = np.hypot(*np.diff(looked, axis=0).T)
    # Two guesses of how the parameter runs: with the distance, and with its root.
    for power in (1.0, 0.5):
        u = np.concatenate(([0.0], np.cumsum(step**power)))
        if u[-1] <= 0:
            return None
        off, controls, at = _search(looked, u / u[-1], tolerance)
        if off > tolerance:
            continue
        if len(looked) == len(spots):
            return controls
        guess = np.interp(np.arange(len(spots)), chosen, np.maximum.accumulate(at))
        if _distance(controls, spots, guess) <= tolerance:
            return controls
    return None


def _even(spots: Floats) -> Integers:
    """Numbers of some spots that lie evenly along the way."""
    way = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(spots, axis=0).T))))
    chosen = np.searchsorted(way, np.linspace(0, way[-1], LOOKED_AT))
    return np.unique(np.concatenate(([0], chosen, [len(spots) - 1])))


def _search(spots: Floats, u: Floats, tolerance: float) -> tuple[float, Floats, Floats]:
    """How far off at most, the Bézier near a guess of the parameters (n,), and the parameters of its nearest places."""
    row = _plane(spots)
    inner = _plane(_handles(spots, u))
    controls = np.array([row[0], *inner, row[-1]])
    damping, before = 1e-3, np.inf
    best, least, where = controls, np.inf, u
    idle = 0
    for turn in range(ROUNDS):
        u = _nearest(controls, row, u, 2)
        place, way, _ = _at(controls, u)
        error = place - row
        distance = np.abs(error)
        off = float(distance.max())
        if off < least:
            idle = 0 if off < 0.98 * least else idle + 1
            best, least, where = controls, off, u
        else:
            idle += 1
        if off <= 0.5 * tolerance or idle > 3 or (turn > 6 and off > 20 * tolerance):
            break
        cost = float(distance @ distance)
        damping = damping * 0.3 if cost < before else damping * 4
        before = cost
        normal = way * (1j / np.maximum(np.abs(way), 1e-12))
        v = 1 - u
        b1, b2 = 3 * v * v * u, 3 * v * u * u
        jacobian = np.array([normal.real * b1, normal.imag * b1, normal.real * b2, normal.imag * b2])
        square = jacobian @ jacobian.T
        square[_DIAGONAL] += damping * (square[_DIAGONAL] + 1e-9) + 1e-12
        step = np.linalg.solve(square, jacobian @ _dot(error, normal))
        controls = controls.copy()
        controls[1] -= complex(step[0], step[1])
        controls[2] -= complex(step[2], step[3])
    return least, np.stack([best.real, best.imag], axis=1), where


def _handles(spots: Floats, u: Floats) -> Floats:
    """The best inner Bézier points (2, 2) for given parameters: linear least squares."""
    v = 1 - u
    basis = np.stack([3 * v * v * u, 3 * v * u * u], axis=1)
    due = spots - (v**3)[:, None] * spots[0] - (u**3)[:, None] * spots[-1]
    square = basis.T @ basis + 1e-9 * np.eye(2)
    return np.asarray(np.linalg.solve(square, basis.T @ due))


#: Places and ways as complex numbers, x + iy: a row of them is run through twice as fast as rows of two.
Plane = npt.NDArray[np.complex128]
_DIAGONAL = np.diag_indices(4)


def _plane(spots: Floats) -> Plane:
    """Spots (n, 2) as complex numbers (n,)."""
    return np.asarray(spots[:, 0] + 1j * spots[:, 1])


def _at(controls: Plane, u: Floats) -> tuple[Plane, Plane, Plane]:
    """Place, first and second derivative of a Bézier (4,) at (n,), (n,) each."""
    p0, p1, p2, p3 = controls
    c1, c2, c3 = 3 * (p1 - p0), 3 * (p2 - 2 * p1 + p0), p3 - 3 * p2 + 3 * p1 - p0
    return ((c3 * u + c2) * u + c1) * u + p0, (3 * c3 * u + 2 * c2) * u + c1, 6 * c3 * u + 2 * c2


def _dot(one: Plane, other: Plane) -> Floats:
    """Inner products, one by one."""
    return np.asarray(one.real * other.real + one.imag * other.imag)


def _nearest(controls: Plane, spots: Plane, u: Floats, steps: int) -> Floats:
    """Parameters of the nearest places to spots, by Newton's method from others near by."""
    for _ in range(steps):
        place, way, bend = _at(controls, u)
        error = place - spots
        speed = _dot(way, way)
        slope = speed + _dot(error, bend)
        slope = np.where(slope > 0, slope, speed)
        u = np.minimum(np.maximum(u - _dot(error, way) / np.maximum(slope, 1e-12), 0.0), 1.0)
    return u


def _distance(controls: Floats, spots: Floats, guess: Floats) -> float:
    """How far spots (n, 2) are off a Bézier (4, 2) at most, near a guess of their parameters."""
    way, row = _plane(controls), _plane(spots)
    return float(np.abs(_at(way, _nearest(way, row, guess, 4))[0] - row).max())


def _feet(controls: Floats, spots: Floats) -> Floats:
    """Parameters of the nearest places to spots (n, 2), never going back from one spot to the next."""
    grid = np.linspace(0, 1, 97)
    way, row = _plane(controls), _plane(spots)
    off = np.abs(row[:, None] - _at(way, grid)[0][None, :])
    # Where the way crosses itself the nearest place may be another branch: the cheapest way through in order is not.
    reach = off.copy()
    back = np.zeros(off.shape, int)
    for k in range(1, len(spots)):
        best = np.minimum.accumulate(reach[k - 1])
        changes = np.concatenate(([True], reach[k - 1, 1:] < best[:-1]))
        back[k] = np.maximum.accumulate(np.where(changes, np.arange(len(grid)), 0))
        reach[k] = off[k] + best
    u = np.empty(len(spots))
    here = int(np.argmin(reach[-1]))
    for k in range(len(spots) - 1, -1, -1):
        u[k] = grid[here]
        here = int(back[k, here])
    return _nearest(way, row, u, 4)


def _turn(one: Floats, other: Floats) -> float:
    """The angle between two vectors, in radians."""
    return float(abs(np.arctan2(one[0] * other[1] - one[1] * other[0], one @ other)))


def _lined_up(row: Floats, starts: list[int], spans: list[Span], tolerance: float) -> list[Span]:
    """Spans with the handles at a point in one line, where they nearly are and the spots allow it."""
    out = list(spans)
    for k in range(1, len(spans)):
        before, after = out[k - 1], out[k]
        here = row[starts[k]]
        into = here - (before[2] if before is not None else row[starts[k - 1]])
        off = (after[1] if after is not None else row[starts[k + 1]]) - here
        a, b = float(np.hypot(*into)), float(np.hypot(*off))
        if a < 1e-9 or b < 1e-9 or (before is None and after is None) or _turn(into, off) > TURN:
            continue
        way = into / a * b + off / b * a
        if before is None:
            way = into
        elif after is None:
            way = off
        way = way / np.hypot(*way)
        made: list[Span] = []
        for span, size, inner, sign, low, high in (
            (before, a, 2, -1, starts[k - 1], starts[k]), (after, b, 1, 1, starts[k], starts[k + 1]),
        ):  # fmt: skip
            if span is None:
                made.append(span)
                continue
            turned = span.copy()
            turned[inner] = here + sign * way * size
            part = row[low : high + 1]
            way_to = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(part, axis=0).T))))
            if _distance(turned, part, way_to / max(float(way_to[-1]), 1e-12)) > tolerance:
                break
            made.append(turned)
        if len(made) == 2:
            out[k - 1], out[k] = made
    return out


def distances_of(path: Path, spots: Floats, cuts: Integers) -> Floats:
    """How far along a path spots (n, 2) lie, given which of them its points were made from; rising nowhere falls."""
    out = np.empty(len(spots))
    for k in range(len(path.points) - 1):
        low, high = int(cuts[k]), int(cuts[k + 1])
        part = spots[low : high + 1]
        if path.bent[k]:
            u = _feet(path.controls[k], part)
            u[0], u[-1] = 0.0, 1.0
            out[low : high + 1] = path.table.distance_at(np.full(len(u), k), u)
        else:
            chord = path.points[k + 1] - path.points[k]
            share = (part - path.points[k]) @ chord / max(float(chord @ chord), 1e-12)
            start, end = path.lengths[k], path.lengths[k + 1]
            out[low : high + 1] = start + np.clip(share, 0, 1) * (end - start)
    out[: int(cuts[0])] = 0.0
    out[int(cuts[-1]) :] = path.lengths[-1]
    return out
