"""What a stagger was made with, so that it can be changed: it counts while what it made stands as it left it."""

from typing import Annotated, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.model import Frozen, Identity, Moment

Order = Literal["listed", "reversed", "middle", "ends", "across", "down", "shuffled"]


class Lane(Frozen):
    layer: Identity
    property: str


class Staggered(Frozen):
    """How layers, or lanes, begin one after the other; see edit/stagger."""

    layers: Annotated[tuple[Identity, ...], Field(max_length=limits.MAX_LAYERS)] = ()
    lanes: Annotated[tuple[Lane, ...], Field(max_length=limits.MAX_KEYS_PER_LANE)] = ()
    by: Literal["step", "total", "end"] = "step"
    #: The step, the total or the gap, in flicks.
    far: Moment
    order: Order = "listed"
    seed: Annotated[int, Field(ge=0, le=9_999)] = 1
    ease: Annotated[str, Field(max_length=20)] = "straight"
    strength: Annotated[float, Field(ge=0, le=100)] = 50.0
    #: Whether the spans of layers go with their keys.
    spans: bool = False


class StaggerRecord(Staggered):
    #: When the first begins, and when each does, in the order of the list.
    begins: Moment
    starts: Annotated[tuple[Moment, ...], Field(max_length=limits.MAX_KEYS_PER_LANE)]
