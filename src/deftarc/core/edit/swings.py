"""Short motions laid in one step: a number or a colour that goes there and back some times, bars that close in."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Colour, Identity, Moment, Number
from deftarc.core.base.time import FLICKS, FrameRate
from deftarc.core.changes.ease import ease_segments
from deftarc.core.document import Project
from deftarc.core.document.artwork import Bars
from deftarc.core.document.keys import BlendKey, NumberKey
from deftarc.core.document.layer import new_id
from deftarc.core.document.properties import property_named
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack
from deftarc.core.edit.add import AddLayer
from deftarc.core.edit.base import EditBase
from deftarc.core.edit.layers import LayersEdit
from deftarc.core.spaces.colour import parse_colour

Long = Annotated[Moment, Field(gt=0)]


def _eased(track: NumberTrack | ColourTrack, ease: str) -> AnyTrack:
    return ease_segments(track, track.key_times[:-1], ease, 50)


class ThereAndBack(LayersEdit):
    """A property of layers that goes from what it is at ``time`` to another value and back, ``often``, each way in
    ``length``: to a ``colour``, or ``far`` from where it is, in the core unit; None is as far as is easily seen. What
    keys it had are gone.
    """

    looked_at: ClassVar[bool] = True
    at_playhead: ClassVar[bool] = True
    kind: Literal["there_and_back"] = "there_and_back"
    property: Annotated[str, Field(max_length=80)]
    time: Moment = 0
    length: Long = FLICKS // 4
    often: Annotated[int, Field(ge=1, le=500)] = 4
    far: Number | None = None
    colour: Colour = "#fff3c9"
    ease: Annotated[str, Field(max_length=40)] = "slow-ends"

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        facts = property_named(self.property)
        if facts.kind not in ("number", "colour"):
            raise Refusal(f"{facts.label} is no single number and no colour. Key it, and let its keys alternate.")
        for found in self.found(project):
            layer = scene.layer(found.id)
            if facts.id not in layer.properties:
                raise Refusal(f"{layer.name} has no {facts.label}.")
            swung = self._swung(layer.track(facts.id), scene.rate)
            scene = scene.with_layer(layer.with_track(facts.id, swung))
        return project.with_scene(scene)

    def how_far(self) -> float:
        """How far a number goes, in the core unit: half of a share less, forty of any other, if it is not told."""
        facts = property_named(self.property)
        return self.far if self.far is not None else (-50.0 if facts.unit == "%" else 40.0) / facts.factor

    def _swung(self, track: AnyTrack, rate: FrameRate) -> AnyTrack:
        # Each turning point on the frame nearest to it, and no two on one: a way of a frame at least.
        frames = [rate.nearest(n * self.length) for n in range(2 * self.often + 1)]
        if self.length < rate.flicks:
            frames = list(range(2 * self.often + 1))
        times = [self.time + rate.time_of(frame) for frame in frames]
        here = track.at(self.time)
        if isinstance(track, ColourTrack):
            ends = (here, (*parse_colour(self.colour)[:3], here[3] or 1.0))
            keys = tuple(BlendKey(time=time, value=ends[n % 2]) for n, time in enumerate(times))
            return _eased(ColourTrack(value=here, keys=keys), self.ease)
        facts = property_named(self.property)
        numbers = (here[0], facts.held(here[0] + self.how_far()))
        made = tuple(NumberKey(time=time, value=numbers[n % 2]) for n, time in enumerate(times))
        return _eased(NumberTrack(value=here[0], keys=made), self.ease)

    def label(self, project: Project) -> str:
        return f"{property_named(self.property).label} of {self.names(project)} there and back"


class CloseBars(EditBase):
    """Bars as wide as the frame that close in from its edges, by a share of it, from ``time`` on."""

    looked_at: ClassVar[bool] = True
    kind: Literal["close_bars"] = "close_bars"
    scene: Identity
    id: Identity = Field(default_factory=new_id)
    time: Moment = 0
    length: Long = FLICKS
    far: Annotated[float, Field(gt=0, le=1)] = 0.12
    sides: Literal["above", "beside", "round"] = "above"
    ease: Annotated[str, Field(max_length=40)] = "slow-ends"

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        art = Bars(width=scene.width, height=scene.height, bar_top=0.0, bar_bottom=0.0)
        project = AddLayer(scene=self.scene, id=self.id, name="Bars", artwork=art).apply(project)
        layer = project.scene(self.scene).layer(self.id)
        closing = {
            "above": ("bar_top", "bar_bottom"), "beside": ("bar_left", "bar_right"),
            "round": ("bar_left", "bar_top", "bar_right", "bar_bottom"),
        }[self.sides]  # fmt: skip
        first, last = NumberKey(time=self.time, value=0.0), NumberKey(time=self.time + self.length, value=self.far)
        track = _eased(NumberTrack(value=self.far, keys=(first, last)), self.ease)
        made = layer.changed(tracks={**layer.tracks, **dict.fromkeys(closing, track)})
        return project.with_scene(project.scene(self.scene).with_layer(made))

    def label(self, project: Project) -> str:
        return "Bars closing in"


__all__ = ["CloseBars", "ThereAndBack"]
