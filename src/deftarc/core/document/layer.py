"""A layer: its artwork, its place among the others, and the tracks of what moves."""

import secrets
from collections.abc import Mapping
from functools import cached_property
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal, unknown
from deftarc.core.base.model import Frozen, Identity, Moment, Name
from deftarc.core.document.artwork import Artwork, ArtworkBase, Carrier, Gradient, Painted, Pointed, Stop
from deftarc.core.document.blend import Blend
from deftarc.core.document.effects import Effect, EffectBase
from deftarc.core.document.links import Later, Link, check_link
from deftarc.core.document.marker import Marker, check_markers
from deftarc.core.document.masks import Mask
from deftarc.core.document.matte import Matte
from deftarc.core.document.properties import PROPERTIES, Property, property_named
from deftarc.core.document.reactions import Reacting, check_reaction
from deftarc.core.document.tags import TAGS, Tag
from deftarc.core.document.track import AnyTrack, ColourTrack, NumberTrack, OutlineTrack, PathTrack, Track
from deftarc.core.spaces.colour import hex_colour, parse_colour

KINDS: dict[str, type[NumberTrack] | type[PathTrack] | type[ColourTrack] | type[OutlineTrack]] = {
    "number": NumberTrack, "path": PathTrack, "colour": ColourTrack, "outline": OutlineTrack,
}  # fmt: skip


#: What says how a layer grows longer along the way it goes; it has all of them or none.
STRETCH = ("stretch", "stretch_limit", "stretch_smooth")


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
    #: How it mixes with what is beneath it, in its group where that is painted as one.
    blend: Blend = "normal"
    #: Where it shows, in its own px; before anything treats it.
    masks: tuple[Mask, ...] = Field(default=(), max_length=limits.MAX_MASKS)
    #: Through which other layer it shows.
    matte: Matte | None = None
    #: Whether it is blurred as it moves, where the scene's shutter is open.
    smears: bool = False
    #: How it is treated before it is moved, in turn.
    effects: tuple[Effect, ...] = Field(default=(), max_length=limits.MAX_EFFECTS)
    #: Layers with one link share their artwork: a change of one is a change of all.
    link: Identity | None = None
    #: The layer shows from ``start`` up to but not at ``end``, in flicks; None reaches to the scene's end.
    start: Moment = 0
    end: Moment | None = None
    #: Moments of its own, in the scene's time; they go with it.
    markers: tuple[Marker, ...] = Field(default=(), max_length=limits.MAX_MARKERS)
    #: A position in two numbers, x and y on their own, instead of a path.
    axes_split: bool = False
    #: Whether the path was closed whose axes were split.
    path_closed: bool = False
    #: linked: one number drives both axes; free: each its own; area: sx · sy stays.
    scale_link: Literal["linked", "free", "area"] = "linked"
    #: What sy is to sx while the axes are linked; while they are linked by area, what both come to together.
    scale_ratio: Annotated[float, Field(ge=-1e6, le=1e6)] = 1.0
    #: Only properties that differ from their default, by name.
    tracks: dict[str, Track] = Field(default_factory=dict)
    #: What properties follow, by name.
    links: dict[str, Link] = Field(default_factory=dict)
    #: How much later it goes where its carrier takes it.
    later: Later | None = None
    #: What the keys of properties were made of that answer a motion, by name; they are nothing but keys without it.
    reactions: dict[str, Reacting] = Field(default_factory=dict)

    @model_validator(mode="after")
    def _sound(self) -> Self:
        for name, track in self.tracks.items():
            facts = PROPERTIES.get(name)
            if facts is None:
                raise ValueError(f"There is no property “{name[:40]}”.")
            if track.kind != facts.kind:
                raise ValueError(f"{facts.label} has the wrong kind of track.")
            if facts.owner != "transform" and name not in self._kept:
                raise ValueError(f"{self._of(facts)} has no {facts.label}.")
            if facts.kind == "colour" and len(track.resting()) != 4:
                raise ValueError("A colour has four numbers.")
            if facts.kind == "outline":
                keeper = self.keeper(facts)
                if not isinstance(keeper, Pointed) or len(track.resting()) != len(keeper.numbers()):
                    raise ValueError("Every key of an outline has the points of its path.")
        if len({each.id for each in self.effects}) != len(self.effects):
            raise ValueError("Two effects of a layer share one id.")
        if len({each.id for each in self.masks}) != len(self.masks):
            raise ValueError("Two masks of a layer share one id.")
        if self.matte is not None and self.matte.layer == self.id:
            raise ValueError("A layer cannot show through itself.")
        for name, link in self.links.items():
            check_link(self, name, link)
        for name, told in self.reactions.items():
            check_reaction(self, name, told)
        if self.end is not None and self.end <= self.start:
            raise ValueError("A layer ends after it starts.")
        check_markers(self.markers)
        return self

    def _of(self, facts: Property) -> str:
        """What a property would have to be one of, in words."""
        return f"A {self.artwork.kind}" if facts.artwork else f"{self.name}: no such {facts.owner}, which"

    @cached_property
    def _kept(self) -> frozenset[str]:
        """The properties that are kept in its artwork or in things listed on it."""
        return frozenset((*self.artwork.properties, *self._listed))

    @cached_property
    def _listed(self) -> tuple[str, ...]:
        """The properties of its masks and effects."""
        masks = [name for each in self.masks for name in each.properties]
        return (*masks, *(name for each in self.effects for name in each.properties))

    @property
    def group(self) -> bool:
        return isinstance(self.artwork, Carrier) and self.artwork.group

    @property
    def as_one(self) -> bool:
        """Whether it is a group whose members are put together before they are laid on what is beneath."""
        return isinstance(self.artwork, Carrier) and self.artwork.group and self.artwork.as_one

    @cached_property
    def properties(self) -> tuple[str, ...]:
        """The properties this layer has, in the order they are listed."""
        scale = ("scale_x", "scale_y") if self.scale_link == "free" else ("scale",)
        position = ("position_x", "position_y") if self.axes_split else ("position",)
        turns = () if self.axes_split else ("along", "lean")
        clock = ("clock",) if "clock" in self.tracks else ()
        stretch = STRETCH if "stretch" in self.tracks else ()
        return (*clock, *position, "rotation", *scale, "skew_x", "skew_y", *stretch, "pivot_x", "pivot_y", *turns,
                "opacity", *self.artwork.properties, *self._listed)  # fmt: skip

    @property
    def stretches(self) -> bool:
        """Whether it grows longer along the way it goes."""
        return "stretch" in self.tracks

    @cached_property
    def loose_times(self) -> frozenset[int]:
        """The times at which a value was changed but not keyed."""
        return frozenset(track.loose.time for track in self.tracks.values() if track.loose is not None)

    @property
    def transform(self) -> tuple[str, ...]:
        """The properties that “Key all” keys: those of any layer, whatever it is made of; how its path turns it only
        where it does.
        """
        unused = {"clock", *STRETCH} | ({"along", "lean"} - set(self.tracks))
        return tuple(n for n in self.properties if PROPERTIES[n].owner == "transform" and n not in unused)

    def track(self, name: str) -> AnyTrack:
        """A property's track, its default when nothing was set."""
        found = self.tracks.get(name)
        if found is not None and name in self.properties:
            return found
        if name not in self.properties:
            facts = property_named(name)
            if name.startswith("scale"):
                raise Refusal(f"{self.name} has no {facts.label} now: its scale axes are {self.scale_link}.")
            if name == "clock":
                raise Refusal(f"{self.name} has no clock of its own. Give it one first.")
            if name in STRETCH:
                raise Refusal(f"{self.name} does not stretch with its speed. Let it stretch first.")
            if name.startswith("position") or name in ("along", "lean"):
                how = "split: combine them as a path first" if self.axes_split else "combined as a path"
                raise Refusal(f"{self.name} has no {facts.label} now: the axes of its position are {how}.")
            raise Refusal(f"{self.name} has no {facts.label}.")
        facts = PROPERTIES[name]
        return unkeyed(self.keeper(facts), facts)

    def effect(self, effect_id: str) -> EffectBase:
        for each in self.effects:
            if each.id == effect_id:
                return each
        raise unknown("effect", effect_id)

    def mask(self, mask_id: str) -> Mask:
        for each in self.masks:
            if each.id == mask_id:
                return each
        raise unknown("mask", mask_id)

    def keeper(self, facts: Property) -> "Keeper | None":
        """What keeps a property's value while it has no keys: its artwork or a thing listed in that or on the layer;
        None where its track does.
        """
        if facts.owner == "effect":
            return self.effect(facts.thing)
        if facts.owner == "mask":
            return self.mask(facts.thing)
        if facts.owner in ("gradient", "stop"):
            art = self.artwork
            assert isinstance(art, Painted)
            return art.gradient(facts.thing) if facts.owner == "gradient" else art.stop(facts.thing)[1]
        return None if facts.owner == "transform" else self.artwork

    def with_kept(self, facts: Property, value: tuple[float, ...]) -> "Layer":
        """This layer with a property's resting value in what keeps it."""
        keeper = self.keeper(facts)
        assert keeper is not None
        made = with_field(keeper, facts, value)
        if isinstance(made, EffectBase):
            return self.changed(effects=tuple(made if each.id == made.id else each for each in self.effects))
        if isinstance(made, Mask):
            return self.changed(masks=tuple(made if each.id == made.id else each for each in self.masks))
        if isinstance(made, Gradient):
            return self.changed(artwork=self.artwork.changed(**{f"{facts.thing}_gradient": made}))
        if isinstance(made, Stop):
            assert isinstance(self.artwork, Painted)
            return self.changed(artwork=self.artwork.with_stop(made))
        return self.changed(artwork=made)

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
        """This layer with another track; without keys a property of an artwork or effect goes back into its field."""
        facts = PROPERTIES[name]
        keeper = self.keeper(facts)
        if name == "clock" and not track.keys:
            # Without keys there is none: its time is the scene's again.
            return self.changed(tracks={kept: each for kept, each in self.tracks.items() if kept != name})
        if keeper is not None and not track.keys and track.loose is None:
            rest = {kept: each for kept, each in self.tracks.items() if kept != name}
            return self.changed(tracks=rest).with_kept(facts, track.resting())
        return self.changed(tracks={**self.tracks, name: track})

    def with_tracks(self, tracks: Mapping[str, AnyTrack]) -> "Layer":
        """This layer with several other tracks."""
        if all(track.keys for track in tracks.values()):
            return self.changed(tracks={**self.tracks, **tracks})
        layer = self
        for name, track in tracks.items():
            layer = layer.with_track(name, track)
        return layer

    @property
    def keyed(self) -> tuple[str, ...]:
        """The properties that have keys, in order."""
        return tuple(name for name in self.properties if name in self.tracks and self.tracks[name].keys)

    @property
    def moving(self) -> tuple[str, ...]:
        """The properties that have keys or follow something, in order: those that have a lane."""
        if not self.links:
            return self.keyed
        return tuple(
            name for name in self.properties if name in self.links or (name in self.tracks and self.tracks[name].keys)
        )


#: What keeps the values of properties that have no keys.
Keeper = ArtworkBase | EffectBase | Mask | Gradient | Stop


def unkeyed(keeper: Keeper | None, facts: Property) -> AnyTrack:
    """The track of a property that has none: its default, or what its keeper's field says."""
    if facts.kind == "path":
        return PathTrack(value=(facts.default[0], facts.default[1]))
    if keeper is None:
        return NumberTrack(value=facts.default[0])
    if facts.kind == "outline":
        assert isinstance(keeper, Pointed)
        return OutlineTrack(value=keeper.numbers())
    if facts.owner == "dash":
        assert isinstance(keeper, Painted)
        return NumberTrack(value=keeper.dash[int(facts.thing)])
    value = getattr(keeper, facts.kept_in)
    if facts.kind == "colour":
        return ColourTrack(value=(1.0, 1.0, 1.0, 0.0) if value is None else parse_colour(value))
    return NumberTrack(value=value)


def with_field(keeper: Keeper, facts: Property, value: tuple[float, ...]) -> Keeper:
    """The keeper with one property's resting value; a fully transparent colour is none at all."""
    if facts.kind == "outline":
        assert isinstance(keeper, Pointed)
        made = keeper.with_numbers(value)
        assert isinstance(made, ArtworkBase | Mask)
        return made
    if facts.owner == "dash":
        assert isinstance(keeper, Painted)
        at = int(facts.thing)
        return keeper.changed(dash=(*keeper.dash[:at], facts.held(value[0]), *keeper.dash[at + 1 :]))
    if facts.kind == "colour":
        # A stop keeps its colour, however little of it is seen.
        none = value[3] <= 0 and facts.owner != "stop"
        return keeper.changed(**{facts.kept_in: None if none else hex_colour(value)})
    return keeper.changed(**{facts.kept_in: facts.held(value[0])})


__all__ = ["KINDS", "STRETCH", "TAGS", "Keeper", "Layer", "Tag", "new_id", "unkeyed", "with_field"]
