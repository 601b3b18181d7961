"""A text, shaped to outlines with a face."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.document.artwork.base import ARTWORKS, PAINT, Numbers, Painted, TextShaper


@ARTWORKS.add
class Text(Painted):
    keyable: ClassVar[tuple[str, ...]] = ("size", "line_height", "letter_spacing", *PAINT)
    label: ClassVar[str] = "Text"
    traits: ClassVar[frozenset[str]] = Painted.traits | {"words", "parts", "boxed"}
    kind: Literal["text"] = "text"
    text: Annotated[str, Field(min_length=1, max_length=limits.MAX_TEXT)]
    #: A shipped face's id, or one of the project's own.
    font: Annotated[str, Field(pattern=r"^[a-z0-9-]{1,80}$")] = "bricolage-grotesque-700"
    size: Annotated[float, Field(gt=0, le=5_000)] = 72.0
    align: Literal["start", "middle", "end"] = "middle"
    #: Distance from baseline to baseline, in sizes.
    line_height: Annotated[float, Field(ge=0, le=10)] = 1.2
    #: Added after each letter, in sizes.
    letter_spacing: Annotated[float, Field(ge=-1, le=10)] = 0.0

    def outline(self, numbers: Numbers, shape_text: TextShaper | None = None) -> tuple[str, Floats]:
        if shape_text is None:
            return "", np.empty((1, 0, 2))
        # Letters that move apart at any time are never drawn together.
        form = shape_text(self.changed(letter_spacing=1.0) if "letter_spacing" in numbers else self)
        return form.verbs, form.points(*(self.number(numbers, n) for n in ("size", "letter_spacing", "line_height")))
