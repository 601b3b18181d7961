"""A part of an outline, by its length: what is drawn of it from one share to another.

Shares are of each contour's own length, or of all of them in turn. A closed contour goes on over its start, as one
line; an open one that is moved on past its end goes on at its start, as another. Where to cut is told in spans: k + u
is the place at the parameter u of a contour's span k; a part whose end lies past the last span goes on at the first.
"""

import math

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.spaces.arc import arc_table
from deftarc.core.spaces.contours import Spans, outline_of_spans, part_of_span, spans_of
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.outlines import Outlines, alike_over_time

#: Of a contour's length: what is shorter is nothing, and what is missing less than that is whole.
NOTHING = 1e-9


class Measured:
    """An outline with its lengths."""

    def __init__(self, outline: Outline) -> None:
        self.contours = spans_of(outline)
        self._tables = [arc_table(each.controls, each.bent) for each in self.contours]
        self.lengths = np.array([float(table.distance[-1]) for table in self._tables])

    def cuts(
        self, start: Floats, end: Floats, shift: Floats, in_turn: bool = False, sizes: Floats | None = None
    ) -> Floats:
        """Where each contour's part begins and ends (F, C, 2), in spans, for shares (F,) of its length, moved on by a
        share, of each contour or of all ``in_turn``. Start and end may be told either way round; a part that begins
        where it ends is nothing. ``sizes`` (F, C) tells by how much each contour is larger at each moment.
        """
        more = np.ones((1, len(self.contours))) if sizes is None else sizes
        low, high, shift, _ = np.broadcast_arrays(
            np.minimum(start, end), np.maximum(start, end), shift, np.zeros(len(more))
        )
        out = np.zeros((len(low), len(self.contours), 2))
        lengths = self.lengths * more
        total = lengths.sum(axis=1)
        at = np.zeros(len(more))
        for c in range(len(self.contours)):
            length, count = lengths[:, c], len(self.contours[c].controls)
            whole = high - low >= 1 - NOTHING
            if not in_turn:
                turn = np.floor(low + shift)
                first, last = (low + shift - turn) * length, (high + shift - turn) * length
            else:
                turn = np.floor(low + shift)
                begin, stop = (low + shift - turn) * total - at, (high + shift - turn) * total - at
                first, last = self._within(begin, stop, total, length)
                at = at + length
            nothing = (last - first <= NOTHING * np.maximum(length, 1e-300)) & ~whole
            # All of it, without being all of the outline: where others are drawn in turn.
            full = whole | ((last - first) >= length * (1 - NOTHING))
            out[:, c, 0] = self._places(c, self._at_first(c, first, length), False)
            out[:, c, 1] = self._places(c, self._at_first(c, last, length), True)
            out[nothing, c] = 0.0
            out[full & ~nothing, c] = 0.0, float(count)
        return out

    def places(self, share: Floats) -> Floats:
        """Where shares (n,) of the length of all contours in turn lie, (n, 2)."""
        ends = np.cumsum(self.lengths)
        distance = np.clip(share, 0, 1) * ends[-1]
        which = np.minimum(np.searchsorted(ends, distance, side="right"), len(ends) - 1)
        out = np.zeros((len(share), 2))
        for c, table in enumerate(self._tables):
            mine = which == c
            if not mine.any():
                continue
            along = distance[mine] - (ends[c] - self.lengths[c])
            last = len(self.contours[c].controls) - 1
            span = np.clip(np.searchsorted(table.lengths, along, side="right") - 1, 0, last)
            u = table.parameter(span, along)[:, None]
            p, v = self.contours[c].controls[span], 1 - u
            out[mine] = v**3 * p[:, 0] + 3 * v * v * u * p[:, 1] + 3 * v * u * u * p[:, 2] + u**3 * p[:, 3]
        return out

    @staticmethod
    def _within(begin: Floats, stop: Floats, total: Floats, length: Floats) -> tuple[Floats, Floats]:
        """What of a contour lies in a stretch of the way through all of them, which may go on at its start: the part
        may end past its length, and is then its end and its start.
        """
        first, last = np.clip(begin, 0, length), np.clip(stop, 0, length)
        again = np.clip(stop - total, 0, length)
        both = (again > 0) & (last > first)
        only = (again > 0) & ~both
        return np.where(only, 0.0, first), np.where(only, again, np.where(both, last + again, last))

    def _at_first(self, c: int, distance: Floats, length: Floats) -> Floats:
        """Distances along a contour that is ``length`` long by now, as it was measured; its end is its end."""
        measured = self.lengths[c]
        if np.all(length == measured):
            return distance
        with np.errstate(divide="ignore", invalid="ignore"):
            return np.nan_to_num(np.where(length == measured, distance, distance / length * measured))

    def _places(self, c: int, distance: Floats, ends: bool) -> Floats:
        """Distances along a contour, also past its length, as places in its spans."""
        table, length = self._tables[c], self.lengths[c]
        count = len(self.contours[c].controls)
        if length <= 0:
            return np.zeros(len(distance))
        turns = np.floor(distance / length)
        if ends:
            # At its very end it is still in this turn.
            turns = np.where((distance > 0) & (distance == turns * length), turns - 1, turns)
        within = distance - turns * length
        span = np.clip(np.searchsorted(table.lengths, within, side="left" if ends else "right") - 1, 0, count - 1)
        return np.asarray(turns * count + span + table.parameter(span, within))


def cuts_over_time(outlines: Outlines, start: Floats, end: Floats, shift: Floats, in_turn: bool) -> Floats:
    """Where the drawn part of each contour begins and ends while the outline changes, (F, 2 · C); of one whose verbs
    change as many contours as it has at most. The others: see ``Measured.cuts``.
    """
    if outlines.rows == 1:
        cuts = Measured(outlines.at(0)).cuts(start, end, shift, in_turn)
        return cuts.reshape(len(cuts), -1)
    alike = alike_over_time(outlines)
    if alike is not None:
        cuts = Measured(outlines.at(0)).cuts(start, end, shift, in_turn, alike.sizes)
        return cuts.reshape(len(cuts), -1)

    def one(row: Floats, k: int) -> Floats:
        return row[min(k, len(row) - 1)][None]

    each = [
        Measured(outlines.at(k)).cuts(one(start, k), one(end, k), one(shift, k), in_turn)[0].ravel()
        for k in range(outlines.rows)
    ]
    wide = max(len(row) for row in each)
    return np.array([np.pad(row, (0, wide - len(row))) for row in each])


def drawn_part(outline: Outline, cuts: Floats) -> Outline:
    """What of an outline lies between the cuts (C, 2) of its contours."""
    out: list[Spans] = []
    for contour, (start, end) in zip(spans_of(outline), cuts, strict=True):
        count = len(contour.controls)
        if end <= start:
            continue
        if end - start >= count:
            out.append(contour)
            continue
        if end <= count:
            out.append(_piece(contour, start, end))
            continue
        after, before = _piece(contour, start, count), _piece(contour, 0.0, end - count)
        if contour.closed:
            rows = np.concatenate([after.controls, before.controls])
            out.append(Spans(rows, np.concatenate([after.bent, before.bent]), False))
        else:
            out += [after, before]
    return outline_of_spans(out)


def _piece(contour: Spans, start: float, end: float) -> Spans:
    """The spans between two places, the first and the last cut there."""
    first, last = math.floor(start), math.ceil(end) - 1
    first = min(first, last)
    rows = contour.controls[first : last + 1].copy()
    if first == last:
        rows[0] = part_of_span(rows[0], start - first, end - first)
    else:
        rows[0] = part_of_span(rows[0], start - first, 1.0)
        rows[-1] = part_of_span(rows[-1], 0.0, end - last)
    return Spans(rows, contour.bent[first : last + 1], False)


__all__ = ["Measured", "cuts_over_time", "drawn_part"]
