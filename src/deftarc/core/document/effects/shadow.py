"""Shadow: what is seen of a layer's shape behind it, moved, softened and in one colour."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base.arrays import Floats
from deftarc.core.base.model import Colour
from deftarc.core.document.effects.base import EFFECTS, EffectBase, Values


@EFFECTS.add
class Shadow(EffectBase):
    """``distance`` px in ``direction``, degrees clockwise from rightwards; ``softness`` is a standard deviation.

    Both lengths are px of what throws it.
    """

    label: ClassVar[str] = "Shadow"
    keyable: ClassVar[tuple[str, ...]] = (
        "shadow_distance",
        "shadow_direction",
        "shadow_softness",
        "shadow_colour",
        "shadow_opacity",
    )
    kind: Literal["shadow"] = "shadow"
    distance: Annotated[float, Field(ge=-10_000, le=10_000)] = 18.0
    direction: Annotated[float, Field(ge=-1e7, le=1e7)] = 60.0
    softness: Annotated[float, Field(ge=0, le=1_000)] = 9.0
    colour: Colour | None = "#000000"
    opacity: Annotated[float, Field(ge=0, le=1)] = 0.4

    @classmethod
    def reach(cls, values: Values) -> Floats:
        return abs(values["distance"][:, 0]) + 3 * values["softness"][:, 0]
