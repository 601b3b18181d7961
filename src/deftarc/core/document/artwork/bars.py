"""Bars that close in on the picture from its edges."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.base.arrays import Floats
from deftarc.core.base.model import Colour, Length
from deftarc.core.document.artwork.base import ARTWORKS, PAINT, Numbers, Painted, TextShaper

Part = Annotated[float, Field(ge=0, le=1)]
SIDES = ("bar_left", "bar_top", "bar_right", "bar_bottom")


@ARTWORKS.add
class Bars(Painted):
    """A frame of ``width`` × ``height`` px about the origin, its scene's, less what is open: each bar closes in by a
    share of the frame. Where two meet nothing is open.
    """

    keyable: ClassVar[tuple[str, ...]] = (*SIDES, *PAINT)
    label: ClassVar[str] = "Bars"
    icon: ClassVar[str] = "fullscreen-exit"
    about: ClassVar[str] = "close in from the edges"
    kind: Literal["bars"] = "bars"
    #: The scene's, kept so that it can be laid out without it.
    width: Length
    height: Length
    bar_left: Part = 0.0
    bar_top: Part = 0.12
    bar_right: Part = 0.0
    bar_bottom: Part = 0.12
    fill: Colour | None = "#0b0d10"

    @classmethod
    def first(cls, side: float) -> "Bars":
        return cls(width=side * 16 / 3, height=side * 3)

    @property
    def filled_by(self) -> Literal["nonzero", "evenodd"]:
        return "evenodd"

    def outline(self, numbers: Numbers, shape_text: TextShaper | None = None) -> tuple[str, Floats]:
        left, top, right, bottom = (self.number(numbers, name) for name in SIDES)
        across = np.minimum(left, 1 - right), np.maximum(1 - right, left)
        down = np.minimum(top, 1 - bottom), np.maximum(1 - bottom, top)
        # Bars that meet leave nothing open, wherever they do.
        shut = (left + right >= 1) | (top + bottom >= 1)
        x1, x2 = ((np.where(shut, 0.5, each) - 0.5) * self.width for each in across)
        y1, y2 = ((np.where(shut, 0.5, each) - 0.5) * self.height for each in down)
        w, h = np.array([self.width / 2]), np.array([self.height / 2])
        corners = [(-w, -h), (w, -h), (w, h), (-w, h), (x1, y1), (x2, y1), (x2, y2), (x1, y2)]
        rows = [np.stack(np.broadcast_arrays(*corner), axis=-1) for corner in corners]
        return "MLLLZMLLLZ", np.stack(np.broadcast_arrays(*rows), axis=1)
