"""How a curve leaves a key and arrives at one: bent sides, steps, and how automatic joints are made."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from deftarc.core.base import limits
from deftarc.core.base.model import Frozen, Number


class Side(Frozen):
    """A bent side of a key: how far its handle reaches, as a fraction of the segment's duration, and rises, in
    measure units, towards its own segment. A side that is None is straight.
    """

    reach: Annotated[float, Field(ge=0, le=4 / 3)]
    rise: Number


class Steps(Frozen):
    """A segment in ``count`` equal parts of time, as CSS's ``steps()``: where it jumps is ``jump-`` the word."""

    count: Annotated[int, Field(ge=1, le=limits.MAX_STEPS)]
    jump: Literal["start", "end", "none", "both"] = "end"

    @model_validator(mode="after")
    def _sound(self) -> Self:
        if self.jump == "none" and self.count < 2:
            raise ValueError("Steps that jump at neither end are two at least.")
        return self

    @property
    def row(self) -> tuple[int, int, int]:
        """How a time curve has it: parts, jumps made at the start, jumps in all."""
        first = 1 if self.jump in ("start", "both") else 0
        return self.count, first, self.count + {"none": -1, "both": 1}.get(self.jump, 0)


#: A hold as a row of steps.
HOLDING = (1, 0, 1)

Share = Annotated[float, Field(ge=-1, le=1)]


class Automatic(Frozen):
    """An automatic joint's tension, continuity and bias; ``free`` lets the curve go past its keys."""

    tension: Share = 0.0
    continuity: Share = 0.0
    bias: Share = 0.0
    free: bool = False


def mirrored(side: Side | None, factor: float) -> Side | None:
    """A side with its rise times a factor."""
    if side is None:
        return None
    # What is turned round is as sound as it was: of thousands of keys none has to be looked at again.
    return (
        side.changed(rise=side.rise * factor) if abs(factor) == 1.0 else Side(reach=side.reach, rise=side.rise * factor)
    )
