"""How a path goes through its points: handles worked out for automatic ones, kept for others, and put in line."""

from collections.abc import Iterable, Sequence
from functools import lru_cache

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.curves.curve import cut
from deftarc.core.spaces.path import Path
from deftarc.core.spaces.points import Arm, PathPoint

#: A handle's length at full roundness, as a fraction of the neighbouring span.
FULLEST = 2 / 3
#: Spans shorter than this have no direction, in px.
NOTHING = 1e-9


def path_of(points: Sequence[PathPoint], closed: bool = False) -> Path:
    """The path through points, automatic handles worked out; a ``closed`` one's ends are one point."""
    if all(p.joint == "straight" for p in points):
        return Path(np.array([(p.x, p.y) for p in points], np.float64).reshape(-1, 2))
    return _bent_path(tuple(points), closed)


@lru_cache(maxsize=128)
def _bent_path(points: tuple[PathPoint, ...], closed: bool) -> Path:
    # One edit makes several tracks with the same points, and lengths are worked out once.
    spots = np.array([(p.x, p.y) for p in points], np.float64)
    handles = handles_of(points, spots, closed)
    if not handles.any():
        return Path(spots)
    return Path(spots, handles, np.array([p.joint in ("smooth", "automatic") for p in points]))


def handles_of(points: Sequence[PathPoint], spots: Floats, closed: bool = False) -> Floats:
    """Arriving and leaving handles of all points, (P, 4), in px from each.

    An automatic point's lie along the circle through it and its neighbours: that tangent is the sum of the unit
    directions of both spans, each times the length of the other. At an open end the handle mirrors its neighbour's,
    so that three points make one arc.
    """
    count = len(points)
    handles = np.zeros((count, 4))
    for k, point in enumerate(points):
        if point.arriving:
            handles[k, :2] = point.arriving
        if point.leaving:
            handles[k, 2:] = point.leaving
    chosen = np.array(
        [k for k, point in enumerate(points) if point.joint == "automatic" and point.roundness > 0], np.int64
    )
    if not chosen.size or count < 2:
        return handles
    chords = np.diff(spots, axis=0)
    sizes = np.hypot(*chords.T)
    before, after = chosen - 1, chosen.copy()
    if closed:
        seam = (chosen == 0) | (chosen == count - 1)
        before[seam], after[seam] = count - 2, 0
    between = (before >= 0) & (after < count - 1)
    between[between] &= (sizes[before[between]] >= NOTHING) & (sizes[after[between]] >= NOTHING)
    ends = chosen[~between].tolist()
    inner, before, after = chosen[between], before[between], after[between]
    size0, size1 = sizes[before, None], sizes[after, None]
    way = chords[before] / size0 * size1 + chords[after] / size1 * size0
    length = np.hypot(way[:, 0], way[:, 1])[:, None]
    turns = (length >= NOTHING * (size0 + size1))[:, 0]
    roundness = np.array([points[k].roundness for k in inner.tolist()]).reshape(-1, 1)
    way = way[turns] / length[turns] * FULLEST * roundness[turns]
    handles[inner[turns]] = np.concatenate([-way * size0[turns], way * size1[turns]], axis=1)
    for k in ends:
        # Only one side has a span: the mirror image of the handle at its other end, in the span's own middle.
        into, off = slice(0, 2), slice(2, 4)
        for span, other, mine, theirs in ((k - 1, k - 1, into, off), (k, k + 1, off, into)):
            if not 0 <= span < count - 1 or sizes[span] < NOTHING:
                continue
            along = chords[span] / sizes[span]
            there = handles[other, theirs]
            size = float(np.hypot(*there))
            if size < NOTHING or points[other].joint == "straight" or other in ends:
                continue
            image = there - 2 * along * float(there @ along)
            handles[k, mine] = image / size * FULLEST * points[k].roundness * sizes[span]
    return handles


def with_own_handles(points: Sequence[PathPoint], around: Iterable[int], closed: bool = False) -> list[PathPoint]:
    """Automatic points among those ``around`` made smooth, with the handles they had worked out for themselves."""
    out = list(points)
    if closed and len(out) > 1:
        # Around the seam: the last point is the first one, and what comes before that is its neighbour too.
        around = {k % (len(out) - 1) for k in around}
        around |= {len(out) - 1} if 0 in around else set()
    chosen = {k for k in around if 0 <= k < len(out) and out[k].joint == "automatic"}
    if chosen:
        handles = handles_of(points, np.array([(p.x, p.y) for p in points], np.float64).reshape(-1, 2), closed)
        for k in chosen:
            # One without handles beside a span of no length would have some once a point is put there.
            if handles[k].any() or out[k].roundness > 0:
                out[k] = handled(out[k], handles[k], "smooth")
    return out


def handled(point: PathPoint, handles: Floats, joint: str) -> PathPoint:
    """A point with other handles (4,); one without any is straight."""
    arriving, leaving = arm(handles[:2]), arm(handles[2:])
    if arriving is None and leaving is None:
        return PathPoint(x=point.x, y=point.y)
    return PathPoint(x=point.x, y=point.y, joint=joint, arriving=arriving, leaving=leaving)


def arm(numbers: Floats) -> Arm | None:
    """A handle as it is kept; None where it has no length."""
    x, y = (float(n) for n in numbers)
    return (x, y) if x or y else None


def moved(point: PathPoint, spot: Sequence[float]) -> PathPoint:
    """A point somewhere else, its handles with it."""
    return point.changed(x=float(spot[0]), y=float(spot[1]))


def through_matrix(point: PathPoint, matrix: Floats) -> PathPoint:
    """A point through a (3, 3) affine matrix; automatic ones go on working their handles out."""
    spot = matrix[:2, :2] @ np.array(point.spot) + matrix[:2, 2]
    arms = {
        name: arm(matrix[:2, :2] @ np.array(told))
        for name in ("arriving", "leaving")
        if (told := getattr(point, name)) is not None
    }
    return moved(point, spot).changed(**arms)


def split(points: Sequence[PathPoint], span: int, u: float, closed: bool = False) -> list[PathPoint]:
    """A point put into a span at its parameter, the path as it is (de Casteljau); neighbours keep what handles they
    had.
    """
    out = with_own_handles(points, (span - 1, span, span + 1, span + 2), closed)
    path = path_of(out, closed)
    controls = path.controls[span]
    before, after = cut(controls, u)
    spot = after[0]
    if not path.bent[span]:
        out.insert(span + 1, PathPoint(x=float(spot[0]), y=float(spot[1])))
        return out
    new = handled(PathPoint(x=float(spot[0]), y=float(spot[1])), np.concatenate([before[2] - spot, after[1] - spot]),
                  "smooth")  # fmt: skip
    out[span] = _with_arm(out[span], "leaving", before[1] - controls[0])
    out[span + 1] = _with_arm(out[span + 1], "arriving", after[2] - controls[3])
    out.insert(span + 1, new)
    return out


def _with_arm(point: PathPoint, side: str, handle: Floats) -> PathPoint:
    joint = "corner" if point.joint == "straight" else point.joint
    return point.changed(**{side: arm(handle), "joint": joint})


def in_line(one: "Arm | Floats | None", other: "Arm | Floats | None") -> bool:
    """Whether two handles point exactly away from each other."""
    if one is None or other is None:
        return False
    a, b = np.hypot(*one), np.hypot(*other)
    return bool(np.dot(one, other) / (a * b) < -0.9999) if a > NOTHING and b > NOTHING else False
