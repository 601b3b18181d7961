"""What the format has a word for and not every player heeds: with each it looks another way in some of them."""

from collections.abc import Iterator

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.base.matrices import from_six
from deftarc.core.document.drawing import Drawing, LinearGradient, Paint, RadialGradient, Shape
from deftarc.core.document.drawing import Group as DrawnGroup
from deftarc.core.plain.pieces import Piece, Thing
from deftarc.core.spaces.colour import parse_colour

#: The blends that all players that were tried have.
AGREED = ("normal", "multiply", "darken")
#: How much wider one way than the other a pen may get before it is seen.
UNEVEN = 1.02


def disputed(thing: Thing, drawing: Drawing | None) -> Iterator[str]:
    """What of a thing alone not every player shows; ``drawing`` is what a piece draws."""
    branch = thing.leaf if isinstance(thing, Piece) else thing.group
    if branch.blend not in AGREED:
        yield "blending"
    if branch.matte is not None and branch.matte.by == "luma" and branch.matte.inverted:
        yield "mattes that show where they are dark"
    if not isinstance(thing, Piece) or drawing is None:
        return
    for shape in _shapes(drawing.nodes):
        if any(_clears(paint) for paint in (shape.fill, None if shape.stroke is None else shape.stroke.paint)):
            yield "gradients that get clear"
        if shape.stroke is not None and _uneven(branch.matrix @ from_six(np.array(shape.matrix))):
            yield "strokes that are slanted or stretched"


def _shapes(nodes: tuple[object, ...]) -> Iterator[Shape]:
    for node in nodes:
        if isinstance(node, Shape):
            yield node
        elif isinstance(node, DrawnGroup):
            yield from _shapes(node.nodes)


def _clears(paint: Paint | None) -> bool:
    if not isinstance(paint, LinearGradient | RadialGradient):
        return False
    return any(parse_colour(stop.colour)[3] < 1 for stop in paint.stops)


def _uneven(matrices: Floats) -> bool:
    sizes = np.linalg.svd(matrices[..., :2, :2], compute_uv=False)
    return bool(np.any(sizes[..., 0] > UNEVEN * sizes[..., 1] + 1e-9))


__all__ = ["disputed"]
