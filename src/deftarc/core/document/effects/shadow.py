"""Shadow: what is seen of a layer's shape behind it, moved, softened and in one colour."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.base.arrays import Floats
from deftarc.core.base.model import Colour
from deftarc.core.document.effects.base import EFFECTS, EffectBase, Values


@EFFECTS.add
class Shadow(EffectBase):
    """``distance`` px in ``direction``, degrees clockwise from rightwards; ``softness`` is a standard deviation.

    All lengths are px of what throws it. ``spread`` px it is larger all round than that, before it is soft; of what
    throws it nothing is seen where ``only`` the shadow is.
    """

    label: ClassVar[str] = "Shadow"
    icon: ClassVar[str] = "back"
    about: ClassVar[str] = "its shape, moved and soft, behind it"
    keyable: ClassVar[tuple[str, ...]] = (
        "shadow_distance",
        "shadow_direction",
        "shadow_softness",
        "shadow_spread",
        "shadow_colour",
        "shadow_opacity",
    )
    choices: ClassVar[dict[str, dict[str, str]]] = {"only": {"no": "with what throws it", "yes": "the shadow only"}}
    kind: Literal["shadow"] = "shadow"
    distance: Annotated[float, Field(ge=-10_000, le=10_000)] = 18.0
    direction: Annotated[float, Field(ge=-1e7, le=1e7)] = 60.0
    softness: Annotated[float, Field(ge=0, le=1_000)] = 9.0
    colour: Colour | None = "#000000"
    spread: Annotated[float, Field(ge=-500, le=500)] = 0.0
    opacity: Annotated[float, Field(ge=0, le=1)] = 0.4
    only: Literal["no", "yes"] = "no"

    def told(self) -> dict[str, float]:
        return {"only": float(self.only == "yes")}

    @classmethod
    def reach(cls, values: Values) -> Floats:
        spread = np.maximum(values["spread"][:, 0], 0)
        return abs(values["distance"][:, 0]) + spread + 3 * values["softness"][:, 0]


#: How much of a Gaussian lies beyond one standard deviation, and how steep it is there.
BEYOND, STEEP = 0.15865525393145707, 0.24197072451914337
#: Px of the picture that are no spread at all.
LEAST_SPREAD = 0.05


def spread_by(px: float) -> tuple[float, float] | None:
    """What an alpha blurred by |px| is multiplied with, and what is added then, so that a straight edge comes to lie px
    further out, as sharp as it was; None where there is no spread.
    """
    if abs(px) < LEAST_SPREAD:
        return None
    slope = max(abs(px) / STEEP, 0.5 / BEYOND)
    return slope, 0.5 - slope * (BEYOND if px > 0 else 1 - BEYOND)
