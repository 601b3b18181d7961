"""Corners of an outline made round: each cut off on both sides and joined by a curve.

Between two straight sides it is the circle of the radius that touches both, as near as a cubic comes. Curved sides are
cut off as far as straight ones with their directions there would be. No side gives more than half of itself.
"""

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.spaces.arc import arc_table
from deftarc.core.spaces.contours import Spans, outline_of_spans, part_of_span, spans_of
from deftarc.core.spaces.outline import Outline

#: A turn smaller than this, in radians, is no corner.
SMOOTH = 1e-3


def rounded(outline: Outline, radius: float) -> Outline:
    """The outline with its corners rounded by a radius in px."""
    if radius <= 0:
        return outline
    return outline_of_spans([_rounded(each, radius) for each in spans_of(outline)])


def _rounded(contour: Spans, radius: float) -> Spans:
    rows, count = contour.controls, len(contour.controls)
    begins = np.array([_direction(row, 0) for row in rows])
    ends = np.array([_direction(row, 1) for row in rows])
    # The corner after each span; of an open contour the last has none.
    after = np.roll(begins, -1, axis=0)
    turn = np.abs(np.arctan2(ends[:, 0] * after[:, 1] - ends[:, 1] * after[:, 0], (ends * after).sum(axis=1)))
    corner = turn > SMOOTH
    if not contour.closed:
        corner[-1] = False
    table = arc_table(rows, contour.bent)
    length = np.diff(table.lengths)
    # Where it turns right back the circle would lie at infinity.
    wish = radius * np.tan(np.minimum(turn, np.pi - 1e-3) / 2)
    room = np.minimum(length, np.roll(length, -1)) / 2
    cut = np.where(corner, np.minimum(wish, room), 0.0)
    before = np.roll(cut, 1)
    starts = table.lengths[:-1]
    every = np.arange(count)
    low, high = table.parameter(every, starts + before), table.parameter(every, starts + length - cut)
    out: list[Floats] = []
    bent: list[bool] = []
    parts = [part_of_span(rows[k], float(low[k]), float(high[k])) for k in range(count)]
    for k in range(count):
        if high[k] > low[k]:
            out.append(parts[k])
            bent.append(bool(contour.bent[k]))
        if cut[k] <= 0:
            continue
        here, there = parts[k][3], parts[(k + 1) % count][0]
        out.append(_arc(here, ends[k], there, after[k], float(cut[k]), float(turn[k])))
        bent.append(True)
    return Spans(np.array(out), np.array(bent), contour.closed)


def _direction(row: Floats, end: int) -> Floats:
    """The way a cubic goes at its start (0) or end (1), of length 1."""
    for k in (1, 2, 3):
        step = row[k] - row[0] if end == 0 else row[3] - row[3 - k]
        size = float(np.hypot(*step))
        if size > 1e-12:
            return np.asarray(step / size)
    return np.array([1.0, 0.0])


def _arc(here: Floats, way: Floats, there: Floats, on: Floats, cut: float, turn: float) -> Floats:
    """A cubic from a side's cut end to the next one's: of a circle where both are as far from the corner."""
    reach = cut / np.tan(turn / 2) if turn < np.pi - 1e-3 else cut
    handle = min(reach * 4 / 3 * np.tan(turn / 4), cut)
    return np.array([here, here + way * handle, there - on * handle, there])


__all__ = ["rounded"]
