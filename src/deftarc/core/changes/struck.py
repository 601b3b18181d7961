"""An outline that is struck: which way, and how far, each of its points goes by each px that it is struck by.

Told points go all the way, with their handles. Where none are told, an open contour goes as a string does that is held
at its ends: by the sine of how far along it a point lies. One of two points has nothing to go but its handles, which
are put so that its middle goes all the way. A closed contour gives way where it is hit, and not on the other side.
"""

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.document.artwork.free import Contour

#: The middle of a cubic goes three quarters of the way that both its inner points go.
HANDLES = 4 / 3
#: A handle shorter than this, in px, is none.
NONE = 1e-9


def struck(contours: tuple[Contour, ...], row: Floats, points: tuple[int, ...], way: tuple[float, float]) -> Floats:
    """By how much each number of an outline goes for each px, (6·P,), at a shape (6·P,) struck along a unit vector."""
    rows = row.reshape(-1, 6)
    out = np.zeros_like(rows)
    direction = np.array(way)
    if points:
        some = [n for n in points if n < len(rows)]
        out[some, :2] = direction
        return out.reshape(-1)
    at = 0
    for contour in contours:
        count = len(contour.points)
        part = slice(at, at + count)
        if contour.closed:
            out[part, :2] = _given_way(rows[part, :2], direction)[:, None] * direction
        elif count == 2:
            # Its two inner points: the leaving handle of the first, the arriving one of the last.
            out[at, 4:6] = out[at + 1, 2:4] = HANDLES * direction
        elif count > 2:
            steps = np.hypot(*np.diff(rows[part, :2], axis=0).T)
            along = np.concatenate(([0.0], np.cumsum(steps)))
            shares = along / along[-1] if along[-1] > 0 else np.linspace(0, 1, count)
            weights = np.sin(np.pi * shares)
            weights[[0, -1]] = 0.0
            out[part, :2] = weights[:, None] * direction
        at += count
    return out.reshape(-1)


def _given_way(spots: Floats, direction: Floats) -> Floats:
    """How much of the way the points of a closed contour go, (P,): all of it where the blow comes from."""
    facing = -spots @ direction
    low, high = float(facing.min()), float(facing.max())
    return (facing - low) / (high - low) if high > low else np.zeros(len(spots))


def held_open(contours: tuple[Contour, ...], row: Floats) -> Floats:
    """The same shape with handles on straight contours of two points, a third of the way in, so that they can bend."""
    rows = row.reshape(-1, 6).copy()
    at = 0
    for contour in contours:
        if not contour.closed and len(contour.points) == 2:
            across = rows[at + 1, :2] - rows[at, :2]
            if np.hypot(*rows[at, 4:6]) < NONE and np.hypot(*rows[at + 1, 2:4]) < NONE:
                rows[at, 4:6], rows[at + 1, 2:4] = across / 3, -across / 3
        at += len(contour.points)
    return rows.reshape(-1)
