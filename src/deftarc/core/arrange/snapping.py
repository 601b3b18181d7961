"""Snapping: to what a dragged box or a dragged moment is drawn, how far, and what to say of it."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

Axis = Literal["x", "y"]
#: left, top, right, bottom in scene px
Box = tuple[float, float, float, float]


@dataclass(frozen=True)
class Line:
    """A line across the picture that things snap to: at an x for ``x``, at a y for ``y``."""

    axis: Axis
    at: float
    what: str


@dataclass(frozen=True)
class Gap:
    """A measured way between two edges, from (x, y) along an axis."""

    axis: Axis
    start: float
    end: float
    across: float


@dataclass(frozen=True)
class SnappedBox:
    dx: float
    dy: float
    lines: tuple[Line, ...]
    gaps: tuple[Gap, ...]


def lines_of(box: Box, what: str) -> list[Line]:
    """The edges and middles of a box."""
    left, top, right, bottom = box
    return [
        Line("x", left, f"left of {what}"), Line("x", (left + right) / 2, f"middle of {what}"),
        Line("x", right, f"right of {what}"), Line("y", top, f"top of {what}"),
        Line("y", (top + bottom) / 2, f"middle of {what}"), Line("y", bottom, f"bottom of {what}"),
    ]  # fmt: skip


def grid_lines(box: Box, step: float) -> list[Line]:
    """The grid's lines nearest to a box's edges."""
    out = []
    for axis, places in (("x", (box[0], box[2])), ("y", (box[1], box[3]))):
        out += [Line("x" if axis == "x" else "y", round(place / step) * step, "grid") for place in places]
    return out


def snap_box(box: Box, lines: Iterable[Line], neighbours: Sequence[Box], tolerance: float) -> SnappedBox:
    """How far a box moves to meet the nearest line on each axis, within a tolerance in scene px.

    Gaps that would be alike on both sides count as lines for the middle. The lines told are those met, the gaps
    those to the nearest neighbours at where it then is.
    """
    known = list(lines) + _even_gaps(box, neighbours)
    met: list[Line] = []
    move = {"x": 0.0, "y": 0.0}
    for axis, (low, high) in (("x", (box[0], box[2])), ("y", (box[1], box[3]))):
        best: tuple[float, float, Line] | None = None
        for line in known:
            if line.axis != axis:
                continue
            for anchor in ((low + high) / 2,) if line.what == "even gaps" else (low, (low + high) / 2, high):
                off = line.at - anchor
                if abs(off) <= tolerance and (best is None or abs(off) < best[0] - 1e-9):
                    best = (abs(off), off, line)
        if best is not None:
            move[axis] = best[1]
            met.append(best[2])
    moved = (box[0] + move["x"], box[1] + move["y"], box[2] + move["x"], box[3] + move["y"])
    return SnappedBox(move["x"], move["y"], tuple(met), tuple(_gaps(moved, neighbours)))


def _sides(box: Box, neighbours: Sequence[Box], axis: int) -> tuple[Box | None, Box | None]:
    """The nearest neighbours before and after a box on an axis (0 or 1), of those beside it."""
    other = 1 - axis
    beside = [n for n in neighbours if n[other] < box[other + 2] and n[other + 2] > box[other]]
    before = max((n for n in beside if n[axis + 2] <= box[axis] + 1e-6), key=lambda n: n[axis + 2], default=None)
    after = min((n for n in beside if n[axis] >= box[axis + 2] - 1e-6), key=lambda n: n[axis], default=None)
    return before, after


def _even_gaps(box: Box, neighbours: Sequence[Box]) -> list[Line]:
    out = []
    for axis in (0, 1):
        before, after = _sides(box, neighbours, axis)
        if before is not None and after is not None:
            out.append(Line("x" if axis == 0 else "y", (before[axis + 2] + after[axis]) / 2, "even gaps"))
    return out


def _gaps(box: Box, neighbours: Sequence[Box]) -> list[Gap]:
    out = []
    for axis in (0, 1):
        other = 1 - axis
        for near, (start, end) in zip(_sides(box, neighbours, axis), ((0, 1), (1, 0)), strict=True):
            if near is None:
                continue
            across = (max(box[other], near[other]) + min(box[other + 2], near[other + 2])) / 2
            edges = (near[axis + 2], box[axis]) if start == 0 else (box[axis + 2], near[axis])
            if edges[1] - edges[0] > 0.5 and end is not None:
                out.append(Gap("x" if axis == 0 else "y", edges[0], edges[1], across))
    return out


@dataclass(frozen=True)
class SnappedTime:
    by: int
    at: int | None
    what: str


def snap_time(
    anchors: Sequence[int], by: float, targets: Iterable[tuple[int, str]], frame: int, tolerance: float
) -> SnappedTime:
    """A step in time for anchors (moments that are dragged, the one under the hand first), in whole flicks.

    The nearest target within the tolerance wins; else the first anchor lands on a whole frame.
    """
    known = list(targets)
    best: tuple[float, int, int, str] | None = None
    for rank, anchor in enumerate(anchors):
        for target, what in known:
            off = abs(anchor + by - target)
            if off <= tolerance and (best is None or (off, rank) < (best[0], best[1])):
                best = (off, rank, target, what)
    if best is not None:
        return SnappedTime(best[2] - anchors[best[1]], best[2], best[3])
    landed = round((anchors[0] + by) / frame) * frame
    return SnappedTime(landed - anchors[0], None, "frame")


def aligned(boxes: dict[str, Box], how: str, frame: Box | None) -> dict[str, tuple[float, float]]:
    """The step (dx, dy) of each box to line all up: left, centre, right, top, middle, bottom; or to stand at even
    gaps: across, down. They line up to ``frame``, or where that is None to what they take up together.
    """
    left, top = min(b[0] for b in boxes.values()), min(b[1] for b in boxes.values())
    right, bottom = max(b[2] for b in boxes.values()), max(b[3] for b in boxes.values())
    left, top, right, bottom = frame or (left, top, right, bottom)
    steps: dict[str, Callable[[Box], tuple[float, float]]] = {
        "left": lambda b: (left - b[0], 0.0),
        "centre": lambda b: ((left + right - b[0] - b[2]) / 2, 0.0),
        "right": lambda b: (right - b[2], 0.0),
        "top": lambda b: (0.0, top - b[1]),
        "middle": lambda b: (0.0, (top + bottom - b[1] - b[3]) / 2),
        "bottom": lambda b: (0.0, bottom - b[3]),
    }
    if how in steps:
        return {name: steps[how](box) for name, box in boxes.items()}
    axis = 0 if how == "across" else 1
    order = sorted(boxes, key=lambda name: boxes[name][axis] + boxes[name][axis + 2])
    if len(order) < 2 or (len(order) < 3 and frame is None):
        return dict.fromkeys(order, (0.0, 0.0))
    sizes = [boxes[name][axis + 2] - boxes[name][axis] for name in order]
    low, high = ((left, right), (top, bottom))[axis]
    # Against the frame there is a gap before the first and after the last, too.
    gaps = len(order) + 1 if frame else len(order) - 1
    gap = (high - low - sum(sizes)) / gaps
    at = low + (gap if frame else 0.0)
    out = {}
    for name, size in zip(order, sizes, strict=True):
        step = at - boxes[name][axis]
        out[name] = (step, 0.0) if axis == 0 else (0.0, step)
        at += size + gap
    return out
