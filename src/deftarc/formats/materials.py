"""From artwork to drawing, with what it is made of: text by shaping, logos and pictures from their assets."""

import math
from collections.abc import Callable
from functools import lru_cache

from pydantic import ValidationError
from pydantic_core import from_json

from deftarc.core.base.errors import Refusal
from deftarc.core.document import Layer, Scene
from deftarc.core.document.artwork import Artwork, Painted, Text, TextForm
from deftarc.core.document.drawing import Drawing, Shape, Solid, checked
from deftarc.core.document.upgrade import format_of, upgrade
from deftarc.fonts.shaping import AssetReader, Shaper

#: So many shapes and texts are known to be drawable, or not to be.
MOST_KNOWN = 4096
#: And the drawings of so many texts are kept.
MOST_TEXTS = 256


class Materials:
    """Gives the drawing of any artwork; keeps those of assets, whose hash says they cannot change."""

    def __init__(self, read_asset: AssetReader) -> None:
        self.read_asset = read_asset
        self.shaper = Shaper(read_asset)
        self._drawings: dict[str, Drawing] = {}
        #: Assets that were here and could be drawn: they never change.
        self._sound: set[str] = set()
        self._reach: dict[Painted, str] = {}
        self._texts: dict[Text, Drawing] = {}

    def forget(self) -> None:
        """Lets go of what is kept to be quick."""
        for kept in (self._drawings, self._sound, self._reach, self._texts):
            kept.clear()

    def shape_text(self, text: Text) -> TextForm:
        return self.shaper.form(text)

    def stored(self, asset: str) -> Drawing:
        """The drawing kept under a hash; Refusal where there is none."""
        found = self._drawings.get(asset)
        if found is None:
            found = self._drawings[asset] = parse_drawing(self.read_asset(asset))
        return found

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
        files = [name for name, role in artwork.files() if role != "svg"]
        if not files or files[0] in self._sound:
            return ""
        try:
            self._drawing(artwork)
            for name in files:
                self.read_asset(name)
        except Refusal as refusal:
            return str(refusal)
        self._sound.add(files[0])
        return ""

    def _too_far(self, artwork: Painted) -> str:
        """Why a shape or text cannot be laid out; empty where it can. Asked at every look, and so kept."""
        found = self._reach.get(artwork)
        if found is None:
            try:
                self._drawing(artwork)
                found = ""
            except Refusal as refusal:
                found = str(refusal)
            # Other pages ask at the same time: nothing is read back.
            if len(self._reach) > MOST_KNOWN:
                self._reach.clear()
            self._reach[artwork] = found
        return found

    def _drawing(self, artwork: Artwork) -> Drawing:
        if isinstance(artwork, Text):
            # Shaping is cached, but its outline is written and read anew each time: texts are long.
            found = self._texts.get(artwork)
            if found is None:
                found = artwork.drawing(self)
                if len(self._texts) >= MOST_TEXTS:
                    self._texts.clear()
                self._texts[artwork] = found
            return found
        return _shaped(artwork) if isinstance(artwork, Painted) else artwork.drawing(self)

    def of_layer(self, layer: Layer) -> Drawing:
        """A layer's drawing, with a place for every paint that its keys bring in over time."""
        return self.drawn(layer.artwork.with_paints(keyed_paints(layer)))


#: Paints whose keys may bring in what the resting artwork does not show.
BROUGHT_IN = ("fill", "stroke", "stroke_width")


def keyed_paints(layer: Layer) -> frozenset[str]:
    """Which of a layer's paints are there at all times, because they have keys."""
    return frozenset(name for name in BROUGHT_IN if name in layer.tracks)


def ground_drawing(scene: Scene) -> Drawing:
    """What stands for the background of a scene that is shown within another, about its middle."""
    if scene.background is None:
        return Drawing()
    x, y = scene.width / 2, scene.height / 2
    outline = f"M{-x:g} {-y:g}L{x:g} {-y:g}L{x:g} {y:g}L{-x:g} {y:g}Z"
    return Drawing(nodes=(Shape(outline=outline, fill=Solid(colour=scene.background)),))


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


class _Nothing:
    """What an outline by formula asks for: nothing."""

    def shape_text(self, text: Text) -> TextForm:
        raise Refusal("A text is shaped with a face.")

    def stored(self, asset: str) -> Drawing:
        raise Refusal("A shape is made of no file.")


@lru_cache(maxsize=2048)
def _shaped(artwork: Painted) -> Drawing:
    return artwork.drawing(_Nothing())


def reach_in(scene: Scene, materials: Materials) -> Callable[[str], float]:
    """How far the furthest corner of what a leaf draws is from its origin in its px, by the leaf's name; of one in a
    scene that is shown within this one, nought: its carrier says how far that goes.
    """
    layers = {layer.id: layer for layer in scene.layers}

    def reach(name: str) -> float:
        layer = layers.get(name)
        if layer is None:
            return 0.0
        left, top, right, bottom = map(abs, materials.of_layer(layer).bounds())
        return math.hypot(max(left, right), max(top, bottom))

    return reach
