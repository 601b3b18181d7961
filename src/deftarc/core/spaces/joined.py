"""Points taken off a path, its shape kept: two parts of one Bézier span are that span again, and else one comes as near
as it can. What was straight on both sides stays straight.
"""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.curves.curve import cut
from deftarc.core.spaces.bends import arm, path_of, with_own_handles
from deftarc.core.spaces.points import PathPoint

#: How near parts have to be to those of a whole, as a share of its size.
ALIKE = 1e-7
#: What is shorter than this share of the whole, or than this in px, is nothing: it has lost its direction.
NOTHING = 1e-6
#: Samples of each span, and rounds in which their parameters are brought nearer.
SAMPLES, ROUNDS = 24, 12


def joined_points(points: Sequence[PathPoint], lost: set[int], closed: bool = False) -> list[PathPoint]:
    """The points of a path without some of them; the first and the last go without leaving a way behind."""
    kept = [n for n in range(len(points)) if n not in lost]
    runs = [(a, b) for a, b in pairwise(kept) if b > a + 1]
    path = path_of(points, closed)
    bent = [(a, b) for a, b in runs if path.bent[a:b].any()]
    out = with_own_handles(points, {n for run in bent for n in run}, closed)
    for a, b in bent:
        controls = _one_of([path.controls[k] for k in range(a, b)])
        for n, side, handle in ((a, "leaving", controls[1] - controls[0]), (b, "arriving", controls[2] - controls[3])):
            joint = "corner" if out[n].joint == "straight" else out[n].joint
            out[n] = out[n].changed(**{side: arm(handle), "joint": joint})
            if out[n].arriving is None and out[n].leaving is None:
                out[n] = PathPoint(x=out[n].x, y=out[n].y)
    return [out[n] for n in kept]


def _one_of(spans: Sequence[Floats]) -> Floats:
    """The controls (4, 2) of one span for several."""
    # Two points in one place have no way between them; what is shorter than can be seen tells of no direction either.
    sizes = [float(np.abs(span - span[0]).max()) for span in spans]
    nothing = NOTHING * max(1.0, sum(sizes))
    spans = [span for span, size in zip(spans, sizes, strict=True) if size > nothing] or spans[:1]
    whole: Floats | None = spans[0]
    for span in spans[1:]:
        whole = _whole_of(whole, span) if whole is not None else None
    return _nearest(spans) if whole is None else whole


def _whole_of(one: Floats, other: Floats) -> Floats | None:
    """The controls of the span whose two parts these are; None where there is none."""
    into, out = (float(np.hypot(*way)) for way in (one[3] - one[2], other[1] - other[0]))
    size = float(np.abs(np.concatenate([one, other]) - one[0]).max()) or 1.0
    if into + out <= ALIKE * size:
        return None
    u = into / (into + out)
    if not ALIKE < u < 1 - ALIKE:
        return None
    made = np.array([one[0], one[0] + (one[1] - one[0]) / u, other[3] + (other[2] - other[3]) / (1 - u), other[3]])
    before, after = cut(made, u)
    off = max(float(np.abs(before - one).max()), float(np.abs(after - other).max()))
    return made if off <= ALIKE * max(size, float(np.abs(made - made[0]).max())) else None


def _nearest(spans: Sequence[Floats]) -> Floats:
    """One span through the ends of several in their directions there, nearest to them by least squares over the two
    handles' lengths (Schneider, Graphics Gems, 1990).
    """
    t = np.linspace(0, 1, SAMPLES)[:, None]
    v = 1 - t
    rows = np.concatenate([v**3 * c[0] + 3 * v * v * t * c[1] + 3 * v * t * t * c[2] + t**3 * c[3] for c in spans])
    start, end = rows[0], rows[-1]
    ways = [_direction(spans[0]), -_direction(spans[-1][::-1])]
    gone = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(rows, axis=0).T))])
    if gone[-1] < 1e-12:
        return np.array([start, start, end, end])
    u = gone / gone[-1]
    third = float(gone[-1]) / 3
    lengths = np.array([third, third])
    controls = np.array([start, start + ways[0] * third, end - ways[1] * third, end])
    for _ in range(ROUNDS):
        b0, b1, b2, b3 = (1 - u) ** 3, 3 * u * (1 - u) ** 2, 3 * u * u * (1 - u), u**3
        due = rows - np.outer(b0 + b1, start) - np.outer(b2 + b3, end)
        basis = np.stack([np.outer(b1, ways[0]).ravel(), np.outer(b2, -ways[1]).ravel()], axis=1)
        solved = np.linalg.lstsq(basis, due.ravel(), rcond=None)[0]
        lengths = np.where(solved > 1e-6 * third, solved, lengths)
        controls = np.array([start, start + ways[0] * lengths[0], end - ways[1] * lengths[1], end])
        at = np.outer(b0, start) + np.outer(b1, controls[1]) + np.outer(b2, controls[2]) + np.outer(b3, end)
        d = 3 * np.diff(controls, axis=0)
        speed = np.outer((1 - u) ** 2, d[0]) + np.outer(2 * u * (1 - u), d[1]) + np.outer(u * u, d[2])
        step = ((at - rows) * speed).sum(axis=1) / np.maximum((speed * speed).sum(axis=1), 1e-12)
        u = np.maximum.accumulate(np.clip(u - step, 0.0, 1.0))
    return controls


def _direction(controls: Floats) -> Floats:
    """The direction in which a span begins, of length 1."""
    for other in controls[1:]:
        way = other - controls[0]
        size = float(np.hypot(*way))
        if size > 1e-9:
            return np.asarray(way / size)
    return np.array([1.0, 0.0])
