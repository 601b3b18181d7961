"""Links: a property that follows another, or something that comes of how another layer moves; and carriers followed
late.

``value = factor · source(t − lag) + offset``, with the property's own keys added on top where it has any. What reads
what is told here, layer by layer, so that a circle is refused before anything is evaluated.
"""

from collections.abc import Iterator, Mapping
from typing import TYPE_CHECKING, Annotated, Literal, NamedTuple, Self

from pydantic import Field, model_validator

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Frozen, Identity, Number
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.properties.property import Property

if TYPE_CHECKING:
    from deftarc.core.document.layer import Layer

#: In whose px, or about whose turning, a place or what comes of it is told.
Axes = Literal["own", "parent", "scene"]
#: The names a position has, whichever way its axes are kept.
PLACES = ("position", "position_x", "position_y")

#: What a layer is by itself, and where it comes to be; a place as it lies in its carrier's px, in the scene's, and
#: along its own turned axes; what turns it in all; and how it goes through the scene, for its stretch.
OWN, PLACED = ".own", ".placed"
SPOT, SEEN, ALONG, TURNED, FLIGHT = ".spot", ".seen", ".along", ".turned", ".flight"
#: The direction in which a layer goes in its carrier's px.
TRAVELS = ".direction@parent"


class Derived(NamedTuple):
    """What can be told of how a layer moves: what it is called, its unit, that unit a second, and whether it comes of
    where the layer goes, which can be told in some axes.
    """

    id: str
    label: str
    unit: str
    placed: bool


DERIVED = {
    each.id: each
    for each in (
        Derived("speed", "Speed", "px/s", True),
        Derived("direction", "Direction of travel", "°", True),
        Derived("gone", "Distance gone", "px", True),
        Derived("turning", "Turning speed", "°/s", False),
    )
}

Lag = Annotated[int, Field(ge=-limits.MAX_LAG, le=limits.MAX_LAG)]


class LinkSource(Frozen):
    """What is followed: a property of a layer, or one of DERIVED. A place is always its position, whichever way its
    axes are kept; where a number follows it, ``part`` says which of its two. ``axes`` says in which px a place, or what
    comes of it, is told.
    """

    layer: Identity
    what: str = Field(min_length=1, max_length=80)
    part: Literal[0, 1] | None = None
    axes: Axes = "parent"


class Link(Frozen):
    """What a property follows, and how. ``lag`` in flicks is how much later; below 0 it goes ahead.

    ``over`` are two values of the source, the ends of the range the link was told by, if it was; with ``held`` the
    source counts only as far as these. An offset has two numbers where it is a position's.
    """

    source: LinkSource
    factor: Number = 1.0
    offset: Annotated[tuple[Number, ...], Field(min_length=1, max_length=2)] = (0.0,)
    lag: Lag = 0
    over: tuple[Number, Number] | None = None
    held: bool = False

    @model_validator(mode="after")
    def _sound(self) -> Self:
        if self.held and self.over is None:
            raise ValueError("A link that is held at the ends has a range.")
        if self.over is not None and self.over[0] == self.over[1]:
            raise ValueError("A range goes from one number to another.")
        return self


class Later(Frozen):
    """How much later, in flicks, a layer goes where its carrier's place, turn and size take it."""

    position: Lag = 0
    rotation: Lag = 0
    scale: Lag = 0

    @property
    def as_one(self) -> bool:
        return self.position == self.rotation == self.scale


#: Where the axes of a size are kept otherwise than when it was followed: what is followed instead.
SIZES = {"scale": "scale_x", "scale_x": "scale", "scale_y": "scale"}


def found_on(layer: "Layer", what: str) -> str | None:
    """The property of a layer that is followed as ``what``; None where it has none."""
    if what in layer.properties:
        return what
    other = SIZES.get(what)
    return other if other in layer.properties else None


def wide(facts: Property) -> int:
    """How many numbers a property's value has, as its track keeps it."""
    return 2 if facts.kind == "path" else 1


def check_link(layer: "Layer", name: str, link: Link) -> None:
    """ValueError where a property of a layer cannot follow what its link says."""
    facts = PROPERTIES.get(name)
    if facts is None or facts.kind not in ("number", "path") or name == "clock":
        raise ValueError(f"{name[:40]} follows nothing: numbers and positions do.")
    if name not in layer.properties:
        raise ValueError(
            f"{facts.label} of {layer.name} follows something, and it would have none. Make keys of its link first."
        )
    if len(link.offset) != wide(facts):
        raise ValueError(f"The offset of {facts.label} has the wrong number of numbers.")
    what = link.source.what
    if what in DERIVED:
        if wide(facts) == 2:
            raise ValueError(f"A position follows a position, not a {DERIVED[what].label.lower()}.")
        return
    followed = PROPERTIES.get(what)
    if followed is None or followed.kind not in ("number", "path") or what in PLACES[1:]:
        raise ValueError(f"There is nothing to follow in “{what[:40]}”: numbers and positions can be followed.")
    whole = followed.kind == "path" and link.source.part is None
    if whole != (wide(facts) == 2):
        raise ValueError("A position follows a position, a number a number, or one of the two of a position.")


#: What a node is: a layer, and a property of it or one of the names with a dot.
Name = tuple[str, str]


def told_by(source: LinkSource) -> str:
    """The node in which the values that a link follows are found."""
    if source.what in DERIVED:
        facts = DERIVED[source.what]
        return f".{source.what}@{source.axes}" if facts.placed else f".{source.what}"
    if source.what == "position":
        return {"own": ALONG, "parent": SPOT, "scene": SEEN}[source.axes]
    return source.what


def turns_by_travel(layer: "Layer") -> bool:
    """Whether a layer that follows is turned the way it goes: it has no path of its own that would say so."""
    return "position" in layer.links and any(name in layer.tracks for name in ("along", "lean"))


def placed_of(axes: str) -> str:
    """The node of a place in some axes; what comes of one is never told along turning axes."""
    return SPOT if axes == "parent" else SEEN


def needs_of(layer: "Layer", what: str) -> Iterator[Name]:
    """What a node of a layer reads; of plain properties those that follow something."""
    link = layer.links.get(what)
    if link is not None:
        yield link.source.layer, told_by(link.source)
        if in_the_scene(link) and layer.parent is not None:
            yield layer.parent, PLACED
        return
    mine = layer.id
    if not what.startswith("."):
        other = found_on(layer, what)
        if other is not None and other != what:
            yield mine, other
        return
    places = ("position_x", "position_y") if layer.axes_split else ("position",)
    name, _, axes = what[1:].partition("@")
    if what == OWN:
        yield from ((mine, each) for each in layer.links)
        if layer.stretches:
            yield mine, FLIGHT
        if turns_by_travel(layer):
            yield from ((mine, TRAVELS), (mine, SPOT))
    elif what == PLACED:
        yield mine, OWN
        if layer.parent is not None:
            yield layer.parent, PLACED
    elif what == SPOT:
        yield from ((mine, each) for each in places)
    elif what == SEEN:
        yield mine, SPOT
        if layer.parent is not None:
            yield layer.parent, PLACED
    elif what == ALONG:
        yield from ((mine, SPOT), (mine, TURNED))
    elif what == TURNED:
        yield mine, "rotation"
        if not layer.axes_split:
            yield from ((mine, each) for each in ("along", "lean"))
        if turns_by_travel(layer):
            yield from ((mine, TRAVELS), (mine, SPOT))
    elif what == FLIGHT:
        yield mine, SEEN
        yield mine, "stretch_smooth"
        if layer.parent is not None:
            yield layer.parent, PLACED
    elif name == "turning":
        yield mine, TURNED
    elif name in DERIVED:
        yield mine, placed_of(axes)


def in_the_scene(link: Link) -> bool:
    """Whether a position is put where the scene shows its source, whatever carries it."""
    return link.source.axes == "scene" and len(link.offset) == 2


def drives_of(layer: "Layer", what: str) -> Iterator[Name]:
    """What has a hand in a node of a layer: what it reads, and what the keys were laid at that answer a motion."""
    yield from needs_of(layer, what)
    told = layer.reactions.get(what)
    if told is not None:
        yield told.reaction.source.layer, told_by(told.reaction.source)
    elif what == OWN:
        yield from ((layer.id, name) for name in layer.reactions if moves_it(name))


def moves_it(name: str) -> bool:
    """Whether a property has a hand in where a layer is."""
    return PROPERTIES[name].owner == "transform" and name != "opacity"


#: How deep what is told of other moments may lie within itself: each lag counts one, each speed more, since it asks
#: for two moments.
DEEPEST, OF_SPEEDS = 120, 10


def _weight(layer: "Layer", what: str) -> int:
    link = layer.links.get(what)
    if link is not None:
        return 1 if link.lag else 0
    if what == PLACED:
        return 1 if layer.later is not None else 0
    return OF_SPEEDS if what == FLIGHT or what.partition("@")[0][1:] in DERIVED else 0


def check_links(layers: tuple["Layer", ...]) -> None:
    """Refuses links to layers that are not there, and those that would drive each other in a circle, by name."""
    if not any(layer.links or layer.stretches or layer.later or layer.reactions for layer in layers):
        return
    by_id = {layer.id: layer for layer in layers}
    for layer in layers:
        for link in layer.links.values():
            if link.source.layer not in by_id:
                raise Refusal(f"{layer.name} follows a layer that is not there.")
        for told in layer.reactions.values():
            if told.reaction.source.layer not in by_id:
                raise Refusal(f"{layer.name} answers a layer that is not there.")
    deep: dict[Name, int] = {}
    for layer in layers:
        first = [(layer.id, name) for name in (*layer.links, *layer.reactions)]
        first += [(layer.id, PLACED)] if layer.later else []
        first += [(layer.id, OWN)] if layer.stretches or turns_by_travel(layer) else []
        for node in first:
            _walk(by_id, node, deep)


def _walk(by_id: Mapping[str, "Layer"], first: Name, deep: dict[Name, int]) -> None:
    """One node and all that it reads, without recursion; how deep each lies goes into ``deep``."""
    chain: list[tuple[Name, list[Name]]] = [(first, list(drives_of(by_id[first[0]], first[1])))]
    here = {first}
    while chain:
        node, due = chain[-1]
        if node in deep:
            chain.pop()
            here.discard(node)
            continue
        following = next((each for each in due if each not in deep), None)
        if following is None:
            below = max((deep[each] for each in due), default=0)
            deep[node] = below + _weight(by_id[node[0]], node[1])
            if deep[node] > DEEPEST:
                raise Refusal(
                    f"{by_id[node[0]].name} would follow through too many lags and speeds, one within the other. "
                    f"Follow something nearer to where it comes from."
                )
            chain.pop()
            here.discard(node)
            continue
        if following in here:
            raise circle(by_id, [each for each, _ in chain[[each for each, _ in chain].index(following) :]])
        here.add(following)
        chain.append((following, list(drives_of(by_id[following[0]], following[1]))))


def circle(by_id: Mapping[str, "Layer"], ring: list[Name]) -> Refusal:
    """What is said of nodes that read each other in a ring."""
    names = [told_node(by_id, node) for node in ring]
    shown = list(dict.fromkeys(name for name in names if name))
    return Refusal(
        f"These would drive each other in a circle: {' → '.join([*shown, shown[0]])}. Let one of them follow "
        f"something else."
    )


def told_node(by_id: Mapping[str, "Layer"], node: Name) -> str:
    """A node in words: “Rotation of Gull”."""
    layer, what = by_id[node[0]], node[1]
    name = what.partition("@")[0][1:]
    if not what.startswith("."):
        return f"{PROPERTIES[what].label} of {layer.name}"
    if name in DERIVED:
        return f"{DERIVED[name].label} of {layer.name}"
    return f"Stretch of {layer.name}" if what == FLIGHT else layer.name


def told_source(source: LinkSource, name: str) -> str:
    """What a link follows in words, its layer's name given: “Rotation of Gull”, “Position x of Gull”."""
    if source.what in DERIVED:
        return f"{DERIVED[source.what].label} of {name}"
    facts = PROPERTIES[source.what]
    part = f" {facts.components[source.part]}" if source.part is not None else ""
    return f"{facts.label}{part} of {name}"
