"""Arcs found again among cubics, so that what is round is drawn round.

Outlines keep circles and ellipses as cubics, which are off by 0.027 % of the radius, and painters take any cubic in
few straight steps. A cubic that is just what stands for an arc is drawn as that arc: exact, and as an SVG viewer
draws the file it came from.
"""

from functools import lru_cache

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.spaces.outline import Outline

#: Where a quarter turn's handles end, as a share of the way to where its ends' tangents meet: (4/3)·tan(π/8).
QUARTER = 4 / 3 * (np.sqrt(2) - 1)
#: Numbers of outlines are told to eight digits: by so much of the largest each may be off.
TOLD = 1e-8
#: Turns smaller than this, in radians, are as good as straight, and larger ones than this are no single cubic's.
LEAST, MOST = 0.02, np.pi / 2 + 0.01

#: A letter of SVG path data, M, L, C, Z or A, and its numbers; an arc's are rx, ry, degrees, large, sweep, x, y.
Command = tuple[str, tuple[float, ...]]


def commands(outline: Outline) -> list[Command]:
    """An outline as path commands, with its arcs as arcs."""
    at = np.cumsum([0, *({"M": 1, "L": 1, "C": 3, "Z": 0}[verb] for verb in outline.verbs)])
    curves = [k for k, verb in enumerate(outline.verbs) if verb == "C"]
    arcs: dict[int, Command | None] = {}
    if curves:
        first = at[curves][:, None] + np.arange(-1, 3)
        arcs = dict(zip(curves, _arcs(outline.points[first]), strict=True))
    out: list[Command] = []
    for k, verb in enumerate(outline.verbs):
        told = tuple(outline.points[at[k] : at[k + 1]].reshape(-1).tolist())
        out.append(arcs.get(k) or (verb, told))
    return out


def _arcs(rows: Floats) -> list[Command | None]:
    """What each of some cubics (n, 4, 2) is as an arc; None where it is none."""
    start, end = rows[:, 0], rows[:, 3]
    a, b, chord = rows[:, 1] - start, rows[:, 2] - end, end - start
    cross = _cross(a, b)
    size, other = np.hypot(*a.T), np.hypot(*b.T)
    # What has next to no size has no bound to its slack, and is no arc.
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        # The tangents meet at start + a / share, which is end + b / share of the other side.
        share, second = cross / _cross(chord, b), cross / _cross(chord, a)
        turn = np.arctan2(-cross, -(a * b).sum(axis=1))
        # Where the tangents meet is the less sure the less they turn.
        slack = (8 * TOLD * np.abs(rows).max(axis=(1, 2)) / np.minimum(size, other) + 1e-9) / np.abs(np.sin(turn))
        half = np.abs(turn) / 2
        due = 4 / 3 * np.tan(half / 2) / np.tan(half)
        alike = (np.abs(share - second) <= slack) & (np.abs(size - other) <= slack * size)
        circle = alike & (np.abs(share - due) <= slack) & (half > LEAST / 2) & (half < MOST / 2)
        quarter = (np.abs(share - QUARTER) <= slack) & (np.abs(second - QUARTER) <= slack)
    out: list[Command | None] = [None] * len(rows)
    for k in np.flatnonzero((circle | quarter) & (slack < 1e-3)).tolist():
        way = 1.0 if -cross[k] > 0 else 0.0
        if circle[k]:
            radius = float(size[k] / (4 / 3 * np.tan(half[k] / 2)))
            shape = (radius, radius, 0.0)
        else:
            # Half diameters that belong together: from the middle to both ends.
            shape = _ellipse(b[k] / QUARTER, a[k] / QUARTER)
        out[k] = ("A", (*shape, 0.0, way, float(end[k, 0]), float(end[k, 1])))
    return out


def _cross(one: Floats, other: Floats) -> Floats:
    return np.asarray(one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0])


def _ellipse(one: Floats, other: Floats) -> tuple[float, float, float]:
    """Radii, and degrees of the first, of the ellipse with two conjugate half diameters."""
    axes, (wide, high), _ = np.linalg.svd(np.stack([one, other], axis=1))
    return float(wide), float(high), float(np.degrees(np.arctan2(axes[1, 0], axes[0, 0])))


@lru_cache(maxsize=512)
def drawn_data(data: str) -> str:
    """An outline's data for a painter that knows arcs, as SVG path data."""
    return "".join(letter + " ".join(_written(numbers)) for letter, numbers in commands(Outline.parse(data)))


def _written(numbers: tuple[float, ...]) -> list[str]:
    # A flag is one figure: whoever reads “1.0” there has read too much.
    return [str(int(n)) if n in (0.0, 1.0) else repr(n) for n in numbers]
