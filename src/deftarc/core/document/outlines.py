"""The outlines of artworks, for one moment or for many at once."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.document.artwork import Artwork, Ellipse, FreePath, Painted, Polygon, Rectangle, Star, Text
from deftarc.core.spaces.outline import Outline
from deftarc.core.spaces.shapes import ellipses, free, rectangles, stars

Numbers = Mapping[str, Floats]


@dataclass(frozen=True, eq=False)
class TextForm:
    """A shaped text as a sum: points = size · (letters + spacing · shifts + line_height · lines), each (P, 2)."""

    verbs: str
    letters: Floats
    shifts: Floats
    lines: Floats

    def points(self, size: Floats, spacing: Floats, line_height: Floats) -> Floats:
        """Points (F, P, 2) at sizes in px, letter spacings and line heights in sizes, (F,) each."""
        s, g, h = (x[:, None, None] for x in np.broadcast_arrays(size, spacing, line_height))
        out: Floats = s * (self.letters + g * self.shifts + h * self.lines)
        return out


#: Hands over the shaped form of a text; shaping is not the core's business.
TextShaper = Callable[[Text], TextForm]


def outlines(artwork: Painted, numbers: Numbers, shape_text: "TextShaper | None" = None) -> tuple[str, Floats]:
    """Verbs and points (F, P, 2) of a painted artwork with its numbers over time; those not given are its fields."""

    def of(name: str) -> Floats:
        given = numbers.get(name)
        return np.array([float(getattr(artwork, name))]) if given is None else given

    if isinstance(artwork, Rectangle):
        return rectangles(of("width"), of("height"), of("radius"))
    if isinstance(artwork, Ellipse):
        return ellipses(of("width"), of("height"))
    if isinstance(artwork, Polygon):
        return stars(of("sides"), of("outer"), None, of("roundness"))
    if isinstance(artwork, Star):
        return stars(of("spikes"), of("outer"), of("inner"), of("roundness"))
    if isinstance(artwork, FreePath):
        row = numbers.get("outline")
        return free(artwork.contours, np.array([artwork.numbers()]) if row is None else row)
    assert isinstance(artwork, Text)
    if shape_text is None:
        return "", np.empty((1, 0, 2))
    # Letters that move apart at any time are never drawn together.
    spaced = "letter_spacing" in numbers
    form = shape_text(artwork.changed(letter_spacing=1.0) if spaced else artwork)
    return form.verbs, form.points(of("size"), of("letter_spacing"), of("line_height"))


def outline_of(artwork: Artwork, shape_text: "TextShaper | None" = None) -> Outline:
    """The resting outline of a painted artwork."""
    assert isinstance(artwork, Painted)
    verbs, points = outlines(artwork, {}, shape_text)
    return Outline(verbs, points[0])
