"""A toy kind of artwork: a flower."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base.arrays import Floats
from deftarc.core.base.model import Length
from deftarc.core.document.artwork.base import ARTWORKS, PAINT, Numbers, Painted, TextShaper
from deftarc.core.spaces.shapes import stars


@ARTWORKS.add
class Flower(Painted):
    keyable: ClassVar[tuple[str, ...]] = ("petals", "outer", *PAINT)
    label: ClassVar[str] = "Flower"
    icon: ClassVar[str] = "star"
    kind: Literal["flower"] = "flower"
    petals: Annotated[float, Field(ge=3, le=40)] = 6
    outer: Length = 100.0

    @classmethod
    def first(cls, side: float) -> "Flower":
        return cls(outer=side / 2, fill="#c93c25")

    def outline(self, numbers: Numbers, shape_text: TextShaper | None = None) -> tuple[str, Floats]:
        petals, outer = self.number(numbers, "petals"), self.number(numbers, "outer")
        return stars(petals, outer, outer * 0.5, outer * 0 + 0.9)
