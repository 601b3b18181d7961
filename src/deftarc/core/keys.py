"""Keys: a value, or a place on a path, at a time, with how the curve arrives there and leaves."""

from collections.abc import Sequence
from typing import Annotated, Any, Literal, Self

from pydantic import (
    Field,
    GetJsonSchemaHandler,
    SerializerFunctionWrapHandler,
    model_serializer,
    model_validator,
)
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema

from deftarc.core import limits
from deftarc.core.model import Frozen, Moment, Number


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


#: A handle, from its point, in px.
Arm = tuple[Number, Number]


class PathPoint(Frozen):
    """A point of a path, with how the path goes through it.

    Straight has no handles, corner and smooth have those that are told (a smooth one's lie in one line), automatic
    works them out from its neighbours by its ``roundness``. A bare pair of numbers is a straight point.
    """

    x: Number
    y: Number
    joint: Literal["straight", "corner", "smooth", "automatic"] = "straight"
    arriving: Arm | None = None
    leaving: Arm | None = None
    #: 0 is straight; at ½ a handle is a third of the neighbouring span, at 1 twice that.
    roundness: Annotated[float, Field(ge=0, le=1)] = 0.5

    @model_validator(mode="before")
    @classmethod
    def _from_pair(cls, told: Any) -> Any:
        if isinstance(told, list | tuple):
            if len(told) != 2:
                raise ValueError("A point has an x and a y.")
            return {"x": told[0], "y": told[1]}
        return told

    @classmethod
    def __get_pydantic_json_schema__(cls, core: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        whole = handler.resolve_ref_schema(handler(core))
        if "properties" not in whole:
            # What is written is whatever the serialiser below gives: a pair or an object.
            return whole
        number = whole["properties"]["x"]
        pair = {"type": "array", "items": {**number, "title": "X or Y"}, "minItems": 2, "maxItems": 2}
        return {"anyOf": [whole, {**pair, "title": "Straight point", "description": "x and y of a straight point."}]}

    @model_validator(mode="after")
    def _sound(self) -> Self:
        if self.joint in ("straight", "automatic") and (self.arriving or self.leaving):
            raise ValueError("Only corners and smooth points have handles of their own.")
        return self

    @model_serializer(mode="wrap")
    def _short(self, handler: SerializerFunctionWrapHandler) -> Any:
        # Most points are straight, and a path may have thousands.
        if self.joint == "straight" and self.roundness == 0.5:
            return [self.x, self.y]
        return handler(self)

    @property
    def spot(self) -> tuple[float, float]:
        return self.x, self.y


def point_at(spot: Sequence[float], roundness: float | None = None) -> PathPoint:
    """A point without handles of its own: straight, or automatic with a roundness."""
    x, y = float(spot[0]), float(spot[1])
    return PathPoint(x=x, y=y) if roundness is None else PathPoint(x=x, y=y, joint="automatic", roundness=roundness)


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
