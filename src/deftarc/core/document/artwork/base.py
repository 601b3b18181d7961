"""Artwork: what a layer is made of, before it is moved. One class a kind, told apart by ``kind``.

Artwork has its own px with the origin at its middle (text: on the first baseline, at its alignment; a free path:
where it was drawn), so a pivot of (0, 0) turns a thing about its middle.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Annotated, ClassVar, Literal, Protocol, Self

import numpy as np
from pydantic import Field, ValidationError

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.model import Colour, Kinded, Number
from deftarc.core.base.register import Register
from deftarc.core.document.artwork.gradient import PAINTED, Gradient, Stop
from deftarc.core.document.drawing import Drawing, LinearGradient, RadialGradient, Shape, Solid, Stroke
from deftarc.core.spaces.grown import Join, grown
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.outlines import Outlines
from deftarc.core.spaces.rounded import rounded_over_time

if TYPE_CHECKING:
    from deftarc.core.document.artwork.text import Text

#: The properties that every painted artwork can have keyed: its paints, and what is done to its outline before.
OUTLINING = ("drawn_from", "drawn_to", "drawn_shift", "grow", "rounding")
PAINT = ("fill", "filled", "stroke", "stroke_width", "dash_offset", *OUTLINING)
#: A paint that is not to be seen.
CLEAR = "#00000000"
Share = Annotated[float, Field(ge=0, le=1)]
Size = Annotated[float, Field(ge=0, le=limits.MAX_NUMBER)]
Numbers = Mapping[str, Floats]
#: What kind of file an asset has to be.
Role = Literal["picture", "drawing", "svg", "font", "scenes"]


@dataclass(frozen=True, eq=False)
class TextForm:
    """A shaped text as a sum: points = size · (letters + spacing · shifts + line_height · lines), each (P, 2); and of
    which letter of its line each point is, counted from the left (P,).
    """

    verbs: str
    letters: Floats
    shifts: Floats
    lines: Floats
    places: Integers

    def points(self, size: Floats, spacing: Floats, line_height: Floats) -> Floats:
        """Points (F, P, 2) at sizes in px, letter spacings and line heights in sizes, (F,) each."""
        s, g, h = (x[:, None, None] for x in np.broadcast_arrays(size, spacing, line_height))
        out: Floats = s * (self.letters + g * self.shifts + h * self.lines)
        return out


#: Hands over the shaped form of a text; shaping is not the core's business.
TextShaper = Callable[["Text"], TextForm]


class Sources(Protocol):
    """Where an artwork gets what its drawing is made of, and is not in itself."""

    def shape_text(self, text: "Text", /) -> TextForm:
        """A text's letters; Refusal where they cannot be had."""

    def stored(self, asset: str, /) -> Drawing:
        """The drawing kept under a hash; Refusal where there is none."""


class ArtworkBase(Kinded):
    """What every kind of artwork says of itself. ``kind`` names it in files; ``label`` in words."""

    if TYPE_CHECKING:

        @property
        def kind(self) -> str: ...

    #: The names of the fields that are properties: they can be keyed.
    keyable: ClassVar[tuple[str, ...]] = ()
    label: ClassVar[str] = ""
    #: What can be done with it: *painted* with a fill and a stroke, *words*, *points*, *pictured* from a file,
    #: *parts* it can be taken apart into; *empty*, nothing to see of itself; *boxed*, taken anywhere in its box.
    traits: ClassVar[frozenset[str]] = frozenset()
    #: Its icon in the Add menu, where it can be added with a first shape that is good to go on from; and what for.
    icon: ClassVar[str] = ""
    about: ClassVar[str] = ""

    @property
    def properties(self) -> tuple[str, ...]:
        """The names of all that can be keyed of it: its fields, and what is listed in it."""
        return self.keyable

    @property
    def empty(self) -> bool:
        """Whether there is nothing to see of it."""
        return "empty" in self.traits

    @classmethod
    def first(cls, side: float) -> "ArtworkBase | None":
        """A good one to begin with, about ``side`` px large; None where it is not added by a word alone."""
        return None

    def files(self) -> Iterator[tuple[str, Role]]:
        """The assets it names itself, by hash, and what each has to be."""
        return iter(())

    def drawing(self, sources: Sources) -> Drawing:
        """What it looks like; Refusal where that cannot be had."""
        raise NotImplementedError

    def with_paints(self, names: frozenset[str]) -> "ArtworkBase":
        """It with a place for every paint of these names, which its keys bring in over time."""
        return self


ARTWORKS: Register[type[ArtworkBase]] = Register("kinds of artwork", lambda kind: kind.model_fields["kind"].default)


class Painted(ArtworkBase):
    """An outline, filled and stroked."""

    keyable: ClassVar[tuple[str, ...]] = PAINT
    traits: ClassVar[frozenset[str]] = frozenset(("painted",))
    fill: Colour | None = "#22577a"
    stroke: Colour | None = None
    stroke_width: Annotated[float, Field(ge=0, le=10_000)] = 4.0
    cap: Literal["butt", "round", "square"] = "round"
    join: Literal["miter", "round", "bevel"] = "round"
    #: How much of its fill there is.
    filled: Share = 1.0
    #: Instead of its colour, where there is one.
    fill_gradient: Gradient | None = None
    stroke_gradient: Gradient | None = None
    #: Lengths of dashes and gaps in px, in turn; none is a whole line.
    dash: tuple[Annotated[float, Field(gt=0, le=limits.MAX_NUMBER)], ...] = Field(
        default=(), max_length=limits.MAX_DASHES
    )
    dash_offset: Number = 0.0
    #: What of its line is drawn, as shares of its length: of each contour, or of all in turn.
    drawn_from: Share = 0.0
    drawn_to: Share = 1.0
    drawn_shift: Annotated[float, Field(ge=-10_000, le=10_000)] = 0.0
    drawn_in_turn: bool = False
    #: Px by which its outline is moved out, and how its corners are joined; before that they are rounded.
    grow: Annotated[float, Field(ge=-10_000, le=10_000)] = 0.0
    grow_join: Join = "round"
    rounding: Annotated[float, Field(ge=0, le=10_000)] = 0.0

    @cached_property
    def _listed(self) -> tuple[str, ...]:
        dashes = tuple(f"dash/{n}/dash_length" for n in range(len(self.dash)))
        gradients = tuple(
            name for of in PAINTED if (found := self.gradient(of)) is not None for name in found.properties(of)
        )
        return (*self.keyable, *dashes, *gradients)

    @property
    def properties(self) -> tuple[str, ...]:
        return self._listed

    def gradient(self, of: str) -> Gradient | None:
        """The gradient of its fill or stroke."""
        found: Gradient | None = getattr(self, f"{of}_gradient")
        return found

    def stop(self, stop_id: str) -> tuple[str, Stop]:
        """One of its gradients' stops, and which gradient has it."""
        for of in PAINTED:
            found = self.gradient(of)
            for each in found.stops if found is not None else ():
                if each.id == stop_id:
                    return of, each
        raise unknown("stop", stop_id)

    def with_stop(self, stop: Stop) -> "Self":
        """It with another state of the stop that has this id."""
        of, _ = self.stop(stop.id)
        found = self.gradient(of)
        assert found is not None
        stops = tuple(stop if each.id == stop.id else each for each in found.stops)
        return self.changed(**{f"{of}_gradient": found.changed(stops=stops)})

    @property
    def stroked(self) -> bool:
        return (self.stroke is not None or self.stroke_gradient is not None) and self.stroke_width > 0

    def outline(self, numbers: Numbers, shape_text: TextShaper | None = None) -> tuple[str, Floats]:
        """Verbs and points (F, P, 2) with its numbers over time, (F,) each; those not given are its fields."""
        raise NotImplementedError

    def number(self, numbers: Numbers, name: str) -> Floats:
        """One of its numbers over time, (F or 1,)."""
        given = numbers.get(name)
        return np.array([float(getattr(self, name))]) if given is None else given

    def resting(self, shape_text: TextShaper | None = None) -> Outline:
        """Its outline as its fields have it."""
        verbs, points = self.outline({}, shape_text)
        return Outline(verbs, points[0])

    def reshaped(self, outlines: Outlines, rounding: Floats, grow: Floats) -> Outlines:
        """Outlines with their corners rounded, and then grown, by numbers over time (F or 1,)."""
        if not rounding.any() and not grow.any():
            return outlines
        corners = rounded_over_time(outlines, rounding) if rounding.any() else outlines
        return grown(corners, grow, self.filled_by, self.grow_join) if grow.any() else corners

    def drawing(self, sources: Sources) -> Drawing:
        verbs, points = self.outline({}, sources.shape_text)
        outline = self.reshaped(
            Outlines.alike(verbs, points[:1]), np.array([self.rounding]), np.array([self.grow])
        ).at(0)  # fmt: skip
        if not outline.verbs:
            return Drawing()
        stroke = None
        if self.stroked:
            stroke = Stroke(
                paint=self._paint("stroke"), width=max(self.stroke_width, 1e-6), cap=self.cap, join=self.join,
                dash=self.dash * (2 if len(self.dash) % 2 else 1), dash_offset=self.dash_offset,
            )  # fmt: skip
        fill = self._paint("fill") if self.fill or self.fill_gradient else None
        try:
            return Drawing(nodes=(Shape(outline=outline.data(), rule=self.filled_by, fill=fill, stroke=stroke),))
        except ValidationError:
            # Each number keeps its limit, and yet a handle far from a far point may not.
            raise Refusal("This outline reaches further than Deft Arc can draw.") from None

    def _paint(self, of: str) -> Solid | LinearGradient | RadialGradient:
        found = self.gradient(of)
        return Solid(colour=getattr(self, of)) if found is None else found.paint()

    @property
    def filled_by(self) -> Literal["nonzero", "evenodd"]:
        return "nonzero"

    def with_paints(self, names: frozenset[str]) -> "Painted":
        changes: dict[str, object] = {}
        if "fill" in names and self.fill is None and self.fill_gradient is None:
            changes["fill"] = CLEAR
        if "stroke" in names and self.stroke is None and self.stroke_gradient is None:
            changes["stroke"] = CLEAR
        if names & {"stroke", "stroke_width"} and self.stroke_width <= 0:
            changes["stroke_width"] = 1e-6
        return self.changed(**changes) if changes else self
