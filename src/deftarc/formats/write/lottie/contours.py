"""Outlines as Lottie has them: contours of vertices, each with a handle it is come to by and one it is left by."""

import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.plain.pieces import Forms
from deftarc.core.spaces.outline import NEEDS
from deftarc.core.spaces.outlines import Outlines
from deftarc.formats.write.lottie.keys import Count, row, still

_CONTOUR = re.compile("M[LC]*Z?|[LC]+Z?")
#: Where a contour is that is not there: beyond whatever is seen.
FAR = -99_999.0


@dataclass(frozen=True, eq=False)
class Contour:
    """One contour at K moments: its vertices (K, n, 2), and from each of them its two handles."""

    spots: Floats
    come: Floats
    left: Floats
    closed: bool

    def bezier(self, k: int) -> dict[str, Any]:
        parts = ([row(spot) for spot in rows[k]] for rows in (self.spots, self.come, self.left))
        return dict(zip(("v", "i", "o"), parts, strict=True)) | {"c": self.closed}

    def through(self, matrix: Floats) -> "Contour":
        turn = matrix[:2, :2].T
        return replace(
            self, spots=self.spots @ turn + matrix[:2, 2], come=self.come @ turn, left=self.left @ turn
        )  # fmt: skip


def _contour(parts: list[Floats], closed: bool) -> Contour:
    spots, come, left = parts
    return Contour(spots, come, left, closed)


def contours_of(verbs: str, points: Floats) -> list[Contour]:
    """Of points (K, P, 2), whose verbs stay the same."""
    out: list[Contour] = []
    at = 0
    start = points[:, :1]
    for told in _CONTOUR.findall(verbs):
        drawn = told[1:] if told[0] == "M" else told
        if told[0] == "M":
            start = points[:, at : at + 1]
            at += 1
        spots, come, left = [start], [np.zeros_like(start)], [np.zeros_like(start)]
        for verb in drawn.rstrip("Z"):
            these = points[:, at : at + NEEDS[verb]]
            at += NEEDS[verb]
            bent = verb == "C"
            if bent:
                left[-1] = these[:, :1] - spots[-1]
            come.append(these[:, 1:2] - these[:, 2:3] if bent else np.zeros_like(start))
            spots.append(these[:, -1:])
            left.append(np.zeros_like(start))
        closed = drawn.endswith("Z")
        if closed and len(spots) > 1 and np.abs(spots[-1] - spots[0]).max() < 1e-6:
            come[0] = come.pop()
            spots.pop()
            left.pop()
        out.append(_contour([np.concatenate(each, axis=1) for each in (spots, come, left)], closed))
    return out


def contours_over(outlines: Outlines) -> list[Contour]:
    """Of outlines whose verbs change: as many contours of as many vertices at each moment, what is too many for one of
    them lying on the same curve, or far off.
    """
    moments = []
    for k in range(outlines.rows):
        outline = outlines.at(k)
        moments.append(contours_of(outline.verbs, outline.points[None]))
    out = []
    for c in range(max(map(len, moments), default=0)):
        mine = [each[c] if c < len(each) else None for each in moments]
        known = [each for each in mine if each is not None]
        closed = all(each.closed for each in known)
        known = [each if each.closed == closed else _opened(each) for each in known]
        count = max(each.spots.shape[1] for each in known)
        rest = iter(known)
        even = [_gone(count, closed) if each is None else _with(next(rest), count) for each in mine]
        parts = [np.concatenate([getattr(each, name) for each in even]) for name in ("spots", "come", "left")]
        out.append(_contour(parts, closed))
    return out


def _opened(contour: Contour) -> Contour:
    """A closed contour as an open one that comes back to where it began."""
    zero = np.zeros_like(contour.come[:, :1])
    return Contour(
        np.concatenate([contour.spots, contour.spots[:, :1]], axis=1),
        np.concatenate([zero, contour.come[:, 1:], contour.come[:, :1]], axis=1),
        np.concatenate([contour.left, zero], axis=1), False,
    )  # fmt: skip


def _gone(count: int, closed: bool) -> Contour:
    return Contour(np.full((1, count, 2), FAR), np.zeros((1, count, 2)), np.zeros((1, count, 2)), closed)


def _with(contour: Contour, count: int) -> Contour:
    """A contour of one moment with so many vertices, more of them on its longest spans."""
    spots, come, left = (list(rows[0]) for rows in (contour.spots, contour.come, contour.left))
    while len(spots) < count:
        spans = len(spots) if contour.closed else len(spots) - 1
        if not spans:
            spots.append(spots[0])
            come.append(come[0])
            left.append(left[0])
            continue
        k = max(range(spans), key=lambda n: float(np.hypot(*(spots[(n + 1) % len(spots)] - spots[n]))))
        n = (k + 1) % len(spots)
        p = (spots[k], spots[k] + left[k], spots[n] + come[n], spots[n])
        a, b, c = ((p[j] + p[j + 1]) / 2 for j in range(3))
        d, e = (a + b) / 2, (b + c) / 2
        middle = (d + e) / 2
        left[k], come[n] = a - p[0], c - p[3]
        spots.insert(k + 1, middle)
        come.insert(k + 1, d - middle)
        left.insert(k + 1, e - middle)
    return _contour([np.array(each)[None] for each in (spots, come, left)], contour.closed)


def paths_of(form: Forms, count: Count, matrix: Floats | None = None) -> list[dict[str, Any]]:
    """An outline as path items, one for each contour."""
    if form.each is None:
        found = contours_of(form.verbs, form.lane.rows.reshape(len(form.lane.rows), -1, 2))
    else:
        found = contours_over(form.each)
    if matrix is not None:
        found = [each.through(matrix) for each in found]
    return [{"ty": "sh", "ks": _path(form, each, count)} for each in found]


def _path(form: Forms, contour: Contour, count: Count) -> dict[str, Any]:
    if not form.lane.moves:
        return still(contour.bezier(0))  # type: ignore[arg-type]
    numbered = replace(form.lane, rows=np.arange(len(form.lane.rows), dtype=np.float64)[:, None])
    lane = numbered.part(count.start, count.end)
    whole = np.all(lane.rows == np.round(lane.rows))
    said: Callable[[Floats], Any] = lambda r: [contour.bezier(int(r[0]))]  # noqa: E731
    if not whole:
        # Cut between two keys: what it is there.
        said = lambda r: [_between(contour, float(r[0]))]  # noqa: E731
    return count.said(lane, said)


def _between(contour: Contour, place: float) -> dict[str, Any]:
    k = min(int(place), len(contour.spots) - 2)
    share = place - k
    parts = [rows[k] + (rows[k + 1] - rows[k]) * share for rows in (contour.spots, contour.come, contour.left)]
    return _contour([each[None] for each in parts], contour.closed).bezier(0)


__all__ = ["Contour", "contours_of", "contours_over", "paths_of"]
