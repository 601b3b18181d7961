"""The document: a project, its scenes, their layers, and each layer's artwork and tracks.

Frozen plain data; every change goes through an edit.
"""

import secrets
from functools import cached_property
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from deftarc.core import limits
from deftarc.core.artwork import (
    Artwork,
    Carrier,
    Contour,
    Ellipse,
    FreePath,
    Logo,
    Painted,
    Picture,
    Polygon,
    Rectangle,
    Star,
    Text,
    assets_in,
)
from deftarc.core.colour import hex_colour, parse_colour
from deftarc.core.errors import Refusal, unknown
from deftarc.core.knots import OwnEase
from deftarc.core.model import AssetHash, Colour, Frozen, Identity, Moment, Name, Number
from deftarc.core.properties import PROPERTIES, Property, property_named
from deftarc.core.time import FrameRate
from deftarc.core.track import AnyTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack, Track

FORMAT: Literal[1] = 1
#: Colour tags, in the order they are handed out.
TAGS = ("plum", "sea", "pine", "brick", "ochre", "slate")
Tag = Literal["plum", "sea", "pine", "brick", "ochre", "slate"]
KINDS: dict[str, type[NumberTrack] | type[PathTrack] | type[ColourTrack] | type[OutlineTrack]] = {
    "number": NumberTrack, "path": PathTrack, "colour": ColourTrack, "outline": OutlineTrack,
}  # fmt: skip


def new_id() -> str:
    """A fresh identity for a project, scene or layer."""
    return secrets.token_hex(5)


class Layer(Frozen):
    id: Identity = Field(default_factory=new_id)
    name: Name
    artwork: Artwork
    tag: Tag = "plum"
    hidden: bool = False
    locked: bool = False
    #: Shows at work and never renders.
    reference: bool = False
    #: The layer that carries this one; its transform comes before this layer's own.
    parent: Identity | None = None
    #: Whether its opacity counts for what it carries, too.
    hands_opacity: bool = False
    #: Layers with one link share their artwork: a change of one is a change of all.
    link: Identity | None = None
    #: The layer shows from ``start`` up to but not at ``end``, in flicks; None reaches to the scene's end.
    start: Moment = 0
    end: Moment | None = None
    #: A position in two numbers, x and y on their own, instead of a path.
    axes_split: bool = False
    #: linked: one number drives both axes; free: each its own; area: sy = 1/sx.
    scale_link: Literal["linked", "free", "area"] = "linked"
    #: What sy is to sx while the axes are linked.
    scale_ratio: Annotated[float, Field(ge=-1e6, le=1e6)] = 1.0
    #: Only properties that differ from their default, by name.
    tracks: dict[str, Track] = Field(default_factory=dict)

    @model_validator(mode="after")
    def _sound(self) -> Self:
        for name, track in self.tracks.items():
            facts = PROPERTIES.get(name)
            if facts is None:
                raise ValueError(f"There is no property “{name[:40]}”.")
            if track.kind != facts.kind:
                raise ValueError(f"{facts.label} has the wrong kind of track.")
            if facts.artwork and name not in self.artwork.keyable:
                raise ValueError(f"A {self.artwork.kind} has no {facts.label}.")
            if facts.kind == "colour" and len(track.resting()) != 4:
                raise ValueError("A colour has four numbers.")
            points = self.artwork.numbers() if isinstance(self.artwork, FreePath) else ()
            if name == "outline" and len(track.resting()) != len(points):
                raise ValueError("Every key of an outline has the points of its path.")
        if self.end is not None and self.end <= self.start:
            raise ValueError("A layer ends after it starts.")
        return self

    @property
    def group(self) -> bool:
        return isinstance(self.artwork, Carrier) and self.artwork.group

    @property
    def properties(self) -> tuple[str, ...]:
        """The properties this layer has, in the order they are listed."""
        scale = ("scale_x", "scale_y") if self.scale_link == "free" else ("scale",)
        position = ("position_x", "position_y") if self.axes_split else ("position",)
        turns = () if self.axes_split else ("along", "lean")
        return (*position, "rotation", *scale, "skew_x", "skew_y", "pivot_x", "pivot_y", *turns, "opacity",
                *self.artwork.keyable)  # fmt: skip

    @cached_property
    def loose_times(self) -> frozenset[int]:
        """The times at which a value was changed but not keyed."""
        return frozenset(track.loose.time for track in self.tracks.values() if track.loose is not None)

    @property
    def transform(self) -> tuple[str, ...]:
        """The properties that “Key all” keys: those of any layer, whatever it is made of; how its path turns it only
        where it does.
        """
        unused = {"along", "lean"} - set(self.tracks)
        return tuple(name for name in self.properties if not PROPERTIES[name].artwork and name not in unused)

    def track(self, name: str) -> AnyTrack:
        """A property's track, its default when nothing was set."""
        if name not in self.properties:
            facts = property_named(name)
            if name.startswith("scale"):
                raise Refusal(f"{self.name} has no {facts.label} now: its scale axes are {self.scale_link}.")
            if name.startswith("position") or name in ("along", "lean"):
                how = "split: combine them as a path first" if self.axes_split else "combined as a path"
                raise Refusal(f"{self.name} has no {facts.label} now: the axes of its position are {how}.")
            raise Refusal(f"{self.name} has no {facts.label}.")
        found = self.tracks.get(name)
        return found if found is not None else unkeyed(self.artwork, PROPERTIES[name])

    def number(self, name: str) -> NumberTrack:
        track = self.track(name)
        assert isinstance(track, NumberTrack)
        return track

    @property
    def position(self) -> PathTrack:
        track = self.track("position")
        assert isinstance(track, PathTrack)
        return track

    def with_track(self, name: str, track: AnyTrack) -> "Layer":
        """This layer with another track; an artwork's property without keys goes back into its field."""
        facts = PROPERTIES[name]
        if facts.artwork and not track.keys and track.loose is None:
            rest = {kept: each for kept, each in self.tracks.items() if kept != name}
            return self.changed(tracks=rest, artwork=with_field(self.artwork, facts, track.resting()))
        return self.changed(tracks={**self.tracks, name: track})

    @property
    def keyed(self) -> tuple[str, ...]:
        """The properties that have keys, in order."""
        return tuple(name for name in self.properties if name in self.tracks and self.tracks[name].keys)


def unkeyed(artwork: Artwork, facts: Property) -> AnyTrack:
    """The track of a property that has none: its default, or what the artwork's field says."""
    if facts.kind == "path":
        return PathTrack(value=(facts.default[0], facts.default[1]))
    if not facts.artwork:
        return NumberTrack(value=facts.default[0])
    if facts.kind == "outline":
        assert isinstance(artwork, FreePath)
        return OutlineTrack(value=artwork.numbers())
    value = getattr(artwork, facts.id)
    if facts.kind == "colour":
        return ColourTrack(value=(1.0, 1.0, 1.0, 0.0) if value is None else parse_colour(value))
    return NumberTrack(value=value)


def with_field(artwork: Artwork, facts: Property, value: tuple[float, ...]) -> Artwork:
    """The artwork with one property's resting value; a fully transparent colour is none at all."""
    if facts.kind == "outline":
        assert isinstance(artwork, FreePath)
        return artwork.with_numbers(value)
    if facts.kind == "colour":
        return artwork.changed(**{facts.id: hex_colour(value) if value[3] > 0 else None})
    return artwork.changed(**{facts.id: facts.held(value[0])})


class Guide(Frozen):
    """A line across the picture: ``x`` stands at an x, ``y`` lies at a y, in scene px."""

    axis: Literal["x", "y"]
    at: Number


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
    #: The stretch that plays, in flicks, half-open; None plays all.
    play_range: tuple[Moment, Moment] | None = None
    guides: tuple[Guide, ...] = Field(default=(), max_length=limits.MAX_GUIDES)
    guides_locked: bool = False
    #: Px between the lines of the grid.
    grid: Annotated[float, Field(ge=2, le=4_000)] = 120.0
    #: The topmost layer comes first.
    layers: tuple[Layer, ...] = Field(default=(), max_length=limits.MAX_LAYERS)

    @model_validator(mode="after")
    def _sound(self) -> Self:
        names = [layer.id for layer in self.layers]
        if len(set(names)) != len(names):
            raise ValueError("Two layers of a scene share one id.")
        if self.play_range is not None and self.play_range[1] <= self.play_range[0]:
            raise ValueError("A play range ends after it starts.")
        check_parents(self.layers)
        return self

    @property
    def half(self) -> int:
        """Half a frame in flicks: a key nearer than that to a frame is that frame's key."""
        return (self.rate.flicks - 1) // 2

    @property
    def length(self) -> int:
        """The scene's duration in flicks."""
        return self.rate.time_of(self.frames)

    def layer(self, layer_id: str) -> Layer:
        for layer in self.layers:
            if layer.id == layer_id:
                return layer
        raise unknown("layer", layer_id)

    def with_layer(self, changed: Layer) -> "Scene":
        """This scene with one layer in place of the one that has its id."""
        return self.changed(layers=tuple(changed if layer.id == changed.id else layer for layer in self.layers))

    def ancestors(self, layer: Layer) -> list[Layer]:
        """Who carries a layer, the nearest first."""
        if layer.parent is None:
            return []
        by_id = {each.id: each for each in self.layers}
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
    done: set[str] = set()
    for layer in layers:
        chain: list[Layer] = []
        here: Layer | None = layer
        while here is not None and here.id not in done:
            if here in chain:
                ring = chain[chain.index(here) :]
                names = " → ".join(each.name for each in (*ring, here))
                raise Refusal(f"These layers would carry each other in a ring: {names}. Choose another parent.")
            chain.append(here)
            if here.parent is not None and here.parent not in by_id:
                raise Refusal(f"{here.name} is carried by a layer that is not there.")
            here = by_id[here.parent] if here.parent is not None else None
        done.update(each.id for each in chain)


class UserFont(Frozen):
    """A font brought in, by its asset's hash. Texts name it ``own-<hash>``."""

    asset: AssetHash
    label: Name

    @property
    def id(self) -> str:
        return f"own-{self.asset}"


class Kept(Frozen):
    """Artwork of a deleted layer, kept for reuse."""

    name: Name
    artwork: Artwork


class Project(Frozen):
    format: Literal[1] = FORMAT
    name: Name
    scenes: tuple[Scene, ...] = Field(min_length=1, max_length=limits.MAX_SCENES)
    fonts: tuple[UserFont, ...] = Field(default=(), max_length=limits.MAX_FONTS)
    #: Eases of one's own, the newest last.
    eases: tuple[OwnEase, ...] = Field(default=(), max_length=limits.MAX_OWN_EASES)
    #: The roundness that points of new paths get by themselves; None makes them straight.
    rounded: Annotated[float, Field(ge=0, le=1)] | None = None
    #: The newest first.
    shelf: tuple[Kept, ...] = Field(default=(), max_length=limits.MAX_SHELF)

    @model_validator(mode="after")
    def _sound(self) -> Self:
        names = [scene.id for scene in self.scenes]
        if len(set(names)) != len(names):
            raise ValueError("Two scenes of a project share one id.")
        return self

    def scene(self, scene_id: str) -> Scene:
        for scene in self.scenes:
            if scene.id == scene_id:
                return scene
        raise unknown("scene", scene_id)

    def with_scene(self, changed: Scene) -> "Project":
        return self.changed(scenes=tuple(changed if scene.id == changed.id else scene for scene in self.scenes))


def assets_of(project: Project) -> set[str]:
    """The hashes of every asset a project names itself (a logo's drawing may name no others)."""
    found = {font.asset for font in project.fonts}
    for kept in project.shelf:
        found |= assets_in(kept.artwork)
    for scene in project.scenes:
        for layer in scene.layers:
            found |= assets_in(layer.artwork)
    return found


#: Sizes offered for a new scene.
PRESETS = {
    "wide": ("Wide 16:9", 1920, 1080),
    "square": ("Square 1:1", 1080, 1080),
    "portrait": ("Portrait 9:16", 1080, 1920),
    "cinema": ("Cinema 1.85:1", 1998, 1080),
}

__all__ = [
    "FORMAT", "KINDS", "PRESETS", "TAGS", "Artwork", "Carrier", "Contour", "Ellipse", "FreePath", "Guide", "Kept",
    "Layer", "Logo", "Painted", "Picture", "Polygon", "Project", "Rectangle", "Scene", "Star", "Tag", "Text",
    "UserFont", "assets_of", "check_parents", "new_id", "unkeyed", "with_field",
]  # fmt: skip
