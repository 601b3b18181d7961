"""Places along the outline of a layer's artwork as it rests."""

from functools import lru_cache

import numpy as np

from deftarc.core.base.arrays import Floats
from deftarc.core.document import Layer
from deftarc.core.document.artwork import Painted, Text
from deftarc.core.spaces.contours import spans_of
from deftarc.core.spaces.drawn import Measured
from deftarc.core.spaces.outline import Outline


@lru_cache(maxsize=128)
def _measured(artwork: Painted) -> Measured | None:
    if isinstance(artwork, Text):
        # Letters are shaped elsewhere: it is its box's middle.
        return None
    verbs, points = artwork.outline({})
    made = Outline(verbs, points[0])
    return Measured(made) if spans_of(made) else None


def places_along(layer: Layer, share: Floats) -> Floats:
    """Where shares (n,) of the whole length of an outline lie (n, 2), contour after contour."""
    found = _measured(layer.artwork) if isinstance(layer.artwork, Painted) else None
    if found is None or not found.lengths.sum():
        return np.zeros((len(share), 2))
    return found.places(share)


__all__ = ["places_along"]
