"""Crop: a share cut off at each edge, softly if wanted."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.base.arrays import Floats
from deftarc.core.document.effects.base import EFFECTS, EffectBase, Values

Part = Annotated[float, Field(ge=0, le=1)]


@EFFECTS.add
class Crop(EffectBase):
    """Each edge moved in by a share of what it crops, pens included; of a group, of all its members as they lie then,
    and of a wash, of the frame. ``softness`` is the standard deviation in px of the Gaussian that softens the edges. An
    edge that is not moved cuts nothing.
    """

    label: ClassVar[str] = "Crop"
    icon: ClassVar[str] = "crop"
    about: ClassVar[str] = "cut off at its edges"
    keyable: ClassVar[tuple[str, ...]] = ("crop_left", "crop_top", "crop_right", "crop_bottom", "crop_softness")
    kind: Literal["crop"] = "crop"
    left: Part = 0.0
    top: Part = 0.0
    right: Part = 0.0
    bottom: Part = 0.0
    softness: Annotated[float, Field(ge=0, le=1_000)] = 0.0

    @classmethod
    def reach(cls, values: Values) -> Floats:
        return np.zeros(1)
