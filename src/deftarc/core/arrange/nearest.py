"""Places along an outline by their share of its length, and which share lies nearest to a place."""

import numpy as np

from deftarc.core.spaces.arc import arc_table
from deftarc.core.spaces.contours import Spans, part_of_span, spans_of
from deftarc.core.spaces.outline import Outline

Spot = tuple[float, float]
#: Each span is looked at in so many places.
LOOKED_AT = 24


def place_at(outline: Outline, share: float, in_turn: bool, ends: bool) -> Spot | None:
    """Where a share of the length lies: of the longest contour, or of all in turn. A whole number of shares is a start,
    or an end with ``ends``.
    """
    contours = spans_of(outline)
    tables = [arc_table(each.controls, each.bent) for each in contours]
    lengths = [float(table.distance[-1]) for table in tables]
    if not sum(lengths):
        return None
    turn = np.floor(share)
    within = share - turn
    if ends and within == 0 and share > 0:
        within = 1.0
    which, distance = _longest(lengths), 0.0
    if in_turn:
        distance = within * sum(lengths)
        for which, length in enumerate(lengths):
            if distance <= length or which == len(lengths) - 1:
                break
            distance -= length
    else:
        distance = within * lengths[which]
    table, spans = tables[which], contours[which]
    span = int(np.clip(np.searchsorted(table.lengths, distance, side="right") - 1, 0, len(spans.controls) - 1))
    u = float(table.parameter(np.array([span]), np.array([distance]))[0])
    x, y = part_of_span(spans.controls[span], 0.0, u)[3] if u > 0 else spans.controls[span][0]
    return float(x), float(y)


def _longest(lengths: list[float]) -> int:
    return int(np.argmax(lengths))


def share_near(outline: Outline, to: Spot, in_turn: bool) -> float:
    """The share of the length, as ``place_at`` counts it, whose place lies nearest."""
    contours = spans_of(outline)
    tables = [arc_table(each.controls, each.bent) for each in contours]
    lengths = [float(table.distance[-1]) for table in tables]
    best, share, before = np.inf, 0.0, 0.0
    longest = _longest(lengths)
    for n, (spans, table) in enumerate(zip(contours, tables, strict=True)):
        if in_turn or n == longest:
            off, distance = _nearest(spans, to)
            at = float(table.distance_at(np.array([int(distance)]), np.array([distance % 1.0]))[0])
            if off < best:
                best, share = off, (before + at) / sum(lengths) if in_turn else at / lengths[n]
        before += lengths[n]
    return share


def _nearest(spans: Spans, to: Spot) -> tuple[float, float]:
    """How far the nearest place of a contour is, and where in its spans: by even steps, then finer."""
    spot = np.array(to)

    def off(u: "np.ndarray[tuple[int], np.dtype[np.float64]]") -> "np.ndarray[tuple[int], np.dtype[np.float64]]":
        k = np.clip(u.astype(int), 0, len(spans.controls) - 1)
        w = (u - k)[:, None]
        v = 1 - w
        p = spans.controls[k]
        at = v**3 * p[:, 0] + 3 * v * v * w * p[:, 1] + 3 * v * w * w * p[:, 2] + w**3 * p[:, 3]
        return np.asarray(np.hypot(*(at - spot).T))

    count = len(spans.controls)
    places = np.linspace(0, count, count * LOOKED_AT + 1)
    step = places[1]
    for _ in range(4):
        k = int(np.argmin(off(places)))
        centre = places[k]
        places = np.clip(np.linspace(centre - step, centre + step, 2 * LOOKED_AT + 1), 0, count - 1e-9)
        step /= LOOKED_AT
    k = int(np.argmin(off(places)))
    return float(off(places)[k]), float(places[k])


__all__ = ["place_at", "share_near"]
