"""The document: a project, its scenes, their layers, and each layer's artwork and tracks.

Frozen plain data; every change goes through an edit. Artwork has its own px with the origin at its middle
(text: on the first baseline, at its alignment), so a pivot of (0, 0) turns a thing about its middle.
"""

import secrets
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from deftarc.core import limits
from deftarc.core.errors import Refusal, unknown
from deftarc.core.model import AssetHash, Colour, Frozen, Identity, Kinded, Length, Moment, Name
from deftarc.core.properties import PROPERTIES, property_named
from deftarc.core.time import FrameRate
from deftarc.core.track import NumberTrack, PathTrack, Track

FORMAT: Literal[1] = 1
#: Colour tags, in the order they are handed out.
TAGS = ("plum", "sea", "pine", "brick", "ochre", "slate")


def new_id() -> str:
    """A fresh identity for a project, scene or layer."""
    return secrets.token_hex(5)


class Painted(Kinded):
    fill: Colour | None = "#22577a"
    stroke: Colour | None = None
    stroke_width: Annotated[float, Field(ge=0, le=10_000)] = 4.0


class Rectangle(Painted):
    kind: Literal["rectangle"] = "rectangle"
    width: Length
    height: Length
    radius: Annotated[float, Field(ge=0, le=limits.MAX_NUMBER)] = 0.0


class Ellipse(Painted):
    kind: Literal["ellipse"] = "ellipse"
    width: Length
    height: Length


class Text(Painted):
    kind: Literal["text"] = "text"
    text: Annotated[str, Field(min_length=1, max_length=limits.MAX_TEXT)]
    font: Annotated[str, Field(pattern=r"^[a-z0-9-]{1,60}$")] = "bricolage-grotesque-700"
    size: Annotated[float, Field(gt=0, le=5_000)] = 72.0
    align: Literal["start", "middle", "end"] = "middle"
    #: Distance from baseline to baseline, in sizes.
    line_height: Annotated[float, Field(gt=0, le=10)] = 1.2
    stroke: Colour | None = None


class Picture(Kinded):
    kind: Literal["picture"] = "picture"
    asset: AssetHash
    width: Length
    height: Length


class Logo(Kinded):
    """A vector logo kept whole: ``asset`` is its drawing, ``source`` the SVG it was read from."""

    kind: Literal["logo"] = "logo"
    asset: AssetHash
    source: AssetHash
    width: Length
    height: Length
    #: What of the file is not supported, in sentences.
    notes: tuple[Annotated[str, Field(max_length=300)], ...] = Field(default=(), max_length=40)


Artwork = Annotated[Rectangle | Ellipse | Text | Picture | Logo, Field(discriminator="kind")]


class Layer(Frozen):
    id: Identity = Field(default_factory=new_id)
    name: Name
    artwork: Artwork
    tag: Literal["plum", "sea", "pine", "brick", "ochre", "slate"] = "plum"
    hidden: bool = False
    locked: bool = False
    #: The layer shows from ``start`` up to but not at ``end``, in flicks; None reaches to the scene's end.
    start: Moment = 0
    end: Moment | None = None
    #: linked: one number drives both axes; free: each its own; area: sy = 1/sx.
    scale_link: Literal["linked", "free", "area"] = "linked"
    #: What sy is to sx while the axes are linked.
    scale_ratio: Annotated[float, Field(ge=-1e6, le=1e6)] = 1.0
    #: Only properties that differ from their default, by name.
    tracks: dict[str, Track] = Field(default_factory=dict)

    @model_validator(mode="after")
    def _sound(self) -> Self:
        for name, track in self.tracks.items():
            if name not in PROPERTIES:
                raise ValueError(f"There is no property “{name[:40]}”.")
            if isinstance(track, PathTrack) != (name == "position"):
                raise ValueError(f"{PROPERTIES[name].label} has the wrong kind of track.")
        if self.end is not None and self.end <= self.start:
            raise ValueError("A layer ends after it starts.")
        return self

    @property
    def properties(self) -> tuple[str, ...]:
        """The properties this layer has, in the order they are listed."""
        scale = ("scale_x", "scale_y") if self.scale_link == "free" else ("scale",)
        return ("position", "rotation", *scale, "skew_x", "skew_y", "pivot_x", "pivot_y", "opacity")

    def track(self, name: str) -> NumberTrack | PathTrack:
        """A property's track, its default when nothing was set."""
        if name not in self.properties:
            facts = property_named(name)
            raise Refusal(f"{self.name} has no {facts.label} now: its scale axes are {self.scale_link}.")
        found = self.tracks.get(name)
        if found is not None:
            return found
        default = PROPERTIES[name].default
        if name == "position":
            return PathTrack(value=(default[0], default[1]))
        return NumberTrack(value=default[0])

    def number(self, name: str) -> NumberTrack:
        track = self.track(name)
        assert isinstance(track, NumberTrack)
        return track

    @property
    def position(self) -> PathTrack:
        track = self.track("position")
        assert isinstance(track, PathTrack)
        return track

    def with_track(self, name: str, track: NumberTrack | PathTrack) -> "Layer":
        return self.changed(tracks={**self.tracks, name: track})

    @property
    def keyed(self) -> tuple[str, ...]:
        """The properties that have keys, in order."""
        return tuple(name for name in self.properties if name in self.tracks and self.tracks[name].keys)


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
    #: The topmost layer comes first.
    layers: tuple[Layer, ...] = Field(default=(), max_length=limits.MAX_LAYERS)

    @model_validator(mode="after")
    def _sound(self) -> Self:
        names = [layer.id for layer in self.layers]
        if len(set(names)) != len(names):
            raise ValueError("Two layers of a scene share one id.")
        return self

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


class Project(Frozen):
    format: Literal[1] = FORMAT
    name: Name
    scenes: tuple[Scene, ...] = Field(min_length=1, max_length=limits.MAX_SCENES)

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
    """The hashes of every asset a project's layers name themselves (a logo's drawing may name no others)."""
    found: set[str] = set()
    for scene in project.scenes:
        for layer in scene.layers:
            art = layer.artwork
            if isinstance(art, Picture):
                found.add(art.asset)
            elif isinstance(art, Logo):
                found.update((art.asset, art.source))
    return found


#: Sizes offered for a new scene.
PRESETS = {
    "wide": ("Wide 16:9", 1920, 1080),
    "square": ("Square 1:1", 1080, 1080),
    "portrait": ("Portrait 9:16", 1080, 1920),
    "cinema": ("Cinema 1.85:1", 1998, 1080),
}
