"""Artwork: what a layer is made of. A class a kind, collected from a file for each family of them."""

from typing import TYPE_CHECKING, Annotated, Any, Union

from pydantic import Field

from deftarc.core.base.register import collect
from deftarc.core.document.artwork.bars import Bars
from deftarc.core.document.artwork.base import (
    ARTWORKS,
    CLEAR,
    PAINT,
    ArtworkBase,
    Numbers,
    Painted,
    Role,
    Sources,
    TextForm,
    TextShaper,
)
from deftarc.core.document.artwork.bursts import Bursts, Particles, Rings
from deftarc.core.document.artwork.carrier import Carrier
from deftarc.core.document.artwork.free import Contour, FreePath, Node6, Pointed
from deftarc.core.document.artwork.gradient import Gradient, Stop
from deftarc.core.document.artwork.pictured import Logo, Picture
from deftarc.core.document.artwork.shapes import Ellipse, Polygon, Rectangle, Star
from deftarc.core.document.artwork.text import Text
from deftarc.core.document.artwork.wash import Wash
from deftarc.core.spaces.outline import Outline

collect(__name__, __path__, ("gradient", "base", "shapes", "free", "text", "pictured", "carrier"))

if TYPE_CHECKING:
    Artwork = ArtworkBase
else:
    Artwork: Any = Annotated[Union[tuple(ARTWORKS.values())], Field(discriminator="kind")]  # noqa: UP007


def assets_in(art: ArtworkBase) -> set[str]:
    """The hashes of the assets an artwork names itself."""
    return {name for name, _ in art.files()}


def outline_of(art: ArtworkBase, shape_text: TextShaper | None = None) -> Outline:
    """The resting outline of a painted artwork."""
    assert isinstance(art, Painted)
    return art.resting(shape_text)


__all__ = [
    "ARTWORKS",
    "CLEAR",
    "PAINT",
    "Artwork",
    "ArtworkBase",
    "Bars",
    "Bursts",
    "Carrier",
    "Contour",
    "Ellipse",
    "FreePath",
    "Gradient",
    "Logo",
    "Node6",
    "Numbers",
    "Painted",
    "Particles",
    "Picture",
    "Pointed",
    "Polygon",
    "Rectangle",
    "Rings",
    "Role",
    "Sources",
    "Star",
    "Stop",
    "Text",
    "TextForm",
    "TextShaper",
    "Wash",
    "assets_in",
    "outline_of",
]
