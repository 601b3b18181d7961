"""A layer: its artwork, its place among the others, and the tracks of what moves."""

import secrets
from functools import cached_property
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Frozen, Identity, Moment, Name
from deftarc.core.document.artwork import Artwork, Carrier, FreePath
from deftarc.core.document.properties import PROPERTIES, Property, property_named
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack, Track
from deftarc.core.spaces.colour import hex_colour, parse_colour

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
