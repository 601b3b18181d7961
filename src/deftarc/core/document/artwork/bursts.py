"""Bursts: rings and particles, born at chosen times or at a rate, each a formula of its birth. See docs/maths.md.

Each key of the property *burst* is one burst; its value is how strong.
"""

from typing import Annotated, ClassVar, Literal

from pydantic import AfterValidator, Field

from deftarc.core.base.model import Colour, Identity, Number
from deftarc.core.document.artwork.base import ARTWORKS, ArtworkBase, Sources
from deftarc.core.document.drawing import Drawing
from deftarc.core.document.eases import EASES

Px = Annotated[float, Field(ge=0, le=20_000)]
Share = Annotated[float, Field(ge=0, le=1)]
#: What both kinds can have keyed.
BORN = ("burst", "burst_life", "burst_colour", "burst_colour_end", "burst_fade", "burst_off_x", "burst_off_y")
#: Where they are born, in words.
PLACES = {
    "point": "where the layer is", "line": "along a line", "place": "where another layer is",
    "outline": "on another layer’s outline",
}  # fmt: skip


def _known(ease: str) -> str:
    if ease not in EASES:
        raise ValueError(f"There is no ease “{ease[:40]}”.")
    return ease


class Bursts(ArtworkBase):
    """What rings and particles share: ``emits`` says where they are born, of another layer where ``source`` is, off by
    so many px; each lives ``life`` seconds, goes from one colour to another, and fades over the last share of that.
    """

    traits: ClassVar[frozenset[str]] = frozenset(("bursts",))
    emits: Literal["point", "line", "place", "outline"] = "point"
    source: Identity | None = None
    burst: Annotated[float, Field(ge=0, le=100)] = 1.0
    burst_life: Annotated[float, Field(ge=0.01, le=600)] = 1.0
    burst_colour: Colour | None = "#ffd27f"
    burst_colour_end: Colour | None = "#ffd27f"
    burst_fade: Share = 0.5
    burst_off_x: Number = 0.0
    burst_off_y: Number = 0.0

    def drawing(self, sources: Sources) -> Drawing:
        return Drawing()


@ARTWORKS.add
class Rings(Bursts):
    """A ring for each burst, its numbers going from one to another over its life by an ease, as large as the burst is
    strong. ``softness`` is the standard deviation of the Gaussian on both sides of its line.
    """

    keyable: ClassVar[tuple[str, ...]] = (
        "burst", "ring_radius", "ring_radius_end", "ring_width", "ring_width_end", "ring_soft", "ring_soft_end",
        *BORN[1:],
    )  # fmt: skip
    label: ClassVar[str] = "Rings"
    icon: ClassVar[str] = "broadcast"
    about: ClassVar[str] = "spread at chosen times, or at contacts"
    kind: Literal["rings"] = "rings"
    ring_radius: Px = 10.0
    ring_radius_end: Px = 160.0
    ring_width: Px = 14.0
    ring_width_end: Px = 2.0
    ring_soft: Px = 0.0
    ring_soft_end: Px = 3.0
    ease: Annotated[str, AfterValidator(_known)] = "slow-stop"
    strength: Annotated[float, Field(ge=0, le=100)] = 60.0

    @classmethod
    def first(cls, side: float) -> "Rings":
        return cls(ring_radius_end=round(side / 2), ring_width=round(side / 20))


@ARTWORKS.add
class Particles(Bursts):
    """So many at each burst, and so many a second besides. Each sets out in a direction, give or take half the spread,
    at a speed that varies by a share; gravity draws it down and drag slows it. ``sides`` 0 makes discs; ``shaped``
    shows another layer's artwork instead. ``repeats`` lets the same ones come again after so many seconds; they begin
    ``ahead`` of the layer.
    """

    keyable: ClassVar[tuple[str, ...]] = (
        "burst", "burst_count", "burst_rate", "burst_direction", "burst_spread", "burst_speed", "burst_varied",
        "burst_gravity", "burst_drag", "burst_size", "burst_size_end", "burst_spin", "burst_wide", *BORN[1:],
    )  # fmt: skip
    label: ClassVar[str] = "Particles"
    icon: ClassVar[str] = "stars"
    about: ClassVar[str] = "sparks, drops, dust: a burst or a stream"
    kind: Literal["particles"] = "particles"
    burst_count: Annotated[float, Field(ge=0, le=5_000)] = 30.0
    burst_rate: Annotated[float, Field(ge=0, le=5_000)] = 0.0
    burst_direction: Annotated[float, Field(ge=-1e7, le=1e7)] = -90.0
    burst_spread: Annotated[float, Field(ge=0, le=360)] = 70.0
    burst_speed: Annotated[float, Field(ge=-20_000, le=20_000)] = 300.0
    burst_varied: Share = 0.5
    burst_gravity: Annotated[float, Field(ge=-20_000, le=20_000)] = 400.0
    burst_drag: Annotated[float, Field(ge=0, le=100)] = 0.0
    burst_size: Px = 12.0
    burst_size_end: Px = 4.0
    burst_spin: Annotated[float, Field(ge=-100_000, le=100_000)] = 0.0
    burst_wide: Px = 200.0
    sides: Annotated[int, Field(ge=0, le=12)] = 0
    shaped: Identity | None = None
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1
    repeats: Annotated[float, Field(ge=0, le=3_600)] = 0.0
    ahead: Annotated[float, Field(ge=0, le=600)] = 0.0

    @classmethod
    def first(cls, side: float) -> "Particles":
        return cls(burst_speed=side * 1.2, burst_gravity=side * 1.5, burst_size=round(side / 24))


__all__ = ["PLACES", "Bursts", "Particles", "Rings"]
