"""Contours of an outline as cubic spans, and back: what cutting, rounding and growing work on."""

import re
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.spaces.outline import NEEDS, Outline


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
    at = 0
    start = np.zeros(2)
    for verbs in _CONTOUR.findall(outline.verbs):
        count = sum(map(NEEDS.__getitem__, verbs))
        points = outline.points[at : at + count]
        at += count
        if _STRAIGHT.fullmatch(verbs):
            out += _straight(points, verbs.endswith("Z"))
        else:
            out += _of_contour(verbs, points, start)
        start = points[0] if verbs[0] == "M" else start
    return out


#: A contour's verbs: up to the next one's beginning, or to where it is closed. A straight one has no curve.
_CONTOUR = re.compile("M[LC]*Z?|[LC]+Z?|Z")
_STRAIGHT = re.compile("ML*Z?")


def _straight(points: Floats, closed: bool) -> list[Spans]:
    if closed:
        points = np.concatenate([points, points[:1]])
    points = points[np.concatenate([[True], np.any(points[1:] != points[:-1], axis=1)])]
    if len(points) < 2:
        return []
    here, there = points[:-1], points[1:]
    third = (there - here) / 3
    return [Spans(np.stack([here, here + third, there - third, there], axis=1), np.zeros(len(here), bool), closed)]


def _of_contour(verbs: str, points: Floats, before: Floats) -> list[Spans]:
    """A contour of any verbs; one that goes on from where another was closed begins at that one's start, ``before``."""
    out: list[Spans] = []
    rows: list[Floats] = []
    bent: list[bool] = []
    start = last = before
    at = 0

    def line(to: Floats) -> None:
        rows.append(np.array([last, last + (to - last) / 3, to - (to - last) / 3, to]))
        bent.append(False)

    def done(closed: bool) -> None:
        if rows:
            out.append(Spans(np.array(rows), np.array(bent), closed))
        rows.clear()
        bent.clear()

    for verb in verbs:
        if verb == "M":
            start = last = points[at]
            at += 1
        elif verb == "L":
            if np.any(points[at] != last):
                line(points[at])
            last = points[at]
            at += 1
        elif verb == "C":
            row = np.concatenate([last[None], points[at : at + 3]])
            if np.any(row != last):
                rows.append(row)
                bent.append(True)
            last = points[at + 2]
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
        verbs.append("M" + "".join("C" if curved else "L" for curved in each.bent.tolist()) + "Z" * each.closed)
        points.append(each.controls[:1, 0])
        # Of a line only its end is told.
        told = np.ones((len(each.controls), 3), bool)
        told[~each.bent, :2] = False
        points.append(each.controls[:, 1:][told])
    return Outline("".join(verbs), np.concatenate(points) if points else np.zeros((0, 2)))


def parts_of_spans(rows: Floats, start: Floats, end: Floats) -> Floats:
    """Cubics (S, 4, 2) between two of their parameters each, (S,), by blossoming."""

    def blossom(a: Floats, b: Floats, c: Floats) -> Floats:
        first = rows[:, :-1] + (rows[:, 1:] - rows[:, :-1]) * a[:, None, None]
        second = first[:, :-1] + (first[:, 1:] - first[:, :-1]) * b[:, None, None]
        return np.asarray(second[:, 0] + (second[:, 1] - second[:, 0]) * c[:, None])

    made = np.stack([
        blossom(start, start, start), blossom(start, start, end), blossom(start, end, end), blossom(end, end, end),
    ], axis=1)  # fmt: skip
    return np.where(((start <= 0) & (end >= 1))[:, None, None], rows, made)


def part_of_span(row: Floats, start: float, end: float) -> Floats:
    """A cubic (4, 2) between two of its parameters, by blossoming."""
    return np.asarray(parts_of_spans(row[None], np.array([start]), np.array([end]))[0])


__all__ = ["Spans", "outline_of_spans", "part_of_span", "parts_of_spans", "spans_of"]
