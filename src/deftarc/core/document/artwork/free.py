"""A free path: contours of points with handles."""

from typing import Annotated, ClassVar, Literal

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


@ARTWORKS.add
class FreePath(Painted):
    keyable: ClassVar[tuple[str, ...]] = ("outline", *PAINT)
    label: ClassVar[str] = "Free path"
    traits: ClassVar[frozenset[str]] = Painted.traits | {"points"}
    kind: Literal["free"] = "free"
    contours: Annotated[tuple[Contour, ...], Field(min_length=1, max_length=limits.MAX_CONTOURS)]
    rule: Literal["nonzero", "evenodd"] = "nonzero"

    def numbers(self) -> tuple[float, ...]:
        """All points' numbers in one row, six a point: the value of the property *outline*."""
        return tuple(n for contour in self.contours for point in contour.points for n in point)

    def with_numbers(self, row: tuple[float, ...]) -> "FreePath":
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

    @property
    def filled_by(self) -> Literal["nonzero", "evenodd"]:
        return self.rule

    def outline(self, numbers: Numbers, shape_text: TextShaper | None = None) -> tuple[str, Floats]:
        row = numbers.get("outline")
        return free(self.contours, np.array([self.numbers()]) if row is None else row)
