"""The frozen base of every document model, and the checked scalar types they share."""

from collections.abc import Iterable, Sequence
from typing import Annotated, Any, ClassVar, Literal, Self, TypeVar

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

#: Strings read are not shared with those read before: what keeps the last thousands of them holds on to the memory
#: around each long after their document is gone (300 MB of 600, measured).
UNSHARED: Literal["none"] = "none"
#: How rows of these models are read where they stand for themselves.
READ = ConfigDict(cache_strings=UNSHARED)
#: What a model holds besides its fields once all that is asked of them together was checked.
CHECKED = "_checked"
#: What a track holds, weakly, of the one it was made of by giving its keys other times, and nothing else.
RETIMED = "_retimed"
#: A frozen model is filled past its own guard, and as directly as can be: an edit makes thousands of keys.
_put = object.__setattr__
_put_set, _put_extra, _put_private = (
    BaseModel.__dict__[name].__set__
    for name in ("__pydantic_fields_set__", "__pydantic_extra__", "__pydantic_private__")
)
#: The names of all fields of a kind of model, shared by what is copied of it.
_ALL: dict[type, set[str]] = {}


class Frozen(BaseModel):
    """Plain data: cannot be changed, refuses fields it does not know and numbers that are none."""

    model_config = ConfigDict(
        frozen=True, extra="forbid", allow_inf_nan=False, ser_json_inf_nan="constants", cache_strings=UNSHARED
    )

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
        names = _ALL.get(kind)
        if names is None:
            names = _ALL[kind] = set(kind.__pydantic_fields__)
        told = self.__dict__.copy()
        if len(told) > len(names):
            told = {name: told[name] for name in kind.__pydantic_fields__}
        told.update(fields)
        # As model_construct does it, without what that looks up anew for each of thousands of keys.
        made = kind.__new__(kind)
        _put(made, "__dict__", told)
        _put_set(made, names)
        _put_extra(made, None)
        _put_private(made, None)
        return made


T = TypeVar("T", bound=Frozen)


def each_with(things: Sequence[T], field: str, values: Iterable[Any]) -> list[T]:
    """``changed`` for thousands: things, which have worked out nothing, with one field replaced in each; those
    that have that value already as they are.
    """
    made = []
    for thing, value in zip(things, values, strict=True):
        told = thing.__dict__
        if told[field] == value:
            made.append(thing)
            continue
        told = told.copy()
        told[field] = value
        kind = type(thing)
        copy = kind.__new__(kind)
        _put(copy, "__dict__", told)
        _put_set(copy, thing.__pydantic_fields_set__)
        _put_extra(copy, None)
        _put_private(copy, None)
        made.append(copy)
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
