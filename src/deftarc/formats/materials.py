"""From artwork to drawing: shapes by formula, text by shaping, logos and pictures from their assets."""

from collections.abc import Callable
from functools import lru_cache

from pydantic import ValidationError

from deftarc.core.document import Artwork, Ellipse, Logo, Picture, Rectangle, Text
from deftarc.core.drawing import Bitmap, Drawing, Shape, Solid, Stroke, checked
from deftarc.core.errors import Refusal
from deftarc.core.outline import Outline, ellipse, rectangle
from deftarc.formats.fonts import text_outline

#: Hands over an asset's bytes by its hash; raises Refusal when there is none.
AssetReader = Callable[[str], bytes]


class Materials:
    """Gives the drawing of any artwork; keeps those of assets, whose hash says they cannot change."""

    def __init__(self, read_asset: AssetReader) -> None:
        self.read_asset = read_asset
        self._logos: dict[str, Drawing] = {}

    def drawing(self, artwork: Artwork) -> Drawing:
        if isinstance(artwork, Logo):
            found = self._logos.get(artwork.asset)
            if found is None:
                found = self._logos[artwork.asset] = parse_drawing(self.read_asset(artwork.asset))
            return found
        if isinstance(artwork, Picture):
            half_width, half_height = artwork.width / 2, artwork.height / 2
            return Drawing(
                nodes=(
                    Bitmap(
                        asset=artwork.asset, x=-half_width, y=-half_height, width=artwork.width, height=artwork.height
                    ),
                )
            )
        return _shaped(artwork)


def parse_drawing(data: bytes) -> Drawing:
    """A logo's kept drawing, checked anew: it may have come in a project file."""
    try:
        return checked(Drawing.model_validate_json(data))
    except ValidationError:
        raise Refusal("A logo of this project is damaged. Bring its SVG in again.") from None


@lru_cache(maxsize=2048)
def _shaped(artwork: Rectangle | Ellipse | Text) -> Drawing:
    outline: Outline
    if isinstance(artwork, Rectangle):
        outline = rectangle(artwork.width, artwork.height, artwork.radius)
    elif isinstance(artwork, Ellipse):
        outline = ellipse(artwork.width, artwork.height)
    else:
        outline = text_outline(artwork)
    stroke = None
    if artwork.stroke and artwork.stroke_width > 0:
        stroke = Stroke(paint=Solid(colour=artwork.stroke), width=artwork.stroke_width, join="round")
    fill = Solid(colour=artwork.fill) if artwork.fill else None
    if not outline.verbs:
        return Drawing()
    return Drawing(nodes=(Shape(outline=outline.data(), fill=fill, stroke=stroke),))
