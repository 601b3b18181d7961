"""An outline drawn on by its line, and then filled: keys for what is drawn of it and how much of its fill there is."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.arrange.family import members
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Moment
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.ease import ease_segments
from deftarc.core.document import Layer, Project
from deftarc.core.document.artwork import Painted
from deftarc.core.document.keys import NumberKey
from deftarc.core.document.track import NumberTrack
from deftarc.core.edit.gradients import INK
from deftarc.core.edit.layers import LayersEdit

#: The pen of what had none, in px.
PEN = 6.0
Length = Annotated[Moment, Field(ge=0)]


class DrawOn(LayersEdit):
    """From ``time`` on each line is drawn in ``length``, each layer's ``step`` later than the one below it in the
    list's order, and filled in ``fills`` after that. What had no line has one meanwhile, in the colour of its fill.
    Contours are drawn all at once, or ``in_turn``. What keys these had before go.
    """

    looked_at: ClassVar[bool] = True
    kind: Literal["draw_on"] = "draw_on"
    time: Moment = 0
    length: Length = FLICKS
    fills: Length = FLICKS // 2
    step: Moment = 0
    in_turn: bool = False
    ease: Annotated[str, Field(max_length=40)] = "slow-ends"

    def _lines(self, project: Project) -> list[Layer]:
        """What is to be seen, of the layers and of all that is in those that are groups, the topmost first."""
        scene = project.scene(self.scene)
        wanted = {layer.id for layer in self.found(project)}
        for layer in self.found(project):
            wanted |= {each.id for each in members(scene, layer.id)} if layer.group else set()
        return [layer for layer in scene.layers if layer.id in wanted and not layer.artwork.empty]

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        lines = self._lines(project)
        if not any(isinstance(layer.artwork, Painted) for layer in lines):
            names = self.names(project)
            raise Refusal(f"{names}: there is no outline to draw. A logo is taken apart into layers first.")
        if self.length <= 0:
            raise Refusal("Drawing takes some time. Say how long.")
        for n, layer in enumerate(lines):
            scene = scene.with_layer(self._drawn(layer, self.time + n * self.step))
        return project.with_scene(scene)

    def _drawn(self, layer: Layer, begins: int) -> Layer:
        art = layer.artwork
        drawn, filled = begins + self.length, begins + self.length + self.fills
        if not isinstance(art, Painted):
            # It has no outline of its own, and comes in when the others are filled.
            return layer.changed(
                tracks={**layer.tracks, "opacity": self._way((drawn, 0.0), (max(filled, drawn + 1), 1.0))}
            )
        had = art.stroked or "stroke" in layer.tracks
        if not had:
            first = art.fill_gradient.stops[0].colour if art.fill_gradient is not None else art.fill
            art = art.changed(stroke=first or INK, stroke_width=PEN)
        art = art.changed(drawn_in_turn=self.in_turn)
        tracks = {"drawn_to": self._way((begins, 0.0), (drawn, 1.0))}
        if self.fills > 0 and (art.fill is not None or art.fill_gradient is not None or "fill" in layer.tracks):
            tracks["filled"] = self._way((drawn, 0.0), (filled, 1.0))
            if not had:
                # A line of its own would make it larger than it is.
                tracks["stroke_width"] = self._way((drawn, art.stroke_width), (filled, 0.0))
        return layer.changed(artwork=art, tracks={**layer.tracks, **tracks})

    def _way(self, first: tuple[int, float], last: tuple[int, float]) -> NumberTrack:
        keys = tuple(NumberKey(time=time, value=value) for time, value in (first, last))
        return ease_segments(NumberTrack(value=last[1], keys=keys), [first[0]], self.ease, 50)

    def label(self, project: Project) -> str:
        return f"Draw {self.names(project)} on"


__all__ = ["DrawOn"]
