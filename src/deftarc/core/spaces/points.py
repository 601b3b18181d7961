"""The points of a path, with how the path goes through each."""

from collections.abc import Sequence
from typing import Annotated, Any, Literal, Self

from pydantic import Field, GetJsonSchemaHandler, SerializerFunctionWrapHandler, model_serializer, model_validator
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema

from deftarc.core.base.model import Frozen, Number

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
