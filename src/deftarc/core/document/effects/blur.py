"""Blur: both ways alike, by a Gaussian."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base.arrays import Floats
from deftarc.core.document.effects.base import EFFECTS, EffectBase, Values


@EFFECTS.add
class Blur(EffectBase):
    """``radius`` is the Gaussian's standard deviation in px, as W3C Filter Effects' ``blur()`` has it."""

    label: ClassVar[str] = "Blur"
    keyable: ClassVar[tuple[str, ...]] = ("blur_radius",)
    kind: Literal["blur"] = "blur"
    radius: Annotated[float, Field(ge=0, le=1_000)] = 8.0

    @classmethod
    def reach(cls, values: Values) -> Floats:
        return 3 * values["radius"][:, 0]
