"""A free path: contours of points with handles."""

from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.base.model import Frozen, Number
from deftarc.core.document.artwork.base import ARTWORKS, PAINT, Numbers, Painted, TextShaper
from deftarc.core.spaces.shapes import free

#: x, y, and its arriving and its leaving handle as offsets from it.
Node6 = tuple[Number, Number, Number, Number, Number, Number]


class Contour(Frozen):
    points: Annotated[tuple[Node6, ...], Field(min_length=1, max_length=limits.MAX_OUTLINE_POINTS)]
    closed: bool = False


class Pointed(Frozen):
    """Contours whose points are one property: all their numbers in a row, six a point."""

    contours: tuple[Contour, ...]

    def numbers(self) -> tuple[float, ...]:
        """All points' numbers in one row: the value of the property."""
        return tuple(n for contour in self.contours for point in contour.points for n in point)

    def with_numbers(self, row: tuple[float, ...]) -> Self:
        """The same contours with other numbers."""
        out, at = [], 0
        for contour in self.contours:
            points = []
            for _ in contour.points:
                a, b, c, d, e, f = row[at : at + 6]
                points.append((a, b, c, d, e, f))
                at += 6
            out.append(contour.changed(points=tuple(points)))
        return self.changed(contours=tuple(out))

    def traced(self, rows: Floats | None = None) -> tuple[str, Floats]:
        """Verbs and points (F, P, 2) for numbers over time (F, 6 · n)."""
        return free(self.contours, np.array([self.numbers()]) if rows is None else rows)


@ARTWORKS.add
class FreePath(Pointed, Painted):
    keyable: ClassVar[tuple[str, ...]] = ("outline", *PAINT)
    label: ClassVar[str] = "Free path"
    traits: ClassVar[frozenset[str]] = Painted.traits | {"points"}
    kind: Literal["free"] = "free"
    contours: Annotated[tuple[Contour, ...], Field(min_length=1, max_length=limits.MAX_CONTOURS)]
    rule: Literal["nonzero", "evenodd"] = "nonzero"

    @property
    def filled_by(self) -> Literal["nonzero", "evenodd"]:
        return self.rule

    def outline(self, numbers: Numbers, shape_text: TextShaper | None = None) -> tuple[str, Floats]:
        return self.traced(numbers.get("outline"))
