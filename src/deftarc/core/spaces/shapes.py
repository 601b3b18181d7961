"""The outlines of shapes by formula, for one moment or for many at once.

Numbers come as arrays (F,) (or (1,) where nothing changes), outlines go as verbs and points (F, P, 2): the verbs
stay the same at all times, so that painters can tell motion from a change of kind.
"""

import itertools
from collections.abc import Sequence
from typing import Protocol

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.spaces.outline import Outline

#: A quarter circle's handle length as a fraction of its radius (error 2.7e-4 of the radius).
KAPPA = 0.5522847498307936


def _grid(rows: "list[tuple[Floats, Floats]]") -> Floats:
    """Points (F, P, 2) from P pairs of (F,) arrays."""
    xs = np.stack(np.broadcast_arrays(*(x for x, _ in rows)), axis=-1)
    ys = np.stack(np.broadcast_arrays(*(y for _, y in rows)), axis=-1)
    return np.stack(np.broadcast_arrays(xs, ys), axis=-1)


def rectangles(width: Floats, height: Floats, radius: Floats) -> tuple[str, Floats]:
    """Rectangles about the origin, their corners rounded by quarter ellipses of at most half a side."""
    x, y = width / 2, height / 2
    if not radius.any():
        return "MLLLZ", _grid([(-x, -y), (x, -y), (x, y), (-x, y)])
    r = np.minimum(radius, np.minimum(x, y))
    k = r * (1 - KAPPA)
    return "MLCLCLCLCZ", _grid([
        (-x + r, -y), (x - r, -y), (x - k, -y), (x, -y + k), (x, -y + r),
        (x, y - r), (x, y - k), (x - k, y), (x - r, y),
        (-x + r, y), (-x + k, y), (-x, y - k), (-x, y - r),
        (-x, -y + r), (-x, -y + k), (-x + k, -y), (-x + r, -y),
    ])  # fmt: skip


def ellipses(width: Floats, height: Floats) -> tuple[str, Floats]:
    """Ellipses about the origin, from their right end clockwise."""
    x, y = width / 2, height / 2
    i, j = x * KAPPA, y * KAPPA
    o = np.zeros(1)
    return "MCCCCZ", _grid([
        (x, o), (x, j), (i, y), (o, y), (-i, y), (-x, j), (-x, o),
        (-x, -j), (-i, -y), (o, -y), (i, -y), (x, -j), (x, o),
    ])  # fmt: skip


def rectangle(width: float, height: float, radius: float = 0.0) -> Outline:
    """One rectangle."""
    verbs, points = rectangles(*(np.array([float(x)]) for x in (width, height, radius)))
    return Outline(verbs, points[0])


def ellipse(width: float, height: float) -> Outline:
    """One ellipse."""
    verbs, points = ellipses(np.array([float(width)]), np.array([float(height)]))
    return Outline(verbs, points[0])


def stars(count: Floats, outer: Floats, inner: "Floats | None", roundness: Floats) -> tuple[str, Floats]:
    """Stars, or polygons where ``inner`` is None, about the origin, the first corner straight up.

    Corners have handles along the tangent of their circle, at roundness 1 so long that a polygon's arcs are
    circular (4/3 · tan of a quarter of the arc). Where the count changes, the corners too many lie on the last one.
    """
    number = np.maximum(2, np.round(count)).astype(int)
    corners = number * (1 if inner is None else 2)
    most = int(corners.max())
    frames = max(len(x) for x in (count, outer, roundness, *([] if inner is None else [inner])))
    corners = np.broadcast_to(corners, (frames,))[:, None]
    index = np.minimum(np.arange(most + 1)[None, :], corners)
    angle = index * (2 * np.pi / corners) - np.pi / 2
    radii = np.broadcast_to(outer, (frames,))[:, None] * np.ones((1, most + 1))
    if inner is not None:
        radii = np.where(index % 2, np.broadcast_to(inner, (frames,))[:, None], radii)
    arm = np.broadcast_to(roundness, (frames,))[:, None] * radii * (4 / 3) * np.tan(np.pi / (2 * corners))
    spots = np.stack([radii * np.cos(angle), radii * np.sin(angle)], axis=-1)
    tangent = np.stack([-np.sin(angle), np.cos(angle)], axis=-1) * arm[..., None]
    points = np.empty((frames, 1 + 3 * most, 2))
    points[:, 0] = spots[:, 0]
    points[:, 1::3] = spots[:, :-1] + tangent[:, :-1]
    points[:, 2::3] = spots[:, 1:] - tangent[:, 1:]
    points[:, 3::3] = spots[:, 1:]
    # A corner repeated has no way to go and no handles to go it by.
    still = (index[:, 1:] == index[:, :-1])[..., None]
    for offset in (1, 2):
        points[:, offset::3] = np.where(still, spots[:, 1:], points[:, offset::3])
    return "M" + "C" * most + "Z", points


class Contoured(Protocol):
    """A row of points, six numbers each, open or closed."""

    @property
    def points(self) -> Sequence[object]: ...

    @property
    def closed(self) -> bool: ...


def free(contours: "Sequence[Contoured]", numbers: Floats) -> tuple[str, Floats]:
    """Free paths from rows of numbers (F, 6 · points)."""
    nodes = numbers.reshape(len(numbers), -1, 6)
    spots, arriving, leaving = nodes[..., :2], nodes[..., :2] + nodes[..., 2:4], nodes[..., :2] + nodes[..., 4:]
    verbs, chosen = [], []
    at = 0
    for contour in contours:
        n = len(contour.points)
        verbs.append("M")
        chosen.append(spots[:, at : at + 1])
        order = [*range(at, at + n), *([at] if contour.closed and n > 1 else [])]
        for here, there in itertools.pairwise(order):
            verbs.append("C")
            chosen.append(np.stack([leaving[:, here], arriving[:, there], spots[:, there]], axis=1))
        if contour.closed:
            verbs.append("Z")
        at += n
    return "".join(verbs), np.concatenate(chosen, axis=1)
