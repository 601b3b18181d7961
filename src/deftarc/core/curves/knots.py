"""The shape of a run of keys without its size: what eases of one's own, settles and bounces are made of."""

import itertools
from typing import Annotated, Self

from pydantic import Field, model_validator

from deftarc.core.base import limits
from deftarc.core.base.model import Frozen, Name, Number
from deftarc.core.curves.sides import Side, Steps


class Knot(Frozen):
    """A key of a shape: ``x`` of its duration, ``y`` of its change; sides with reaches as ever and rises in ``y``."""

    x: Annotated[float, Field(ge=0, le=1)]
    y: Number
    arriving: Side | None = None
    leaving: Side | None = None
    #: The way to the next knot goes in steps.
    steps: Steps | None = None

    @property
    def holds(self) -> bool:
        """Whether it stays as it is until the next knot."""
        return self.steps is not None and self.steps.count == 1 and self.steps.jump == "end"


class OwnEase(Frozen):
    """An ease kept under a name: a shape from (0, 0) to (1, 1)."""

    name: Name
    knots: Annotated[tuple[Knot, ...], Field(min_length=2, max_length=limits.MAX_EASE_KNOTS)]

    @model_validator(mode="after")
    def _sound(self) -> Self:
        first, last = self.knots[0], self.knots[-1]
        if (first.x, first.y, last.x, last.y) != (0, 0, 1, 1):
            raise ValueError("An ease runs from 0 to 1, in time and in change.")
        if any(b.x <= a.x for a, b in itertools.pairwise(self.knots)):
            raise ValueError("The knots of an ease stand at rising times.")
        return self
