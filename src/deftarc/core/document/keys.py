"""Keys: a value, or a place on a path, at a time, with how the curve arrives there and leaves."""

from typing import Annotated, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.model import Frozen, Identity, Moment, Number
from deftarc.core.curves.sides import Automatic, Side, Steps


class KeyBase(Frozen):
    time: Moment
    arriving: Side | None = None
    leaving: Side | None = None
    #: The segment after this key holds its value.
    hold: bool = False
    #: The segment after this key goes in steps.
    steps: Steps | None = None
    #: Corner leaves the sides free, smooth keeps one speed on both, automatic works both sides out.
    joint: Literal["corner", "smooth", "automatic"] = "corner"
    #: How an automatic joint is made; what is left out is its default.
    automatic: Automatic | None = None
    #: What ties call it by, wherever it is moved; most have none.
    id: Identity | None = None

    @property
    def stepped(self) -> bool:
        """Whether the segment after this key goes in steps, a hold among them."""
        return self.hold or self.steps is not None


class NumberKey(KeyBase):
    value: Number


class PathKey(KeyBase):
    #: The place on the path, in points: 2 rests on the third point, 2.5 lies halfway to the next (a pace key).
    at: Annotated[float, Field(ge=0, le=limits.MAX_KEYS_PER_LANE)]
    #: Px past that place, straight on along the way that arrives there; below 0 before it, on the way that leaves.
    past: Number = 0.0
    #: A pace key, even where it happens to lie on a point.
    pace: bool = False

    @property
    def rests(self) -> bool:
        """Whether the key rests on a point of the path."""
        return not self.pace and self.past == 0 and self.at == int(self.at)


class BlendKey(KeyBase):
    """A key between whose values a share is blended: a colour as four numbers, an outline as its points' numbers."""

    value: Annotated[tuple[Number, ...], Field(min_length=1, max_length=limits.MAX_BLEND_NUMBERS)]


class LooseBlend(Frozen):
    time: Moment
    value: Annotated[tuple[Number, ...], Field(min_length=1, max_length=limits.MAX_BLEND_NUMBERS)]


class LooseNumber(Frozen):
    """A value changed but not keyed: it shows at its own time at work, and never renders."""

    time: Moment
    value: Number


class LoosePosition(Frozen):
    time: Moment
    value: tuple[Number, Number]
