"""Reactions: pulses on a property at the contacts, peaks or stops of a motion. They are ordinary keys, with a record of
what they were made of beside them, so that they follow that motion until a hand changes them.
"""

from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from deftarc.core.base import limits
from deftarc.core.base.model import Colour, Frozen, Moment, Number
from deftarc.core.document.links import (
    DERIVED,
    OWN,
    PLACED,
    PLACES,
    Lag,
    LinkSource,
    Name,
    drives_of,
    moves_it,
    told_by,
)
from deftarc.core.document.properties import PROPERTIES, Property
from deftarc.core.document.track import Track

if TYPE_CHECKING:
    from collections.abc import Mapping

    from deftarc.core.document.layer import Layer

EventKind = Literal["contact", "peak", "stop"]
KINDS: tuple[EventKind, ...] = ("contact", "peak", "stop")
PLURAL = {"contact": "contacts", "peak": "peaks", "stop": "stops"}


class Pulse(Frozen):
    """Rest, peak, rest. ``amount`` is the peak's of the strongest, in the property's core unit; it begins ``later``
    than what it answers, or before it below 0, and takes ``attack``, ``hold`` and ``release``, all in flicks. A release
    may ring: so many swings about its rest, dying down. ``sized`` makes each as strong as what it answers; ``aimed``
    turns it the way that came: for a position's x or y by as much of it, for a size as a squash across it, for an
    outline or a position that way. These go in px, ``way`` where they are not aimed: in degrees, clockwise from right.
    A colour goes so much of the way to ``colour``.
    """

    amount: Number = 0.3
    later: Lag = 0
    attack: Annotated[Moment, Field(ge=0)]
    hold: Annotated[Moment, Field(ge=0)] = 0
    release: Annotated[Moment, Field(gt=0)]
    rings: Annotated[int, Field(ge=0, le=24)] = 0
    sized: bool = True
    aimed: bool = False
    way: Number = 90.0
    colour: Colour = "#ffffff"


class Mark(Frozen):
    """What a pulse answers: when, in the time of the property's own keys; how strong, and the way it came by."""

    time: Moment
    strength: Annotated[float, Field(ge=0, le=1)]
    way: Annotated[tuple[float, ...], Field(min_length=1, max_length=4)]


class Reaction(Frozen):
    """Pulses at what a motion does. ``off`` are the places in that row of those that are left out."""

    source: LinkSource
    kinds: Annotated[tuple[EventKind, ...], Field(min_length=1, max_length=3)] = ("contact",)
    off: Annotated[tuple[Annotated[int, Field(ge=0)], ...], Field(max_length=limits.MAX_REACTED)] = ()
    #: Of an outline: the points that go, by number; none means those that would, see changes/struck.
    points: Annotated[tuple[Annotated[int, Field(ge=0)], ...], Field(max_length=limits.MAX_OUTLINE_POINTS)] = ()
    pulse: Pulse
    marks: Annotated[tuple[Mark, ...], Field(max_length=limits.MAX_REACTED)] = ()


class Reacting(Frozen):
    """What a property's keys were made of: those it had before, and what was laid on them."""

    base: Track
    reaction: Reaction


def takes_pulses(facts: Property) -> bool:
    """Whether a property can answer a motion."""
    return facts.id != "clock"


def told_in(facts: Property) -> tuple[str, float]:
    """The unit a pulse's amount is shown in, and by what it is shown."""
    return {"outline": ("px", 1.0), "colour": ("%", 100.0)}.get(facts.kind, (facts.unit, facts.factor))


def check_reaction(layer: "Layer", name: str, told: Reacting) -> None:
    """ValueError where a property of a layer cannot react as is said."""
    facts = PROPERTIES.get(name)
    if facts is None or not takes_pulses(facts):
        raise ValueError(f"{name[:40]} takes no pulses.")
    if name not in layer.properties:
        raise ValueError(f"{layer.name} has no {facts.label}.")
    if told.base.kind != facts.kind:
        raise ValueError(f"{facts.label} answers on another kind of track.")
    if told.base.kind == "outline" and told.base.width != layer.track(name).width:
        raise ValueError(f"{facts.label} of {layer.name} had another number of points.")
    source = told.reaction.source
    followed = PROPERTIES.get(source.what)
    if (
        source.what in DERIVED
        or followed is None
        or followed.kind not in ("number", "path")
        or source.what in PLACES[1:]
    ):
        raise ValueError(f"There is nothing to react to in “{source.what[:40]}”: numbers and positions move.")


def reached(by_id: "Mapping[str, Layer]", source: LinkSource) -> set[Name]:
    """All nodes that what a reaction answers hangs on, its own among them."""
    due: list[Name] = [(source.layer, told_by(source))]
    seen: set[Name] = set()
    while due:
        node = due.pop()
        if node in seen or node[0] not in by_id:
            continue
        seen.add(node)
        due.extend(drives_of(by_id[node[0]], node[1]))
    return seen


def drives(by_id: "Mapping[str, Layer]", source: LinkSource, layer: str, name: str) -> bool:
    """Whether a property has a hand in what its reaction would answer."""
    seen = reached(by_id, source)
    return (layer, name) in seen or (moves_it(name) and ((layer, OWN) in seen or (layer, PLACED) in seen))


def among(told: Reacting, fresh: "Mapping[str, str]") -> Reacting:
    """A reaction of a copy: it answers the copy of what it answered, where that was copied along."""
    source = told.reaction.source
    name = fresh.get(source.layer, source.layer)
    return told.changed(reaction=told.reaction.changed(source=source.changed(layer=name)))
