"""Places along an outline by their share of its length, and which share lies nearest to a place."""

import numpy as np

from deftarc.core.spaces.arc import arc_table
from deftarc.core.spaces.contours import Spans, part_of_span, spans_of
from deftarc.core.spaces.outline import Outline

Spot = tuple[float, float]


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
            off, distance = _nearest(spans, to, best)
            if off < best:
                at = float(table.distance_at(np.array([int(distance)]), np.array([distance % 1.0]))[0])
                best, share = off, (before + at) / sum(lengths) if in_turn else at / lengths[n]
        before += lengths[n]
    return share


def _nearest(spans: Spans, to: Spot, within: float) -> tuple[float, float]:
    """How far the nearest place of a contour is, and where in its spans: where the way there stands square to it, a
    root of (B(u) − p) · B'(u), or at a span's ends. Only what may lie nearer than ``within`` is looked at: no span
    comes nearer than the box of its controls.
    """
    best = (within, 0.0)
    rows = spans.controls - np.array(to)
    beyond = np.maximum(np.maximum(rows.min(axis=1), -rows.max(axis=1)), 0.0)
    least = np.hypot(beyond[:, 0], beyond[:, 1])
    for k in map(int, np.argsort(least)):
        if least[k] >= best[0]:
            break
        p0, p1, p2, p3 = rows[k]
        powers = np.array([p0, 3 * (p1 - p0), 3 * (p0 - 2 * p1 + p2), p3 - 3 * p2 + 3 * p1 - p0])
        slopes = powers[1:] * np.array([[1], [2], [3]])
        square = np.convolve(powers[:, 0], slopes[:, 0]) + np.convolve(powers[:, 1], slopes[:, 1])
        with np.errstate(all="ignore"):
            found = np.roots(np.trim_zeros(square[::-1], "f")) if np.any(square) else np.empty(0)
        u = np.concatenate(([0.0, 1.0], np.clip(found.real[np.abs(found.imag) < 1e-6], 0.0, 1.0)))
        spots = powers[0] + u[:, None] * (powers[1] + u[:, None] * (powers[2] + u[:, None] * powers[3]))
        far = np.hypot(spots[:, 0], spots[:, 1])
        n = int(np.argmin(far))
        best = min(best, (float(far[n]), min(k + float(u[n]), len(spans.controls) - 1e-9)))
    return best


__all__ = ["place_at", "share_near"]
