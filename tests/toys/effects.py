"""A toy effect: a blur by another name."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base.arrays import Floats
from deftarc.core.document.effects.base import EFFECTS, EffectBase, Values


@EFFECTS.add
class Haze(EffectBase):
    label: ClassVar[str] = "Haze"
    keyable: ClassVar[tuple[str, ...]] = ("haze_amount",)
    kind: Literal["haze"] = "haze"
    amount: Annotated[float, Field(ge=0, le=200)] = 5.0

    @classmethod
    def reach(cls, values: Values) -> Floats:
        return 3 * values["amount"][:, 0]
