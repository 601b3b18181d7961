"""Colour: lighter or darker, harder, more or less vivid, turned, inverted, tinted."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.base.arrays import Floats
from deftarc.core.base.model import Colour
from deftarc.core.document.effects.base import EFFECTS, EffectBase, Values

Amount = Annotated[float, Field(ge=0, le=20)]
Share = Annotated[float, Field(ge=0, le=1)]


@EFFECTS.add
class Colouring(EffectBase):
    """In turn brightness, contrast, saturation, a turn of hue and inversion, each as W3C Filter Effects' function of
    that name has it, on encoded sRGB; and then so much of a tint: the colour, as light as what it tints.
    """

    label: ClassVar[str] = "Colour"
    icon: ClassVar[str] = "palette"
    about: ClassVar[str] = "lighter, harder, more vivid, turned, tinted"
    keyable: ClassVar[tuple[str, ...]] = (
        "colour_brightness", "colour_contrast", "colour_saturation", "colour_hue", "colour_invert", "colour_tinted",
        "colour_tint",
    )  # fmt: skip
    kind: Literal["colour"] = "colour"
    brightness: Amount = 1.0
    contrast: Amount = 1.0
    saturation: Amount = 1.0
    hue: Annotated[float, Field(ge=-1e7, le=1e7)] = 0.0
    invert: Share = 0.0
    tinted: Share = 0.0
    tint: Colour | None = "#f4a33f"

    @classmethod
    def reach(cls, values: Values) -> Floats:
        return np.zeros(1)
