"""The frozen base of every document model, and the checked scalar types they share."""

from typing import Annotated, Any, ClassVar, Self

from pydantic import (
    BaseModel,
    ConfigDict,
    Field,
    GetJsonSchemaHandler,
    SerializerFunctionWrapHandler,
    StringConstraints,
    model_serializer,
)
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema

from deftarc.core.base import limits

#: What a model holds besides its fields once all that is asked of them together was checked.
CHECKED = "_checked"
#: A frozen model is filled past its own guard.
_put = object.__setattr__


class Frozen(BaseModel):
    """Plain data: cannot be changed, refuses fields it does not know and numbers that are none."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, ser_json_inf_nan="constants")

    def __eq__(self, other: object) -> bool:
        """Alike in every field. What either has worked out and kept, arrays often, is no part of it."""
        if self is other:
            return True
        if type(self) is not type(other):
            return NotImplemented
        one, two = self.__dict__, other.__dict__
        return all(one[name] == two[name] for name in type(self).model_fields)

    def changed(self, **fields: Any) -> Self:
        """A copy with some fields replaced, unchecked, and without what the old one had worked out and kept.

        (``model_copy`` would carry cached properties along.) Edits use it for what they have checked themselves.
        """
        kind = type(self)
        here = self.__dict__
        told = {name: here[name] for name in kind.__pydantic_fields__}
        told.update(fields)
        # As model_construct does it, without what that looks up anew for each of thousands of keys.
        made = kind.__new__(kind)
        _put(made, "__dict__", told)
        _put(made, "__pydantic_fields_set__", set(told))
        _put(made, "__pydantic_extra__", None)
        _put(made, "__pydantic_private__", None)
        return made


class Told(Frozen):
    """A model some of whose fields are written out even where they have their default, which is left out otherwise."""

    #: The names of those fields.
    always: ClassVar[tuple[str, ...]] = ()

    @classmethod
    def __get_pydantic_json_schema__(cls, core: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        told = handler.resolve_ref_schema(handler(core))
        named = [name for name in cls.always if name in told.get("properties", {})]
        if named:
            told["required"] = sorted({*told.get("required", ()), *named})
        return told

    @model_serializer(mode="wrap")
    def _told(self, handler: SerializerFunctionWrapHandler) -> dict[str, Any]:
        return {**{name: getattr(self, name) for name in self.always}, **handler(self)}


class Kinded(Told):
    """A member of a family told apart by its ``kind``, which is always written, and asked for."""

    always: ClassVar[tuple[str, ...]] = ("kind",)


Identity = Annotated[str, StringConstraints(pattern=r"^[a-z0-9]{1,24}$")]
AssetHash = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=limits.MAX_NAME)]
Colour = Annotated[str, StringConstraints(to_lower=True, pattern=r"^#[0-9a-fA-F]{6}([0-9a-fA-F]{2})?$")]
Number = Annotated[float, Field(ge=-limits.MAX_NUMBER, le=limits.MAX_NUMBER)]
Length = Annotated[float, Field(gt=0, le=limits.MAX_NUMBER)]
#: A moment in flicks from the scene's start; keys may lie before it.
Moment = Annotated[int, Field(ge=-limits.FURTHEST, le=limits.FURTHEST)]
