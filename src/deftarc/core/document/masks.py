"""Masks: outlines in a layer's own px within which it shows, or does not. Each adds to those before it, takes away from
them, or keeps what lies in both.
"""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.model import Identity, Name
from deftarc.core.document.artwork.free import Contour, Pointed

#: How a mask goes with those before it, in words.
MODES: dict[str, str] = {
    "add": "shows what is in it", "subtract": "hides what is in it", "intersect": "keeps what is in it, too",
}  # fmt: skip


class Mask(Pointed):
    """``feather`` is the standard deviation in px of the Gaussian that softens its edge to both sides; grown by
    ``grow`` px before. ``opacity`` says how much of it there is.
    """

    keyable: ClassVar[tuple[str, ...]] = ("mask_outline", "mask_feather", "mask_grow", "mask_opacity")
    id: Identity
    name: Name = "Mask"
    on: bool = True
    mode: Literal["add", "subtract", "intersect"] = "add"
    inverted: bool = False
    contours: Annotated[tuple[Contour, ...], Field(min_length=1, max_length=limits.MAX_CONTOURS)]
    rule: Literal["nonzero", "evenodd"] = "nonzero"
    feather: Annotated[float, Field(ge=0, le=1_000)] = 0.0
    grow: Annotated[float, Field(ge=-10_000, le=10_000)] = 0.0
    opacity: Annotated[float, Field(ge=0, le=1)] = 1.0

    @property
    def properties(self) -> tuple[str, ...]:
        """The names under which the layer has its properties."""
        return tuple(f"mask/{self.id}/{name}" for name in self.keyable)


__all__ = ["MODES", "Mask"]
