"""Levels as nested groups: each with as much of a layer's transform as one element can say."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.matrices import compose
from deftarc.core.plain.lanes import Lane
from deftarc.core.plain.levels import Level
from deftarc.formats.write.svg.clock import Clock, Said, by_frames
from deftarc.formats.write.svg.numbers import fine, matrix_text, path_data, row, short


@dataclass
class Around:
    """An element around others: its attributes, its style, its animations, and what of SMIL stands in it."""

    attributes: str = ""
    style: list[str] = field(default_factory=list)
    animations: list[str] = field(default_factory=list)
    inside: str = ""

    def opened(self, tag: str = "g") -> str:
        told = list(self.style)
        if self.animations:
            told.append(f"animation:{','.join(self.animations)}")
        style = f' style="{";".join(told)}"' if told else ""
        return f"<{tag}{self.attributes}{style}>{self.inside}"

    @property
    def empty(self) -> bool:
        return not (self.attributes or self.style or self.animations or self.inside)


def around(levels: Sequence[Level], clock: Clock, smil: bool) -> list[Around]:
    """What stands around something that levels move, from the outside in; those that never move as one matrix."""
    out: list[Around] = []
    still: Floats | None = None
    for level in levels:
        if not any(lane.moves for lane in level.lanes) and level.travel is None:
            matrix = still_matrix(level)
            still = matrix if still is None else still @ matrix
            continue
        if still is not None:
            out += _still(still)
            still = None
        out += _smil_level(level, clock) if smil else _css_level(level, clock)
    return out + (_still(still) if still is not None else [])


def still_matrix(level: Level) -> Floats:
    return compose(
        level.position.rows[:1], level.rotation.rows[:1, 0], level.scale.rows[:1], level.skew.rows[:1],
        level.pivot.rows[:1],
    )[0]  # fmt: skip


def _still(matrix: Floats) -> list[Around]:
    return [] if np.array_equal(matrix, np.eye(3)) else [Around(f' transform="{matrix_text(matrix)}"')]


def _css_level(level: Level, clock: Clock) -> list[Around]:
    """Individual transforms: an element has its translate, rotate, scale and transform, applied in this order; what
    does not come in it begins another.
    """
    out = [Around()]
    at = 0

    def place(order: int) -> Around:
        """The element that takes what comes ``order``-th in an element's own order."""
        nonlocal at
        if order <= at and at:
            out.append(Around())
        at = order
        return out[-1]

    def part(order: int, prop: str, lane: Lane, neutral: tuple[float, ...], said: Said) -> None:
        if lane.moves:
            place(order).animations.append(clock.css(prop, lane, said))
        elif tuple(lane.value) != neutral:
            place(order).style.append(f"{prop}:{said(lane.value)}")

    split = level.split or {}
    if level.travel is not None:
        spans = level.travel.spans
        data = path_data("M" + "C" * len(spans), np.concatenate([spans[:1, 0], spans[:, 1:].reshape(-1, 2)]), 4)
        # Its own order puts a path after scale: nothing else of the layer may stand on that element.
        out[-1].style += [f"offset-path:path('{data}')", "offset-rotate:0deg", "offset-anchor:0 0"]
        at = 3
        part(4, "offset-distance", level.travel.distance, (), lambda r: f"{short(r[0], 4)}px")
    elif "position" in split:
        x, y = split["position"]
        part(1, "translate", x, (0,), lambda r: f"{short(r[0])}px 0")
        part(1, "translate", y, (0,), lambda r: f"0 {short(r[0])}px")
    else:
        part(1, "translate", level.position, (0, 0), lambda r: f"{short(r[0])}px {short(r[1])}px")
    part(2, "rotate", level.rotation, (0,), lambda r: f"{fine(r[0])}deg")
    part(5, "transform", level.skew, (0, 0), lambda r: f"skew({fine(r[0])}deg,{fine(r[1])}deg)")
    if "scale" in split:
        x, y = split["scale"]
        part(3, "scale", x, (1,), lambda r: f"{fine(r[0])} 1")
        part(3, "scale", y, (1,), lambda r: f"1 {fine(r[0])}")
    else:
        part(3, "scale", level.scale, (1, 1), lambda r: row(r, 6))
    part(5, "transform", level.pivot, (0, 0), lambda r: f"translate({short(-r[0])}px,{short(-r[1])}px)")
    return [each for each in out if not each.empty]


def _smil_level(level: Level, clock: Clock) -> list[Around]:
    """A group for each part of a transform; what SMIL's splines cannot say goes straight from frame to frame."""
    out: list[Around] = []

    def part(kind: str, lane: Lane, neutral: tuple[float, ...], sign: float = 1.0, digits: int = 3) -> None:
        if lane.moves:
            told = clock.smil("transform", lane, lambda r: row(sign * r, digits), kind)
            out.append(Around(inside=told))
        elif tuple(lane.value) != neutral:
            out.append(Around(f' transform="{kind}({row(sign * lane.value, digits)})"'))

    split = level.split or {}
    if "position" in split:
        for k, lane in enumerate(split["position"]):
            part("translate", lane.through(np.eye(2)[[k]]), (0, 0))
    else:
        part("translate", level.position, (0, 0))
    part("rotate", level.rotation, (0,), digits=6)
    if level.skew.moves or np.any(level.skew.value):
        out += _smil_skew(level.skew, clock)
    if "scale" in split:
        for k, lane in enumerate(split["scale"]):
            part("scale", lane.through(np.eye(2)[[k]], np.eye(2)[1 - k]), (1, 1), digits=6)
    else:
        part("scale", level.scale, (1, 1), digits=6)
    part("translate", level.pivot, (0, 0), sign=-1.0)
    return out


def _smil_skew(skew: Lane, clock: Clock) -> list[Around]:
    """Both slants at once, which SVG has no transform for: where both are there, three that come to the same.

    [1 tan x; tan y 1] is a slant of y, then a size of (1, 1 − tan x · tan y), then a slant of x.
    """
    rows = skew.rows
    if not np.any(rows[:, 1]):
        return [_part_of("skewX", skew.through(np.array([[1.0], [0.0]])), clock)]
    if not np.any(rows[:, 0]):
        return [_part_of("skewY", skew.through(np.array([[0.0], [1.0]])), clock)]
    if skew.moves:
        # The three do not go evenly where the two slants do: they are told at each frame.
        skew = by_frames(skew, clock)
    tan = np.tan(np.deg2rad(skew.rows))
    tall = 1 - tan[:, :1] * tan[:, 1:]
    size = replace(skew, rows=np.concatenate([np.ones_like(tall), tall], axis=1))
    slant = replace(skew, rows=np.rad2deg(np.arctan2(tan[:, :1], tall)))
    first = _part_of("skewY", skew.through(np.array([[0.0], [1.0]])), clock)
    return [first, _part_of("scale", size, clock), _part_of("skewX", slant, clock)]


def _part_of(kind: str, lane: Lane, clock: Clock) -> Around:
    if not lane.moves:
        return Around(f' transform="{kind}({row(lane.value, 6)})"')
    return Around(inside=clock.smil("transform", lane, lambda r: row(r, 6), kind))


__all__ = ["Around", "around", "still_matrix"]
