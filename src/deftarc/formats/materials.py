"""From artwork to drawing: shapes by formula, text by shaping, logos and pictures from their assets."""

from functools import lru_cache

from pydantic import ValidationError
from pydantic_core import from_json

from deftarc.core.base.errors import Refusal
from deftarc.core.document import Layer
from deftarc.core.document.artwork import Artwork, Carrier, FreePath, Logo, Painted, Picture, Text
from deftarc.core.document.drawing import Bitmap, Drawing, Shape, Solid, Stroke, checked
from deftarc.core.document.outlines import outline_of
from deftarc.core.document.upgrade import format_of, upgrade
from deftarc.core.spaces.outline import Outline
from deftarc.fonts.shaping import AssetReader, Shaper

#: So many shapes and texts are known to be drawable, or not to be.
MOST_KNOWN = 4096
#: A paint that is not to be seen.
CLEAR = "#00000000"


class Materials:
    """Gives the drawing of any artwork; keeps those of assets, whose hash says they cannot change."""

    def __init__(self, read_asset: AssetReader) -> None:
        self.read_asset = read_asset
        self.shaper = Shaper(read_asset)
        self._logos: dict[str, Drawing] = {}
        #: Assets that were here and could be drawn: they never change.
        self._sound: set[str] = set()
        self._reach: dict[Painted, str] = {}

    def drawing(self, artwork: Artwork) -> Drawing:
        """The drawing of an artwork; Refusal where it has none."""
        if isinstance(artwork, Text):
            self.shaper.shaped(artwork)
        return self._drawing(artwork)

    def drawn(self, artwork: Artwork) -> Drawing:
        """The drawing of an artwork that is stored already: nothing where there is none, and ``trouble`` says why."""
        try:
            return self._drawing(artwork)
        except Refusal:
            return Drawing()

    def trouble(self, artwork: Artwork) -> str:
        """Why an artwork is not drawn; empty where it is."""
        if isinstance(artwork, Painted):
            told = self.shaper.trouble(artwork) if isinstance(artwork, Text) else ""
            return told or self._too_far(artwork)
        if not isinstance(artwork, Logo | Picture) or artwork.asset in self._sound:
            return ""
        try:
            self._drawing(artwork)
            self.read_asset(artwork.asset)
        except Refusal as refusal:
            return str(refusal)
        self._sound.add(artwork.asset)
        return ""

    def _too_far(self, artwork: Painted) -> str:
        """Why a shape or text cannot be laid out; empty where it can. Asked at every look, and so kept."""
        found = self._reach.get(artwork)
        if found is None:
            try:
                self._drawing(artwork)  # type: ignore[arg-type]
                found = ""
            except Refusal as refusal:
                found = str(refusal)
            # Other pages ask at the same time: nothing is read back.
            if len(self._reach) > MOST_KNOWN:
                self._reach.clear()
            self._reach[artwork] = found
        return found

    def _drawing(self, artwork: Artwork) -> Drawing:
        if isinstance(artwork, Carrier):
            return Drawing()
        if isinstance(artwork, Logo):
            found = self._logos.get(artwork.asset)
            if found is None:
                found = self._logos[artwork.asset] = parse_drawing(self.read_asset(artwork.asset))
            return found
        if isinstance(artwork, Picture):
            x, y = -artwork.width / 2, -artwork.height / 2
            picture = Bitmap(asset=artwork.asset, x=x, y=y, width=artwork.width, height=artwork.height)
            return Drawing(nodes=(picture,))
        if isinstance(artwork, Text):
            return _painted(artwork, outline_of(artwork, self.shaper.form))
        return _shaped(artwork)

    def of_layer(self, layer: Layer) -> Drawing:
        """A layer's drawing, with a place for every paint that its keys bring in over time."""
        artwork = layer.artwork
        if isinstance(artwork, Painted):
            keyed = {name for name in ("fill", "stroke", "stroke_width") if name in layer.tracks}
            changes: dict[str, object] = {}
            if "fill" in keyed and artwork.fill is None:
                changes["fill"] = CLEAR
            if "stroke" in keyed and artwork.stroke is None:
                changes["stroke"] = CLEAR
            if keyed & {"stroke", "stroke_width"} and artwork.stroke_width <= 0:
                changes["stroke_width"] = 1e-6
            if changes:
                return self.drawn(artwork.changed(**changes))
        return self.drawn(artwork)


def parse_drawing(data: bytes) -> Drawing:
    """A logo's kept drawing, checked anew: it may have come in a project file."""
    try:
        told = from_json(data, allow_inf_nan=False)
        since = format_of(told)
        if isinstance(told, dict):
            told.pop("format", None)
        return checked(Drawing.model_validate(upgrade("drawing", told, since)))
    except (ValidationError, ValueError) as error:
        if isinstance(error, Refusal):
            raise
        raise Refusal("A logo of this project is damaged. Bring its SVG in again.") from None


@lru_cache(maxsize=2048)
def _shaped(artwork: Painted) -> Drawing:
    return _painted(artwork, outline_of(artwork))  # type: ignore[arg-type]


def _painted(artwork: Painted, outline: Outline) -> Drawing:
    """One shape with its fill and stroke. Where either is keyed it is there at all times, transparent if need be."""
    stroke = None
    if artwork.stroke is not None:
        stroke = Stroke(
            paint=Solid(colour=artwork.stroke), width=max(artwork.stroke_width, 1e-6), cap=artwork.cap,
            join=artwork.join, dash=artwork.dash * (2 if len(artwork.dash) % 2 else 1),
            dash_offset=artwork.dash_offset,
        )  # fmt: skip
        if artwork.stroke_width <= 0:
            stroke = None
    fill = Solid(colour=artwork.fill) if artwork.fill else None
    rule = artwork.rule if isinstance(artwork, FreePath) else "nonzero"
    if not outline.verbs:
        return Drawing()
    try:
        return Drawing(nodes=(Shape(outline=outline.data(), rule=rule, fill=fill, stroke=stroke),))
    except ValidationError:
        # Each number keeps its limit, and yet a handle far from a far point may not.
        raise Refusal("This outline reaches further than Deft Arc can draw.") from None
