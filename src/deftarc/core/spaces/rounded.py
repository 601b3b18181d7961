"""Corners of an outline made round: each cut off on both sides and joined by a curve.

Between two straight sides it is the circle of the radius that touches both, as near as a cubic comes. Curved sides are
cut off as far as straight ones with their directions there would be. No side gives more than half of itself.
"""

from dataclasses import replace

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.spaces.arc import arc_table
from deftarc.core.spaces.contours import Spans, outline_of_spans, parts_of_spans, spans_of
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.outlines import Outlines, alike_over_time

#: A turn smaller than this, in radians, is no corner.
SMOOTH = 1e-3
#: Of a side's length: less than that is not left of it between two corners.
NOTHING = 1e-9


class Corners:
    """An outline and its corners, to be rounded by one radius after another."""

    def __init__(self, outline: Outline) -> None:
        contours = spans_of(outline)
        counts = np.array([len(each.controls) for each in contours], np.int64)
        #: Of each contour, whether it is closed.
        self.closed = [each.closed for each in contours]
        # Which contour each span is of.
        self._contour = np.repeat(np.arange(len(contours)), counts)
        ends = np.cumsum(counts)
        self._rows = np.concatenate([each.controls for each in contours]) if contours else np.zeros((0, 4, 2))
        self._bent = np.concatenate([each.bent for each in contours]) if contours else np.zeros(0, bool)
        every = np.arange(len(self._rows))
        # The span after each, and the one before.
        self._next, self._before = every + 1, every - 1
        self._next[ends - 1], self._before[ends - counts] = ends - counts, ends - 1
        self._way_in, self._way_out = _directions(self._rows)
        after = self._way_in[self._next]
        way = self._way_out
        self._turn = np.abs(np.arctan2(way[:, 0] * after[:, 1] - way[:, 1] * after[:, 0], (way * after).sum(axis=1)))
        self._corner = self._turn > SMOOTH
        # Of an open contour the last span has none after it.
        self._corner[[end - 1 for end, closed in zip(ends, self.closed, strict=True) if not closed]] = False
        self._table = arc_table(self._rows, self._bent)
        self._length = np.diff(self._table.lengths)
        self._room = np.minimum(self._length, self._length[self._next]) / 2

    def rounded(self, radius: Floats) -> list[Spans]:
        """Its contours with their corners rounded by a radius each, (C,)."""
        # Where it turns right back the circle would lie at infinity.
        wish = radius[self._contour] * np.tan(np.minimum(self._turn, np.pi - 1e-3) / 2)
        cut = np.where(self._corner, np.minimum(wish, self._room), 0.0)
        every, starts = np.arange(len(cut)), self._table.lengths[:-1]
        low = self._table.parameter(every, starts + cut[self._before])
        high = self._table.parameter(every, starts + self._length - cut)
        parts = parts_of_spans(self._rows, low, high)
        here, there = parts[:, 3], parts[self._next, 0]
        arcs = _arcs(here, self._way_out, there, self._way_in[self._next], cut, self._turn)
        # Each span's rest, where there is one, and the curve after it.
        left = self._length - cut - cut[self._before] > NOTHING * self._length
        made, told = np.stack([parts, arcs], axis=1), np.stack([left, cut > 0], axis=1)
        bent = np.stack([self._bent, np.ones_like(self._bent)], axis=1)
        which = np.repeat(self._contour[:, None], 2, axis=1)[told]
        rows, bent = made[told], bent[told]
        out = []
        for c, closed in enumerate(self.closed):
            mine = slice(*np.searchsorted(which, (c, c + 1)))
            out.append(Spans(rows[mine], bent[mine], closed))
        return out


def rounded(outline: Outline, radius: float) -> Outline:
    """The outline with its corners rounded by a radius in px."""
    if radius <= 0:
        return outline
    corners = Corners(outline)
    return outline_of_spans(corners.rounded(np.full(len(corners.closed), radius)))


def rounded_over_time(outlines: Outlines, radius: Floats) -> Outlines:
    """Outlines over time with their corners rounded by radii over time, (F or 1,)."""
    alike = alike_over_time(outlines)
    corners = Corners(outlines.at(0)) if alike is not None else None
    made: dict[tuple[int, float], Outline] = {}
    rows = []
    for k in range(max(outlines.rows, len(radius))):
        at, far = min(k, outlines.rows - 1), float(radius[min(k, len(radius) - 1)])
        if (at, far) not in made:
            now = outlines.at(at)
            if far > 0 and corners is not None and alike is not None:
                size, first = alike.sizes[at], alike.firsts
                moved = [
                    replace(each, controls=(each.controls - first[0, c]) * size[c] + first[at, c])
                    for c, each in enumerate(corners.rounded(far / size))
                ]
                now = outline_of_spans(moved)
            elif far > 0:
                now = rounded(now, far)
            made[at, far] = now
        rows.append(made[at, far])
    return Outlines.each(rows)


def _directions(rows: Floats) -> tuple[Floats, Floats]:
    """The ways cubics (S, 4, 2) go at their starts and at their ends, of length 1."""
    out = []
    for steps in (rows[:, 1:] - rows[:, :1], rows[:, 3:] - rows[:, 2::-1]):
        size = np.hypot(steps[..., 0], steps[..., 1])
        # The first that has a length; where none has, it is told as going right.
        first = np.argmax(size > 1e-12, axis=1)
        row = np.arange(len(rows))
        with np.errstate(divide="ignore", invalid="ignore"):
            way = steps[row, first] / size[row, first][:, None]
        out.append(np.where(np.any(size > 1e-12, axis=1, keepdims=True), way, (1.0, 0.0)))
    return out[0], out[1]


def _arcs(here: Floats, way: Floats, there: Floats, on: Floats, cut: Floats, turn: Floats) -> Floats:
    """Cubics from sides' cut ends to the next ones': of circles where both are as far from the corner."""
    with np.errstate(divide="ignore", invalid="ignore"):
        reach = np.where(turn < np.pi - 1e-3, cut / np.tan(turn / 2), cut)
    handle = np.minimum(np.nan_to_num(reach) * 4 / 3 * np.tan(turn / 4), cut)[:, None]
    return np.stack([here, here + way * handle, there - on * handle, there], axis=1)


__all__ = ["Corners", "rounded", "rounded_over_time"]
