"""Artwork: what a layer is made of, before it is moved. One model a kind, told apart by ``kind``.

Artwork has its own px with the origin at its middle (text: on the first baseline, at its alignment; a free path:
where it was drawn), so a pivot of (0, 0) turns a thing about its middle.
"""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.model import AssetHash, Colour, Frozen, Kinded, Length, Number

#: The properties that every painted artwork can have keyed.
PAINT = ("fill", "stroke", "stroke_width", "dash_offset")
Share = Annotated[float, Field(ge=0, le=1)]
Size = Annotated[float, Field(ge=0, le=limits.MAX_NUMBER)]


class Painted(Kinded):
    #: The names of the fields that are properties: they can be keyed.
    keyable: ClassVar[tuple[str, ...]] = PAINT
    fill: Colour | None = "#22577a"
    stroke: Colour | None = None
    stroke_width: Annotated[float, Field(ge=0, le=10_000)] = 4.0
    cap: Literal["butt", "round", "square"] = "round"
    join: Literal["miter", "round", "bevel"] = "round"
    #: Lengths of dashes and gaps in px, in turn; none is a whole line.
    dash: tuple[Annotated[float, Field(gt=0, le=limits.MAX_NUMBER)], ...] = Field(default=(), max_length=16)
    dash_offset: Number = 0.0


class Rectangle(Painted):
    keyable: ClassVar[tuple[str, ...]] = ("width", "height", "radius", *PAINT)
    kind: Literal["rectangle"] = "rectangle"
    width: Length
    height: Length
    radius: Size = 0.0


class Ellipse(Painted):
    keyable: ClassVar[tuple[str, ...]] = ("width", "height", *PAINT)
    kind: Literal["ellipse"] = "ellipse"
    width: Length
    height: Length


class Polygon(Painted):
    """Regular, one corner straight up; roundness 1 makes it a circle, as near as cubics come."""

    keyable: ClassVar[tuple[str, ...]] = ("sides", "outer", "roundness", *PAINT)
    kind: Literal["polygon"] = "polygon"
    sides: Annotated[float, Field(ge=3, le=100)] = 6
    outer: Length = 100.0
    roundness: Share = 0.0


class Star(Painted):
    keyable: ClassVar[tuple[str, ...]] = ("spikes", "outer", "inner", "roundness", *PAINT)
    kind: Literal["star"] = "star"
    spikes: Annotated[float, Field(ge=2, le=100)] = 5
    outer: Length = 100.0
    inner: Size = 45.0
    roundness: Share = 0.0


#: x, y, and its arriving and its leaving handle as offsets from it.
Node6 = tuple[Number, Number, Number, Number, Number, Number]


class Contour(Frozen):
    points: Annotated[tuple[Node6, ...], Field(min_length=1, max_length=limits.MAX_OUTLINE_POINTS)]
    closed: bool = False


class FreePath(Painted):
    keyable: ClassVar[tuple[str, ...]] = ("outline", *PAINT)
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


class Text(Painted):
    keyable: ClassVar[tuple[str, ...]] = ("size", "line_height", "letter_spacing", *PAINT)
    kind: Literal["text"] = "text"
    text: Annotated[str, Field(min_length=1, max_length=limits.MAX_TEXT)]
    #: A shipped face's id, or one of the project's own.
    font: Annotated[str, Field(pattern=r"^[a-z0-9-]{1,80}$")] = "bricolage-grotesque-700"
    size: Annotated[float, Field(gt=0, le=5_000)] = 72.0
    align: Literal["start", "middle", "end"] = "middle"
    #: Distance from baseline to baseline, in sizes.
    line_height: Annotated[float, Field(ge=0, le=10)] = 1.2
    #: Added after each letter, in sizes.
    letter_spacing: Annotated[float, Field(ge=-1, le=10)] = 0.0


class Picture(Kinded):
    keyable: ClassVar[tuple[str, ...]] = ()
    kind: Literal["picture"] = "picture"
    asset: AssetHash
    width: Length
    height: Length


class Logo(Kinded):
    """A vector logo kept whole: ``asset`` is its drawing, ``source`` the SVG it was read from."""

    keyable: ClassVar[tuple[str, ...]] = ()
    kind: Literal["logo"] = "logo"
    asset: AssetHash
    source: AssetHash
    width: Length
    height: Length
    #: What of the file is not supported, in sentences.
    notes: tuple[Annotated[str, Field(max_length=300)], ...] = Field(default=(), max_length=40)


class Carrier(Kinded):
    """Nothing to see: it carries others. A ``group`` also folds its members in the list, hides and locks them."""

    keyable: ClassVar[tuple[str, ...]] = ()
    kind: Literal["carrier"] = "carrier"
    group: bool = False


Artwork = Annotated[
    Rectangle | Ellipse | Polygon | Star | FreePath | Text | Picture | Logo | Carrier, Field(discriminator="kind")
]


def assets_in(art: "Artwork") -> set[str]:
    """The hashes of the assets an artwork names itself."""
    if isinstance(art, Picture):
        return {art.asset}
    return {art.asset, art.source} if isinstance(art, Logo) else set()
