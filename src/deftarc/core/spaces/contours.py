"""Contours of an outline as cubic spans, and back: what cutting, rounding and growing work on."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.spaces.outline import Outline


@dataclass(frozen=True, eq=False)
class Spans:
    """One contour: its spans as cubics (S, 4, 2), which of them are ``bent`` (S,), and whether it is ``closed``."""

    controls: Floats
    bent: "np.ndarray[tuple[int], np.dtype[np.bool_]]"
    closed: bool


def spans_of(outline: Outline) -> list[Spans]:
    """An outline's contours; one that is closed ends where it began, by a straight span where it has to. What has no
    length has no span.
    """
    out: list[Spans] = []
    rows: list[Floats] = []
    bent: list[bool] = []
    start = last = np.zeros(2)
    at = 0

    def line(to: Floats) -> None:
        rows.append(np.array([last, last + (to - last) / 3, to - (to - last) / 3, to]))
        bent.append(False)

    def done(closed: bool) -> None:
        if rows:
            out.append(Spans(np.array(rows), np.array(bent), closed))
        rows.clear()
        bent.clear()

    for verb in outline.verbs:
        if verb == "M":
            done(False)
            start = last = outline.points[at]
            at += 1
        elif verb == "L":
            if np.any(outline.points[at] != last):
                line(outline.points[at])
            last = outline.points[at]
            at += 1
        elif verb == "C":
            row = np.concatenate([last[None], outline.points[at : at + 3]])
            if np.any(row != last):
                rows.append(row)
                bent.append(True)
            last = outline.points[at + 2]
            at += 3
        else:
            if np.any(last != start):
                line(start)
            done(True)
            last = start
    done(False)
    return out


def outline_of_spans(contours: Iterable[Spans]) -> Outline:
    """The outline that has these contours."""
    verbs: list[str] = []
    points: list[Floats] = []
    for each in contours:
        verbs.append("M")
        points.append(each.controls[:1, 0])
        for row, curved in zip(each.controls, each.bent, strict=True):
            verbs.append("C" if curved else "L")
            points.append(row[1:] if curved else row[3:])
        if each.closed:
            verbs.append("Z")
    return Outline("".join(verbs), np.concatenate(points) if points else np.zeros((0, 2)))


def part_of_span(row: Floats, start: float, end: float) -> Floats:
    """A cubic (4, 2) between two of its parameters, by blossoming."""
    if start <= 0 and end >= 1:
        return row

    def blossom(a: float, b: float, c: float) -> Floats:
        first = row[:-1] + (row[1:] - row[:-1]) * a
        second = first[:-1] + (first[1:] - first[:-1]) * b
        return np.asarray(second[0] + (second[1] - second[0]) * c)

    return np.array([
        blossom(start, start, start), blossom(start, start, end), blossom(start, end, end), blossom(end, end, end),
    ])  # fmt: skip


__all__ = ["Spans", "outline_of_spans", "part_of_span", "spans_of"]
