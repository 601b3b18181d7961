"""Gradients that an outline is filled or stroked with: their ends and stops can be keyed, each stop by itself."""

from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.base.model import Colour, Frozen, Identity, Number
from deftarc.core.document.drawing import LinearGradient, RadialGradient
from deftarc.core.document.drawing import Stop as DrawnStop
from deftarc.core.spaces.colour import parse_colour

#: What a gradient can be of.
PAINTED = ("fill", "stroke")
ENDS = ("x1", "y1", "x2", "y2")


class Stop(Frozen):
    """A colour at a share of the way. ``id`` is its own among those of its artwork."""

    keyable: ClassVar[tuple[str, ...]] = ("stop_at", "stop_colour")
    id: Identity
    at: Annotated[float, Field(ge=0, le=1)]
    colour: Colour

    @property
    def properties(self) -> tuple[str, ...]:
        return tuple(f"stop/{self.id}/{name}" for name in self.keyable)


class Gradient(Frozen):
    """From (x1, y1) to (x2, y2) in the artwork's px: along that way, or radial, from the first to the circle about it
    through the second. Beyond its ends it goes on as it is there.
    """

    keyable: ClassVar[tuple[str, ...]] = ("gradient_x1", "gradient_y1", "gradient_x2", "gradient_y2")
    kind: Literal["linear", "radial"] = "linear"
    x1: Number
    y1: Number
    x2: Number
    y2: Number
    stops: tuple[Stop, ...] = Field(min_length=2, max_length=limits.MAX_STOPS)

    @model_validator(mode="after")
    def _sound(self) -> Self:
        if len({each.id for each in self.stops}) != len(self.stops):
            raise ValueError("Two stops of a gradient share one id.")
        return self

    def properties(self, of: str) -> tuple[str, ...]:
        """The names under which a layer has its properties; ``of`` is fill or stroke."""
        ends = tuple(f"gradient/{of}/{name}" for name in self.keyable)
        return (*ends, *(name for each in self.stops for name in each.properties))

    def paint(self) -> LinearGradient | RadialGradient:
        """As it rests, in the terms of a drawing."""
        shares = np.maximum.accumulate([each.at for each in self.stops])
        stops = tuple(
            DrawnStop(offset=float(share), colour=each.colour) for share, each in zip(shares, self.stops, strict=True)
        )
        if self.kind == "linear":
            return LinearGradient(x1=self.x1, y1=self.y1, x2=self.x2, y2=self.y2, stops=stops)
        reach = min(float(np.hypot(self.x2 - self.x1, self.y2 - self.y1)), limits.MAX_NUMBER)
        return RadialGradient(cx=self.x1, cy=self.y1, fx=self.x1, fy=self.y1, r=reach, stops=stops)

    def rows(self, of: str, given: dict[str, Floats]) -> tuple[Floats, Floats] | None:
        """Its ends (F, 4) and its stops (F, 5 · n), each a share and a colour, where some of its numbers change; a stop
        that would lie before the one before it lies on it, as in SVG.
        """
        if not any(name in given for name in self.properties(of)):
            return None
        ends = [
            given.get(f"gradient/{of}/gradient_{end}", np.array([[float(getattr(self, end))]])) for end in ENDS
        ]  # fmt: skip
        shares, colours = [], []
        for each in self.stops:
            at, colour = each.properties
            shares.append(given.get(at, np.array([[each.at]])))
            colours.append(given.get(colour, np.array([parse_colour(each.colour)])))
        count = max(len(row) for row in (*ends, *shares, *colours))

        def whole(row: Floats) -> Floats:
            return np.broadcast_to(row, (count, row.shape[1]))

        rising = np.maximum.accumulate(np.clip(np.concatenate([whole(row) for row in shares], axis=1), 0, 1), axis=1)
        stops = np.concatenate([rising[:, :, None], np.stack([whole(row) for row in colours], axis=1)], axis=2)
        return np.concatenate([whole(row) for row in ends], axis=1), stops.reshape(count, -1)


__all__ = ["ENDS", "PAINTED", "Gradient", "Stop"]
