"""Rectangles, ellipses, polygons and stars: outlines by formula."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base.arrays import Floats
from deftarc.core.base.model import Length
from deftarc.core.document.artwork.base import ARTWORKS, PAINT, Numbers, Painted, Share, Size, TextShaper
from deftarc.core.spaces.shapes import ellipses, rectangles, stars


@ARTWORKS.add
class Rectangle(Painted):
    keyable: ClassVar[tuple[str, ...]] = ("width", "height", "radius", *PAINT)
    label: ClassVar[str] = "Rectangle"
    icon: ClassVar[str] = "square"
    kind: Literal["rectangle"] = "rectangle"
    width: Length
    height: Length
    radius: Size = 0.0

    @classmethod
    def first(cls, side: float) -> "Rectangle":
        return cls(width=round(side * 1.5), height=side, fill="#1f5c6b")

    def outline(self, numbers: Numbers, shape_text: TextShaper | None = None) -> tuple[str, Floats]:
        return rectangles(*(self.number(numbers, name) for name in ("width", "height", "radius")))


@ARTWORKS.add
class Ellipse(Painted):
    keyable: ClassVar[tuple[str, ...]] = ("width", "height", *PAINT)
    label: ClassVar[str] = "Ellipse"
    icon: ClassVar[str] = "circle"
    kind: Literal["ellipse"] = "ellipse"
    width: Length
    height: Length

    @classmethod
    def first(cls, side: float) -> "Ellipse":
        return cls(width=side, height=side, fill="#e2a21b")

    def outline(self, numbers: Numbers, shape_text: TextShaper | None = None) -> tuple[str, Floats]:
        return ellipses(self.number(numbers, "width"), self.number(numbers, "height"))


@ARTWORKS.add
class Polygon(Painted):
    """Regular, one corner straight up; roundness 1 makes it a circle, as near as cubics come."""

    keyable: ClassVar[tuple[str, ...]] = ("sides", "outer", "roundness", *PAINT)
    label: ClassVar[str] = "Polygon"
    icon: ClassVar[str] = "pentagon"
    kind: Literal["polygon"] = "polygon"
    sides: Annotated[float, Field(ge=3, le=100)] = 6
    outer: Length = 100.0
    roundness: Share = 0.0

    @classmethod
    def first(cls, side: float) -> "Polygon":
        return cls(sides=6, outer=round(side / 2), fill="#7a4fa3")

    def outline(self, numbers: Numbers, shape_text: TextShaper | None = None) -> tuple[str, Floats]:
        sides, outer, roundness = (self.number(numbers, name) for name in ("sides", "outer", "roundness"))
        return stars(sides, outer, None, roundness)


@ARTWORKS.add
class Star(Painted):
    keyable: ClassVar[tuple[str, ...]] = ("spikes", "outer", "inner", "roundness", *PAINT)
    label: ClassVar[str] = "Star"
    icon: ClassVar[str] = "star"
    kind: Literal["star"] = "star"
    spikes: Annotated[float, Field(ge=2, le=100)] = 5
    outer: Length = 100.0
    inner: Size = 45.0
    roundness: Share = 0.0

    @classmethod
    def first(cls, side: float) -> "Star":
        return cls(spikes=5, outer=round(side / 2), inner=round(side * 0.22), fill="#e2a21b")

    def outline(self, numbers: Numbers, shape_text: TextShaper | None = None) -> tuple[str, Floats]:
        return stars(*(self.number(numbers, name) for name in ("spikes", "outer", "inner", "roundness")))
