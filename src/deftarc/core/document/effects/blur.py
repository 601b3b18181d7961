"""Blur by a Gaussian: both ways alike, or along one angle."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base.arrays import Floats
from deftarc.core.document.effects.base import EFFECTS, EffectBase, Values


@EFFECTS.add
class Blur(EffectBase):
    """``radius`` is the Gaussian's standard deviation in px, as W3C Filter Effects' ``blur()`` has it; ``angle`` is the
    way it goes where it goes ``along`` one, degrees clockwise from rightwards.
    """

    label: ClassVar[str] = "Blur"
    icon: ClassVar[str] = "water"
    about: ClassVar[str] = "soft, all ways or along one"
    keyable: ClassVar[tuple[str, ...]] = ("blur_radius", "blur_angle")
    choices: ClassVar[dict[str, dict[str, str]]] = {"ways": {"both": "all ways alike", "along": "along the angle"}}
    kind: Literal["blur"] = "blur"
    radius: Annotated[float, Field(ge=0, le=1_000)] = 8.0
    ways: Literal["both", "along"] = "both"
    angle: Annotated[float, Field(ge=-1e7, le=1e7)] = 0.0

    def counts(self, name: str) -> bool:
        return name in self.keyable and (name != "blur_angle" or self.ways == "along")

    def told(self) -> dict[str, float]:
        return {"along": float(self.ways == "along")}

    @classmethod
    def reach(cls, values: Values) -> Floats:
        return 3 * values["radius"][:, 0]
