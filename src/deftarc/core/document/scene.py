"""A scene: its size, its rate and length, its guides, and its layers from the top down."""

from collections.abc import Mapping
from functools import cached_property
from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.model import Colour, Frozen, Identity, Moment, Name, Number
from deftarc.core.base.time import FrameRate
from deftarc.core.base.walks import ring_in
from deftarc.core.document.layer import Layer, new_id
from deftarc.core.document.links import check_links
from deftarc.core.document.marker import Marker, check_markers
from deftarc.core.document.matte import check_mattes
from deftarc.core.document.origin import Origin
from deftarc.core.document.staggered import StaggerRecord
from deftarc.core.document.takes import TakeSet, check_takes
from deftarc.core.document.ties import Tie, check_ties
from deftarc.core.document.track import AnyTrack

#: Sizes offered for a new scene.
PRESETS = {
    "wide": ("Wide 16:9", 1920, 1080),
    "square": ("Square 1:1", 1080, 1080),
    "portrait": ("Portrait 9:16", 1080, 1920),
    "cinema": ("Cinema 1.85:1", 1998, 1080),
}


class Guide(Frozen):
    """A line across the picture: ``x`` stands at an x, ``y`` lies at a y, in scene px."""

    axis: Literal["x", "y"]
    at: Number


class Shutter(Frozen):
    """How long light falls in during a frame, as an ``angle`` of 360° for all of it, and by what ``phase`` of that it
    begins after the frame's moment: −angle / 2 is about it.
    """

    on: bool = False
    angle: Annotated[float, Field(ge=0, le=720)] = 180.0
    phase: Annotated[float, Field(ge=-360, le=360)] = -90.0


class Scene(Frozen):
    id: Identity = Field(default_factory=new_id)
    name: Name
    width: Annotated[int, Field(ge=limits.MIN_SIDE, le=limits.MAX_SIDE)] = 1920
    height: Annotated[int, Field(ge=limits.MIN_SIDE, le=limits.MAX_SIDE)] = 1080
    rate: FrameRate = FrameRate(numerator=25)
    #: The number of frames; the last one shown is one less.
    frames: Annotated[int, Field(ge=1, le=limits.MAX_SCENE_FRAMES)] = 125
    #: None is transparent.
    background: Colour | None = "#fffdf7"
    #: Blurs the layers that smear as they move.
    shutter: Shutter = Shutter()
    #: The stretch that plays, in flicks, half-open; None plays all.
    play_range: tuple[Moment, Moment] | None = None
    #: Named moments.
    markers: tuple[Marker, ...] = Field(default=(), max_length=limits.MAX_MARKERS)
    #: Versions of the timing of some of its layers.
    takes: tuple[TakeSet, ...] = Field(default=(), max_length=limits.MAX_TAKE_SETS)
    #: Timings that hold together.
    ties: tuple[Tie, ...] = Field(default=(), max_length=limits.MAX_TIES)
    #: What staggers were made with, the newest first.
    staggers: tuple[StaggerRecord, ...] = Field(default=(), max_length=limits.MAX_STAGGERS)
    guides: tuple[Guide, ...] = Field(default=(), max_length=limits.MAX_GUIDES)
    guides_locked: bool = False
    #: Px between the lines of the grid.
    grid: Annotated[float, Field(ge=2, le=4_000)] = 120.0
    #: The file it came of, where it did.
    origin: Origin | None = None
    #: The topmost layer comes first.
    layers: tuple[Layer, ...] = Field(default=(), max_length=limits.MAX_LAYERS)

    @model_validator(mode="after")
    def _sound(self) -> Self:
        names = [layer.id for layer in self.layers]
        if len(set(names)) != len(names):
            raise ValueError("Two layers of a scene share one id.")
        if self.play_range is not None and self.play_range[1] <= self.play_range[0]:
            raise ValueError("A play range ends after it starts.")
        check_markers(self.markers)
        check_takes(self.takes)
        check_ties(self.ties)
        check_parents(self.layers)
        check_links(self.layers)
        check_mattes(self.layers)
        return self

    def changed(self, **fields: Any) -> Self:
        """As any model's; a scene that stands at a moment goes on standing there."""
        made = super().changed(**fields)
        moment = self.__dict__.get("_moment")
        if moment is not None:
            made.__dict__["_moment"] = moment
        return made

    @property
    def half(self) -> int:
        """Half a frame in flicks: a key nearer than that to a frame is that frame's key."""
        return (self.rate.flicks - 1) // 2

    @property
    def length(self) -> int:
        """The scene's duration in flicks."""
        return self.rate.time_of(self.frames)

    @cached_property
    def by_id(self) -> dict[str, Layer]:
        return {layer.id: layer for layer in self.layers}

    def layer(self, layer_id: str) -> Layer:
        found = self.by_id.get(layer_id)
        if found is None:
            raise unknown("layer", layer_id)
        return found

    def with_layer(self, changed: Layer) -> "Scene":
        """This scene with one layer in place of the one that has its id."""
        return self.changed(layers=tuple(changed if layer.id == changed.id else layer for layer in self.layers))

    def with_layers(self, changed: Mapping[str, Layer]) -> "Scene":
        """This scene with some layers in place of those that have their ids."""
        if not changed:
            return self
        return self.changed(layers=tuple(changed.get(layer.id, layer) for layer in self.layers))

    def with_tracks(self, tracks: Mapping[tuple[str, str], AnyTrack]) -> "Scene":
        """This scene with other tracks, by layer and property."""
        of_layer: dict[str, dict[str, AnyTrack]] = {}
        for (layer_id, name), track in tracks.items():
            of_layer.setdefault(layer_id, {})[name] = track
        return self.with_layers({layer_id: self.layer(layer_id).with_tracks(of) for layer_id, of in of_layer.items()})

    def ancestors(self, layer: Layer) -> list[Layer]:
        """Who carries a layer, the nearest first."""
        if layer.parent is None:
            return []
        by_id = self.by_id
        out: list[Layer] = []
        while layer.parent is not None:
            layer = by_id[layer.parent]
            out.append(layer)
        return out


def check_parents(layers: tuple[Layer, ...]) -> None:
    """Refuses a parent that is not there, and a ring of parents, by name."""
    if all(layer.parent is None for layer in layers):
        return
    by_id = {layer.id: layer for layer in layers}
    for layer in layers:
        if layer.parent is not None and layer.parent not in by_id:
            raise Refusal(f"{layer.name} is carried by a layer that is not there.")

    def carrier(name: str) -> tuple[str, ...]:
        parent = by_id[name].parent
        return () if parent is None else (parent,)

    ring = ring_in(by_id, carrier)
    if ring is not None:
        names = " → ".join(by_id[name].name for name in (*ring, ring[0]))
        raise Refusal(f"These layers would carry each other in a ring: {names}. Choose another parent.")
